"""Areal reduction: rain over an area is less than the rain at its wettest point."""

import math

import numpy as np

from .rain import ArealFormula, ArealReduction

__all__ = ["areal_factor"]

_SQUARE_MILE = 2.589988110336  # km2


def areal_factor(areal: ArealReduction | None, duration: float) -> float:
    """Areal depth over point depth, for a duration in min."""
    if areal is None:
        return 1.0
    if not isinstance(areal, ArealFormula):
        logs = np.log([row.duration for row in areal.rows])
        return float(np.interp(math.log(duration), logs, [row.factor for row in areal.rows]))
    return (_power if areal.form == "power" else _exponential)(areal.area / 1e6, duration / 60.0)


def _power(area: float, hours: float) -> float:
    """Keers and Wescott 1977, as in the Flood Estimation Handbook, volume 2, table 3.1. area : km2."""
    log = 4.6 - math.log(area)
    a = 0.40 - 0.0208 * math.log(log) if area <= 20.0 else 0.40 - 0.00382 * log**2
    b = 0.0394 * area**0.354 if area < 100.0 else 0.0627 * area**0.254 if area < 500.0 else 0.1050 * area**0.180
    return float(min(max(1.0 - b * hours**-a, 0.05), 1.0))


def _exponential(area: float, hours: float) -> float:
    """Leclerc and Schaake 1972, fitted to the areal curves of US Weather Bureau TP-29."""
    decay = -1.1 * hours**0.25
    return 1.0 - math.exp(decay) + math.exp(decay - 0.01 * area / _SQUARE_MILE)
