"""Even rain."""

from typing import Literal

import numpy as np

from .base import Depths, ShapeBase

__all__ = ["Block"]


class Block(ShapeBase):
    """Uniform intensity."""

    EVEN = True

    kind: Literal["block"] = "block"

    def fallen(self, x: np.ndarray, duration: float, depths: Depths) -> np.ndarray:
        """As much of the depth as of the duration."""
        return x
