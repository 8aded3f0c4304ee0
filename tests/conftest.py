"""Shared fixtures: an own PostgreSQL, an application on it, a server for the browser."""

import json
import os
import shutil
import tempfile
import threading
import time
from contextlib import contextmanager
from pathlib import Path

import pytest
import uvicorn
from hypothesis import settings

from madidus.core.model import parse_project
from madidus.kernels import ready
from madidus.logs import configure
from madidus.postgres import cluster, free_port
from madidus.report.signature import Signer
from madidus.runs.runs import Runs
from madidus.runs.scheduler import Local
from madidus.store.database import connect
from madidus.store.issues import Issues
from madidus.store.project_store import ProjectStore
from madidus.store.results import Results
from madidus.store.series import SeriesCache
from madidus.web import demo_map
from madidus.web.app import make_app

# the same examples every time, so that a red run is a change's; look for new ones with --hypothesis-profile=default
settings.register_profile("same", derandomize=True, deadline=None)  # a busy machine is no fault
settings.load_profile("same")

configure()
ready()  # before tests side by side would compile it at once

ROOT = Path(__file__).parents[1]
_LONGEST_FIRST = ("ui", "cases", "runs", "web", "report")


def pytest_collection_modifyitems(items):
    """Files of rooms whose tests take long come first: side by side, none is left to one process at the end."""
    rank = {room: k for k, room in enumerate(_LONGEST_FIRST)}
    items.sort(key=lambda item: rank.get(Path(item.path).parent.name, len(rank)))


DEMO = ROOT / "demo" / "quillmere_boatyard.madidus.json"


@pytest.fixture(scope="session")
def demo_document():
    return json.loads(DEMO.read_text(encoding="utf-8"))


@pytest.fixture(scope="session")
def short_document(demo_document):
    """The demo with a third of its durations, and the same verdicts: those that govern are among them."""
    ensemble = demo_document["rain"]["ensemble"] | {"durations": [15.0, 720.0, 1440.0]}
    return demo_document | {"rain": demo_document["rain"] | {"ensemble": ensemble}}


@contextmanager
def _open_folder():
    """A folder that the user as whom PostgreSQL runs may enter."""
    folder = Path(tempfile.mkdtemp(prefix="madidus-test-"))
    os.chmod(folder, 0o755)
    try:
        yield folder
    finally:
        shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture
def open_folder():
    with _open_folder() as folder:
        yield folder


@pytest.fixture(scope="session")
def database():
    """URL of a database in a cluster of the tests' own."""
    with _open_folder() as folder, cluster(folder, "madidus_test") as url:
        yield url


@pytest.fixture(scope="session")
def engine(database):
    engine = connect(database)
    yield engine
    engine.dispose()


@pytest.fixture(scope="session")
def projects(engine):
    return ProjectStore(engine)


@pytest.fixture(scope="session")
def cache(tmp_path_factory):
    return SeriesCache(tmp_path_factory.mktemp("series"))


@pytest.fixture(scope="session")
def address(engine, projects, cache, short_document, tmp_path_factory):
    """A running server with the demo on its projects, of fewer storms."""
    projects.create(parse_project(short_document))
    port = free_port()
    app = make_app(
        projects,
        Issues(engine),
        Signer(tmp_path_factory.mktemp("signing")),
        Runs(projects, Results(engine), cache, Local(2)),
        ROOT / "ui" / "dist",
        [demo_map.router],
    )
    server = uvicorn.Server(
        uvicorn.Config(
            app,
            host="127.0.0.1",
            port=port,
            log_level="warning",
            timeout_keep_alive=600,  # s: a client that asks just as its connection is closed fails
        )  # fmt: skip
    )
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    deadline = time.monotonic() + 30
    while not server.started and time.monotonic() < deadline:
        time.sleep(0.05)
    yield f"http://127.0.0.1:{port}"
    server.should_exit = True
    thread.join(20)
