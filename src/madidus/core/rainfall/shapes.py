"""Storm shapes: how the depth of a storm is spread over its duration. Depth is conserved whatever the interval."""

import math
from collections.abc import Callable

import numpy as np

from .mass_curves import HOURS, MASS_CURVES
from .shape import Alternating, Bell, Block, Chicago, Cumulative, MassCurve, Shape, Triangle

__all__ = ["Depths", "cut", "increments", "steps_for"]

Depths = Callable[[np.ndarray], np.ndarray]
"""Depth of rain (mm) by duration (min) of the storm's return period."""

_FEWEST, _MOST = 15, 7200  # intervals of a storm
_COARSE = 30.0  # min, beyond which no interval of a long storm goes
_DAYS_FINEST = 5.0  # min, beyond which no interval of a 24-hour mass curve goes


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


def _cumulative(shape: Cumulative, x: np.ndarray) -> np.ndarray:
    return np.asarray(np.interp(x, [p.time for p in shape.points], [p.depth for p in shape.points]))


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
        x = np.interp(24.0 * x, HOURS, MASS_CURVES[shape.type])
    elif isinstance(shape, Cumulative):
        x = _cumulative(shape, x)
    return np.asarray(np.diff(x))


def steps_for(shape: Shape, duration: float, longest: float) -> int:
    """Intervals of a storm of `duration` min, none longer than `longest` min (as far as 7,200 intervals go).

    An odd number, so that the peak has one of its own. A mass curve has whole parts of its tenths of an hour, of 5 min
    at most: within a tenth it is straight. Uniform rain needs no fine intervals.
    """
    if isinstance(shape, MassCurve):
        tenths = len(HOURS) - 1
        parts = math.ceil(duration / tenths / min(_DAYS_FINEST, longest) - 1e-9)
        return tenths * min(parts, _MOST // tenths)
    steps = max(_FEWEST, math.ceil(duration / _COARSE))
    if not isinstance(shape, Block):
        steps = max(steps, math.ceil(duration / longest - 1e-9))
    steps = min(steps, _MOST)
    return steps + 1 - steps % 2


def cut(shape: Shape, duration: float, longest: float, depths: Depths) -> tuple[np.ndarray, np.ndarray]:
    """Edges of a storm's intervals as shares of its duration, float64[n + 1], and the fractions of its depth in them.

    A given curve is cut at its own points, between which it is straight, and finer where they lie far apart; any other
    shape into equal intervals.
    """
    if isinstance(shape, Cumulative):
        points = np.array([p.time for p in shape.points])
        parts = np.ceil(np.diff(points) * duration / longest - 1e-9).clip(1, _MOST // len(points) + 1).astype(int)
        spans = [np.linspace(a, b, n, endpoint=False) for a, b, n in zip(points, points[1:], parts, strict=False)]
        edges = np.append(np.concatenate(spans), 1.0)
        return edges, np.diff(_cumulative(shape, edges))
    steps = steps_for(shape, duration, longest)
    return np.linspace(0.0, 1.0, steps + 1), increments(shape, steps, duration, depths)
