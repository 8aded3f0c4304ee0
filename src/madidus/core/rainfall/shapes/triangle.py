"""A triangle."""

from typing import Literal

import numpy as np
from pydantic import Field

from .base import Depths, ShapeBase

__all__ = ["Triangle"]


class Triangle(ShapeBase):
    """Rises straight to its peak and falls straight to the end."""

    kind: Literal["triangle"] = "triangle"
    peak: float = Field(0.5, gt=0, lt=1, description="share of the duration before the peak")

    def fallen(self, x: np.ndarray, duration: float, depths: Depths) -> np.ndarray:
        """Two parabolas."""
        p = self.peak
        return np.where(x < p, x**2 / p, 1.0 - (1.0 - x) ** 2 / (1.0 - p))
