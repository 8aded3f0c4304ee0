"""A fit with all that is read of it: what it does to every rule, what each rate costs, and what more rain would ask."""

import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

import numpy as np

from ..design.estimate import estimates, stores_above
from ..elements import Store
from ..elements.figures import Figures
from ..ensemble import Plan, Submit, run_plan
from ..model.network import Network
from ..model.project import Project
from ..verdicts import Criterion, Verdict
from .curve import Point, curve, rates
from .fit import Fit, fit
from .loads import WhatIf, what_if
from .space import FitRequest, Step
from .trials import Stopped, chosen_of

__all__ = ["MORE_RAIN", "Outcome", "Profile", "Study", "outcome", "study"]

MORE_RAIN = 0.1
"""By which the rain of the second curve is more."""


@dataclass(frozen=True)
class Outcome:
    """Every rule over all storms, before and after. figures : after, by storm; digests : that name them."""

    before: list[Verdict]
    after: list[Verdict]
    figures: dict[str, Figures]
    digests: dict[str, str]


@dataclass(frozen=True)
class Profile:
    """A store in section. before, after : (level m, area m2) from its base to its bank. top : highest water of the
    storms that the rules judge, fitted, m.
    """

    store: str
    before: list[tuple[float, float]]
    after: list[tuple[float, float]]
    top: float


@dataclass(frozen=True)
class Study:
    """As far as it is. criteria : that must hold, in the order in which steps name them. stage : what is under way.
    stores : how those that are fitted lie, once it is known. took : s, until the least was found.

    points, more : what each rate costs, by the project's storms and by more rain; lower : (rate, m3) that the storms
    need at the least, whatever the control.
    """

    criteria: list[Criterion]
    steps: tuple[Step, ...] = ()
    fit: Fit | None = None
    outcome: Outcome | None = None
    points: tuple[Point, ...] = ()
    more: tuple[Point, ...] = ()
    lower: tuple[tuple[float, float], ...] = ()
    stores: tuple[Profile, ...] = ()
    stage: str = "fitting"
    took: float = 0.0


def outcome(
    plan: Plan, network: Network, known: Mapping[str, Figures], submit: Submit, stop: Callable[[], bool]
) -> Outcome:  # fmt: skip
    """Every rule of a plan as it is and with another network, over all storms.

    Raises
    ------
    Stopped
        When it was stopped.
    """
    after = plan.tried(network)
    own, found = dict(known), dict[str, Figures]()
    for of, figures in ((plan, own), (after, found)):
        for result in run_plan(of, [s.key for s in of.storms if s.key not in figures], submit, stop):
            if isinstance(result, Figures):
                figures[result.key] = result
    if stop():
        raise Stopped
    return Outcome(plan.verdicts(own), after.verdicts(found), found, after.digests)


def study(
    project: Project, plan: Plan, asked: FitRequest, submit: Submit, stop: Callable[[], bool] = lambda: False,
    tell: Callable[[Study], None] = lambda _: None, known: Mapping[str, Figures] | None = None,
) -> Study:  # fmt: skip
    """Fit, judge and set out what it costs; told at each step.

    Raises
    ------
    ModelError
        As `fit`.
    Stopped
        When it was stopped.
    """
    began = time.monotonic()
    now = Study(chosen_of(plan, asked.rules))

    def told(**more: object) -> None:
        nonlocal now
        now = replace(now, **more)  # type: ignore[arg-type]
        tell(now)

    found = fit(plan, asked, submit, stop, lambda step: told(steps=(*now.steps, step)), known)
    told(fit=found, steps=found.steps, stage="judging", took=time.monotonic() - began)
    assert found.network is not None
    judged = outcome(plan, found.network, known or {}, submit, stop)
    told(outcome=judged, stores=_profiles(plan, asked, now.criteria, found.network, judged), stage="costing")
    at = rates(plan, asked)
    if at:
        told(lower=_lower(plan, asked, now.criteria, at))
        curve(plan, asked, found, at, submit, stop, lambda point: told(points=_with(now.points, point)), known)
        told(stage="more rain")
        raining = what_if(project, WhatIf(rain=MORE_RAIN))
        curve(raining, asked, found, at, submit, stop, lambda point: told(more=_with(now.more, point)))
    told(stage="")
    return now


def _profiles(
    plan: Plan, asked: FitRequest, criteria: list[Criterion], after: Network, judged: Outcome
) -> tuple[Profile, ...]:  # fmt: skip
    keys = [s.key for s in plan.storms if any(one.judges(s) for one in criteria) and s.key in judged.figures]
    found = []
    for id_ in sorted({v.element for v in asked.variables}):
        if isinstance(plan.network.nodes.get(id_), Store):
            row = plan.nodes.index(id_)
            top = max((float(judged.figures[key].level[row]) for key in keys), default=float("nan"))
            found.append(Profile(id_, _in_section(plan.network, id_), _in_section(after, id_), top))
    return tuple(found)


def _in_section(network: Network, id_: str) -> list[tuple[float, float]]:
    store = network.nodes[id_]
    assert isinstance(store, Store)
    return [(store.invert + float(d), float(a)) for d, a in zip(*store.areas(), strict=True)]


def _with(points: tuple[Point, ...], point: Point) -> tuple[Point, ...]:
    return tuple(sorted((*points, point), key=lambda one: one.rate))


def _lower(
    plan: Plan, asked: FitRequest, criteria: list[Criterion], at: list[float]
) -> tuple[tuple[float, float], ...]:  # fmt: skip
    """What storms that the rules judge need at the least where one store is fitted, and none lies above it."""
    stores = {v.element for v in asked.variables if v.element in plan.network.nodes}
    if len(stores) != 1 or stores_above(plan.network, min(stores)):
        return ()  # what other stores hold back need not be held again
    storms = [s for s in plan.storms if any(one.judges(s) for one in criteria)]
    found = []
    for rate in at:
        rows = estimates(plan.network, min(stores), storms, plan.inflow, rate)
        found.append((rate, float(np.max([row.least for row in rows], initial=0.0))))
    return tuple(found)
