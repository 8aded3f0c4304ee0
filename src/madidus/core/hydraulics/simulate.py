"""One storm through one network: a pure function of the flattened network and its inflows."""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from ..elements import BY_CURVE
from ..errors import ModelError
from .events import make_log, read_log
from .inflow import Inflow
from .layout import CURVE, KIND, Flattened, Grid
from .march import (
    ENTERED,
    FAILED,
    ITERATIONS,
    REJECTED,
    SMALLEST,
    SMALLEST_AT,
    SMALLEST_ROW,
    STEPS,
    TIME,
    Ending,
    Hydrographs,
    march,
)
from .record import Record, make_record
from .recorder import STEADY, TOP, Peaks, Series, make_peaks, make_series
from .step import STEP_TOLERANCE
from .tally import Tally, make_tally
from .work import CHANGE, LEDGER, LEVEL, Work, make_work

__all__ = ["LATEST", "Balance", "Inflow", "NotSettled", "Start", "StormRun", "settle", "simulate"]

_LONGEST_STEP = 900.0  # s
LATEST = 14 * 86_400.0  # s
_NONE = np.zeros(0, np.int64)
_STILL = 2e-8  # m/s, 0.07 mm an hour: a level that moves no faster is steady


class NotSettled(ModelError):
    """The levels would not settle at the smallest step."""


class Start(NamedTuple):
    """A state to begin with, as left by a run before: rows of `Work`."""

    cell: np.ndarray
    face: np.ndarray
    state: np.ndarray
    outlet: np.ndarray


@dataclass(frozen=True)
class Balance:
    """Volumes of a storm, m3: what was there, entered, left by outfalls, was lost in floods, infiltrated, is there."""

    before: float
    entered: float
    left: float
    lost: float
    infiltrated: float
    after: float

    @property
    def error(self) -> float:
        """What is missing, relative to all water handled."""
        handled = max(self.before + self.entered, 1e-9)
        return (self.before + self.entered - self.left - self.lost - self.infiltrated - self.after) / handled


@dataclass(frozen=True)
class StormRun:
    """Result of one storm. Arrays are indexed as in `Grid`; `Flattened` leads back to elements.

    smallest_step : s, with its time `smallest_at` and the row whose error asked for it. events : for `events.decode`.
    """

    peaks: Peaks
    series: Series
    record: Record
    tally: Tally
    balance: Balance
    events: list[tuple[float, int]]
    end: Start
    end_time: float  # s
    steps: int
    rejected: int
    iterations: int
    smallest_step: float
    smallest_at: float
    smallest_row: int


def _hydrographs(flat: Flattened, inflow: Inflow) -> Hydrographs:
    times = np.ascontiguousarray(inflow.times, dtype=np.float64)
    flow = np.ascontiguousarray(inflow.flow, dtype=np.float64).reshape(len(times), len(inflow.nodes))
    if np.any(np.diff(times) < 0) or not np.all(np.isfinite(flow)):
        raise ModelError("inflow", "times", "do not rise, or a flow is not a number", "correct the hydrograph")
    cumulative = np.zeros_like(flow)
    if len(times):
        cumulative[1:] = np.cumsum(0.5 * (flow[1:] + flow[:-1]) * np.diff(times)[:, None], axis=0)
    rows = np.array([flat.node_row[node] for node in inflow.nodes], dtype=np.int64)
    if np.any(rows >= flat.grid.cells):
        raise ModelError("inflow", "node", "enters at an outfall", "let it enter at a node upstream")
    last = float(times[-1]) if times.size else 0.0
    ceases = last if inflow.ceases is None else float(inflow.ceases)
    return Hydrographs(times, flow, np.ascontiguousarray(inflow.after), cumulative, rows, *inflow.stops, ceases)


def _begin(flat: Flattened, start: Start | None) -> Work:
    work = make_work(flat.grid)
    if start is not None:
        for name, values in start._asdict().items():
            getattr(work, name)[:] = values
        work.cell[LEDGER, flat.grid.cells :] = 0.0  # what left before the storm
    return work


def simulate(
    flat: Flattened,
    inflow: Inflow,
    *,
    start: Start | None = None,
    rest: Start | None = None,
    until: float | None = None,
    frames: int = 0,
    interval: float = 60.0,
    follow: tuple[np.ndarray, np.ndarray] = (_NONE, _NONE),
    finer: float = 1.0,
    longest_step: float = _LONGEST_STEP,
    receded: float = 0.75,
    lag: float = 600.0,
    drained: float = 0.5,
    settled: float = 0.0,
    latest: float = LATEST,
    marks: Sequence[float] = (),
    after: float = 0.0,
    idle: Sequence[tuple[str, int]] = (),
) -> StormRun:
    """Run one storm.

    Parameters
    ----------
    flat : the flattened network. inflow : what enters at nodes. start : a state to begin with instead of an empty
        network at rest. rest : the state from which rises and gains count; when None, that of the beginning.
    until : s to run to; when None, the storm ends by itself: inflow has ceased, every outlet has stayed back to
        `receded` of its rise for `lag` s and every store is back to `drained` of its gain, or still.
    frames, interval : how many frames of all levels and flows to keep, and the seconds between them. follow : rows
        whose levels and faces whose flows are recorded as the water moves.
    finer : divides the tolerated error of a step by its square, so that 4 gives about a quarter of the step.
    marks, after : s; what has passed by each of these times is noted, and the storm goes on until the last of them, and
        for so long after inflow has ceased.
    idle : pumps that do not run, by the id of their control and their place in it.
    latest : s, when a storm ends at last. settled : m/s; ends the run once no level has moved faster for ten minutes.

    Raises
    ------
    NotSettled
        When the levels do not settle at the smallest step; names the time.
    """
    grid, out = _without(flat, idle)
    faces = grid.left.size
    hydrographs = _hydrographs(flat, inflow)
    work = _begin(flat, start)
    for k, bit in out:
        work.state[k] &= ~(1 << bit)
    ledger = work.cell[LEDGER]
    peaks = make_peaks(work.cell[LEVEL, : grid.cells], faces, work.outlet.size)
    series = make_series(work.cell.shape[1], faces, frames, interval)
    record = make_record(*follow)
    log = make_log(grid)
    before = float(ledger[: grid.cells].sum())
    totals = np.zeros(8)
    given = (-1.0 if until is None else until, receded, lag, drained, latest, settled, longest_step)
    noted = np.unique(np.array([*marks], np.float64))
    least = max([*noted, hydrographs.ceases + after])
    # numbers of one kind: whole ones would have all of the solver compiled anew
    ending = Ending._make(float(value) for value in (*given, STEP_TOLERANCE / finer**2, least))
    calm = rest or Start(*(a.copy() for a in (work.cell, work.face, work.state, work.outlet)))
    tally = make_tally(flat, calm.cell[LEVEL], calm.cell[LEDGER], noted, peaks.passed.size)
    status = march(
        grid,
        work,
        peaks,
        series,
        record,
        log,
        tally,
        hydrographs,
        calm.cell[LEDGER],
        calm.outlet,
        ending,
        totals,
    )
    _keep_to_curves(grid, peaks)
    if status == FAILED:
        where = flat.name_of(int(np.argmax(np.abs(work.cell[CHANGE])))) or "network"
        raise NotSettled(
            where, "level", f"does not settle at {totals[TIME]:.0f} s", "look for a very short or very steep pipe here"
        )
    spilt = float(peaks.passed[list(flat.spill_face.values())].sum())
    infiltrated = float(sum(peaks.passed[faces_].sum() for faces_ in flat.infiltration_faces.values()))
    balance = Balance(
        before, float(totals[ENTERED]), float(ledger[grid.cells : -1].sum()), spilt, infiltrated,
        float(ledger[: grid.cells].sum()),
    )  # fmt: skip
    return StormRun(
        peaks, series, record, tally, balance, read_log(log), Start(work.cell, work.face, work.state, work.outlet),
        end_time=float(totals[TIME]), steps=int(totals[STEPS]), rejected=int(totals[REJECTED]),
        iterations=int(totals[ITERATIONS]), smallest_step=float(totals[SMALLEST]),
        smallest_at=float(totals[SMALLEST_AT]), smallest_row=int(totals[SMALLEST_ROW]),
    )  # fmt: skip


def _keep_to_curves(grid: Grid, peaks: Peaks) -> None:
    """Peaks between steps are interpolated: one of a control by its curve is no more than the curve's greatest flow.

    Nor is that of an outfall to which such controls alone lead.
    """
    first, cells = grid.face.shape[1], grid.cells
    most = np.full(peaks.flow.row.shape[1], np.inf)
    for k in np.nonzero(grid.control[KIND] == BY_CURVE)[0]:
        start, end = grid.curve_start[grid.control[CURVE, k] : grid.control[CURVE, k] + 2]
        most[first + k] = grid.curve[1, start:end].max()
    into = np.zeros(most.size - grid.left.size)
    np.add.at(into, grid.right[grid.right >= cells] - cells, most[: grid.left.size][grid.right >= cells])
    backwards = grid.left[grid.left >= cells] - cells
    into[backwards] = np.inf
    most[grid.left.size :] = np.where(into > 0.0, into, np.inf)
    for kept in (TOP, STEADY):
        np.minimum(peaks.flow.row[kept], most, out=peaks.flow.row[kept])


def _without(flat: Flattened, idle: Sequence[tuple[str, int]]) -> tuple[Grid, list[tuple[int, int]]]:
    """The grid with some pumps that never start, and those as controls and bits of their state."""
    if not idle:
        return flat.grid, []
    first = flat.grid.face.shape[1]
    out = [(flat.control_face[id_] - first, bit) for id_, bit in idle]
    switch = flat.grid.switch.copy()
    for u, (k, bit) in enumerate(flat.grid.switch_index.tolist()):
        if (k, bit) in out:
            switch[u, 0] = np.inf
    return flat.grid._replace(switch=switch), out


def settle(flat: Flattened, inflow: Inflow, *, finer: float = 1.0, idle: Sequence[tuple[str, int]] = ()) -> StormRun:
    """Run a steady inflow until no level moves: the state before a storm, or a steady profile.

    Tides stand still at their first level. Where pumps switch there is no such state; the run then ends after three
    days.
    """
    tide, starts = flat.grid.tide.copy(), flat.grid.tide_start
    for first, last in itertools.pairwise(starts.tolist()):
        tide[1, first:last] = tide[1, first:last][:1]
    flat = flat._replace(grid=flat.grid._replace(tide=tide))
    return simulate(flat, inflow, settled=_STILL, finer=finer, latest=3 * 86_400.0, idle=idle)
