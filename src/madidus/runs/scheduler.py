"""Who computes storms: threads of this process, or the workers of a cluster. Both are asked in the same way."""

from collections.abc import Hashable
from concurrent.futures import Future
from typing import Protocol

from ..core.ensemble import Hydraulics, Job, Outcome, run_job
from .ranks import Rank, RankedThreads

__all__ = ["CannotReach", "Local", "Scheduler"]


class CannotReach(RuntimeError):
    """Nobody answers who would compute storms; the message says where."""


class Scheduler(Protocol):
    """Takes jobs. A job may raise what nobody foresaw; it never changes what another one gives."""

    @property
    def width(self) -> int:
        """How many storms are computed at once."""

    def submit(self, hydraulics: Hydraulics, job: Job, rank: Rank, group: Hashable) -> "Future[Outcome]":
        """Have a job done, by rank; groups of one rank take turns."""

    def close(self) -> None:
        """Give up what has not begun."""


class Local:
    """Threads of this process: the kernels run without the interpreter's lock."""

    def __init__(self, threads: int):
        self.width, self._threads = threads, RankedThreads(threads)

    def submit(self, hydraulics: Hydraulics, job: Job, rank: Rank, group: Hashable) -> "Future[Outcome]":
        """On the next thread that is free."""
        return self._threads.submit(rank, group, lambda: run_job(hydraulics, job))

    def close(self) -> None:
        """Let what runs come to its end."""
        self._threads.close()
