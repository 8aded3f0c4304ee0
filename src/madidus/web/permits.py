"""The ways to a permitted discharge side by side, with what leaves now."""

from pydantic import BaseModel

from ..core.ensemble import Plan
from ..core.errors import ModelError
from ..core.model.brief import Outflow
from ..core.model.project import Project
from ..core.permit import WAYS, counted, drained, mean_annual_flood, permitted
from ..core.verdict import judge
from ..runs.answer import Answer
from ..store.project_store import Missing
from .asked import Seen, option_router

__all__ = ["router"]


class WayOut(BaseModel):
    """What a way allows. rate : m3/s at the rule's return period; rates : at each of the periods; problem : why not."""

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
    criteria = project.brief.criteria
    criterion = criteria[rule] if 0 <= rule < len(criteria) else None
    if not isinstance(criterion, Outflow):
        raise Missing("no such rule of outflow")
    asked = {p.return_period for p in project.rain.ensemble.probabilities} | {criterion.return_period}
    periods = sorted(asked)
    drains = drained(seen.network, criterion.element)[0]
    return PermitsOut(
        periods=periods,
        ways={way: _way(criterion, project, way, periods) for way in WAYS},
        leaving=_leaving(criterion, answer) if answer.plan is not None else [],
        area=counted(criterion.hectare, seen.network, criterion.element),
        drains=drains,
        mean_annual_flood=mean_annual_flood(criterion.formula, drains),
    )


def _way(criterion: Outflow, project: Project, way: str, periods: list[float]) -> WayOut:
    problems: list[str] = []

    def rate(period: float) -> float | None:
        try:
            return permitted(criterion, project, way, period)
        except ModelError as error:
            problems.append(str(error))
            return None

    own = rate(criterion.return_period)
    problem = problems[0] if problems else ""
    return WayOut(rate=own, rates=[rate(period) for period in periods], problem=problem)


def _leaving(criterion: Outflow, answer: Answer) -> list[LeavingOut]:
    plan: Plan | None = answer.plan
    assert plan is not None
    probabilities = sorted({(s.return_period, s.allowance) for s in plan.storms if s.return_period is not None})
    rules = [criterion.model_copy(update={"return_period": t, "allowance": a}) for t, a in probabilities]
    verdicts = judge(rules, plan.network, plan.storms, dict(answer.figures))
    return [
        LeavingOut(return_period=t, allowance=a, flow=criterion.limit - v.governing.value)
        for (t, a), v in zip(probabilities, verdicts, strict=True) if v.governing is not None
    ]  # fmt: skip
