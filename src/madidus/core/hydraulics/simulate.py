"""One storm through one network: a pure function of the flattened network and its inflows."""

from dataclasses import dataclass

import numpy as np
from numba import njit

from ..errors import ModelError
from .constants import GAMMA
from .layout import Flattened
from .recorder import Peaks, Series, make_peaks, make_series, note_peaks, note_series
from .step import STEP_TOLERANCE, try_step
from .work import (
    BASE,
    CHANGE,
    FLOW,
    FLOW_1,
    FLOW_2,
    INFLOW,
    INFLOW_END,
    LEDGER,
    LEVEL,
    LEVEL_1,
    LEVEL_2,
    RATE,
    SPEED,
    SPEED_2,
    WEIGHT,
    make_work,
)  # fmt: skip

__all__ = ["Balance", "Inflow", "NotSettled", "StormRun", "simulate"]

_LEAST_STEP, _LONGEST_STEP, _FIRST_STEP = 0.01, 900.0, 1.0
_LAST_RESORT = 1e-4  # s, where the iteration does not settle in longer steps
_FAILED, _DONE = 1, 0


class NotSettled(ModelError):
    """The levels would not settle at the smallest step."""


@dataclass(frozen=True)
class Inflow:
    """Flows into nodes, linear between `times`; a time given twice is a jump.

    times : float64[t], s, rising. flow : float64[t, node], m3/s. nodes : ids, one for each column.
    """

    times: np.ndarray
    flow: np.ndarray
    nodes: list[str]

    @property
    def volume(self) -> float:
        """m3 that enter in all."""
        return float(np.trapezoid(self.flow.sum(axis=1), self.times))

    def stops(self) -> np.ndarray:
        """Times on which steps must land: jumps above a tenth of the greatest inflow, and peaks of the total."""
        total = self.flow.sum(axis=1)
        top = float(np.abs(self.flow).max(initial=0.0))
        jumps = [
            self.times[k]
            for k in range(1, len(self.times))
            if self.times[k] == self.times[k - 1] and np.abs(self.flow[k] - self.flow[k - 1]).max() > 0.1 * top
        ]
        peaks, best, least = [], 0, total[0] if len(total) else 0.0
        for k in range(1, len(total)):
            if total[k] > total[best]:
                best = k
            elif total[best] - total[k] > 0.02 * total.max() and total[best] - least > 0.02 * total.max():
                peaks.append(self.times[best])
                best, least = k, total[k]
            least = min(least, total[k])
            if total[k] < total[best] and total[k] <= least:
                best = k
        return np.unique(np.array([*jumps, *peaks, self.times[-1]] if len(self.times) else [], dtype=np.float64))


@dataclass(frozen=True)
class Balance:
    """Volumes of a storm in m3: what was there, entered, left by outfalls, was lost in floods, and is there."""

    before: float
    entered: float
    left: float
    lost: float
    after: float

    @property
    def error(self) -> float:
        """What is missing, relative to all water handled."""
        handled = max(self.before + self.entered, 1e-9)
        return (self.before + self.entered - self.left - self.lost - self.after) / handled


@dataclass(frozen=True)
class StormRun:
    """Result of one storm. Arrays are indexed as in `Grid`; `Flattened` leads back to elements."""

    peaks: Peaks
    series: Series
    balance: Balance
    end_time: float  # s
    steps: int
    rejected: int
    iterations: int
    smallest_step: float


@njit(cache=True, nogil=True, error_model="numpy")
def _inflow_until(times, flow, cumulative, pointer, t, out_volume, out_flow, rows):  # type: ignore[no-untyped-def]
    """Cumulative inflow of each node up to t, and the flow just before t."""
    k = pointer
    while k < times.size - 2 and times[k + 1] < t:
        k += 1
    inside = times.size > 1 and t <= times[-1]
    for j in range(rows.size):
        r = rows[j]
        if inside:
            span = times[k + 1] - times[k]
            part = (t - times[k]) / span if span > 0.0 else 0.0
            value = flow[k, j] + part * (flow[k + 1, j] - flow[k, j])
            out_flow[r] = value
            out_volume[r] = cumulative[k, j] + 0.5 * (flow[k, j] + value) * (t - times[k])
        else:
            out_flow[r] = 0.0
            out_volume[r] = cumulative[-1, j] if times.size else 0.0
    return k


@njit(cache=True, nogil=True, error_model="numpy")
def _is_over(work, peaks, start_ledger, storage_rows):  # type: ignore[no-untyped-def]
    """Whether every store has given back half of what it took in, and every outlet has receded."""
    ledger, faces = work.cell[LEDGER], work.face.shape[1]
    for r in storage_rows:
        gained = peaks.volume[r] - start_ledger[r]
        if ledger[r] - start_ledger[r] > 0.5 * gained + 1e-3:
            return False
    return not np.any(work.outlet > 0.75 * peaks.flow.top[faces:] + 1e-5)


@njit(cache=True, nogil=True, error_model="numpy")
def _accept(grid, work, passed, used):  # type: ignore[no-untyped-def]
    """Make the results of a step of `used` s the state."""
    cell, face, n = work.cell, work.face, grid.cells
    ledger, faces = cell[LEDGER], face.shape[1]
    for i in range(n):
        cell[RATE, i] = (cell[LEVEL_2, i] - cell[LEVEL_1, i]) / ((1.0 - GAMMA) * used)
        cell[LEVEL, i] = cell[LEVEL_2, i]
    ledger[:] = cell[BASE]
    work.outlet[:] = 0.0
    for f in range(faces):
        left, right, q = grid.left[f], grid.right[f], face[FLOW_2, f]
        moved = face[WEIGHT, f] * q
        ledger[left] -= moved
        ledger[right] += moved
        passed[f] += moved + (used - face[WEIGHT, f]) * face[FLOW_1, f]
        face[FLOW, f] = q
        face[SPEED, f] = face[SPEED_2, f]
        if right >= n:
            work.outlet[right - n] += q
        if left >= n:
            work.outlet[left - n] -= q
    passed[faces:] = ledger[n:]


@njit(cache=True, nogil=True, error_model="numpy")
def _march(  # type: ignore[no-untyped-def]
    grid, work, peaks, series, times, flow, cumulative, rows, stops, storage_rows, until, latest, tolerance, longest,
    totals,
):  # fmt: skip
    """The time loop. totals: [t, steps, rejected, iterations, smallest step, entered]."""
    cell = work.cell
    start_ledger = cell[LEDGER].copy()
    volume_now = np.zeros(start_ledger.size)
    volume_next = np.zeros(start_ledger.size)
    t, dt = 0.0, _FIRST_STEP
    pointer, stop = 0, 0
    peaks.volume[:] = start_ledger[: grid.cells]
    totals[4] = longest
    rain_end = times[-1] if times.size else 0.0
    receding = -1.0
    while t < latest:
        while stop < stops.size and stops[stop] <= t + 1e-9:
            stop += 1
        target = stops[stop] if stop < stops.size else latest
        if until > 0.0:
            target = min(target, until)
        left = target - t
        dt = min(dt, longest)
        used = dt
        if left <= dt * 1.0001:
            used = left
        elif left < 2.0 * dt:
            used = 0.5 * left
        at_end = _inflow_until(times, flow, cumulative, pointer, t + used, volume_next, cell[INFLOW_END], rows)
        for r in rows:
            cell[INFLOW, r] = volume_next[r] - volume_now[r]
        iterations, error = try_step(grid, work, used)
        if iterations == 0:
            if used <= _LAST_RESORT:
                totals[0] = t
                return _FAILED
            totals[2] += 1
            dt = max(_LAST_RESORT, 0.35 * used)
            continue
        if error > 4.0 * tolerance and used > _LEAST_STEP:
            totals[2] += 1
            dt = max(_LEAST_STEP, used * max(0.3, 0.9 * np.sqrt(tolerance / error)))
            continue
        note_series(series, work, t, used)
        _accept(grid, work, peaks.passed, used)
        for r in rows:
            totals[5] += cell[INFLOW, r]
            volume_now[r] = volume_next[r]
        pointer = at_end
        t += used
        if left <= used * 1.0000001:
            t = target
        note_peaks(peaks, grid, work, t)
        totals[1] += 1
        totals[3] += iterations
        totals[4] = min(totals[4], used)
        if until > 0.0 and t >= until:
            break
        if until <= 0.0 and t >= rain_end:
            if _is_over(work, peaks, start_ledger, storage_rows):
                if receding < 0.0:
                    receding = t
                elif t - receding >= 600.0:
                    break
            else:
                receding = -1.0
        grown = used * min(2.0, max(0.3, 0.9 * np.sqrt(tolerance / max(error, 1e-12))))
        dt = max(_LEAST_STEP, grown if used >= dt or grown < dt else dt)
    totals[0] = t
    return _DONE


def simulate(
    flat: Flattened,
    inflow: Inflow,
    *,
    until: float | None = None,
    frames: int = 0,
    interval: float = 60.0,
    finer: float = 1.0,
    longest_step: float = _LONGEST_STEP,
    latest: float = 14 * 86_400.0,
) -> StormRun:
    """Run one storm.

    Parameters
    ----------
    flat : the flattened network. inflow : what enters at nodes.
    until : s to run to; when None, the storm ends by itself: inflow has ceased, every pond and tank has given back half
        of what it took, and every outlet has stayed receded for ten minutes.
    frames, interval : how many frames of series to keep, and the seconds between them.
    finer : divides the tolerated error of a step by its square, so that 4 gives about a quarter of the step.

    Raises
    ------
    NotSettled
        When the levels do not settle at the smallest step; names the time.
    """
    grid = flat.grid
    faces = grid.left.size
    times = np.ascontiguousarray(inflow.times, dtype=np.float64)
    flow = np.ascontiguousarray(inflow.flow, dtype=np.float64).reshape(len(times), len(inflow.nodes))
    if np.any(np.diff(times) < 0) or not np.all(np.isfinite(flow)):
        raise ModelError("inflow", "times", "do not rise, or a flow is not a number", "correct the hydrograph")
    spans = np.diff(times)[:, None]
    cumulative = np.zeros_like(flow)
    if len(times):
        cumulative[1:] = np.cumsum(0.5 * (flow[1:] + flow[:-1]) * spans, axis=0)
    rows = np.array([flat.node_row[node] for node in inflow.nodes], dtype=np.int64)
    if np.any(rows >= grid.cells):
        raise ModelError("inflow", "node", "enters at an outfall", "let it enter at a node upstream")
    storage_rows = np.array([flat.node_row[i] for i in flat.storage], dtype=np.int64)
    work = make_work(grid)
    ledger = work.cell[LEDGER]
    peaks = make_peaks(work.cell[LEVEL, : grid.cells], faces, work.outlet.size)
    series = make_series(work.cell.shape[1], faces, frames, interval)
    before = float(ledger[: grid.cells].sum())
    totals = np.zeros(6)
    status = _march(
        grid, work, peaks, series, times, flow, cumulative, rows, inflow.stops(), storage_rows,
        -1.0 if until is None else until, latest, STEP_TOLERANCE / finer**2, longest_step, totals,
    )  # fmt: skip
    if status == _FAILED:
        where = flat.name_of(int(np.argmax(np.abs(work.cell[CHANGE])))) or "network"
        raise NotSettled(
            where, "level", f"does not settle at {totals[0]:.0f} s",
            "look for a very short or very steep pipe here",
        )  # fmt: skip
    lost = float(ledger[-1])  # the sink's own ledger
    left = float(ledger[grid.cells : -1].sum())
    balance = Balance(before, float(totals[5]), left, lost, float(ledger[: grid.cells].sum()))
    return StormRun(
        peaks, series, balance, float(totals[0]), int(totals[1]), int(totals[2]), int(totals[3]), float(totals[4])
    )
