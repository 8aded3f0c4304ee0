"""Searches through designs: stores and controls fitted, single changes weighed, pipes repaired, loads raised."""

from dataclasses import replace
from typing import Annotated, Any, Literal
from uuid import UUID

from fastapi import Request
from pydantic import BaseModel, Field

from ..core.elements.changes import Change
from ..core.elements.figures import Figures
from ..core.ensemble import run_plan
from ..core.search.loads import WhatIf, capacity, what_if
from ..core.search.repair import Raised, repair
from ..core.search.single_change import single_changes
from ..core.search.space import FitRequest, Least
from ..core.search.study import Outcome, Study, outcome, study
from ..core.search.trials import chosen_of
from ..core.search.variables import Changeable, Variable, changeable
from ..runs.ranks import Rank
from ..runs.tasks import Task, Tasks, Work
from ..store.project_store import Missing
from .context import Seen, option_router
from .search_results import Raising, Repairing, SearchOut, Supposing, search_out

__all__ = ["router"]

router = option_router()

_Rule = tuple[Annotated[int, Field(ge=0, le=1000)], Annotated[int, Field(ge=0, le=1000)]]
_Rules = Annotated[list[_Rule], Field(min_length=1, max_length=200)]
_Finite = Annotated[float, Field(allow_inf_nan=False)]


class ChangeableOut(BaseModel):
    """A figure that may change. word : what it is called. value : as drawn; area and flow as multiples of it. step : to
    which it is made.
    """

    element: str
    what: Change
    word: str
    value: float
    low: float
    high: float
    step: float


class VariableIn(BaseModel):
    element: UUID
    what: Change
    low: _Finite
    high: _Finite


class FitIn(BaseModel):
    """rules : places of rule and limit that must hold."""

    variables: Annotated[list[VariableIn], Field(max_length=12)]
    rules: _Rules
    least: Least


class SingleChangeIn(BaseModel):
    rule: _Rule


class RepairIn(BaseModel):
    rules: _Rules


class LoadIn(BaseModel):
    """load : 'rain', or a node at which new paved ground is led in."""

    load: Literal["rain"] | UUID
    rules: _Rules


class WhatIfIn(BaseModel):
    """rain, creep : more of them, as shares."""

    rain: Annotated[float, Field(ge=-0.9, le=5, allow_inf_nan=False)] = 0.0
    creep: Annotated[float, Field(ge=0, le=5, allow_inf_nan=False)] = 0.0


@router.get("/changeable")
def what_may_change(seen: Seen) -> list[ChangeableOut]:
    """Every figure of a store or a control that a fit may change, with bounds to begin with."""
    network, least = seen.network, seen.project.check_limits.opening
    return [
        _changeable(id_, one) for id_ in (*network.nodes, *network.links) for one in changeable(network, id_, least)
    ]  # fmt: skip


def _changeable(id_: str, one: Changeable) -> ChangeableOut:
    return ChangeableOut(
        element=id_, what=one.what, word=one.word, value=one.value, low=one.low, high=one.high, step=one.step
    )


def _begun(request: Request, seen: Seen, kind: str, work: Work) -> SearchOut:
    searches: Tasks = request.app.state.searches
    owner = (seen.revision.project_id, seen.option)
    return search_out(seen, searches.begin(owner, seen.answer.inputs, kind, work))


def _known(seen: Seen) -> dict[str, Figures]:
    return dict(seen.answer.figures)


@router.post("/searches/fit", status_code=202)
def begin_fit(request: Request, seen: Seen, given: FitIn) -> SearchOut:
    """Fit stores and controls: the least that holds the rules over the whole ensemble."""
    variables = [Variable(str(v.element), v.what, v.low, v.high) for v in given.variables]
    asked = FitRequest(variables, given.rules, given.least)
    project, plan, known, submit = seen.project, seen.plan, _known(seen), seen.runs.at(Rank.SEARCH)
    chosen_of(plan, given.rules)

    def work(tell: Any, stop: Any) -> None:
        kept = False

        def told(now: Study) -> None:
            nonlocal kept
            if now.outcome is not None:
                now = replace(now, outcome=_kept(seen, now.outcome, kept))
                kept = True
            tell(now)

        study(project, plan, asked, submit, stop, told, known)

    return _begun(request, seen, "fit", work)


def _kept(seen: Seen, found: Outcome, already: bool = False) -> Outcome:
    """An outcome whose figures are among the results: a design that is applied need not run again. Without them, so
    that a search which is remembered is small.
    """
    if not already:
        seen.runs.keep(found.digests, list(found.figures.values()))
    return replace(found, figures={}, digests={})


@router.post("/searches/single-changes", status_code=202)
def begin_single_changes(request: Request, seen: Seen, given: SingleChangeIn) -> SearchOut:
    """Which single change would mend a broken rule."""
    project, plan, known, submit = seen.project, seen.plan, _known(seen), seen.runs.at(Rank.SEARCH)

    def work(tell: Any, stop: Any) -> None:
        tell(([], 0))
        single_changes(project, plan, given.rule, known, submit, stop, lambda found, due: tell((found, due)))

    return _begun(request, seen, "single-changes", work)


@router.post("/searches/repair", status_code=202)
def begin_repair(request: Request, seen: Seen, given: RepairIn) -> SearchOut:
    """Pipes up a size, worst cause first, until the rules hold."""
    project, plan, known, submit = seen.project, seen.plan, _known(seen), seen.runs.at(Rank.SEARCH)
    chosen_of(plan, given.rules)

    def work(tell: Any, stop: Any) -> None:
        now = Repairing()

        def raised(one: Raised) -> None:
            nonlocal now
            now = replace(now, raised=(*now.raised, one))
            tell(now)

        tell(now)
        ended = repair(project, plan, given.rules, submit, stop, raised, known)
        tell(replace(now, ended=ended, outcome=_kept(seen, outcome(plan, ended.network, known, submit, stop))))

    return _begun(request, seen, "repair", work)


@router.post("/searches/capacity", status_code=202)
def begin_capacity(request: Request, seen: Seen, given: LoadIn) -> SearchOut:
    """The largest load before a rule breaks: more of all rain, or new paved ground at a node."""
    project, submit = seen.project, seen.runs.at(Rank.SEARCH)
    chosen_of(seen.plan, given.rules)

    def work(tell: Any, stop: Any) -> None:
        now = Raising()

        def tried(load: float, holds: bool) -> None:
            nonlocal now
            now = replace(now, tried=(*now.tried, (load, holds)))
            tell(now)

        found = capacity(project, str(given.load), given.rules, submit, stop, tried)
        tell(replace(now, found=found))

    return _begun(request, seen, "capacity", work)


@router.post("/searches/what-if", status_code=202)
def begin_what_if(request: Request, seen: Seen, given: WhatIfIn) -> SearchOut:
    """Every rule with more rain, or more paved ground; nothing changes."""
    project, submit = seen.project, seen.runs.at(Rank.SEARCH)
    what = WhatIf(rain=given.rain, creep=given.creep)

    def work(tell: Any, stop: Any) -> None:
        plan, figures = what_if(project, what), dict[str, Figures]()
        storms = {s.key: s.label for s in plan.storms}

        def told() -> None:
            tell(Supposing(plan.verdicts(figures, failed), storms, len(figures), len(storms)))

        failed: list[str] = []
        for result in run_plan(plan, list(storms), submit, stop):
            if isinstance(result, Figures):
                figures[result.key] = result
            else:
                failed.append(result.key)
        told()

    # columns stand side by side: one does not stop another
    return _begun(request, seen, f"what-if {given.rain:g} {given.creep:g}", work)


def _found(request: Request, seen: Seen, search: UUID) -> Task:
    searches: Tasks = request.app.state.searches
    found = searches.find((seen.revision.project_id, seen.option), search)
    if found is None:
        raise Missing("no such search; begin it again")
    return found


@router.get("/searches/{search}")
def get_search(request: Request, seen: Seen, search: UUID) -> SearchOut:
    """How a search stands."""
    return search_out(seen, _found(request, seen, search))


@router.delete("/searches/{search}", status_code=204)
def stop_search(request: Request, seen: Seen, search: UUID) -> None:
    """Stop a search after the storms under way."""
    _found(request, seen, search).stop.set()
