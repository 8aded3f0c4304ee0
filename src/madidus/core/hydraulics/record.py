"""A storm as it went: levels and flows at moments that follow the water, many where it moves, few where it recedes.

Every end of a step is noted, and moments within long steps where the water bends; what straight lines between the
others say to `LEVEL_TOLERANCE` and `FLOW_TOLERANCE` is let go of. Where room for frames runs out the tolerances double.
"""

from typing import NamedTuple

import numpy as np

from ..numerics.compiled import routine
from .recorder import STEADY, between, bow
from .step import end_rate, start_rate
from .thinning import kept
from .work import FLOW, FLOW_1, FLOW_2, LEVEL, LEVEL_2

__all__ = ["FLOW_TOLERANCE", "LEVEL_TOLERANCE", "Record", "make_record", "note_record", "taken"]

LEVEL_TOLERANCE = 1e-3
"""m, by which a straight line between two frames may miss a level; a moment within a step as much again."""
FLOW_TOLERANCE = 1e-3
"""Of a flow's own peak, likewise."""
_LEAST_FLOW = 1e-4  # m3/s, of which a share is the finest that is told apart
_FRAMES = 1600  # frames there is room for
_BYTES = 1 << 26  # that frames may take in all
_LEAST_STEP = 1.0  # s, below which a step is not looked into


class Record(NamedTuple):
    """Frames of some levels and flows.

    rows, faces : of the levels and the flows that are followed. time : s; values : float32[frame, row and face].
    filled[0] : frames in use. scale[0] : by which the tolerances are multiplied.
    """

    rows: np.ndarray
    faces: np.ndarray
    time: np.ndarray
    values: np.ndarray
    filled: np.ndarray
    scale: np.ndarray


def make_record(rows: np.ndarray, faces: np.ndarray) -> Record:
    """Room for the frames of levels in `rows` and flows through `faces`; none of nothing."""
    columns = len(rows) + len(faces)
    room = int(max(min(_FRAMES, _BYTES / (4 * columns)), 200)) if columns else 0
    return Record(
        np.asarray(rows, np.int64), np.asarray(faces, np.int64), np.zeros(room),
        np.zeros((room, columns), np.float32), np.zeros(1, np.int64), np.ones(1),
    )  # fmt: skip


@routine
def _tolerances(record, peaks):
    levels = record.rows.size
    found = np.full(levels + record.faces.size, LEVEL_TOLERANCE * record.scale[0])
    for k in range(record.faces.size):
        peak = max(peaks.flow.row[STEADY, record.faces[k]], _LEAST_FLOW)
        found[levels + k] = FLOW_TOLERANCE * record.scale[0] * peak
    return found


@routine
def _thin(record, peaks):
    """Let go of frames that straight lines make good; the last one stays. Tolerances double until a third is free."""
    n = record.filled[0]
    while True:
        keep = kept(record.time[:n], record.values[:n], _tolerances(record, peaks), np.zeros(n, np.bool_))
        if keep.sum() <= 0.67 * record.time.size:
            break
        record.scale[0] *= 2.0
    at = 0
    for k in range(n):
        if keep[k]:
            record.time[at] = record.time[k]
            record.values[at] = record.values[k]
            at += 1
    record.filled[0] = at


@routine
def _within(record, floor, cells, cell, face, part, dt, kink, out):
    """Levels and flows at a part of the step that has just been made."""
    level, level_2 = cell[LEVEL], cell[LEVEL_2]
    for j in range(record.rows.size):
        i = record.rows[j]
        if i < cells and part < 1.0:
            rate = end_rate(cell, i, dt)
            first = start_rate(cell, i, dt, kink)
            out[j] = max(between(part, dt, level[i], level_2[i], first, rate), floor[i])
        else:
            out[j] = level[i] + part * (level_2[i] - level[i])
    levels = record.rows.size
    for k in range(record.faces.size):
        f = record.faces[k]
        out[levels + k] = face[FLOW_2, f] if part == 1.0 else bow(part, face[FLOW, f], face[FLOW_1, f], face[FLOW_2, f])


@routine
def _append(record, peaks, t, values):
    if record.filled[0] == record.time.size:
        _thin(record, peaks)
    k = record.filled[0]
    record.time[k] = t
    record.values[k] = values
    record.filled[0] = k + 1


@routine
def note_record(record, peaks, floor, cells, cell, face, t, dt, kink):
    """Note the step from t to t + dt, before its results become the state. kink : inflow jumped at t."""
    if record.time.size == 0:
        return
    columns = record.values.shape[1]
    now, middle, end = np.empty(columns), np.empty(columns), np.empty(columns)
    for j in range(record.rows.size):
        now[j] = cell[LEVEL, record.rows[j]]
    for k in range(record.faces.size):
        now[record.rows.size + k] = face[FLOW, record.faces[k]]
    if record.filled[0] == 0:
        _append(record, peaks, t, now)
    _within(record, floor, cells, cell, face, 1.0, dt, kink, end)
    if dt > _LEAST_STEP:
        _within(record, floor, cells, cell, face, 0.5, dt, kink, middle)
        most = _tolerances(record, peaks)
        for j in range(columns):
            if abs(middle[j] - 0.5 * (now[j] + end[j])) > most[j]:
                for quarter in range(1, 4):
                    _within(record, floor, cells, cell, face, 0.25 * quarter, dt, kink, middle)
                    _append(record, peaks, t + 0.25 * quarter * dt, middle)
                break
    _append(record, peaks, t + dt, end)


def taken(record: Record, peak: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Times (s) and values (float32[column, frame]) of the frames that say all. peak : float64[face], m3/s."""
    n = int(record.filled[0])
    level = np.full(len(record.rows), LEVEL_TOLERANCE * record.scale[0])
    flow = FLOW_TOLERANCE * record.scale[0] * np.maximum(peak, _LEAST_FLOW)
    keep = kept(record.time[:n], record.values[:n], np.concatenate([level, flow]), np.zeros(n, np.bool_))
    return record.time[:n][keep].copy(), np.ascontiguousarray(record.values[:n][keep].T)
