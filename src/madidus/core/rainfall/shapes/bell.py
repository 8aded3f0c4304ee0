"""A symmetric bell."""

from typing import Literal

import numpy as np
from pydantic import Field

from .base import Depths, ShapeBase

__all__ = ["Bell"]


class Bell(ShapeBase):
    """Symmetric bell: the central fraction x of the duration holds (1 − a^z)/(1 − a) of the depth, z = x^b."""

    kind: Literal["bell"] = "bell"
    a: float = Field(gt=0, lt=1)
    b: float = Field(gt=0, le=3)

    def fallen(self, x: np.ndarray, duration: float, depths: Depths) -> np.ndarray:
        """Half of the depth on either side of the middle."""
        central = np.abs(2.0 * x - 1.0)
        within = (1.0 - self.a ** (central**self.b)) / (1.0 - self.a)
        return np.asarray(0.5 + 0.5 * np.sign(x - 0.5) * within)
