"""What each rate costs: the least store by permitted rate, each point a fit of its own over the whole ensemble."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from ..ensemble import Plan, Submit
from ..errors import ModelError
from ..rules.kinds import Outflow
from .fit import Fit, fit_from
from .space import FitRequest, Space
from .trials import Trials

__all__ = ["Point", "curve", "rates"]

_PARTS = (0.5, 0.7, 0.85, 1.0, 1.2, 1.45)  # of the permitted rate


@dataclass(frozen=True)
class Point:
    """rate : m3/s that is permitted. volume : m3 at the least, None where no design within the bounds holds; values :
    of the variables there. problem : why there is none.
    """

    rate: float
    volume: float | None
    area: float | None
    values: tuple[float, ...]
    problem: str = ""


def rates(plan: Plan, asked: FitRequest) -> list[float]:
    """Rates round the permitted one, m3/s; none where no chosen rule permits one, or no control may change."""
    trials = Trials(plan, asked.rules, _nobody, lambda: False)
    place = _outflow(trials)
    control = any(v.element in plan.network.links for v in asked.variables)
    store = any(v.element in plan.network.nodes for v in asked.variables)
    if place is None or not control or not store:
        return []
    return [part * trials.criteria[place].value for part in _PARTS]


def _nobody(_hydraulics: Any, _job: Any) -> Any:
    raise RuntimeError("nothing is run for it")


def _outflow(trials: Trials) -> int | None:
    return next((k for k, one in enumerate(trials.criteria) if isinstance(one.rule, Outflow)), None)


def curve(
    plan: Plan, asked: FitRequest, found: Fit, at: Sequence[float], submit: Submit,
    stop: Callable[[], bool] = lambda: False, tell: Callable[[Point], None] = lambda _: None,
    known: Mapping[str, Any] | None = None,
) -> list[Point]:  # fmt: skip
    """Points by rate (m3/s), the easiest to keep first, each begun where its neighbour ended.

    plan : with the storms that shall be held, the project's or more rain. found : the fit by the permitted rate.

    Raises
    ------
    Stopped
        When it was stopped.
    """
    trials = Trials(plan, asked.rules, submit, stop)
    trials.seed(known or {})
    place, best = _outflow(trials), found.best
    if place is None or best is None:
        return []
    points: list[Point] = []

    def fitted(rate: float, values: tuple[float, ...]) -> Point:
        space = Space(trials.with_limits({place: rate}), plan.network, asked, lambda _: None)
        start = space.at(values)
        try:
            u, tried = fit_from(space, start, space.near(space.run(start, None)))
        except ModelError as error:
            return Point(rate, None, None, (), str(error))
        step = space.step(u, tried)
        return Point(rate, step.volume, step.area, step.values)

    values, lost = best.values, ""
    for rate in sorted(at, reverse=True):
        # a lower rate is harder to keep: below one that no design keeps none is tried
        point = Point(rate, None, None, (), lost) if lost else fitted(rate, values)
        values, lost = point.values or values, point.problem
        points.append(point)
        tell(point)
    return sorted(points, key=lambda point: point.rate)
