"""What a simulation keeps: peaks always, series only when asked for, by interpolation between steps."""

from typing import NamedTuple

import numpy as np
from numba import njit

__all__ = ["Peaks", "Series", "make_peaks", "make_series", "note_peaks", "note_series"]


class Peaks(NamedTuple):
    """Extremes of a storm. `instant` figures are parabolas through step ends, `steady` ones 10-second means."""

    level: np.ndarray  # float64[row]
    level_time: np.ndarray
    level_steady: np.ndarray
    flow: np.ndarray  # float64[face + control + outfall], greatest signed flow
    flow_time: np.ndarray
    flow_steady: np.ndarray
    flow_least: np.ndarray
    speed: np.ndarray  # float64[face], greatest speed either way
    volume: np.ndarray  # float64[row], greatest ledger volume
    zigzag: np.ndarray  # float64[row], largest of the smallest of three alternating level changes, m
    passed: np.ndarray  # float64[face + control + outfall], m3 over the storm
    # history that the figures need
    level_before: np.ndarray
    level_middle: np.ndarray
    swing_1: np.ndarray
    swing_2: np.ndarray
    flow_before: np.ndarray
    flow_middle: np.ndarray
    sum_level: np.ndarray
    sum_flow: np.ndarray
    clock: np.ndarray  # [time before, time middle, seconds summed, steps seen]


class Series(NamedTuple):
    """Levels and flows at equal intervals: `time[i]`, `level[i, row]`, `flow[i, face + control]`; `filled[0]` rows."""

    time: np.ndarray
    level: np.ndarray
    flow: np.ndarray
    filled: np.ndarray


def make_peaks(rows: int, faces: int, flows: int) -> Peaks:
    """Empty peaks; `flows` counts faces, controls and outfalls."""
    sizes = {name: rows for name in Peaks._fields if name.startswith(("level", "swing", "volume", "zigzag"))}
    sizes.update(sum_level=rows, speed=faces, clock=4)
    return Peaks(**{name: np.zeros(sizes.get(name, flows)) for name in Peaks._fields})


def make_series(rows: int, flows: int, frames: int, interval: float) -> Series:
    """Room for `frames` frames, `interval` s apart; none for a run that keeps peaks only."""
    return Series(
        np.arange(frames) * interval, np.zeros((frames, rows)), np.zeros((frames, flows)), np.zeros(1, np.int64)
    )


@njit(cache=True, nogil=True, error_model="numpy")
def _vertex(t0, t1, t2, v0, v1, v2):  # type: ignore[no-untyped-def]
    """Time and height of the parabola through three points whose middle one is the highest; the excess is capped."""
    a, b = (v1 - v0) / (t1 - t0), (v2 - v1) / (t2 - t1)
    bend = (b - a) / (t2 - t0)
    if bend >= 0.0:
        return t1, v1
    slope = a + bend * (t1 - t0)
    excess = -0.25 * slope * slope / bend
    return t1 - 0.5 * slope / bend, v1 + min(excess, 0.25 * max(v1 - v0, v1 - v2))


@njit(cache=True, nogil=True, error_model="numpy")
def note_peaks(peaks, grid, work, t, dt):  # type: ignore[no-untyped-def]
    """Take in the step that ended at t. Called after the step's results have become the state."""
    before, middle, summed, seen = peaks.clock
    n, faces = grid.cells, work.flow.size
    linked = faces + work.control.size
    summed += dt
    full_window = summed >= 10.0
    for i in range(n):
        v = work.level[i]
        v1, v0 = peaks.level_middle[i], peaks.level_before[i]
        if seen >= 2 and v1 >= v0 and v1 >= v:
            when, top = _vertex(before, middle, t, v0, v1, v)
            if top > peaks.level[i]:
                peaks.level[i], peaks.level_time[i] = top, when
            if dt >= 10.0 and middle - before >= 10.0:
                peaks.level_steady[i] = max(peaks.level_steady[i], top)
        if v > peaks.level[i]:
            peaks.level[i], peaks.level_time[i] = v, t
        rise = v - v1
        if seen >= 3:
            a, b = peaks.swing_1[i], peaks.swing_2[i]
            if a * b < 0.0 and b * rise < 0.0:
                peaks.zigzag[i] = max(peaks.zigzag[i], min(abs(a), abs(b), abs(rise)))
        peaks.swing_1[i], peaks.swing_2[i] = peaks.swing_2[i], rise
        peaks.level_before[i], peaks.level_middle[i] = v1, v
        peaks.volume[i] = max(peaks.volume[i], work.ledger[i])
        peaks.sum_level[i] += 0.5 * (v1 + v) * dt
        if full_window:
            peaks.level_steady[i] = max(peaks.level_steady[i], peaks.sum_level[i] / summed)
            peaks.sum_level[i] = 0.0
    for k in range(peaks.flow.size):
        v = work.flow[k] if k < faces else work.control[k - faces] if k < linked else work.outlet[k - linked]
        v1, v0 = peaks.flow_middle[k], peaks.flow_before[k]
        if seen >= 2 and v1 >= v0 and v1 >= v:
            when, top = _vertex(before, middle, t, v0, v1, v)
            if top > peaks.flow[k]:
                peaks.flow[k], peaks.flow_time[k] = top, when
            if dt >= 10.0 and middle - before >= 10.0:
                peaks.flow_steady[k] = max(peaks.flow_steady[k], top)
        if v > peaks.flow[k]:
            peaks.flow[k], peaks.flow_time[k] = v, t
        peaks.flow_least[k] = min(peaks.flow_least[k], v)
        peaks.flow_before[k], peaks.flow_middle[k] = v1, v
        peaks.sum_flow[k] += 0.5 * (v1 + v) * dt
        if full_window:
            peaks.flow_steady[k] = max(peaks.flow_steady[k], peaks.sum_flow[k] / summed)
            peaks.sum_flow[k] = 0.0
        if k < faces:
            peaks.speed[k] = max(peaks.speed[k], abs(work.speed[k]))
    if full_window:
        summed = 0.0
    peaks.clock[0], peaks.clock[1], peaks.clock[2], peaks.clock[3] = middle, t, summed, seen + 1


@njit(cache=True, nogil=True, error_model="numpy")
def note_series(series, grid, work, t, dt):  # type: ignore[no-untyped-def]
    """Fill the frames between t and t + dt, before the step's results become the state."""
    k = series.filled[0]
    faces = work.flow.size
    while k < series.time.size and series.time[k] <= t + dt:
        part = (series.time[k] - t) / dt
        for i in range(series.level.shape[1]):
            series.level[k, i] = work.level[i] + part * (work.level_2[i] - work.level[i])
        for j in range(faces):
            series.flow[k, j] = work.flow[j] + part * (work.flow_2[j] - work.flow[j])
        for j in range(work.control.size):
            series.flow[k, faces + j] = work.control[j] + part * (work.control_2[j] - work.control[j])
        k += 1
    series.filled[0] = k
