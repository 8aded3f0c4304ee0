"""Controls by a curve of head and flow: vortex controls and the like, infiltration, and pumps on their main.

Between the points of a curve flow is linear; beyond the last point it is held.
"""

import numpy as np

from .compiled import kernel

__all__ = ["curve_flow", "lift_flow"]

# columns of the parameter row
INVERT = 0
DISCHARGE = 0  # level into which a main pours, at least


@kernel
def _look_up(x, curve, start, which):  # type: ignore[no-untyped-def]
    """Flow and its slope at x."""
    low, high = start[which], start[which + 1] - 1
    if x <= curve[0, low]:
        return curve[1, low], 0.0
    if x >= curve[0, high]:
        return curve[1, high], 0.0
    while high - low > 1:
        middle = (low + high) // 2
        if curve[0, middle] <= x:
            low = middle
        else:
            high = middle
    slope = (curve[1, high] - curve[1, low]) / (curve[0, high] - curve[0, low])
    return curve[1, low] + slope * (x - curve[0, low]), slope


@kernel
def curve_flow(level_up, level_down, parameters, curve, start, which):  # type: ignore[no-untyped-def]
    """Flow in m3/s by the head above the invert or the tail water, and its derivatives in m2/s; nothing flows back.

    Where a curve falls (the vortex forms) the slope given is 0: the iteration then approaches it from one side.
    """
    tail = max(level_down, parameters[INVERT])
    if level_up <= tail:
        return 0.0, 0.0, 0.0
    flow, slope = _look_up(level_up - tail, curve, start, which)
    slope = max(slope, 0.0)
    return flow, slope, -slope if level_down > parameters[INVERT] else 0.0


@kernel
def lift_flow(level_up, level_down, parameters, curve, start, which):  # type: ignore[no-untyped-def]
    """Flow of pumps on their main by the static lift; the curve is that of the pumps which run."""
    tail = parameters[DISCHARGE]
    drowned = level_down > tail or np.isnan(tail)
    if drowned:
        tail = level_down
    flow, slope = _look_up(tail - level_up, curve, start, which)
    return flow, -slope, slope if drowned else 0.0
