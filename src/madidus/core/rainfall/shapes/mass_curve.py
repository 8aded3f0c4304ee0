"""Public mass curves of a day."""

import math
from typing import Literal

import numpy as np

from .base import MOST, Depths, ShapeBase
from .mass_curves import HOURS, MASS_CURVES

__all__ = ["MassCurve"]

_FINEST = 5.0  # min, beyond which no interval goes


class MassCurve(ShapeBase):
    """One of the public 24-hour mass curves (SCS types), read at tenths of an hour."""

    DURATION = 1440.0

    kind: Literal["mass"] = "mass"
    type: Literal["I", "IA", "II", "III"] = "II"

    def fallen(self, x: np.ndarray, duration: float, depths: Depths) -> np.ndarray:
        """Straight between the tenths of an hour."""
        return np.asarray(np.interp(24.0 * x, HOURS, MASS_CURVES[self.type]))

    def steps(self, duration: float, longest: float) -> int:
        """Whole parts of its tenths of an hour, of 5 min at most: within a tenth it is straight."""
        tenths = len(HOURS) - 1
        parts = math.ceil(duration / tenths / min(_FINEST, longest) - 1e-9)
        return tenths * min(parts, MOST // tenths)
