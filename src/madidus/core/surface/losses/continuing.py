"""An initial loss, then a rate."""

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from .base import DepthOfLoss, LossBase

__all__ = ["ContinuingLoss", "initial_continuing"]


def initial_continuing(times: np.ndarray, intensity: np.ndarray, initial: float, continuing: float) -> np.ndarray:
    """Excess in mm of each step. initial : mm, taken first; continuing : mm/h, only from when that is used up.

    times : float64[n + 1], s; intensity : float64[n], mm/h.
    """
    hours = np.diff(times) / 3600.0
    left, excess = initial, np.zeros(len(intensity))
    for k, (i, dt) in enumerate(zip(intensity, hours, strict=True)):
        taken = min(left, i * dt)
        left -= taken
        rest = i * dt - taken
        part = rest / i if i > 0.0 else 0.0  # h of the step after the initial loss is met
        excess[k] = max(rest - continuing * part, 0.0)
    return excess


class ContinuingLoss(LossBase):
    """An initial loss, then a rate."""

    kind: Literal["continuing"] = "continuing"
    initial: DepthOfLoss = 10.0
    continuing: Annotated[float, Field(ge=0, le=1000, description="mm/h")] = 2.5

    def excess(self, times: np.ndarray, intensity: np.ndarray) -> np.ndarray:
        """As `initial_continuing`."""
        return initial_continuing(times, intensity, self.initial, self.continuing)
