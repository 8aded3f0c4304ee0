"""The time loop of one storm."""

from typing import NamedTuple

import numpy as np

from ..constants import GAMMA
from ..numerics.compiled import routine
from .energy import note_energy
from .events import note_events
from .inflow import inflow_until
from .layout import CROWN, FLOOR
from .pumping import cut_at_switch, switch_pumps
from .record import note_record
from .recorder import TOP, note_peaks, note_series
from .step import end_rate, try_step
from .tally import note_tally
from .work import (
    BASE,
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
)

__all__ = ["DONE", "FAILED", "Ending", "Hydrographs", "march"]

_LEAST_STEP, _FIRST_STEP = 0.01, 1.0
_LAST_RESORT = 1e-4  # s, where the iteration does not settle in longer steps
_AFTER_STOP = 0.25  # of the step, after inflow has turned
_OSCILLATES = 0.01  # m by which a level turns back after a step; the next one is half as long
_RINGS = 1.5  # s; in a shorter step the same noise of the flows turns a level by more, and would halve it again
_AFTER_SWITCH = 2.0  # s, first step after a pump has switched
_STILL = 1e-7  # m/s, 0.4 mm an hour
_SETTLED_FOR = 600.0  # s that a steady state must have lasted
DONE, FAILED = 0, 1

# places in the totals of a run
TIME, STEPS, REJECTED, ITERATIONS, SMALLEST, SMALLEST_AT, SMALLEST_ROW, ENTERED = range(8)


class Hydrographs(NamedTuple):
    """Inflows as the loop reads them; `cumulative` m3 up to each time; `stops` are times on which steps must land."""

    times: np.ndarray
    flow: np.ndarray
    after: np.ndarray
    cumulative: np.ndarray
    rows: np.ndarray
    stops: np.ndarray
    jumps: np.ndarray  # bool[stop]
    ceases: float


class Ending(NamedTuple):
    """When a run ends.

    until : s, or −1 for the storm's own end: every outlet back to `receded` of its rise for `lag` s, and every store
    back to `drained` of what it took, or still (nothing draws on it any more). latest : s. settled : m/s, ends when no
    level moves faster (0: never). longest : s, longest step. least : s, before which a storm does not end by itself.
    """

    until: float
    receded: float
    lag: float
    drained: float
    latest: float
    settled: float
    longest: float
    tolerance: float
    least: float


@routine
def _is_over(work, peaks, rest_ledger, rest_outlet, stores, ending):
    ledger, faces = work.cell[LEDGER], work.face.shape[1]
    for r in stores:
        gained = peaks.volume[r] - rest_ledger[r]
        if ledger[r] - rest_ledger[r] > ending.drained * gained + 1e-3 and abs(work.cell[RATE, r]) > _STILL:
            return False
    for k in range(work.outlet.size):
        rise = peaks.flow.row[TOP, faces + k] - rest_outlet[k]
        if work.outlet[k] - rest_outlet[k] > ending.receded * rise + 1e-5:
            return False
    return True


@routine
def _set_tides(tide, start, cells, row, t):
    """Levels outside at time t into a row of levels."""
    for k in range(start.size - 1):
        first, last = start[k], start[k + 1] - 1
        if last < first:
            continue
        while first < last and tide[0, first + 1] <= t:
            first += 1
        level = tide[1, first]
        if first < last and t > tide[0, first]:
            span = tide[0, first + 1] - tide[0, first]
            level += (tide[1, first + 1] - level) * (t - tide[0, first]) / span
        row[cells + k] = level


@routine
def _accept(n, lefts, rights, work, passed, used):
    """Make the results of a step of `used` s the state; the levels before it are left in LEVEL_2."""
    cell, face = work.cell, work.face
    ledger, faces = cell[LEDGER], face.shape[1]
    for i in range(n):
        cell[RATE, i] = end_rate(cell, i, used)
    for i in range(cell.shape[1]):
        cell[LEVEL, i], cell[LEVEL_2, i] = cell[LEVEL_2, i], cell[LEVEL, i]
    ledger[:] = cell[BASE]
    work.outlet[:] = 0.0
    work.outlet_early[:] = 0.0
    for f in range(faces):
        left, right, q = lefts[f], rights[f], face[FLOW_2, f]
        moved = face[WEIGHT, f] * q
        ledger[left] -= moved
        ledger[right] += moved
        passed[f] += moved + (used - face[WEIGHT, f]) * face[FLOW_1, f]
        face[FLOW, f] = q
        face[SPEED, f] = face[SPEED_2, f]
        if right >= n:
            work.outlet[right - n] += q
            work.outlet_early[right - n] += face[FLOW_1, f]
        if left >= n:
            work.outlet[left - n] -= q
            work.outlet_early[left - n] -= face[FLOW_1, f]
    passed[faces:] = ledger[n:]


@routine
def _retry(work, used, iterations, error, tolerance, totals):
    """Length of the step to try instead of one that failed; 0 when it is good enough, −1 when nothing helps."""
    if iterations == 0:
        totals[REJECTED] += 1
        return -1.0 if used <= _LAST_RESORT else max(_LAST_RESORT, 0.35 * used)
    if error > 4.0 * tolerance and used > _LEAST_STEP:
        totals[REJECTED] += 1
        return max(_LEAST_STEP, used * max(0.3, 0.9 * np.sqrt(tolerance / error)))
    return 0.0


@routine
def _to_next_stop(dt, left):
    """A step that ends at the next stop, or leaves half of the way for another one, rather than a sliver."""
    if left <= dt * 1.0001:
        return left
    return 0.5 * left if left < 2.0 * dt else dt


@routine
def march(grid, work, peaks, series, record, log, tally, inflow, rest_ledger, rest_outlet, ending, totals):  # noqa: C901 one pass over memory
    """Run from time 0 to the end; fills work, peaks, series, record, log, tally, totals.

    rest_ledger, rest_outlet : volumes and outflows from which the rises of `Ending` count.
    """
    cell, tolerance = work.cell, ending.tolerance
    volume_now, volume_next = np.zeros(cell.shape[1]), np.zeros(cell.shape[1])
    t, dt = 0.0, min(_FIRST_STEP, ending.longest)
    pointer, stop, mark = 0, 0, 0
    peaks.volume[:] = cell[LEDGER, : grid.cells]
    totals[SMALLEST] = np.inf
    over_since, still_since, kink, corner = -1.0, -1.0, True, True
    _set_tides(grid.tide, grid.tide_start, grid.cells, cell[LEVEL], 0.0)
    upstream = grid.left[grid.face.shape[1] :]
    switch_pumps(grid.switch, grid.switch_index, upstream, cell, work.state)
    note_events(log, grid, work, 0.0, 0.0)
    while t < ending.latest:
        while stop < inflow.stops.size and inflow.stops[stop] <= t + 1e-9:
            stop += 1
        target = inflow.stops[stop] if stop < inflow.stops.size else ending.latest
        if ending.until > 0.0:
            target = min(target, ending.until)
        while mark < tally.marks.size and tally.marks[mark] <= t:
            mark += 1
        if mark < tally.marks.size:
            target = min(target, tally.marks[mark])
        left = target - t
        dt = min(dt, ending.longest)
        used = _to_next_stop(dt, left)
        at_end = inflow_until(
            inflow.times, inflow.flow, inflow.after, inflow.cumulative, pointer, t + used, volume_next,
            cell[INFLOW_END], inflow.rows,
        )  # fmt: skip
        for r in inflow.rows:
            cell[INFLOW, r] = volume_next[r] - volume_now[r]
        _set_tides(grid.tide, grid.tide_start, grid.cells, cell[LEVEL_1], t + GAMMA * used)
        _set_tides(grid.tide, grid.tide_start, grid.cells, cell[LEVEL_2], t + used)
        iterations, error = try_step(grid, work, used)
        again = _retry(work, used, iterations, error, tolerance, totals)
        if again < 0.0:
            totals[TIME] = t
            return FAILED
        if again == 0.0:
            share = cut_at_switch(grid.switch, grid.switch_index, upstream, cell, work.state)
            if share < 1.0 and used * (1.0 - share) > _LAST_RESORT and used > _LEAST_STEP:
                again = max(_LEAST_STEP, share * used)
        if again > 0.0:
            dt = again
            continue
        note_series(series, grid.cell[FLOOR], grid.cells, cell, work.face, t, used, kink)
        note_record(record, peaks, grid.cell[FLOOR], grid.cells, cell, work.face, t, used, kink)
        _accept(grid.cells, grid.left, grid.right, work, peaks.passed, used)
        for r in inflow.rows:
            totals[ENTERED] += cell[INFLOW, r]
            volume_now[r] = volume_next[r]
        pointer = at_end
        t = target if left <= used * 1.0000001 else t + used
        note_tally(tally, cell, work.face[FLOW], peaks.passed, t, used)
        note_energy(tally.energy, grid, work, used)
        turned = note_peaks(
            peaks, grid.cell[CROWN], cell, work.face, work.outlet, work.outlet_early, grid.cells, t, corner
        )
        totals[STEPS] += 1
        totals[ITERATIONS] += iterations
        if used < totals[SMALLEST]:
            totals[SMALLEST], totals[SMALLEST_AT], totals[SMALLEST_ROW] = used, t, work.worst[0]
        grown = used * min(2.0, max(0.3, 0.9 * np.sqrt(tolerance / max(error, 1e-12))))
        dt = max(_LEAST_STEP, grown if used >= dt or grown < dt else dt)
        at_stop = stop < inflow.stops.size and t == inflow.stops[stop]
        corner, kink = at_stop, at_stop and inflow.jumps[stop]
        if at_stop:
            dt = max(_LEAST_STEP, _AFTER_STOP * dt)
        if turned > _OSCILLATES * max(1.0, _RINGS / used):
            dt = max(_LEAST_STEP, min(dt, 0.5 * used))
        if switch_pumps(grid.switch, grid.switch_index, upstream, cell, work.state):
            dt, corner, kink = min(dt, _AFTER_SWITCH), True, True
        note_events(log, grid, work, t, used)
        if ending.until > 0.0:
            if t >= ending.until:
                break
        elif ending.settled > 0.0:
            if np.abs(cell[RATE, : grid.cells]).max() > ending.settled:
                still_since = -1.0
            elif still_since < 0.0:
                still_since = t
            elif t - still_since >= _SETTLED_FOR:
                break
        elif t >= inflow.ceases and t >= ending.least:
            if not _is_over(work, peaks, rest_ledger, rest_outlet, tally.stores, ending):
                over_since = -1.0
            elif over_since < 0.0:
                over_since = t
            elif t - over_since >= ending.lag:
                break
    totals[TIME] = t
    return DONE
