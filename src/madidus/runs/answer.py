"""Where an option of a project stands: its plan, what is computed of it, and what is under way."""

import threading
import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Literal

from ..core.elements.figures import Figures
from ..core.ensemble import Before, Failure, Plan, before_edit, expected
from ..core.ensemble.convergence import OnFiner
from ..core.errors import ModelError
from ..core.hydraulics.events import decode
from ..core.model.project import Project
from ..core.results.quality import Beyond, beyond
from ..core.verdicts import Verdict

__all__ = ["Answer", "LogLine"]


@dataclass(frozen=True)
class LogLine:
    """at : s since the run began. storm : key, empty for the run as a whole."""

    at: float
    storm: str
    what: str


@dataclass
class Answer:
    """Figures that belong to the present inputs of an option, and the run under way.

    project : with the option in view. inputs : digest of what the answer depends on. awaited : whoever made the edit
    has still to decide whether it runs. due : storms of the last run, by key; more : all were asked for meanwhile.
    before : what was told of storms before the edit. looking : at what the grid is worth. version : raised at each
    change.
    """

    revision: int
    project: Project
    inputs: str
    plan: Plan | None = None
    problem: ModelError | None = None
    figures: dict[str, Figures] = field(default_factory=dict)
    failures: dict[str, Failure] = field(default_factory=dict)
    beyond_known: dict[str, list[Beyond]] = field(default_factory=dict)  # of storms whose beyond were asked for
    awaited: bool = False
    running: bool = False
    started: float = 0.0
    seconds: float = 0.0
    estimate: float = 0.0  # s for every storm, by what storms took on this machine
    log: list[LogLine] = field(default_factory=list)  # of the last run
    due: frozenset[str] = frozenset()
    more: bool = False
    before: Before = field(default_factory=Before)
    finer: OnFiner = field(default_factory=OnFiner)
    looking: Literal["", "checking", "refining"] = ""
    version: int = 0
    stop: threading.Event = field(default_factory=threading.Event)
    listeners: set[Callable[[], None]] = field(default_factory=set)  # called at each change, by any thread

    @property
    def busy(self) -> bool:
        """Whether it is worked on, or about to be."""
        return self.running or self.awaited or self.looking != ""

    @property
    def remaining(self) -> float | None:
        """Seconds that a run is likely to take still, by what its storms took so far; None when that is not known."""
        if not self.running or self.plan is None:
            return None
        done = {key: float(one.summary["iterations"]) for key, one in dict(self.figures).items() if key in self.due}
        waiting = self.due - done.keys() - self.failures.keys()
        left = expected(self.plan.storms, waiting, done, self.before.iterations)
        spent = sum(done.values())
        return (time.monotonic() - self.started) * sum(left.values()) / spent if spent > 0.0 else None

    def note(self, what: str, storm: str = "") -> None:
        """Write a line of the run's log."""
        self.log.append(LogLine(time.monotonic() - self.started, storm, what))

    def beyond(self, key: str) -> list[Beyond]:
        """What of a storm that is in is beyond a stated limit."""
        if key not in self.beyond_known and self.plan is not None:
            plan, figures = self.plan, self.figures[key]
            events = decode([(t, int(code)) for t, code in figures.summary["events"]], plan.flat)
            self.beyond_known[key] = beyond(plan.flat, plan.reduction, figures, events)
        return self.beyond_known[key]

    def verdicts(self, figures: Mapping[str, Figures]) -> list[Verdict]:
        """Every rule by the storms that are in, on the finest cells they were computed on."""
        finer = OnFiner(dict(self.finer.half), dict(self.finer.quarter))
        return self.plan.verdicts(figures, self.failures, finer, self.before.deciding) if self.plan else []

    @property
    def kept(self) -> int:
        """How many figures were there before the last run, from earlier ones."""
        return len(self.figures) - sum(key in self.figures for key in self.due)

    def tells(self) -> Before:
        """What it tells of storms for the answer after an edit; while not all are in, what was told before."""
        if self.plan is None or not self.complete:
            return self.before
        return before_edit(self.plan.storms, self.figures, self.verdicts(self.figures))

    @property
    def complete(self) -> bool:
        """Whether every storm has ended, with figures or a failure."""
        return self.plan is not None and len(self.figures) + len(self.failures) == len(self.plan.storms)
