"""What the ends of conduits allow: free exits at critical depth, and entries that choke at critical flow.

Both are tables of the square of a velocity, which runs nearly straight over depth.
"""

import numpy as np
from numba import njit

from .constants import END_INTERVALS, GRAVITY, INTERVALS

__all__ = ["entry_tables", "exit_tables"]

_POINTS = 80  # critical depths at which a table is worked out
_HIGHEST = 0.95  # of the height; greater flows follow the friction of the full section
_STEPS = 40  # of depth from the exit to the crown
_FADE_FROM, _FADE_TO = 0.8, 0.97  # of the height, between which the choke of an entry goes


@njit(cache=True, nogil=True, error_model="numpy")
def _at(y, height, wetted):  # type: ignore[no-untyped-def]
    """Area, R^(4/3) and mean depth of a section at a depth."""
    position = min(max(y / height, 0.0), 1.0) * INTERVALS
    i = min(int(position), INTERVALS - 1)
    part = position - i
    return (
        wetted[i, 0] + part * (wetted[i + 1, 0] - wetted[i, 0]),
        max(wetted[i, 1] + part * (wetted[i + 1, 1] - wetted[i, 1]), 1e-12),
        max(wetted[i, 2] + part * (wetted[i + 1, 2] - wetted[i, 2]), 1e-12),
    )


@njit(cache=True, nogil=True, error_model="numpy")
def _drawn_up(y_critical, height, wetted, roughness, length, gradient):  # type: ignore[no-untyped-def]
    """Depth at `length` above an end where the water leaves at critical depth, and the velocity there.

    The surface is followed up by direct steps of energy; from where it meets the crown on, friction is that of the full
    section. Where the bed falls by more than friction takes, the water stands at critical depth. roughness : n².
    """
    area, radius, mean = _at(y_critical, height, wetted)
    flow = area * np.sqrt(GRAVITY * mean)
    energy, slope = y_critical + 0.5 * mean, roughness * GRAVITY * mean / radius
    if slope <= gradient:
        return y_critical, flow / area
    y, x = y_critical, 0.0
    for j in range(1, _STEPS + 1):
        above = y_critical + (height - y_critical) * (j / _STEPS) ** 2
        area, radius, _ = _at(above, height, wetted)
        v = flow / area
        next_energy, next_slope = above + v * v / (2.0 * GRAVITY), roughness * v * v / radius
        excess = 0.5 * (slope + next_slope) - gradient
        step = max(next_energy - energy, 0.0) / excess if excess > 1e-12 else np.inf
        if x + step >= length:
            share = (length - x) / step  # near critical depth distance goes with the square of the rise
            low, high = (y - y_critical) ** 2, (above - y_critical) ** 2
            y = y_critical + np.sqrt(low + share * (high - low))
            area, _, _ = _at(y, height, wetted)
            return y, flow / area
        x += step
        y, energy, slope = above, next_energy, next_slope
    return height + (length - x) * max(slope - gradient, 0.0), flow / area


@njit(cache=True, nogil=True, error_model="numpy")
def _resample(depth, square, count, per, table):  # type: ignore[no-untyped-def]
    """Values at even depths into a row of a table; depth rises from 0."""
    k = 0
    for i in range(END_INTERVALS + 1):
        y = i / per
        while k < count - 2 and depth[k + 1] < y:
            k += 1
        span = depth[k + 1] - depth[k]
        table[i] = square[k] + (square[k + 1] - square[k]) * ((y - depth[k]) / span if span > 0.0 else 0.0)


@njit(cache=True, nogil=True, error_model="numpy")
def exit_tables(section, heights, wetted, roughness, length, fall, per, tables):  # type: ignore[no-untyped-def]
    """Square of the velocity (m2/s2) in the last half cell over its depth, when the water falls free from the end.

    section : of each end; length, fall : of the half cell, m, from its middle to the end; roughness : n². Fills `per`,
    intervals per m, and the rows of `tables`, float64[end, END_INTERVALS + 1].
    """
    depth, square = np.zeros(_POINTS + 1), np.zeros(_POINTS + 1)
    for e in range(section.size):
        s = section[e]
        for i in range(1, _POINTS + 1):
            critical = _HIGHEST * heights[s] * i / _POINTS
            y, v = _drawn_up(critical, heights[s], wetted[s], roughness[e], length[e], max(fall[e], 0.0) / length[e])
            depth[i], square[i] = max(y, depth[i - 1] + 1e-9), v * v
        per[e] = END_INTERVALS / depth[_POINTS]
        _resample(depth, square, _POINTS + 1, per[e], tables[e])


@njit(cache=True, nogil=True, error_model="numpy")
def entry_tables(section, heights, wetted, lost, per, tables):  # type: ignore[no-untyped-def]
    """Square of the greatest velocity (m2/s2) at which water enters a conduit, over the depth of the node.

    It passes critical depth y_c at the start, below the node's level by `lost` velocity heads: those of the loss and,
    out of still water, the one that sets it in motion. Near the crown, where an entry runs full, the bound goes.
    """
    depth, square = np.zeros(_POINTS + 1), np.zeros(_POINTS + 1)
    for e in range(section.size):
        height = heights[section[e]]
        for i in range(1, _POINTS + 1):
            critical = _FADE_TO * height * i / _POINTS
            _, _, mean = _at(critical, height, wetted[section[e]])
            faded = max(critical / height - _FADE_FROM, 0.0) / (_FADE_TO - _FADE_FROM)
            depth[i] = max(critical + 0.5 * lost[e] * mean, depth[i - 1] + 1e-9)
            square[i] = GRAVITY * mean / max(1.0 - faded * faded, 0.02)
        per[e] = END_INTERVALS / depth[_POINTS]
        _resample(depth, square, _POINTS + 1, per[e], tables[e])
