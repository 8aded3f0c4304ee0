"""The answer to a revision as the interface reads it: verdicts, storms, worst figures of each element."""

from collections.abc import Mapping
from typing import Literal

import numpy as np
from pydantic import BaseModel

from ..core.elements.figures import Figures
from ..core.ensemble import Cells
from ..core.ensemble.convergence import worth
from ..core.hydraulics.version import SOLVER
from ..core.numerics.known import known
from ..core.quantities import Units
from ..core.rainfall.storms import LONGEST
from ..core.results.worst import LinkWorst, NodeWorst
from ..core.rules import OverPatterns
from ..core.runoff.interval import RainInterval
from ..core.verdicts import State, Verdict, overall
from ..kernels import compiling
from ..runs.answer import Answer

__all__ = ["AnswerOut", "OverallOut", "VerdictOut", "answer_out", "overall_out", "verdict_out"]


class QualityOut(BaseModel):
    """kind, value and limit as in `core.quality`; element : id, null for the whole storm; name : its name."""

    kind: str
    value: float
    limit: float
    element: str | None
    name: str


class StormOut(BaseModel):
    """depth : mm, point × areal × (1 + allowance). peak : mm/h, of its most intense interval. duration : min.

    row : of the matrix, return period and allowance. pattern : one of several of its duration. given : name,
    where it is given as it fell. result : of the digest of what the solver saw. beyond : of its figures, stated limits.
    """

    key: str
    label: str
    row: str
    pattern: bool
    given: str
    return_period: float | None
    allowance: float
    duration: float
    season: str
    point: float
    areal: float
    peak: float
    depth: float
    state: Literal["in", "waiting", "failed"]
    end_time: float | None = None
    balance_error: float | None = None
    oscillation: float | None = None
    steps: int | None = None
    result: str
    beyond: list[QualityOut] = []


class CellOut(BaseModel):
    """Patterns of one duration, judged together: their storms, the margin, and the pattern that stands for them."""

    storms: list[str]
    value: float | None
    scale: float | None
    storm: str | None
    whole: bool


class VerdictOut(BaseModel):
    """As `core.rules.Verdict`. rule, row : places of the rule in the brief and of the limit in the rule; limit : what
    is judged, in the unit. over : the statistic over patterns, where it is patterned. dry : m below cover, where
    nothing floods. edge : at which end of the durations that were run the governing storm lies. band : by how much the
    grid may have the margin wrong; null where that is not known.
    """

    rule: int
    row: int
    name: str
    kind: str
    unit: str
    limit: float
    sense: Literal["at least", "at most"]
    asked: bool
    state: State
    tight: bool
    provisional: bool
    close: bool
    refined: bool
    band: float | None
    reason: str
    over: OverPatterns
    patterned: bool
    edge: Literal["shortest", "longest"] | None
    dry: float | None
    value: float | None
    scale: float | None
    storm: str | None
    element: str | None
    time: float | None
    tied: int
    seen: int
    due: int
    margins: dict[str, tuple[float, float]]  # by storm: margin, scale
    cells: list[CellOut]


class OverallOut(BaseModel):
    """How the rules that are asked fare together. said : in a sentence, the same on screens and in what is exported.

    missing : which storms are not in, in words; empty when all are.
    """

    state: State
    said: str
    asked: int
    fails: int
    meets: int
    too_close: int
    not_judged: int
    tight: int
    close: int
    missing: str


class WorthOut(BaseModel):
    """What the grid is worth, by the storms that were run on cells half as long.

    level : m and flow : m3/s that it may have wrong at each element; refined : storms that were run on cells a quarter
    as long; looking : what is under way.
    """

    checked: int
    refined: int
    looking: Literal["", "checking", "refining"]
    level: dict[str, float]
    flow: dict[str, float]


class FailureOut(BaseModel):
    key: str
    element: str
    problem: str


class AnswerOut(BaseModel):
    """state: settled (all storms in), running, part (stopped or never run), refused (cannot run: see problem)."""

    revision: int
    version: int
    state: Literal["settled", "running", "part", "refused"]
    problem: dict[str, str] | None
    storms: list[StormOut]
    verdicts: list[VerdictOut]
    overall: OverallOut
    interval: RainInterval
    cells: Cells | None
    worth: WorthOut
    nodes: dict[str, NodeWorst]
    links: dict[str, LinkWorst]
    failures: list[FailureOut]
    solver: str  # version of the solver
    kept: int  # storms that were there before the run, from earlier ones
    seconds: float
    remaining: float | None
    compiling: bool  # the solver itself, once on this machine: storms wait for it
    estimate: float  # s that a run of every storm is likely to take on this machine
    balance_error: float | None


def verdict_out(v: Verdict) -> VerdictOut:
    """A verdict as it is sent."""
    g = v.governing
    return VerdictOut(
        rule=v.criterion.place, row=v.criterion.row, limit=v.criterion.value, sense=v.criterion.rule.SENSE,
        name=v.criterion.name, kind=v.criterion.rule.kind, unit=v.unit, asked=v.criterion.asked, state=v.state,
        tight=v.tight, provisional=v.provisional, close=v.close, refined=v.refined, band=v.band, reason=v.reason,
        over=v.over, patterned=v.patterned, edge=v.edge, dry=v.dry,
        value=known(g.value) if g else None, scale=g.scale if g else None, storm=v.storm,
        element=g.element if g else None,
        time=known(g.time) if g else None, tied=v.tied, seen=v.seen, due=v.due,
        margins={key: (m.value, m.scale) for key, m in v.margins.items() if np.isfinite(m.value)},
        cells=[
            CellOut(storms=list(c.storms), value=known(c.margin.value) if c.margin else None,
                    scale=c.margin.scale if c.margin else None, storm=c.storm, whole=c.whole)
            for c in v.cells
        ],
    )  # fmt: skip


def _worth(answer: Answer, figures: Mapping[str, Figures]) -> WorthOut:
    plan, half = answer.plan, dict(answer.finer.half)
    found = worth(figures, half)
    level, flow = {}, {}
    if plan is not None and found is not None:
        level = {id_: float(v) for id_, v in zip(plan.nodes, found.level, strict=True) if np.isfinite(v)}
        flow = {id_: float(v) for id_, v in zip(plan.links, found.flow, strict=True) if np.isfinite(v)}
    return WorthOut(
        checked=len(half), refined=len(answer.finer.quarter), looking=answer.looking, level=level, flow=flow
    )


def overall_out(verdicts: list[Verdict], missing: str) -> OverallOut:
    """How all verdicts fare together. missing : which storms are not in, in words."""
    found = overall(verdicts)
    return OverallOut(state=found.state, said=found.said, missing=missing, **vars(found))


def answer_out(answer: Answer) -> AnswerOut:
    """Reduce an answer to what the screen shows."""
    plan = answer.plan
    if plan is None:
        problem = answer.problem
        told = Units(answer.project.units, answer.project.flow_unit).words
        return AnswerOut(
            revision=answer.revision, version=answer.version, state="refused",
            problem={"element": problem.element, "field": problem.field, "problem": told(problem.problem),
                     "remedy": told(problem.remedy)} if problem else None,
            storms=[], verdicts=[], overall=overall_out([], "the project cannot run"), interval=RainInterval(LONGEST),
            cells=None,
            worth=WorthOut(checked=0, refined=0, looking="", level={}, flow={}), nodes={}, links={}, failures=[],
            solver=SOLVER, kept=0,
            seconds=0.0, remaining=None, compiling=compiling(), estimate=0.0,
            balance_error=None,
        )  # fmt: skip
    running = answer.running or answer.awaited  # before the figures: a run that has ended has given all of them
    figures = dict(answer.figures)
    storms = []
    for storm in plan.storms:
        there = figures.get(storm.key)
        out = StormOut(
            key=storm.key, label=storm.label, row=storm.row, pattern=storm.pattern, given=storm.given,
            point=storm.point, areal=storm.areal,
            return_period=storm.return_period, allowance=storm.allowance,
            duration=storm.duration, season=storm.season, depth=storm.depth,
            peak=float(storm.intensity.max()),
            result=plan.digests[storm.key][:12],
            state="in" if there else "failed" if storm.key in answer.failures else "waiting",
        )  # fmt: skip
        if there:
            s = there.summary
            out.end_time, out.balance_error = s["end_time"], s["balance_error"]
            out.oscillation, out.steps = s["oscillation"], int(s["steps"])
            out.beyond = [
                QualityOut(**vars(one), name=plan.network.label(one.element) if one.element else "")
                for one in answer.beyond(storm.key)
            ]
        storms.append(out)
    state: Literal["settled", "running", "part"] = "running" if running else "settled" if answer.complete else "part"
    network = plan.network
    verdicts, (nodes, links) = answer.verdicts(figures), plan.worst(figures)
    return AnswerOut(
        revision=answer.revision, version=answer.version, state=state, problem=None, storms=storms,
        verdicts=[verdict_out(v) for v in verdicts],
        interval=plan.interval, cells=plan.cells, worth=_worth(answer, figures),
        overall=overall_out(verdicts, plan.missing(figures, answer.failures)),
        nodes=nodes, links=links,
        failures=[FailureOut(key=f.key, element=network.label(f.element), problem=f.problem)
                  for f in answer.failures.values()],
        solver=SOLVER, kept=answer.kept, seconds=answer.seconds,
        remaining=answer.remaining if running else None, compiling=compiling(),
        estimate=answer.estimate,
        balance_error=max((abs(f.summary["balance_error"]) for f in figures.values()), default=None),
    )  # fmt: skip
