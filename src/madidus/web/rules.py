"""What each rule finds at every element, and the rules that a project may begin with."""

from typing import Literal

import numpy as np
from pydantic import BaseModel

from ..core.elements import Store
from ..core.elements.figures import Figures
from ..core.ensemble import Plan
from ..core.results.cause import Causes
from ..core.rules import RuleSet, starting_sets
from ..core.verdicts import Criterion, ElementMargin, NotMeasured, left_out
from ..store.project_store import Missing
from .context import Seen, option_router

__all__ = ["router"]

_CAUSED = 200  # elements whose cause is looked for

router = option_router()


class ElementOut(BaseModel):
    """An element under a rule. value, limit, margin : in the rule's unit; null where the figure is not known.

    state : tight is met by less than a tenth of the scale, too close by less than the grid may have wrong.
    storm : key, null without a storm; time : s.
    cause : of surcharge or flooding there; bottleneck : id of the element that causes it.
    """

    element: str
    state: Literal["fails", "tight", "meets", "too close", "not judged"]
    value: float | None
    limit: float
    margin: float | None
    storm: str | None
    time: float | None
    cause: Literal["capacity", "backwater"] | None = None
    bottleneck: str | None = None


class ElementsOut(BaseModel):
    """Every element that a criterion looks at, the least margin first. seen, due : storms that are in, and in all.

    left_out : names of those that its scope leaves out; why : the reason that was given; problem : why nothing is
    measured.
    """

    unit: str
    sense: Literal["at least", "at most"]
    elements: list[ElementOut]
    seen: int
    due: int
    left_out: list[str]
    why: str
    problem: str


@router.get("/verdicts/{place}/elements")
def elements_of(seen: Seen, place: int) -> ElementsOut:
    """Every element that a criterion (by its place among the verdicts) looks at."""
    plan, figures = seen.plan, dict(seen.answer.figures)
    if not 0 <= place < len(plan.criteria):
        raise Missing("no such rule")
    criterion = plan.criteria[place]
    problem, found = "", list[ElementMargin]()
    try:
        found = plan.by_element(place, figures)
    except NotMeasured as why:
        problem = str(why)
    verdict = seen.answer.verdicts(figures)[place]
    band = verdict.band if verdict.state == "too close" else None
    own = [storm.key for storm in plan.storms if criterion.judges(storm)]
    causes: dict[str, Causes] = {}
    return ElementsOut(
        unit=criterion.rule.UNIT, sense=criterion.rule.SENSE,
        elements=[
            _with_cause(one, _element(one, criterion, band), criterion, plan, figures, causes) if k < _CAUSED
            else _element(one, criterion, band)
            for k, one in enumerate(found)
        ],
        seen=sum(key in figures for key in own), due=len(own),
        left_out=left_out(criterion.rule.scope, plan.network), why=criterion.rule.scope.reason, problem=problem,
    )  # fmt: skip


def _element(one: ElementMargin, criterion: Criterion, band: float | None) -> ElementOut:
    margin = one.margin
    known = bool(np.isfinite(margin.value))
    sign = 1.0 if criterion.rule.SENSE == "at least" else -1.0
    state: Literal["fails", "tight", "meets", "too close", "not judged"] = (
        "not judged" if not known
        else "too close" if band is not None and abs(margin.value) < band
        else "fails" if margin.exceeded else "tight" if margin.tight else "meets"
    )  # fmt: skip
    return ElementOut(
        element=margin.element, state=state, value=criterion.value + sign * margin.value if known else None,
        limit=criterion.value, margin=margin.value if known else None, storm=one.storm,
        time=margin.time if np.isfinite(margin.time) else None,
    )  # fmt: skip


def _with_cause(
    one: ElementMargin, out: ElementOut, criterion: Criterion, plan: Plan, figures: dict[str, Figures],
    causes: dict[str, Causes],
) -> ElementOut:  # fmt: skip
    if not criterion.rule.BY_LEVEL or out.state not in ("fails", "tight") or one.storm is None:
        return out
    if one.storm not in causes:
        causes[one.storm] = Causes(plan.network, plan.nodes, plan.links, figures[one.storm])
    found = causes[one.storm].of(out.element)
    if found is not None:
        out.cause, out.bottleneck = found.kind, found.bottleneck
    return out


@router.get("/rule-sets")
def rule_sets(seen: Seen) -> list[RuleSet]:
    """Rules to begin with: their limits in the storms that are run, their outflow at the first outfall by name."""
    outfalls = sorted((node.name, id_) for id_, node in seen.network.nodes.items() if node.kind == "outfall")
    blocks = (seen.project.rain.ensemble, *seen.project.rain.further)
    periods = [(p.return_period, p.allowance) for block in blocks for p in block.probabilities]
    stores = any(isinstance(node, Store) for node in seen.network.nodes.values())
    return starting_sets(outfalls[0][1] if outfalls else "", stores, periods)
