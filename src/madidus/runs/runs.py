"""Runs by option of a project: the newest edit wins and cancels what is stale. Reading starts and stops nothing.

After an edit the storms that decided rules before, and their neighbours, run first, however large the network; then
those that governed any element. Once all are in, those that decide are run on finer cells: what the grid is worth.
"""

import threading
import time
from collections import OrderedDict
from collections.abc import Collection, Iterator, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import contextmanager, suppress
from typing import Any, Literal
from uuid import UUID, uuid4

import numpy as np
import structlog

from ..core.elements.figures import Figures
from ..core.ensemble import Before, Failure, Plan, Submit, make_plan, run_plan
from ..core.ensemble.convergence import REFINED, look_closer
from ..core.errors import ModelError
from ..core.hydraulics.version import SOLVER
from ..core.model.project import Project, inputs_of
from ..core.results.series import StormSeries
from ..core.verdicts import overall
from ..store.project_store import LastVerdict, Missing, ProjectStore, Revision, RuleSaid
from ..store.results import Results
from ..store.series import SeriesCache
from .answer import Answer
from .ranks import Rank
from .scheduler import Scheduler

__all__ = ["Runs"]

_log = structlog.get_logger()
_NOTE_SECONDS = 1.0, 3.0  # between looks at a run under way, short and long
_TELLING = 8  # storms of a run from which its pace is taken
_AGREEMENT = 1e-6  # m, between kept peaks and those of the same storm computed again
_LIVE_SECONDS = 6.0  # an ensemble estimated shorter than this answers every edit by itself
_ANSWERS = 20  # that are kept in memory, besides those that are worked on

Key = tuple[UUID, str]


class Runs:
    """Plans, runs and remembers, by project and option."""

    def __init__(self, projects: ProjectStore, results: Results, cache: SeriesCache, scheduler: Scheduler):
        self._projects, self._results, self._cache, self._scheduler = projects, results, cache, scheduler
        self._usual = self._pace = 1.8e-4 / scheduler.width  # s per cell and storm, by the bench; as the last run took
        self._answers: OrderedDict[Key, Answer] = OrderedDict()
        self._planning: dict[tuple[Key, int], Future[Answer]] = {}
        self._awaited: set[tuple[Key, int]] = set()
        self._lock = threading.RLock()  # never held while something is planned or computed
        self._changed = threading.Condition(self._lock)
        self._planners = ThreadPoolExecutor(2, thread_name_prefix="plan")

    def resume(self) -> None:
        """Take up runs that a kill left open."""
        for row in self._results.interrupted():
            assert row.id is not None
            self._results.close_run(row.id, "cancelled", [])
            with suppress(Missing):
                self.run(self._projects.get(row.project_id), row.option)

    def answer(self, revision: Revision, option: str) -> Answer:
        """The answer to a revision of an option as far as it is known. Nothing is started, nothing is stopped.

        Raises
        ------
        Missing
            When the project has no such option.
        """
        key = (revision.project_id, option)
        with self._lock:
            found = self._answers.get(key)
            if found is not None and found.revision == revision.number:
                self._answers.move_to_end(key)
                return found
            planned = self._planning.get((key, revision.number))
            mine = planned is None
            if planned is None:
                planned = self._planning[key, revision.number] = Future()
        if mine:
            try:
                planned.set_result(self._published(key, revision, found))
            except BaseException as error:  # noqa: BLE001 whoever waits is told
                planned.set_exception(error)
            finally:
                with self._lock:
                    self._planning.pop((key, revision.number), None)
        return planned.result()

    def ask(self, revision: Revision, option: str) -> Answer:
        """What an edit starts: every storm where that takes a few seconds, else those that decided a rule before it;
        and what the grid is worth.
        """
        key = (revision.project_id, option)
        answer = self.answer(revision, option)
        if answer.plan and not answer.complete:
            if self._usual * _work_of(answer.plan) < _LIVE_SECONDS:
                return self.run(revision, option, rank=Rank.EDIT)
            if answer.before.deciding:
                return self.run(revision, option, only=answer.before.deciding, rank=Rank.EDIT)
        with self._lock:
            if answer.complete and self._answers.get(key) is answer:
                self._look_closer(answer, "checking")
        if answer.complete:
            self._remember(revision.project_id, answer)
        return answer

    def edited(self, revision: Revision) -> None:
        """A project has a new revision: stop what computes older inputs, and ask for the option in view."""
        project_id, document = revision.project_id, revision.document
        with self._lock:
            for (owner, option), answer in self._answers.items():
                if owner != project_id:
                    continue
                if option not in document["options"] or inputs_of(document, option) != answer.inputs:
                    answer.stop.set()
            shown = ((project_id, document["in_view"]), revision.number)
            self._awaited.add(shown)

        def ask() -> None:
            try:
                # quick edits: only the last of them is planned
                if self._projects.current(project_id) == revision.number:
                    self.ask(revision, document["in_view"])
            except Missing:
                pass  # removed meanwhile
            except Exception:  # noqa: BLE001 logged, and the rest goes on
                _log.exception("an edit was not answered", project=str(project_id), revision=revision.number)
            finally:
                self._decided(*shown)

        self._planners.submit(ask)

    def run(
        self, revision: Revision, option: str, only: Collection[str] | None = None, rank: Rank = Rank.RUN
    ) -> Answer:
        """Compute every storm that is not known yet, or some. Failed storms are tried again. only : keys."""
        answer = self.answer(revision, option)
        key = (revision.project_id, option)
        with self._lock:
            if self._answers.get(key) is not answer or answer.plan is None:
                return answer
            if answer.running:  # what an edit began may be some storms alone
                answer.more = answer.more or not only
                return answer
            answer.more = False
            missing = [s.key for s in answer.plan.storms if s.key not in answer.figures and (not only or s.key in only)]
            for storm in missing:
                answer.failures.pop(storm, None)
            answer.running, answer.started, answer.due = True, time.monotonic(), frozenset(missing)
            answer.stop = threading.Event()
            answer.log = []
            answer.note(f"begins: {len(missing)} storms to compute, {answer.kept} kept from earlier runs")
            if not answer.awaited:  # else it is said to run already
                self._note(answer)
        work = threading.Thread(target=self._work, args=(revision, option, answer, missing, rank), daemon=True)
        work.start()
        return answer

    def refine(self, revision: Revision, option: str) -> Answer:
        """Compute the storms that may decide close verdicts on cells cut in `REFINED` parts."""
        answer = self.answer(revision, option)
        with self._lock:
            own = self._answers.get((revision.project_id, option)) is answer
            if own and answer.complete and answer.looking != "refining":
                self._look_closer(answer, "refining")
        return answer

    def cancel(self, project_id: UUID, option: str | None = None) -> None:
        """Stop after the storms under way; what is done stays. option : none: of every option."""
        with self._lock:
            for (owner, own), answer in self._answers.items():
                if owner == project_id and option in (None, own):
                    answer.stop.set()

    def wait(self, answer: Answer, version: int, timeout: float) -> int:
        """Block until the answer is newer than `version` (or the time is out); returns its version."""
        with self._changed:
            self._changed.wait_for(lambda: answer.version != version, timeout)
            return answer.version

    @contextmanager
    def listening(self, answer: Answer, told: Any) -> Iterator[None]:
        """Call `told` (quickly, from any thread) at each change of an answer."""
        with self._lock:
            answer.listeners.add(told)
        try:
            yield
        finally:
            with self._lock:
                answer.listeners.discard(told)

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
        for result in run_plan(plan, gone, self.at(Rank.REPLAY), record=again.__setitem__):
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

    def keep(self, digests: dict[str, str], figures: Collection[Figures]) -> None:
        """Take over figures that a search has computed, so that a design that is applied need not run again."""
        self._results.keep(digests, list(figures))

    def close(self) -> None:
        """Stop every run; what is done is kept."""
        with self._lock:
            for answer in self._answers.values():
                answer.stop.set()
        self._planners.shutdown(wait=False, cancel_futures=True)
        self._scheduler.close()

    def at(self, rank: Rank) -> Submit:
        """Hands out the jobs of one asker, by rank."""
        group = uuid4()
        return lambda hydraulics, job: self._scheduler.submit(hydraulics, job, rank, group)

    def _published(self, key: Key, revision: Revision, before: Answer | None) -> Answer:
        """Plan a revision and, where it is the current one, let everybody find it."""
        project = Project.model_validate(revision.document)
        if key[1] not in project.options:
            raise Missing("the project has no such option")
        inputs = inputs_of(revision.document, key[1])
        if before is not None and before.inputs == inputs:
            answer = before
        else:
            answer = self._planned(revision, project.seen(key[1]), inputs)
            answer.before = before.tells() if before is not None else Before()
        # a question that was read before an edit, and comes after it, must not stand in the edit's way
        current = self._projects.current(revision.project_id) == revision.number
        with self._lock:
            if current:
                answer.revision, answer.project = revision.number, project.seen(key[1])
                answer.awaited = answer.awaited or (key, revision.number) in self._awaited
                self._answers[key] = answer
                self._answers.move_to_end(key)
                self._let_go()
                self._note(answer)
        return answer

    def _planned(self, revision: Revision, project: Project, inputs: str) -> Answer:
        answer = Answer(revision.number, project, inputs)
        try:
            answer.plan = make_plan(project)
        except ModelError as error:
            answer.problem = error
            return answer
        answer.figures = self._results.find(answer.plan.digests)
        answer.estimate = self._pace * _work_of(answer.plan)
        return answer

    def _decided(self, key: Key, number: int) -> None:
        """Whoever made an edit has decided whether it is run."""
        with self._lock:
            self._awaited.discard((key, number))
            answer = self._answers.get(key)
            if answer is not None and answer.revision == number and answer.awaited:
                answer.awaited = False
                if not answer.running:  # else nobody sees a difference
                    self._note(answer)

    def _let_go(self) -> None:
        """Forget answers that nobody asked for longest, but none that is worked on."""
        idle = [key for key, answer in self._answers.items() if not answer.busy and not answer.listeners]
        for key in idle[: max(len(self._answers) - _ANSWERS, 0)]:
            del self._answers[key]

    def _remember(self, project_id: UUID, answer: Answer) -> None:
        """Keep what the list of projects says of a verdict."""
        verdicts, plan, project = answer.verdicts(dict(answer.figures)), answer.plan, answer.project
        assert plan is not None
        said = overall(verdicts)
        rules = [
            RuleSaid(
                name=v.criterion.name, state=v.state, tight=v.tight, unit=v.unit,
                value=v.governing.value if v.governing else None, scale=v.governing.scale if v.governing else None,
            )
            for v in verdicts if v.criterion.asked
        ]  # fmt: skip
        last = LastVerdict(
            option=project.in_view, inputs=answer.inputs, solver=SOLVER, state=said.state, said=said.said,
            storms=len(plan.storms), rules=rules,
        )  # fmt: skip
        with suppress(Missing):
            self._projects.keep_verdict(project_id, last)

    def _look_closer(self, answer: Answer, how: Literal["checking", "refining"]) -> None:
        """Compute what the grid is worth, beside whatever is asked meanwhile. The lock is held."""
        under_way, answer.looking = answer.looking != "", how
        if not under_way:
            answer.stop = threading.Event()
            threading.Thread(target=self._closer, args=(answer,), daemon=True).start()
        self._note(answer)

    def _closer(self, answer: Answer) -> None:
        plan, stop, seen = answer.plan, answer.stop, ""
        assert plan is not None

        def wanted(close: set[str]) -> set[str]:
            nonlocal seen
            seen = answer.looking
            # unless it is asked for, what was refined before an edit that was taken back
            known = seen != "refining" and close
            return set(self._results.find(_some(plan.finer(REFINED).digests, close))) if known else close

        def compute(parts: int, keys: set[str]) -> bool:
            finer = plan.finer(parts)
            found = self._results.find(_some(finer.digests, keys))
            submit = self.at(Rank.RUN if answer.looking == "refining" else Rank.CHECK)
            run = run_plan(finer, keys - found.keys(), submit, stop.is_set)
            new = [result for result in run if isinstance(result, Figures)]
            self._results.keep(finer.digests, new)
            answer.finer.on(parts).update(found | {figures.key: figures for figures in new})
            self._note(answer)
            return not stop.is_set()

        while True:
            try:
                look_closer(lambda: answer.verdicts(answer.figures), answer.figures, wanted, compute)
            except Exception:  # noqa: BLE001 logged, and the rest goes on
                _log.exception("the grid was not checked", revision=answer.revision)
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
            for told in answer.listeners:
                told()

    def _work(self, revision: Revision, option: str, answer: Answer, missing: list[str], rank: Rank) -> None:
        plan = answer.plan
        assert plan is not None
        state, run_id = "failed", None
        waiting: list[Figures] = []
        log = _log.bind(project=str(revision.project_id), revision=revision.number)
        try:
            # an ensemble of many minutes is looked at less often: each look costs its storms some of the machine
            pause = min(max(_NOTE_SECONDS[0], answer.estimate / 100.0), _NOTE_SECONDS[1])
            last, first = time.monotonic(), set(missing) & answer.before.deciding
            told = not first
            keep = lambda key, series: self._cache.keep(plan.digests[key], series)  # noqa: E731
            sooner = (answer.before.deciding, answer.before.governing & plan.judged, plan.judged)
            results = run_plan(plan, missing, self.at(rank), answer.stop.is_set, keep, sooner)
            run_id = self._results.open_run(revision.project_id, option, revision.number, plan.digests)
            log = log.bind(run=run_id)
            for result in results:
                with self._lock:
                    if isinstance(result, Failure):
                        answer.failures[result.key] = result
                        answer.note(f"failed: {result.problem}", result.key)
                        log.warning("storm failed", storm=result.key, problem=result.problem, trace=result.trace)
                    else:
                        answer.figures[result.key] = result
                        answer.note(f"in, {int(result.summary['steps'])} steps", result.key)
                        waiting.append(result)
                first.discard(result.key)
                if not (first or told):
                    told = True
                    self._note(answer)
                if time.monotonic() - last > pause:
                    self._note(answer)
                    self._results.keep(plan.digests, waiting)
                    waiting, last = [], time.monotonic()
            state = "done" if answer.complete else "cancelled"
            ended = answer.due <= answer.figures.keys() | answer.failures.keys()
            answer.note("ends" if ended else "was stopped; what is done is kept")
        except Exception:
            answer.note("broke off; the server's own log says why")
            log.exception("run failed")
        finally:
            with self._lock:
                answer.running, answer.seconds = False, time.monotonic() - answer.started
                ran = len(answer.figures.keys() & answer.due)
                if ran >= _TELLING:
                    self._pace = answer.seconds / (plan.flat.grid.cells * ran)
                # at once: who follows the answer takes one that neither runs nor is checked for the last
                if state != "done" and answer.more and not answer.stop.is_set():
                    self.run(revision, option)
                elif state == "done" and answer.figures and not answer.stop.is_set():
                    self._look_closer(answer, "checking")
                else:
                    self._note(answer)
            self._results.keep(plan.digests, waiting)
            if run_id is not None:
                failures: list[dict[str, Any]] = [vars(failure) for failure in answer.failures.values()]
                self._results.close_run(run_id, state, failures)
            if state == "done":
                self._remember(revision.project_id, answer)


def _some(digests: dict[str, str], keys: set[str]) -> dict[str, str]:
    return {key: digests[key] for key in keys}


def _work_of(plan: Plan) -> int:
    return plan.flat.grid.cells * len(plan.storms)
