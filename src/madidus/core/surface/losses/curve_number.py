"""Losses by curve number."""

from typing import Literal

import numpy as np
from pydantic import Field

from ...elements.document import Share
from .base import LossBase

__all__ = ["CurveNumberLoss", "curve_number_excess", "retention"]

_INCH = 25.4


def retention(curve_number: float) -> float:
    """Potential retention S in mm: 25400/CN − 254 (USDA NEH 630, chapter 10)."""
    return 1000.0 * _INCH / curve_number - 10.0 * _INCH


def curve_number_excess(fallen: np.ndarray, curve_number: float, abstraction: float = 0.2) -> np.ndarray:
    """Accumulated runoff in mm of accumulated rain in mm: (P − Ia)²/(P − Ia + S), Ia = `abstraction` S."""
    s = retention(curve_number)
    above = np.maximum(fallen - abstraction * s, 0.0)
    return np.asarray(above**2 / (above + s)) if s > 0.0 else above


class CurveNumberLoss(LossBase):
    """Losses by curve number (USDA NEH 630, chapter 10)."""

    kind: Literal["curve_number"] = "curve_number"
    curve_number: float = Field(75.0, ge=20, le=100)
    abstraction: Share = Field(0.2, description="initial abstraction over potential retention")

    def excess(self, times: np.ndarray, intensity: np.ndarray) -> np.ndarray:
        """Of what has fallen so far."""
        gathered = np.concatenate([[0.0], np.cumsum(intensity * np.diff(times) / 3600.0)])
        return np.diff(curve_number_excess(gathered, self.curve_number, self.abstraction))
