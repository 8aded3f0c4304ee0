"""The ways to a permitted discharge side by side, with what leaves now."""

from pydantic import BaseModel

from ..core.ensemble import Plan
from ..core.errors import ModelError
from ..core.model.project import Project
from ..core.rules import Limit
from ..core.rules.kinds import Outflow
from ..core.runoff.permit import WAYS, counted, drained, hydrograph_before, mean_annual_flood, permitted
from ..core.verdicts import Criterion, judge
from ..runs.answer import Answer
from ..store.project_store import Missing
from .context import Seen, option_router

__all__ = ["router"]


class WayOut(BaseModel):
    """What a way allows. rate : m3/s at the rarest return period of the rule; rates : at each of the periods;
    problem : why not.
    """

    rate: float | None
    rates: list[float | None]
    problem: str


class LeavingOut(BaseModel):
    """The flow (m3/s) of the storms of one row, as the rule reads it: greatest, or mean of patterns."""

    return_period: float
    allowance: float
    flow: float


class PermitsOut(BaseModel):
    """periods : years, rising. mean_annual_flood : m3/s, of the formula.

    area : m2 that a rate per hectare counts; drains : m2 of all that drains to the place.
    """

    periods: list[float]
    ways: dict[str, WayOut]
    leaving: list[LeavingOut]
    area: float
    drains: float
    mean_annual_flood: float


router = option_router()


@router.get("/permits/{rule}")
def permits(seen: Seen, rule: int) -> PermitsOut:
    """The ways to the permitted rate of a rule (by its place in the brief), and what leaves now."""
    project, answer = seen.project, seen.answer
    rules = project.brief.rules
    named = rules[rule] if 0 <= rule < len(rules) else None
    if not isinstance(named, Outflow):
        raise Missing("no such rule of outflow")
    asked = {p.return_period for p in project.rain.ensemble.probabilities} | {at.return_period for at in named.limits}
    periods = sorted(asked)
    drains = drained(seen.network, named.element)[0]
    return PermitsOut(
        periods=periods,
        ways={way: _way(named, project, way, periods) for way in WAYS},
        leaving=_leaving(named, answer) if answer.plan is not None else [],
        area=counted(named.hectare, seen.network, named.element),
        drains=drains,
        mean_annual_flood=mean_annual_flood(named.formula, drains),
    )


class BeforeOut(BaseModel):
    """What ran off the site before the works in a storm without its allowance. times : s; flow : m3/s."""

    times: list[float]
    flow: list[float]


@router.get("/permits/{rule}/before/{storm}")
def before(seen: Seen, rule: int, storm: str) -> BeforeOut:
    """The hydrograph of the site before the works, by the model of a rule."""
    rules = seen.project.brief.rules
    named = rules[rule] if 0 <= rule < len(rules) else None
    found = next((one for one in seen.plan.storms if one.key == storm), None)
    if not isinstance(named, Outflow) or found is None:
        raise Missing("no such rule of outflow, or no such storm")
    times, flow = hydrograph_before(named, seen.project, found)
    return BeforeOut(times=times.tolist(), flow=flow.tolist())


def _way(rule: Outflow, project: Project, way: str, periods: list[float]) -> WayOut:
    problems: list[str] = []

    def rate(period: float) -> float | None:
        try:
            return permitted(rule, project, way, period)
        except ModelError as error:
            problems.append(str(error))
            return None

    own = rate(max(limit.return_period for limit in rule.limits))
    problem = problems[0] if problems else ""
    return WayOut(rate=own, rates=[rate(period) for period in periods], problem=problem)


def _leaving(rule: Outflow, answer: Answer) -> list[LeavingOut]:
    plan: Plan | None = answer.plan
    assert plan is not None
    rows = sorted({(s.return_period, s.allowance) for s in plan.storms if s.return_period is not None})
    limits = [Limit(return_period=t, allowance=a) for t, a in rows]
    verdicts = judge([Criterion(rule, 0, 0, at, 0.0) for at in limits], plan.network, plan.storms, dict(answer.figures))
    return [
        LeavingOut(return_period=at.return_period, allowance=at.allowance, flow=-v.governing.value)
        for at, v in zip(limits, verdicts, strict=True) if v.governing is not None
    ]  # fmt: skip
