"""Searches as the interface reads them while they go on, and when they have ended."""

from collections.abc import Callable, Collection
from dataclasses import asdict, dataclass
from typing import Any, Literal
from uuid import UUID

from pydantic import BaseModel

from ..core.elements.changes import Change
from ..core.numerics.known import known
from ..core.rules.kinds import Outflow
from ..core.search.loads import Capacity
from ..core.search.repair import Raised, Repair
from ..core.search.single_change import ChangeKind, SingleChange
from ..core.search.space import Step
from ..core.search.study import Outcome, Study
from ..core.verdicts import Verdict
from ..runs.tasks import Task
from .answers import VerdictOut, verdict_out
from .context import Shown

__all__ = ["Raising", "Repairing", "SearchOut", "Supposing", "search_out"]


class RuleOut(BaseModel):
    rule: int
    row: int
    name: str


class StepOut(BaseModel):
    """rule : place among the rules of the fit nearest to its limit; margin : in its unit; least : as a share."""

    values: list[float]
    volume: float
    area: float
    rule: int | None
    storm: str
    margin: float | None
    least: float
    holds: bool
    whole: bool
    problem: str


class PointOut(BaseModel):
    rate: float
    volume: float | None
    problem: str


class OutcomeOut(BaseModel):
    """Every rule over all storms, as drawn and with the design."""

    before: list[VerdictOut]
    after: list[VerdictOut]


class ProfileOut(BaseModel):
    """A store in section: (level m, area m2) as drawn and fitted; top : highest water, m."""

    store: str
    before: list[tuple[float, float]]
    after: list[tuple[float, float]]
    top: float | None


class FittedOut(BaseModel):
    """As `core.search.study.Study`. less : 2 % smaller; null where a bound ended it and no rule governs."""

    rules: list[RuleOut]
    steps: list[StepOut]
    drawn: StepOut | None
    best: StepOut | None
    less: StepOut | None
    storms: int
    outcome: OutcomeOut | None
    points: list[PointOut]
    more: list[PointOut]
    lower: list[tuple[float, float]]
    permitted: float | None
    stores: list[ProfileOut]
    stage: str
    took: float
    patch: list[dict[str, Any]]


class SingleChangeOut(BaseModel):
    kind: ChangeKind
    element: str
    name: str
    what: Change
    was: float
    becomes: float
    sizes: int
    volume: float
    cost: float
    holds: bool
    margin: float | None
    breaks: list[str]
    problem: str
    patch: list[dict[str, Any]]


class ChangesOut(BaseModel):
    """Single changes, the best first. due : how many there are to try."""

    changes: list[SingleChangeOut]
    due: int


class RaisedOut(BaseModel):
    pipe: str
    name: str
    before: float
    after: float
    rule: str
    element: str
    storm: str
    margin: float


class RepairOut(BaseModel):
    """holds : null while it goes on."""

    raised: list[RaisedOut]
    holds: bool | None
    why: str
    outcome: OutcomeOut | None
    patch: list[dict[str, Any]]


class LoadOut(BaseModel):
    """most : more rain as a share, or m2 of paved ground, that break no rule. beyond : null where nothing was seen to
    break one. tried : loads, and whether all rules held.
    """

    tried: list[tuple[float, bool]]
    most: float | None
    beyond: float | None
    rule: str
    storm: str
    element: str


class WhatIfOut(BaseModel):
    verdicts: list[VerdictOut]
    storms: dict[str, str]
    seen: int
    due: int


class SearchOut(BaseModel):
    """A search as it stands. stale : the option has changed since it began. problem : why it ended without a result."""

    id: UUID
    kind: Literal["fit", "single-changes", "repair", "capacity", "what-if"]
    state: Literal["running", "done", "failed", "stopped"]
    stale: bool
    seconds: float
    problem: dict[str, str] | None
    fit: FittedOut | None = None
    single_changes: ChangesOut | None = None
    repair: RepairOut | None = None
    capacity: LoadOut | None = None
    what_if: WhatIfOut | None = None


@dataclass(frozen=True)
class Repairing:
    """A repair as it stands."""

    raised: tuple[Raised, ...] = ()
    ended: Repair | None = None
    outcome: Outcome | None = None


@dataclass(frozen=True)
class Raising:
    """A load as it is raised."""

    tried: tuple[tuple[float, bool], ...] = ()
    found: Capacity | None = None


@dataclass(frozen=True)
class Supposing:
    """Rules as they would fare, by the storms that are in."""

    verdicts: list[Verdict]
    storms: dict[str, str]
    seen: int
    due: int


def search_out(seen: Shown, search: Task) -> SearchOut:
    """A search as it is sent."""
    state, shown, told, problem = search.state, search.shown, seen.units.words, search.problem
    kind: Any = search.kind.split()[0]
    return SearchOut(
        id=search.id, kind=kind, state=state, stale=search.inputs != seen.answer.inputs, seconds=search.lasted,
        problem={"element": problem.element, "field": problem.field, "problem": told(problem.problem),
                 "remedy": told(problem.remedy)} if problem else None,
        fit=_fit_out(shown) if isinstance(shown, Study) else None,
        single_changes=_changes_out(*shown) if kind == "single-changes" and shown else None,
        repair=_repair_out(shown, told) if isinstance(shown, Repairing) else None,
        capacity=_capacity_out(shown) if isinstance(shown, Raising) else None,
        what_if=WhatIfOut(
            verdicts=[verdict_out(v) for v in shown.verdicts], storms=shown.storms, seen=shown.seen, due=shown.due
        ) if isinstance(shown, Supposing) else None,
    )  # fmt: skip


def _step_out(step: Step | None) -> StepOut | None:
    if step is None:
        return None
    return StepOut(
        values=list(step.values), volume=step.volume, area=step.area, rule=step.row[0] if step.row else None,
        storm=step.row[1] if step.row else "", margin=known(step.margin), least=step.least, holds=step.holds,
        whole=step.whole, problem=step.problem,
    )  # fmt: skip


def _outcome_out(found: Outcome | None) -> OutcomeOut | None:
    if found is None:
        return None
    return OutcomeOut(
        before=[verdict_out(v) for v in found.before], after=[verdict_out(v) for v in found.after]
    )  # fmt: skip


def _fit_out(shown: Study) -> FittedOut:
    fit = shown.fit
    return FittedOut(
        rules=[RuleOut(rule=one.place, row=one.row, name=one.name) for one in shown.criteria],
        steps=[out for step in shown.steps if (out := _step_out(step))],
        drawn=_step_out(fit.drawn if fit else shown.steps[0] if shown.steps else None),
        best=_step_out(fit.best) if fit else None, less=_step_out(fit.less) if fit else None,
        storms=fit.storms if fit else 0, outcome=_outcome_out(shown.outcome),
        points=[PointOut(rate=p.rate, volume=p.volume, problem=p.problem) for p in shown.points],
        more=[PointOut(rate=p.rate, volume=p.volume, problem=p.problem) for p in shown.more],
        lower=list(shown.lower), permitted=next((c.value for c in shown.criteria if isinstance(c.rule, Outflow)), None),
        stores=[
            ProfileOut(store=p.store, before=p.before, after=p.after, top=known(p.top)) for p in shown.stores
        ],
        stage=shown.stage, took=shown.took, patch=fit.patch if fit else [],
    )  # fmt: skip


def _changes_out(found: Collection[SingleChange], due: int) -> ChangesOut:
    return ChangesOut(
        changes=[SingleChangeOut(**{**asdict(one), "margin": known(one.margin)}) for one in found], due=due
    )  # fmt: skip


def _repair_out(shown: Repairing, told: Callable[[str], str]) -> RepairOut:
    ended = shown.ended
    return RepairOut(
        raised=[RaisedOut(**asdict(one)) for one in shown.raised], holds=ended.holds if ended else None,
        why=told(ended.why) if ended else "", outcome=_outcome_out(shown.outcome), patch=ended.patch if ended else [],
    )  # fmt: skip


def _capacity_out(shown: Raising) -> LoadOut:
    found = shown.found
    return LoadOut(
        tried=list(shown.tried), most=found.most if found else None, beyond=found.beyond if found else None,
        rule=found.rule if found else "", storm=found.storm if found else "", element=found.element if found else "",
    )  # fmt: skip
