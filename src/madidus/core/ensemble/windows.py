"""Long records of rain: the full hydraulics run in windows that the greater events open, and time is skipped between.

A window closes when outfalls have receded and stores have drained or stand still. No water is set back: the next window
begins with what the last one left, at the hour that patterns and tides have reached by then.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from ..elements.figures import Figures
from ..hydraulics.flatten import flatten
from ..hydraulics.inflow import Inflow
from ..hydraulics.layout import Flattened
from ..hydraulics.simulate import settle, simulate
from ..model.project import Project
from ..rainfall.recorded import RainEvent
from ..results.reduction import Reduction
from ..runoff.catchments import inflows
from ..runoff.gather import base_flows, swing

__all__ = ["EventRun", "run_windows"]

_REST = 0.02  # of the rise of outflows and of what stores took, at which a window closes
_LONGEST = 60 * 86_400.0  # s, after which a window without another event closes at last


@dataclass(frozen=True)
class EventRun:
    """One event of a record. window : number of its window, from 0; −1 where the event was skipped. figures : its
    peaks, None where skipped. end : s from the start of the record, when its part of the window ended.
    """

    event: RainEvent
    window: int
    figures: Figures | None
    end: float


def run_windows(
    project: Project, events: list[RainEvent], least_depth: float, stop: Callable[[], bool] = lambda: False
) -> Iterator[EventRun]:
    """Run events of `least_depth` mm or more, and whatever falls before their windows close; yield each as it ends.

    Raises
    ------
    ModelError
        When the network cannot be computed. NotSettled names the time within an event.
    """
    network, values, control = project.option.network, project.rain.runoff, project.run
    flat = flatten(network, control.spacing)
    reduction = Reduction(network, flat)
    state = settle(flat, Inflow.steady(base_flows(network))).end
    opened, window, running = state, -1, False
    daily = swing(network)
    for k, event in enumerate(events):
        if stop():
            return
        if not running and event.depth < least_depth:
            yield EventRun(event, -1, None, event.start)
            continue
        if not running:
            window, opened = window + 1, state._replace(outlet=state.outlet + daily)
        left = events[k + 1].start - event.start if k + 1 < len(events) else np.inf
        run = simulate(
            _at_hour(flat, event.start), inflows(network, values, event, event.start), start=state, rest=opened,
            receded=_REST, drained=_REST, lag=control.lag, latest=min(left, _LONGEST),
        )  # fmt: skip
        state, running = run.end, run.end_time >= left * (1.0 - 1e-9)
        yield EventRun(event, window, reduction.figures(str(k), run), event.start + run.end_time)


def _at_hour(flat: Flattened, began: float) -> Flattened:
    """The network with its tides as they go on from `began` s."""
    if not flat.grid.tide.size:
        return flat
    tide = flat.grid.tide.copy()
    tide[0] -= began
    return flat._replace(grid=flat.grid._replace(tide=tide))
