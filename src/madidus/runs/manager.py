"""One run for each project at a time: the newest edit wins and cancels what is stale.

After an edit the storms that governed before run first. Once all storms are in, those that decide are run on finer
cells: what the grid is worth.
"""

import threading
import time
from collections import OrderedDict
from collections.abc import Mapping, Sequence
from concurrent.futures import Executor, ThreadPoolExecutor
from dataclasses import dataclass, field
from typing import Any, Literal
from uuid import UUID

import numpy as np
import structlog

from ..core.ensemble import Failure, Plan, Record, make_plan, run_plan
from ..core.errors import ModelError
from ..core.figures import Figures
from ..core.grid import REFINED, OnFiner, governors, look_closer
from ..core.hydraulics.events import decode
from ..core.model.project import Project
from ..core.series import StormSeries
from ..core.trust import Doubt, doubts
from ..core.verdict import Verdict
from ..store.projects import Missing, Revision, Shelf
from ..store.results import Results
from ..store.series import SeriesCache

__all__ = ["Answer", "LogLine", "RunManager"]

_log = structlog.get_logger()
_NOTE_SECONDS = 1.0, 3.0  # between looks at a run under way, short and long
_TELLING = 8  # storms of a run from which its pace is taken
_AGREEMENT = 1e-6  # m, between kept peaks and those of the same storm computed again
_LIVE_SECONDS = 6.0  # an ensemble estimated shorter than this answers every edit by itself


@dataclass(frozen=True)
class LogLine:
    """at : s since the run began. storm : key, empty for the run as a whole."""

    at: float
    storm: str
    what: str


@dataclass
class Answer:
    """Where a project stands: its plan, the figures that belong to the present inputs, and the run under way."""

    revision: int
    project: Project
    plan: Plan | None = None
    problem: ModelError | None = None
    figures: dict[str, Figures] = field(default_factory=dict)
    failures: dict[str, Failure] = field(default_factory=dict)
    doubted: dict[str, list[Doubt]] = field(default_factory=dict)  # of storms whose doubts were asked for
    running: bool = False
    started: float = 0.0
    seconds: float = 0.0
    estimate: float = 0.0  # s for every storm, by what storms took on this machine
    log: list[LogLine] = field(default_factory=list)  # of the last run
    known: int = 0  # figures that were there when the run began
    before: frozenset[str] = frozenset()  # storms that governed before the edit
    finer: OnFiner = field(default_factory=OnFiner)
    looking: Literal["", "checking", "refining"] = ""  # at what the grid is worth
    version: int = 0  # raised at each change, so that readers know when to look again
    stop: threading.Event = field(default_factory=threading.Event)

    @property
    def remaining(self) -> float | None:
        """Seconds that a run is likely to take still, by what its storms took so far; None when that is not known."""
        if not self.running or self.plan is None:
            return None
        done = len(self.figures) + len(self.failures) - self.known
        waiting = len(self.plan.storms) - self.known - done
        return (time.monotonic() - self.started) * waiting / done if done > 0 else None

    def note(self, what: str, storm: str = "") -> None:
        """Write a line of the run's log."""
        self.log.append(LogLine(time.monotonic() - self.started, storm, what))

    def doubts(self, key: str) -> list[Doubt]:
        """Why the figures of a storm that is in are doubtful."""
        if key not in self.doubted and self.plan is not None:
            plan, figures = self.plan, self.figures[key]
            events = decode([(t, int(code)) for t, code in figures.summary["events"]], plan.flat)
            self.doubted[key] = doubts(plan.flat, plan.reduction, figures, events)
        return self.doubted[key]

    def verdicts(self, figures: Mapping[str, Figures]) -> list[Verdict]:
        """Every rule by the storms that are in, on the finest cells they were computed on."""
        finer = OnFiner(dict(self.finer.half), dict(self.finer.quarter))
        return self.plan.verdicts(figures, self.failures, finer, self.before) if self.plan else []

    @property
    def governing(self) -> frozenset[str]:
        """Storms that govern now or, while not all are in, that did before."""
        return frozenset(governors(self.figures, self.verdicts(self.figures))) if self.complete else self.before

    @property
    def complete(self) -> bool:
        return self.plan is not None and len(self.figures) + len(self.failures) == len(self.plan.storms)


class RunManager:
    """Plans, runs and remembers. Threads with kernels that release the interpreter lock do the work."""

    def __init__(
        self, shelf: Shelf, results: Results, cache: SeriesCache, threads: int = 2, executor: Executor | None = None
    ):
        self._shelf, self._results, self._cache = shelf, results, cache
        self._executor = executor or ThreadPoolExecutor(threads, thread_name_prefix="storm")
        self._usual = self._pace = 1.8e-4 / threads  # s per cell and storm, by the bench; and as the last run took
        self._answers: OrderedDict[UUID, Answer] = OrderedDict()
        self._lock = threading.RLock()
        self._changed = threading.Condition(self._lock)

    def resume(self) -> None:
        """Take up runs that a kill left open."""
        for row in self._results.interrupted():
            assert row.id is not None
            self._results.close_run(row.id, "cancelled", [])
            try:
                self.run(self._shelf.get(row.project_id))
            except Missing:
                continue

    def answer(self, revision: Revision) -> Answer:
        """The answer to a revision: known figures at once, and a run started where it is short."""
        with self._lock:
            found = self._answers.get(revision.project_id)
            if found is not None and found.revision == revision.number:
                return found
            if found is not None:
                # a question that was read before an edit, and comes after it, must not stop the edit's own run
                if self._shelf.get(revision.project_id).number != revision.number:
                    return self._look(revision)
                found.stop.set()
            answer = self._answers[revision.project_id] = self._look(revision)
            answer.before = found.governing if found is not None else frozenset()
            while len(self._answers) > 20:
                self._answers.popitem(last=False)[1].stop.set()
            self._note(answer)
            # within the lock: nobody may find an answer that is about to be worked on, and take it for one that is not
            if answer.plan and not answer.complete and self._usual * _work_of(answer.plan) < _LIVE_SECONDS:
                self.run(revision)
            elif answer.complete:
                self._look_closer(answer, "checking")
        return answer

    def run(self, revision: Revision) -> Answer:
        """Compute every storm that is not known yet. Failed storms are tried again."""
        answer = self.answer(revision)
        with self._lock:
            stale = self._answers.get(revision.project_id) is not answer
            if stale or answer.running or answer.plan is None:
                return answer
            answer.failures.clear()
            answer.running, answer.started, answer.known = True, time.monotonic(), len(answer.figures)
            answer.stop = threading.Event()
            answer.log = []
            waiting = len(answer.plan.storms) - answer.known
            answer.note(f"begins: {waiting} storms to compute, {answer.known} kept from earlier runs")
            self._note(answer)
        threading.Thread(target=self._work, args=(revision, answer), daemon=True).start()
        return answer

    def refine(self, revision: Revision) -> Answer:
        """Compute the storms that may decide close verdicts on cells cut in `REFINED` parts."""
        answer = self.answer(revision)
        with self._lock:
            if self._answers.get(revision.project_id) is answer and answer.complete and answer.looking != "refining":
                self._look_closer(answer, "refining")
        return answer

    def cancel(self, project_id: UUID) -> None:
        """Stop after the storms under way; what is done stays."""
        with self._lock:
            answer = self._answers.get(project_id)
            if answer is not None:
                answer.stop.set()

    def wait(self, answer: Answer, version: int, timeout: float) -> int:
        """Block until the answer is newer than `version` (or the time is out); returns its version."""
        with self._changed:
            self._changed.wait_for(lambda: answer.version != version, timeout)
            return answer.version

    def series(self, answer: Answer, keys: Sequence[str], columns: Sequence[int] | None = None) -> list[StormSeries]:
        """Series of storms that are in, all columns or some. What the cache has let go is computed again.

        Raises
        ------
        ModelError
            When a storm, computed again, does not have the peaks that were kept: the verdict would rest on other
            numbers.
        """
        plan = answer.plan
        assert plan is not None
        found = {key: self._cache.read(plan.digests[key], columns) for key in keys}
        gone = [key for key, series in found.items() if series is None]
        again: dict[str, StormSeries] = {}
        for result in run_plan(plan, gone, self._executor, record=again.__setitem__):
            if isinstance(result, Failure):
                raise ModelError(f"storm {result.key}", "series", result.problem, "run it again")
            kept = answer.figures.get(result.key)
            off = 0.0 if kept is None else float(np.nanmax(np.abs(result.level - kept.level), initial=0.0))
            if off > _AGREEMENT:
                raise ModelError(
                    f"storm {result.key}", "peaks", f"differ by {off * 1000:.1f} mm from those kept of an earlier run",
                    "edit any value to compute the ensemble anew, and report this",
                )  # fmt: skip
        for key, whole in again.items():
            self._cache.keep(plan.digests[key], whole)
            found[key] = whole if columns is None else StormSeries(whole.time, whole.values[list(columns)], whole.scale)
        return [series for key in keys if (series := found[key]) is not None]

    def _recorder(self, plan: Plan) -> Record:
        return lambda key, series: self._cache.keep(plan.digests[key], series)

    def close(self) -> None:
        with self._lock:
            for answer in self._answers.values():
                answer.stop.set()
        self._executor.shutdown(wait=True, cancel_futures=True)

    def _look_closer(self, answer: Answer, how: Literal["checking", "refining"]) -> None:
        """Compute what the grid is worth, beside whatever is asked meanwhile. The lock is held."""
        under_way, answer.looking = answer.looking != "", how
        if not under_way:
            answer.stop = threading.Event()
            threading.Thread(target=self._closer, args=(answer,), daemon=True).start()
        self._note(answer)

    def _closer(self, answer: Answer) -> None:
        plan, stop, plans, seen = answer.plan, answer.stop, dict[int, Plan](), ""
        assert plan is not None

        def on(parts: int) -> Plan:
            if parts not in plans:
                plans[parts] = plan.finer(parts)
            return plans[parts]

        def wanted(close: set[str]) -> set[str]:
            nonlocal seen
            seen = answer.looking
            # unless it is asked for, what was refined before an edit that was taken back
            return (
                close if seen == "refining" or not close else set(self._results.find(_some(on(REFINED).digests, close)))
            )

        def compute(parts: int, keys: set[str]) -> bool:
            found = self._results.find(_some(on(parts).digests, keys))
            run = run_plan(on(parts), keys - found.keys(), self._executor, stop.is_set)
            new = [result for result in run if isinstance(result, Figures)]
            self._results.keep(on(parts).digests, new)
            answer.finer.on(parts).update(found | {figures.key: figures for figures in new})
            self._note(answer)
            return not stop.is_set()

        while True:
            try:
                look_closer(lambda: answer.verdicts(answer.figures), answer.figures, wanted, compute)
            except Exception:
                _log.exception("the grid was not checked")
                stop.set()
            with self._lock:
                if stop.is_set() or answer.looking == seen:  # nobody asked for more at the last moment
                    answer.looking = ""
                    self._note(answer)
                    return

    def _note(self, answer: Answer) -> None:
        with self._changed:
            answer.version += 1
            self._changed.notify_all()

    def _look(self, revision: Revision) -> Answer:
        answer = Answer(revision.number, Project.model_validate(revision.document))
        try:
            answer.plan = make_plan(answer.project)
        except ModelError as error:
            answer.problem = error
            return answer
        answer.figures = self._results.find(answer.plan.digests)
        answer.estimate = self._pace * _work_of(answer.plan)
        return answer

    def _work(self, revision: Revision, answer: Answer) -> None:
        plan = answer.plan
        assert plan is not None
        state, run_id = "failed", None
        waiting: list[Figures] = []
        try:
            run_id = self._results.open_run(revision.project_id, revision.number, plan.digests)
            missing = [storm.key for storm in plan.storms if storm.key not in answer.figures]
            # an ensemble of many minutes is looked at less often: each look costs its storms some of the machine
            pause = min(max(_NOTE_SECONDS[0], answer.estimate / 100.0), _NOTE_SECONDS[1])
            last, first = time.monotonic(), set(missing) & answer.before
            told = not first
            for result in run_plan(
                plan, missing, self._executor, answer.stop.is_set, self._recorder(plan), answer.before
            ):
                with self._lock:
                    if isinstance(result, Failure):
                        answer.failures[result.key] = result
                        answer.note(f"failed: {result.problem}", result.key)
                    else:
                        answer.figures[result.key] = result
                        answer.note(f"in, {int(result.summary['steps'])} steps", result.key)
                        waiting.append(result)
                first.discard(result.key)
                if time.monotonic() - last > pause or not (first or told):
                    told = not first
                    self._note(answer)
                    self._results.keep(plan.digests, waiting)
                    waiting, last = [], time.monotonic()
            state = "done" if answer.complete else "cancelled"
            answer.note("ends" if answer.complete else "was stopped; what is done is kept")
        except Exception:
            answer.note("broke off; the server's own log says why")
            _log.exception("run failed", project=str(revision.project_id))
        finally:
            with self._lock:
                answer.running, answer.seconds = False, time.monotonic() - answer.started
                ran = len(answer.figures) - answer.known
                if ran >= _TELLING:
                    self._pace = answer.seconds / (plan.flat.grid.cells * ran)
                # at once: who follows the answer takes one that neither runs nor is checked for the last
                if state == "done" and answer.figures and not answer.stop.is_set():
                    self._look_closer(answer, "checking")
                else:
                    self._note(answer)
            self._results.keep(plan.digests, waiting)
            if run_id is not None:
                failures: list[dict[str, Any]] = [vars(failure) for failure in answer.failures.values()]
                self._results.close_run(run_id, state, failures)


def _some(digests: dict[str, str], keys: set[str]) -> dict[str, str]:
    return {key: digests[key] for key in keys}


def _work_of(plan: Plan) -> int:
    return plan.flat.grid.cells * len(plan.storms)
