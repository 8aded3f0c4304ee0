"""Storms on the workers of a Dask cluster, which have this same program. Its scheduler is named by its address."""

import hashlib
import pickle
from collections.abc import Hashable
from concurrent.futures import Future
from typing import Any
from uuid import uuid4
from weakref import WeakKeyDictionary

from distributed import Client
from distributed import Future as Remote

from ..core.ensemble import Hydraulics, Job, Outcome, run_job
from ..kernels import ready
from .ranks import Rank
from .scheduler import CannotReach

__all__ = ["Cluster"]


def _unpacked(packed: bytes) -> Hydraulics:
    found: Hydraulics = pickle.loads(packed)
    return found


def _computed(hydraulics: Hydraulics, job: Job) -> Outcome:
    ready()  # workers of one machine share what is compiled
    return run_job(hydraulics, job)


class _Awaited(Future[Outcome]):
    """What a worker will give. To cancel it tells the worker so."""

    def __init__(self, remote: "Remote[Any]"):
        super().__init__()
        self._remote = remote
        remote.add_done_callback(self._take)

    def cancel(self) -> bool:
        gone = super().cancel()
        if gone:
            self._remote.cancel()
        return gone

    def _take(self, remote: "Remote[Any]") -> None:
        if not self.set_running_or_notify_cancel():
            return
        try:
            self.set_result(remote.result())
        except BaseException as error:  # noqa: BLE001 whoever waits is told
            self.set_exception(error)


class Cluster:
    """The workers of a Dask scheduler. A network travels to each worker once; the storms of a worker that dies are
    computed by another one.
    """

    def __init__(self, address: str, patience: float = 10.0):
        """address : of the scheduler, such as tcp://host:8786. patience : s to wait for it.

        Raises
        ------
        CannotReach
            When nothing answers there.
        """
        try:
            self._client = Client(address, timeout=patience, name="madidus", set_as_default=False)
        except (OSError, ValueError) as error:
            raise CannotReach(f"no Dask scheduler answers at {address}: {error}") from error
        self._networks: WeakKeyDictionary[Hydraulics, Remote[Any]] = WeakKeyDictionary()

    @property
    def width(self) -> int:
        """Threads of all workers that are there now, one at least."""
        return max(1, sum(self._client.nthreads().values()))

    def submit(self, hydraulics: Hydraulics, job: Job, rank: Rank, group: Hashable) -> "Future[Outcome]":
        """Have a job done, by rank; groups of one rank are served in the order in which they came."""
        network, key = self._travelled(hydraulics), f"storm-{uuid4().hex}"
        remote = self._client.submit(_computed, network, job, key=key, priority=-int(rank), pure=False)
        return _Awaited(remote)

    def close(self) -> None:
        """Leave the cluster; what has not begun is given up."""
        self._client.close()

    def _travelled(self, hydraulics: Hydraulics) -> "Remote[Any]":
        """The network on the cluster. It is a task like others, so that it is made anew where a dead worker had it."""
        known = self._networks.get(hydraulics)
        if known is None:
            packed = pickle.dumps(hydraulics)
            key = f"network-{hashlib.sha256(packed).hexdigest()[:24]}"
            known = self._networks[hydraulics] = self._client.submit(_unpacked, packed, key=key)
        return known
