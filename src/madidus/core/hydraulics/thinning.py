"""Fewer times for hydrographs that change slowly: straight lines between those that are kept lie within a tolerance."""

import numpy as np

from ..numerics.compiled import routine

__all__ = ["kept"]


@routine
def kept(times, columns, tolerance, fixed):
    """Which rows to keep; bool[n]. The first, the last and those that are `fixed` (bool[n]) are among them.

    times : float64[n], s, rising; columns : float64[n, k]; tolerance : float64[k], in the columns' unit. From each kept
    row, slopes to the rows after it are bounded so that a chord misses none of them by more than the tolerance; where
    the bounds close, the row before is kept (the "swinging door" of process records, Bristol 1990).
    """
    n, k = columns.shape
    keep = fixed.copy()
    if n == 0:
        return keep
    keep[0] = keep[n - 1] = True
    low, high = np.empty(k), np.empty(k)
    start = 0
    low[:], high[:] = -np.inf, np.inf
    i = 1
    while i < n:
        span = times[i] - times[start]
        within = True
        for j in range(k):
            slope = (columns[i, j] - columns[start, j]) / span
            if slope < low[j] or slope > high[j]:
                within = False
                break
        if not within and i - 1 > start:
            keep[i - 1] = True
            start = i - 1
            low[:], high[:] = -np.inf, np.inf
            continue
        for j in range(k):
            low[j] = max(low[j], (columns[i, j] - tolerance[j] - columns[start, j]) / span)
            high[j] = min(high[j], (columns[i, j] + tolerance[j] - columns[start, j]) / span)
        if keep[i]:
            start = i
            low[:], high[:] = -np.inf, np.inf
        i += 1
    return keep
