"""The dimensionless unit hydrograph: excess rain to flow by convolution (USDA NEH 630, chapter 16)."""

import math

import numpy as np
from scipy.optimize import brentq
from scipy.special import gammaln

__all__ = ["STANDARD", "flow_of", "ordinates"]

STANDARD = 484.0
"""Peak factor of the standard curve, in its own US units."""

_T = np.concatenate([np.arange(0, 2.05, 0.1), np.arange(2.2, 4.05, 0.2), [4.5, 5.0]])
_Q = np.array([
    0, 0.03, 0.1, 0.19, 0.31, 0.47, 0.66, 0.82, 0.93, 0.99, 1.0, 0.99, 0.93, 0.86, 0.78, 0.68, 0.56, 0.46, 0.39, 0.33,
    0.28, 0.207, 0.147, 0.107, 0.077, 0.055, 0.04, 0.029, 0.021, 0.015, 0.011, 0.005, 0,
])  # fmt: skip


def _curve(peak_factor: float, x: np.ndarray) -> np.ndarray:
    """Ordinates over the peak at t/Tp: the standard curvilinear table, or the gamma curve of another peak factor."""
    if peak_factor == STANDARD:
        return np.asarray(np.interp(x, _T, _Q, right=0.0))
    # the curve's area is 645.33 over the peak factor; that of (x e^(1-x))^m is e^m Γ(m+1) / m^(m+1)
    area = 645.33 / peak_factor

    def off(m: float) -> float:
        return m + float(gammaln(m + 1.0)) - (m + 1.0) * math.log(m) - math.log(area)

    m = float(brentq(off, 0.05, 60.0))
    safe = np.maximum(x, 1e-12)
    return np.asarray(np.where(x > 0.0, np.exp(m * (np.log(safe) + 1.0 - safe)), 0.0))


def ordinates(to_peak: float, step: float, peak_factor: float = STANDARD, offset: float = 0.0) -> np.ndarray:
    """Flow in m3/s per m2 of 1 mm of excess in one step, at (k − offset) steps; scaled to hold exactly 1 mm.

    to_peak, step : s. With Tp = step/2 + 0.6 Tc and no offset, the unit hydrograph of a burst of one step (chapter 16);
    with Tp = 0.6 Tc and an offset of a half, means over the steps of the hydrograph of an instant's excess.
    """
    reach = 5.0 if peak_factor >= STANDARD else 5.0 * STANDARD / peak_factor
    steps = math.ceil(reach * to_peak / step) + 1
    q = _curve(peak_factor, np.maximum(np.arange(steps) - offset, 0.0) * step / to_peak)
    return np.asarray(q * 1e-3 / (q.sum() * step))


def flow_of(
    excess: np.ndarray, to_peak: float, step: float, peak_factor: float = STANDARD, offset: float = 0.0
) -> np.ndarray:
    """Flow in m3/s per m2 at multiples of the step, of excess in mm per step."""
    return np.convolve(excess, ordinates(to_peak, step, peak_factor, offset))
