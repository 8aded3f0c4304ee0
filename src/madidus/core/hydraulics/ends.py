"""What the ends of conduits allow: free exits at critical depth, and entries that choke at critical flow.

Both are tables of the square of a velocity, which runs nearly straight over depth.
"""

import numpy as np

from ..constants import END_INTERVALS, GRAVITY, INTERVALS
from ..numerics.compiled import routine
from .layout import (
    CELL_BED,
    END_BED,
    ENTRY,
    EXIT_PER,
    FACE,
    GN2,
    LOST_IN,
    MIXES,
    NODE,
    PER_DX,
    SECTION,
    STREAM,
    STREAM_PER,
)  # fmt: skip

__all__ = ["end_parts"]

_POINTS = 80  # critical depths at which a table is worked out
_HIGHEST = 0.95  # of the height; greater flows follow the friction of the full section
_HIGHEST_ENTRY = 0.995  # the same of an entry; greater flows run full
_STEPS = 40  # of depth from the exit to the crown, or along a stream


@routine
def _at(y, height, wetted):
    """Area, R^(4/3) and mean depth of a section at a depth."""
    position = min(max(y / height, 0.0), 1.0) * INTERVALS
    i = min(int(position), INTERVALS - 1)
    part = position - i
    return (
        wetted[i, 0] + part * (wetted[i + 1, 0] - wetted[i, 0]),
        max(wetted[i, 1] + part * (wetted[i + 1, 1] - wetted[i, 1]), 1e-12),
        max(wetted[i, 2] + part * (wetted[i + 1, 2] - wetted[i, 2]), 1e-12),
    )


@routine
def _drawn_up(y_critical, height, wetted, roughness, length, gradient):
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


@routine
def _resample(depth, square, count, per, table):
    """Values at even depths into a row of a table; depth rises from 0."""
    k = 0
    for i in range(END_INTERVALS + 1):
        y = i / per
        while k < count - 2 and depth[k + 1] < y:
            k += 1
        span = depth[k + 1] - depth[k]
        table[i] = square[k] + (square[k + 1] - square[k]) * ((y - depth[k]) / span if span > 0.0 else 0.0)


@routine
def _exit_tables(section, heights, wetted, roughness, length, fall, per, tables):
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


@routine
def _speed_under(head, least, flow, lost, height, wetted):
    """Velocity of a flow that enters under a head, of which its start takes `lost` velocity heads: by the depth there.

    least : critical depth.
    """
    low, high = least, height
    for _ in range(40):
        y = 0.5 * (low + high)
        area, _, _ = _at(y, height, wetted)
        if y + lost * (flow / area) ** 2 / (2.0 * GRAVITY) < head:
            low = y
        else:
            high = y
    area, _, _ = _at(high, height, wetted)
    return flow / area


@routine
def _entry_tables(section, heights, wetted, lost, resting, contraction, per, tables):
    """Square of the greatest velocity (m2/s2) at which water enters a conduit, over the depth of the node.

    It passes critical depth y_c at the start, below the node's level by `lost` velocity heads and by `resting` more
    which set in motion what does not arrive so. A contracted entry takes more once it is drowned: the jet fills the
    share Cc of the height and of the area, and level + what arrives in motion = Cc D + (Q / Cc A)²/2g. Beyond the
    table its last slope goes on: the square of a full entry is straight over the level.
    contraction : Cc, 0 of open sections.
    """
    depth, square = np.zeros(_POINTS + 1), np.zeros(_POINTS + 1)
    for e in range(section.size):
        s, jet = section[e], contraction[e]
        height, whole = heights[s], lost[e] + resting[e]
        full, _, _ = _at(height, height, wetted[s])
        for i in range(1, _POINTS + 1):
            critical = _HIGHEST_ENTRY * height * i / _POINTS
            area, _, mean = _at(critical, height, wetted[s])
            head, square[i] = critical + 0.5 * whole * mean, GRAVITY * mean
            flow = area * np.sqrt(GRAVITY * mean)
            if jet > 0.0 and critical >= jet * height:
                drowned = jet * height + (flow / full) ** 2 / (2.0 * GRAVITY) * (1.0 / jet**2 - 1.0 + resting[e])
                if drowned > head:
                    head, square[i] = drowned, _speed_under(drowned, critical, flow, whole, height, wetted[s]) ** 2
            depth[i] = max(head, depth[i - 1] + 1e-9)
        per[e] = END_INTERVALS / depth[_POINTS]
        _resample(depth, square, _POINTS + 1, per[e], tables[e])


@routine
def _run_down(y_critical, height, wetted, roughness, length, gradient):
    """Velocity of a stream `length` below the place where it passed critical depth: direct steps of energy towards
    uniform flow. Where friction takes what the bed falls, it stays critical. roughness : n².
    """
    area, radius, mean = _at(y_critical, height, wetted)
    flow = area * np.sqrt(GRAVITY * mean)
    slope = roughness * GRAVITY * mean / radius
    if slope >= gradient:
        return flow / area
    low, high = 0.0, y_critical
    for _ in range(40):
        y = 0.5 * (low + high)
        area, radius, _ = _at(y, height, wetted)
        if roughness * (flow / area) ** 2 > gradient * radius:
            low = y
        else:
            high = y
    normal, x, speed = high, 0.0, np.sqrt(GRAVITY * mean)
    energy = y_critical + 0.5 * mean
    for j in range(1, _STEPS):
        y = normal + (y_critical - normal) * (1.0 - j / _STEPS) ** 2
        area, radius, _ = _at(y, height, wetted)
        v = flow / area
        next_energy, next_slope = y + v * v / (2.0 * GRAVITY), roughness * v * v / radius
        step = max(next_energy - energy, 0.0) / max(gradient - 0.5 * (slope + next_slope), 1e-9)
        if x + step >= length:
            return speed + (v - speed) * np.sqrt((length - x) / step)
        x += step
        speed, energy, slope = v, next_energy, next_slope
    return speed


@routine
def _stream_tables(section, heights, wetted, roughness, length, fall, per, tables):
    """Flow × velocity (m4/s2) of what arrives at an end over its flow, when it passed critical depth at the other.

    It follows from the flow alone, whatever the water beyond the end does: a level that backs up cannot slow the
    stream that is to carry it away. length, fall : of the whole conduit, m. Rows as in `_exit_tables`, `per` by m3/s.
    """
    flow, brought = np.zeros(_POINTS + 1), np.zeros(_POINTS + 1)
    for e in range(section.size):
        s = section[e]
        for i in range(1, _POINTS + 1):
            critical = _HIGHEST * heights[s] * i / _POINTS
            area, _, mean = _at(critical, heights[s], wetted[s])
            q = area * np.sqrt(GRAVITY * mean)
            flow[i] = max(q, flow[i - 1] + 1e-12)
            brought[i] = q * _run_down(critical, heights[s], wetted[s], roughness[e], length[e], fall[e] / length[e])
        per[e] = END_INTERVALS / flow[_POINTS]
        _resample(flow, brought, _POINTS + 1, per[e], tables[e])


def end_parts(
    sections: dict[str, np.ndarray], face: np.ndarray, face_index: np.ndarray, end: np.ndarray, index: np.ndarray,
    still: set[int], contraction: np.ndarray, run: np.ndarray,
) -> dict[str, np.ndarray]:  # fmt: skip
    """What `Grid` says of the ends, with the tables of what they allow; ends that choke alike share a table.

    sections, face, face_index, end, index : as in `Grid`; fills the columns that lead to the tables and to other ends.
    still : rows of the nodes in which water comes to rest. contraction : as in `_entry_tables`. run : float64[2, end],
    length of the whole conduit and its fall towards the end, m.
    """
    section = face_index[SECTION][index[FACE]]
    heights, wetted = sections["section_height"], sections["section_wetted"]
    free = np.zeros((index.shape[1], END_INTERVALS + 1))
    roughness, length = face[GN2][index[FACE]] / GRAVITY, 1.0 / face[PER_DX][index[FACE]]
    _exit_tables(section, heights, wetted, roughness, length, end[CELL_BED] - end[END_BED], end[EXIT_PER], free)
    alike, entry = np.unique(np.stack([section, end[LOST_IN], contraction]), axis=1, return_inverse=True)
    which, lost, jet = np.repeat(alike, 2, axis=1)
    resting = np.tile([0.0, 1.0], alike.shape[1])
    bound, per = np.zeros((which.size, END_INTERVALS + 1)), np.zeros(which.size)
    _entry_tables(which.astype(np.int32), heights, wetted, lost, resting, jet, per, bound)
    index[ENTRY] = 2 * entry
    index[STREAM] = _streams(end, index, heights[section], still)
    ends = np.bincount(index[NODE])
    index[MIXES] = [node not in still and ends[node] > 1 for node in index[NODE].tolist()]
    stream = np.zeros((index.shape[1], END_INTERVALS + 1))
    arriving = np.unique(index[STREAM][index[STREAM] >= 0])
    rows, per_flow = np.zeros((arriving.size, END_INTERVALS + 1)), np.zeros(arriving.size)
    _stream_tables(section[arriving], heights, wetted, roughness[arriving], *run[:, arriving], per_flow, rows)
    stream[arriving], end[STREAM_PER, arriving] = rows, per_flow
    return {
        "end": end, "end_index": index, "exit": free, "entry_bound": bound, "entry_per": per, "stream": stream,
    }  # fmt: skip


def _streams(end: np.ndarray, index: np.ndarray, heights: np.ndarray, still: set[int]) -> np.ndarray:
    """For every end the other end at its node whose stream runs straight into it: the highest of those that fall
    towards the node; −1 where none does or the water comes to rest.
    """
    falling: dict[int, list[tuple[float, int]]] = {}
    for e in range(index.shape[1]):
        node = int(index[NODE, e])
        if node not in still and end[CELL_BED, e] > end[END_BED, e]:
            falling.setdefault(node, []).append((float(heights[e]), e))
    found = np.full(index.shape[1], -1, dtype=np.int32)
    for e in range(index.shape[1]):
        others = [other for other in falling.get(int(index[NODE, e]), []) if other[1] != e]
        if others:
            found[e] = max(others)[1]
    return found
