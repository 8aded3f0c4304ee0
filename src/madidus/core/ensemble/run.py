"""An ensemble run: its jobs are handed out, and what comes back is passed on as it ends."""

import queue
import traceback
from collections.abc import Callable, Collection, Iterable, Iterator, Sequence
from concurrent.futures import Executor, Future

from ..elements.figures import Figures
from ..results.series import StormSeries
from .job import Failure, Hydraulics, Job, Outcome, run_job
from .order import in_order
from .plan import Plan

__all__ = ["Submit", "run_plan", "submit_to"]

Submit = Callable[[Hydraulics, Job], "Future[Outcome]"]
"""Hands a job to whoever computes it."""

_FRAMES = 4  # of a trace, the last
_LOOK = 0.2  # s between looks whether the run is to stop


def submit_to(executor: Executor) -> Submit:
    """Jobs go to the threads of an executor, first in, first out."""
    return lambda hydraulics, job: executor.submit(run_job, hydraulics, job)


def run_plan(
    plan: Plan, keys: Iterable[str], submit: Submit, stop: Callable[[], bool] = lambda: False,
    record: Callable[[str, StormSeries], None] | None = None, first: Sequence[Collection[str]] = (),
) -> Iterator[Figures | Failure]:  # fmt: skip
    """Hand out storms in order at once, and give each as it ends. `stop` ends the run after storms under way.

    A storm that breaks off with an error that nobody foresaw is its own failure: it is tried once more, alone, when
    the others are done. record : takes the series of each storm. first : keys of storms to run before others, those of
    each collection before those of the next.
    """

    def handed_out(key: str) -> "Future[Outcome]":
        return submit(plan.hydraulics, plan.job(key, record is not None))

    def passed_on(outcome: Outcome) -> Figures | Failure:
        if record is not None and outcome.series is not None:
            record(outcome.result.key, plan.layout.whole(outcome.series))
        return outcome.result

    waiting = {handed_out(key): key for key in in_order(plan.storms, keys, first)}

    def given() -> Iterator[Figures | Failure]:
        again = []
        for future in _as_they_end(waiting, stop):
            if future.exception() is None:
                yield passed_on(future.result())
            else:
                again.append(waiting[future])
        for key in again:
            for future in _as_they_end([handed_out(key)], stop):
                error = future.exception()
                yield passed_on(future.result()) if error is None else _unforeseen(key, error)

    return given()


def _as_they_end(futures: Collection["Future[Outcome]"], stop: Callable[[], bool]) -> Iterator["Future[Outcome]"]:
    """Futures as they end. After a stop those that have not begun are cancelled, and left out."""
    ended: queue.SimpleQueue[Future[Outcome]] = queue.SimpleQueue()
    for future in futures:
        future.add_done_callback(ended.put)
    left = len(futures)
    try:
        while left:
            try:
                future = ended.get(timeout=_LOOK)
            except queue.Empty:
                pass
            else:
                left -= 1
                if not future.cancelled():
                    yield future
            if stop():
                for waiting in futures:
                    waiting.cancel()
    finally:  # who stopped listening wants no more of them
        for waiting in futures:
            waiting.cancel()


def _unforeseen(key: str, error: BaseException) -> Failure:
    trace = "".join(traceback.format_list(traceback.extract_tb(error.__traceback__)[-_FRAMES:]))
    said = f"{type(error).__name__}: {error}".splitlines()[0][:200]
    problem = f"broke off twice with an error of the program ({said}); compute it again, and report this if it stays"
    return Failure(key, "", problem, f"{trace}{said}")
