"""A level opening, in a floor or at the top of a riser.

The lesser of a weir around the crest and Cd A sqrt(2 g H), H the difference of levels.
"""

import numpy as np

from ..constants import GRAVITY, SMOOTHING
from ..numerics.compiled import kernel
from .control import law
from .weir import over_crest

__all__ = ["FLOOR_OPENING"]

LEVEL, CREST, AREA = 0, 1, 2  # columns of the parameter row: C times its perimeter, Cd times its area


@kernel
def floor_flow(level_up, level_down, parameters, _curve, _start, _which):
    """Flow through a level opening, in m3/s, and its derivatives in m2/s; upwards when the lower level is higher."""
    if level_down > level_up:
        flow, d_up, d_down = _through_floor(level_down, level_up, parameters)
        return -flow, -d_down, -d_up
    return _through_floor(level_up, level_down, parameters)


@kernel
def _through_floor(high, low, parameters):
    level = parameters[LEVEL]
    head = high - max(low, level)
    if head <= 0.0:
        return 0.0, 0.0, 0.0
    crest, crest_up, crest_down = over_crest(high, low, level, parameters[CREST], 0.0)
    root = np.sqrt(head + SMOOTHING)
    full = parameters[AREA] * np.sqrt(2.0 * GRAVITY)
    flow, slope = full * head / root, full * (1.0 / root - 0.5 * head / root**3)
    if crest < flow:
        return crest, crest_up, crest_down
    return flow, slope, -slope if low > level else 0.0


FLOOR_OPENING = law(floor_flow)
