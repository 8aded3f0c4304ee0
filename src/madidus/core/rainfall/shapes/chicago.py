"""The Chicago storm."""

from typing import Literal

import numpy as np
from pydantic import Field

from .base import Depths, ShapeBase

__all__ = ["Chicago"]


class Chicago(ShapeBase):
    """Holds, for every duration nested about the peak, the depth of that duration (Keifer and Chu 1957)."""

    NESTED = True

    kind: Literal["chicago"] = "chicago"
    peak: float = Field(0.4, gt=0, lt=1, description="share of the duration before the peak")

    def fallen(self, x: np.ndarray, duration: float, depths: Depths) -> np.ndarray:
        """Of every nested duration t, r t lies before the peak and so does r of its depth D(t)."""
        r, total = self.peak, float(depths(np.array([duration]))[0])
        before = np.maximum(r - x, 0.0) / r * duration
        after = np.maximum(x - r, 0.0) / (1.0 - r) * duration
        return np.asarray(r + ((1.0 - r) * depths(after) - r * depths(before)) / total)
