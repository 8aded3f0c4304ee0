"""Storm shapes: how the depth of a storm is spread over its duration. Depth is conserved whatever the interval."""

import math
from collections.abc import Callable

import numpy as np

from ..model.shapes import Alternating, Bell, Chicago, Cumulative, MassCurve, Shape, Triangle

__all__ = ["Depths", "increments", "steps_for"]

Depths = Callable[[np.ndarray], np.ndarray]
"""Depth of rain (mm) by duration (min) of the storm's return period."""

_HOURS = [0, 2, 4, 6, 7, 8, 8.5, 9, 9.5, 10, 10.5, 11, 11.5, 12, 12.5, 13, 13.5, 14, 16, 20, 24]
_MASS = {
    "IA": [0, 0.05, 0.116, 0.206, 0.268, 0.425, 0.48, 0.52, 0.55, 0.577, 0.601, 0.624, 0.645, 0.664, 0.683, 0.701,
           0.719, 0.736, 0.8, 0.906, 1.0],
    "II": [0, 0.022, 0.048, 0.08, 0.098, 0.12, 0.133, 0.147, 0.163, 0.181, 0.204, 0.235, 0.283, 0.663, 0.735, 0.772,
           0.799, 0.82, 0.88, 0.952, 1.0],
    "III": [0, 0.02, 0.043, 0.072, 0.089, 0.115, 0.13, 0.148, 0.167, 0.189, 0.216, 0.25, 0.298, 0.5, 0.702, 0.751,
            0.785, 0.811, 0.886, 0.957, 1.0],
}  # fmt: skip
"""Accumulated share of the 24-hour depth: the short table of US SCS TP-149 (1973)."""


def _bell(shape: Bell, x: np.ndarray) -> np.ndarray:
    """The central fraction x of the duration holds (1 − a^z)/(1 − a), z = x^b, of the depth."""
    central = np.abs(2.0 * x - 1.0)
    within = (1.0 - shape.a ** (central**shape.b)) / (1.0 - shape.a)
    return np.asarray(0.5 + 0.5 * np.sign(x - 0.5) * within)


def _chicago(shape: Chicago, x: np.ndarray, duration: float, depths: Depths) -> np.ndarray:
    """Of every nested duration t, r t lies before the peak and so does r of its depth D(t)."""
    r, total = shape.peak, float(depths(np.array([duration]))[0])
    before = np.maximum(r - x, 0.0) / r * duration
    after = np.maximum(x - r, 0.0) / (1.0 - r) * duration
    return np.asarray(r + ((1.0 - r) * depths(after) - r * depths(before)) / total)


def _alternating(shape: Alternating, steps: int, duration: float, depths: Depths) -> np.ndarray:
    blocks = np.sort(np.diff(depths(np.linspace(0.0, duration, steps + 1))))[::-1]
    peak = min(max(math.ceil(shape.peak * steps) - 1, 0), steps - 1)
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


def increments(shape: Shape, steps: int, duration: float, depths: Depths) -> np.ndarray:
    """Fractions of the depth in `steps` equal intervals, float64[steps]; they sum to 1.

    duration : min. depths : what shapes that follow the depth–duration curve are made from.
    """
    x = np.linspace(0.0, 1.0, steps + 1)
    if isinstance(shape, Alternating):
        return _alternating(shape, steps, duration, depths)
    if isinstance(shape, Bell):
        x = _bell(shape, x)
    elif isinstance(shape, Chicago):
        x = _chicago(shape, x, duration, depths)
    elif isinstance(shape, Triangle):
        p = shape.peak
        x = np.where(x < p, x**2 / p, 1.0 - (1.0 - x) ** 2 / (1.0 - p))
    elif isinstance(shape, MassCurve):
        x = np.interp(24.0 * x, _HOURS, _MASS[shape.type])
    elif isinstance(shape, Cumulative):
        x = np.interp(x, [p.time for p in shape.points], [p.depth for p in shape.points])
    return np.asarray(np.diff(x))


def steps_for(shape: Shape, duration: float) -> int:
    """Intervals of a storm of `duration` min: an odd number, so that the peak has one of its own.

    A mass curve has as many as half hours in its day: within them it is straight.
    """
    if isinstance(shape, MassCurve):
        return 48
    steps = max(15, min(49, round(duration / 30)))
    return steps + 1 - steps % 2
