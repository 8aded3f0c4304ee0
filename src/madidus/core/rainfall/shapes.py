"""Storm shapes: how the depth of a storm is spread over its duration. Depth is conserved whatever the interval."""

import numpy as np

from ..model.rain import Bell, Shape

__all__ = ["increments", "interval_for"]


def _accumulated(shape: Shape, x: np.ndarray) -> np.ndarray:
    """Fraction of the depth fallen at the fraction x of the duration."""
    if not isinstance(shape, Bell):
        return x
    central = np.abs(2.0 * x - 1.0)
    within = (1.0 - shape.a ** (central**shape.b)) / (1.0 - shape.a)
    return 0.5 + 0.5 * np.sign(x - 0.5) * within


def increments(shape: Shape, steps: int) -> np.ndarray:
    """Fractions of the depth in `steps` equal intervals, float64[steps]; they sum to 1.

    For the symmetric bell the central fraction x of the duration holds (1 − a^z)/(1 − a), z = x^b, of the depth (the
    form published for design storm profiles of given percentile).
    """
    return np.diff(_accumulated(shape, np.linspace(0.0, 1.0, steps + 1)))


def interval_for(duration: float) -> float:
    """Interval in min of a storm of `duration` min: an odd number of intervals, so that the peak has one of its own."""
    steps = max(15, min(49, round(duration / 30)))
    steps += 1 - steps % 2
    return duration / steps
