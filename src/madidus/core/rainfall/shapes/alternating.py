"""Alternating blocks."""

import math
from typing import Literal

import numpy as np
from pydantic import Field

from .base import Depths, ShapeBase

__all__ = ["Alternating"]


class Alternating(ShapeBase):
    """Increments of the depth–duration curve, the largest at the peak, the others right and left of it in turn."""

    NESTED = True

    kind: Literal["alternating"] = "alternating"
    peak: float = Field(0.5, gt=0, lt=1, description="share of the duration before the peak")

    def fallen(self, x: np.ndarray, duration: float, depths: Depths) -> np.ndarray:
        """By the blocks of as many equal intervals as x has."""
        return np.concatenate([[0.0], np.cumsum(self.increments(len(x) - 1, duration, depths))])

    def increments(self, steps: int, duration: float, depths: Depths) -> np.ndarray:
        """The blocks themselves."""
        blocks = np.sort(np.diff(depths(np.linspace(0.0, duration, steps + 1))))[::-1]
        peak = min(max(math.ceil(self.peak * steps) - 1, 0), steps - 1)
        found = np.zeros(steps)
        left, right = peak - 1, peak + 1
        found[peak] = blocks[0]
        for k, block in enumerate(blocks[1:]):
            to_right = (k % 2 == 0 and right < steps) or left < 0
            if to_right:
                found[right], right = block, right + 1
            else:
                found[left], left = block, left - 1
        return np.asarray(found / found.sum())
