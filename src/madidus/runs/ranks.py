"""Who computes first: an edit overtakes a replay, that a run, that a search through designs."""

import heapq
import itertools
import threading
from collections import Counter
from collections.abc import Callable, Hashable
from concurrent.futures import Future
from enum import IntEnum
from typing import Any, TypeVar

__all__ = ["Rank", "RankedThreads"]

_T = TypeVar("_T")


class Rank(IntEnum):
    """The lower, the sooner. CHECK : what the grid is worth. SEARCH : a search through designs."""

    EDIT = 0
    REPLAY = 1
    RUN = 2
    CHECK = 3
    SEARCH = 4


class _Task:
    def __init__(self, work: Callable[[], Any]):
        self.future: Future[Any] = Future()
        self._work = work

    def do(self) -> None:
        if not self.future.set_running_or_notify_cancel():
            return
        try:
            self.future.set_result(self._work())
        except BaseException as error:  # noqa: BLE001 whoever waits is told
            self.future.set_exception(error)


class RankedThreads:
    """Threads that take the work of the best rank first and, within a rank, that of every group in turn.

    A group is whoever asks (a project's run): each piece of its work comes one place after the piece before, and a
    group that begins later begins where the others are, so that two runs share the threads evenly.
    """

    def __init__(self, threads: int):
        self._heap: list[tuple[Rank, int, int, _Task]] = []
        self._wake = threading.Condition()
        self._counter = itertools.count()
        self._served: dict[Rank, int] = {}
        self._last: dict[tuple[Rank, Hashable], int] = {}
        self._closed = False
        self._most, self._under_way = threads, Counter[Rank]()
        self._threads = [
            threading.Thread(target=self._take, name=f"storm-{k}", daemon=True) for k in range(threads + 1)
        ]
        for thread in self._threads:
            thread.start()

    def submit(self, rank: Rank, group: Hashable, work: Callable[[], _T]) -> "Future[_T]":
        """Have some work done. It may raise; whoever waits for the future is told.

        Raises
        ------
        RuntimeError
            When the threads have been closed.
        """
        task = _Task(work)
        with self._wake:
            if self._closed:
                raise RuntimeError("the server is closing")
            place = max(self._last.get((rank, group), 0), self._served.get(rank, 0)) + 1
            self._last[rank, group] = place
            heapq.heappush(self._heap, (rank, place, next(self._counter), task))
            self._wake.notify_all()
        return task.future

    def close(self) -> None:
        """Cancel what has not begun, and wait for what has."""
        with self._wake:
            self._closed = True
            for *_, task in self._heap:
                task.future.cancel()
            self._wake.notify_all()
        for thread in self._threads:
            thread.join()

    def _may_begin(self) -> bool:
        """One piece of work for each thread; one more for those who wait before the screen, where others hold one: a
        storm that is under way is not broken off.
        """
        if not self._heap:
            return False
        if self._under_way.total() < self._most:
            return True
        before_the_screen = sum(count for rank, count in self._under_way.items() if rank <= Rank.REPLAY)
        return self._heap[0][0] <= Rank.REPLAY and before_the_screen < self._most

    def _take(self) -> None:
        """Work until all is closed."""
        while True:
            with self._wake:
                self._wake.wait_for(lambda: self._closed or self._may_begin())
                if self._closed:
                    return
                rank, place, _, task = heapq.heappop(self._heap)
                self._served[rank] = place
                if not self._heap:
                    self._last.clear()  # nobody waits: all begin anew, and what has ended is forgotten
                    self._served.clear()
                self._under_way[rank] += 1
            task.do()
            with self._wake:
                self._under_way[rank] -= 1
                self._wake.notify_all()
