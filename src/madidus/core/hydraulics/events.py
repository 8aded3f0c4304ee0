"""The event log: floods begin and end, channels rise over their banks, flaps shut, pumps start, controls reach the
end of their curve.
"""

from typing import NamedTuple

import numpy as np

from ..elements import BY_CURVE, PUMP
from ..elements.curve import INVERT
from ..elements.pump import DISCHARGE
from ..numerics.compiled import routine
from .layout import CELL, COVER, CURVE, FACE, FLAP, KIND, NODE, OUTWARD, Flattened, Grid
from .work import FLOW, LEVEL, LEVEL_2

__all__ = ["MOST_EVENTS", "Event", "Log", "decode", "make_log", "note_events", "read_log"]

MOST_EVENTS = 2000
"""That are kept of a storm."""
_BAND = 1e-3  # m by which a level must pass a cover to count


class Log(NamedTuple):
    """Signals in groups: floods (of open conduits: over the bank) by row, flaps by pipe end and by control, curve ends
    by control, pumps by unit.
    """

    on: np.ndarray  # int8[signal]
    time: np.ndarray  # float64[event], s
    signal: np.ndarray  # int32[event]
    seen: np.ndarray  # [0]: events so far, kept or not


class Event(NamedTuple):
    """Something began (or ended) at a time (s) at an element (its id)."""

    time: float
    kind: str
    element: str
    begins: bool


def make_log(grid: Grid) -> Log:
    """An empty log of a storm in which nothing has acted yet."""
    controls = grid.parameters.shape[0]
    signals = grid.cells + grid.end_index.shape[1] + 2 * controls + grid.switch.shape[0]
    time, signal = np.zeros(MOST_EVENTS), np.zeros(MOST_EVENTS, np.int32)
    return Log(np.zeros(signals, np.int8), time, signal, np.zeros(1, np.int64))


@routine
def _set(log, signal, value, t):
    if log.on[signal] == value:
        return
    log.on[signal] = value
    k = log.seen[0]
    if k < log.time.size:
        log.time[k] = t
        log.signal[k] = signal + 1 if value else -signal - 1
    log.seen[0] = k + 1


@routine
def _share_after(first, last):
    """Part of a step that is left when what changes evenly from `first` to `last` passes zero."""
    return last / (last - first) if first * last < 0.0 else 0.0


@routine
def note_events(log, grid, work, t, used):
    """Compare the state at t, after a step of `used` s, with what was on before."""
    level, before, cover, flow = work.cell[LEVEL], work.cell[LEVEL_2], grid.cell[COVER], work.face[FLOW]
    for i in range(grid.cells):
        over = level[i] - cover[i]
        if over > _BAND:
            _set(log, i, 1, t - used * _share_after(before[i] - cover[i], over))
        elif over < 0.0:
            _set(log, i, 0, t - used * _share_after(before[i] - cover[i], over))
    base = grid.cells
    ends = grid.end_index
    for e in range(ends.shape[1]):
        if ends[OUTWARD, e]:
            shut = flow[ends[FACE, e]] == 0.0 and level[ends[NODE, e]] > level[ends[CELL, e]]
            _set(log, base + e, 1 if shut else 0, t)
    base += ends.shape[1]
    first, controls = grid.face.shape[1], grid.parameters.shape[0]
    for k in range(controls):
        up, down = level[grid.left[first + k]], level[grid.right[first + k]]
        if grid.control[FLAP, k]:
            _set(log, base + k, 1 if down > up else 0, t)
        kind = grid.control[KIND, k]
        if kind == BY_CURVE:
            last = grid.curve[0, grid.curve_start[grid.control[CURVE, k] + 1] - 1]
            _set(log, base + controls + k, 1 if up - max(down, grid.parameters[k, INVERT]) > last else 0, t)
        elif kind == PUMP and work.state[k] > 0:
            which = grid.control[CURVE, k] + work.state[k]
            aim = grid.parameters[k, DISCHARGE]
            lift = (down if np.isnan(aim) else max(aim, down)) - up
            low, high = grid.curve[0, grid.curve_start[which]], grid.curve[0, grid.curve_start[which + 1] - 1]
            _set(log, base + controls + k, 1 if lift < low or lift > high else 0, t)
    base += 2 * controls
    for u in range(grid.switch.shape[0]):
        k, bit = grid.switch_index[u, 0], grid.switch_index[u, 1]
        _set(log, base + u, (work.state[k] >> bit) & 1, t)


def read_log(log: Log) -> list[tuple[float, int]]:
    """Times (s) and codes of what happened, for `decode`."""
    count = min(int(log.seen[0]), MOST_EVENTS)
    return sorted(zip(log.time[:count].tolist(), log.signal[:count].tolist(), strict=True), key=lambda event: event[0])


def decode(codes: list[tuple[float, int]], flat: Flattened) -> list[Event]:
    """Events in order of time; infiltration has no curve whose end would matter."""
    grid = flat.grid
    ends, controls = grid.end_index.shape[1], grid.parameters.shape[0]
    of_end = {}
    for id_, (first, last) in flat.pipe_faces.items():
        of_end[first], of_end[last] = id_, id_
    of_control = {face - grid.face.shape[1]: id_ for id_, face in flat.control_face.items()}
    events = []
    for time, code in codes:
        signal, begins = abs(code) - 1, code > 0
        if signal < grid.cells:
            element = flat.name_of(signal)
            kind = "over its bank" if element in flat.pipe_rows else "flood"
        elif (signal := signal - grid.cells) < ends:
            kind, element = "flap shut", of_end[int(grid.end_index[FACE, signal])]
        elif (signal := signal - ends) < controls:
            kind, element = "flap shut", of_control.get(signal, "")
        elif (signal := signal - controls) < controls:
            kind, element = "beyond its curve", of_control.get(signal, "")
        else:
            unit = signal - controls
            kind = f"pump {int(grid.switch_index[unit, 1]) + 1} runs"
            element = of_control[int(grid.switch_index[unit, 0])]
        if element:
            events.append(Event(time, kind, element, begins))
    return events
