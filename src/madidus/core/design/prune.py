"""Designs of which none is better than another in everything."""

import numpy as np

from ..numerics.compiled import brief_routine

__all__ = ["undominated"]


@brief_routine
def undominated(level, largest, time, lower, earlier):
    """Which designs are kept, bool[design], of designs that are sorted by their cost.

    One is dropped where another before it (which costs no more) arrives no lower, is no larger and no earlier; by
    `lower` m and `earlier` min it may be.
    """
    count = level.size
    kept = np.zeros(count, np.bool_)
    places = np.empty(count, np.int64)
    there = 0
    for i in range(count):
        beaten = False
        for k in range(there):
            j = places[k]
            if level[j] >= level[i] - lower and largest[j] <= largest[i] and time[j] >= time[i] - earlier:
                beaten = True
                break
        if not beaten:
            kept[i] = True
            places[there] = i
            there += 1
    return kept
