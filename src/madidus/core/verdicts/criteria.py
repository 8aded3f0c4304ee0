"""The criteria of a project: each rule at each return period that it names, with the limit that is in use there."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import partial

from ..errors import ModelError
from ..model.project import Project
from ..rainfall.storms import Storm, probability_label
from ..rules import Demand, Limit, OfStorms, OverPatterns, Rule
from ..rules.kinds import Outflow
from ..runoff.permit import permitted

__all__ = ["Criterion", "criteria", "demand", "plain"]

_close = partial(math.isclose, rel_tol=1e-5, abs_tol=1e-8)


@dataclass(frozen=True)
class Criterion:
    """A rule at one return period. place, row : of the rule in the brief, and of the limit in the rule.

    limit : None of a rule without a storm. value : what is allowed, in the rule's SI unit. problem : why that is not
    known. selections : elements of the kept selections, by name. several : the rule names several return periods.
    """

    rule: Rule
    place: int
    row: int
    limit: Limit | None
    value: float
    problem: str = ""
    selections: Mapping[str, list[str]] = field(default_factory=dict)
    several: bool = False

    @property
    def name(self) -> str:
        """Of the rule, and where it has several limits the return period."""
        told = self.several and not self.rule.name.endswith(self.storms_label())
        return f"{self.rule.name}, {self.storms_label()}" if told else self.rule.name

    @property
    def asked(self) -> bool:
        """Whether the rule is judged, not only measured."""
        return self.rule.asked

    @property
    def patterns(self) -> OverPatterns:
        """How temporal patterns of one duration are read."""
        return self.rule.patterns if isinstance(self.rule, OfStorms) else "every"

    def judges(self, storm: Storm) -> bool:
        """Whether a storm is of the return period, the allowance and the duration that are judged."""
        at = self.limit
        if at is None or storm.return_period is None:
            return False
        alike = _close(storm.return_period, at.return_period) and _close(storm.allowance, at.allowance)
        return alike and (at.duration is None or _close(storm.duration, at.duration))

    def storms_label(self, as_aep: bool = False) -> str:
        """Which storms are judged: '100 yr +40 %, 360 min'."""
        if self.limit is None:
            return ""
        rare = probability_label(self.limit.return_period, self.limit.allowance, as_aep)
        return f"{rare}, {self.limit.duration:g} min" if self.limit.duration else rare

    def at(self, limit: Limit) -> "Criterion":
        """The same rule in other storms, for reading."""
        return replace(self, limit=limit)


def plain(rule: Rule, place: int = 0) -> list[Criterion]:
    """The criteria of a rule with the limits as they are typed."""
    if not isinstance(rule, OfStorms):
        return [Criterion(rule, place, 0, None, rule.limit)]
    several = len(rule.limits) > 1
    return [Criterion(rule, place, k, at, at.value, several=several) for k, at in enumerate(rule.limits)]


def criteria(project: Project) -> list[Criterion]:
    """Those of every rule in the brief, an outflow's limits by the way in use."""
    kept = {selection.name: list(selection.elements) for selection in project.selections}
    found = [one for place, rule in enumerate(project.brief.rules) for one in plain(rule, place)]
    return [_in_use(replace(one, selections=kept), project) for one in found]


def _in_use(criterion: Criterion, project: Project) -> Criterion:
    rule, at = criterion.rule, criterion.limit
    if not isinstance(rule, Outflow) or rule.by == "typed" or at is None:
        return criterion
    try:
        return replace(criterion, value=permitted(rule, project, rule.by, at.return_period))
    except ModelError as error:
        problem = f"its permitted rate cannot be computed: {error.field} {error.problem}; {error.remedy}"
        return replace(criterion, problem=problem)


def demand(asked: list[Criterion], storm: Storm) -> Demand:
    """What the rules that judge a storm ask of its run."""
    own = [one.rule.demand(one.value) for one in asked if one.judges(storm)]
    marks = {mark for one in own for mark in one.marks}
    return Demand(tuple(sorted(marks)), max((one.after for one in own), default=0.0))
