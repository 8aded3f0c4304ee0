"""An ensemble on a Dask scheduler and two workers, each a process of its own."""

import copy
import dataclasses
import os
import signal
import subprocess
import sys
import time
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest
from distributed import Client

from madidus.core.ensemble import Failure, make_plan, run_plan, submit_to
from madidus.core.model import parse_project
from madidus.postgres import free_port
from madidus.runs.cluster import Cluster
from madidus.runs.ranks import Rank
from madidus.runs.runs import Runs
from madidus.runs.scheduler import CannotReach
from madidus.store.results import Results


@pytest.fixture
def plan(demo_document):
    document = copy.deepcopy(demo_document)
    document["rain"]["ensemble"]["durations"] = [15, 60, 360]
    return make_plan(parse_project(document))


class Processes:
    """A scheduler with workers."""

    def __init__(self, folder):
        port = free_port()
        self.address, self.folder = f"tcp://127.0.0.1:{port}", folder
        self.all = [self._begin("dask_scheduler", "--host", "127.0.0.1", "--port", str(port))]
        self.workers = [self.worker() for _ in range(2)]

    def _begin(self, which, *arguments):
        command = [sys.executable, "-m", f"distributed.cli.{which}", *arguments, "--no-dashboard"]
        return subprocess.Popen(command, cwd=self.folder, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)

    def worker(self):
        one = self._begin("dask_worker", self.address, "--nthreads", "1", "--no-nanny", "--host", "127.0.0.1")
        self.all.append(one)
        return one

    def await_workers(self, count):
        with Client(self.address, timeout=60, set_as_default=False) as client:
            client.wait_for_workers(count, timeout=60)

    def end(self):
        for process in reversed(self.all):
            process.kill()
            process.wait(20)


@pytest.fixture(scope="module")
def processes(tmp_path_factory):
    begun = Processes(tmp_path_factory.mktemp("dask"))
    try:
        begun.await_workers(2)
        yield begun
    finally:
        begun.end()


@pytest.fixture
def cluster(processes):
    cluster = Cluster(processes.address)
    yield cluster
    cluster.close()


def at(cluster):
    return lambda hydraulics, job: cluster.submit(hydraulics, job, Rank.RUN, "test")


def alike(a, b) -> bool:
    pairs = [(getattr(a, field.name), getattr(b, field.name)) for field in dataclasses.fields(a)]
    return all(np.array_equal(x, y, equal_nan=True) if isinstance(x, np.ndarray) else x == y for x, y in pairs)


def locally(plan):
    series = {}
    with ThreadPoolExecutor(2) as pool:
        return {f.key: f for f in run_plan(plan, plan.inflow, submit_to(pool), record=series.__setitem__)}, series


def test_a_cluster_gives_the_same_bits_as_threads_do(plan, cluster):
    assert cluster.width == 2
    series = {}
    there = {f.key: f for f in run_plan(plan, plan.inflow, at(cluster), record=series.__setitem__)}
    here, own = locally(plan)
    assert there.keys() == here.keys() == set(plan.inflow)
    assert all(alike(there[key], here[key]) for key in here)
    assert all(np.array_equal(series[key].values, own[key].values) for key in own)


def test_the_network_travels_once(plan, cluster):
    list(run_plan(plan, list(plan.inflow)[:4], at(cluster)))
    held = [key for key in cluster._client.who_has() if "network-" in str(key)]
    assert len(held) == 1
    assert len(cluster._networks) == 1


def test_storms_of_a_killed_worker_are_run_again(plan, cluster, processes):
    fine = plan.finer(4)  # long enough that a worker dies with storms in its hands
    here, _ = locally(fine)
    found, killed = {}, None
    for result in run_plan(fine, fine.inflow, at(cluster)):
        found[result.key] = result
        if killed is None:
            killed = processes.workers[0]
            os.kill(killed.pid, signal.SIGKILL)
            killed.wait(20)
    assert not any(isinstance(result, Failure) for result in found.values())
    assert found.keys() == set(fine.inflow)
    assert all(alike(found[key], here[key]) for key in here)
    assert cluster.width == 1
    processes.workers[0] = processes.worker()
    processes.await_workers(2)


def test_runs_of_the_server_go_to_the_cluster_and_are_cancelled_there(
    plan, cluster, projects, engine, cache, demo_document
):
    document = copy.deepcopy(demo_document)
    for link in document["options"][document["in_view"]]["network"]["links"].values():
        if link["kind"] == "pipe":
            link["length"] += 0.3 + time.time() % 0.3
    revision = projects.create(parse_project(document))
    runs = Runs(projects, Results(engine), cache, cluster)
    answer = runs.run(revision, document["in_view"])
    deadline = time.monotonic() + 180
    while answer.busy:
        assert time.monotonic() < deadline
        time.sleep(0.02)
    assert answer.complete
    assert len(answer.figures) == 54
    assert answer.verdicts(answer.figures)[0].band is not None  # the grid was checked there as well
    projects.remove(revision.project_id)
    runs._planners.shutdown()


def test_no_scheduler_is_said_in_words():
    with pytest.raises(CannotReach, match="no Dask scheduler answers at tcp://127"):
        Cluster(f"tcp://127.0.0.1:{free_port()}", patience=0.5)
