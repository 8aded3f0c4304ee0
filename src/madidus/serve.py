"""Bring everything up: PostgreSQL, migrations, the demo, the web server."""

import json
import signal
import sys
import threading
from pathlib import Path

import uvicorn
from pydantic import Field
from pydantic_settings import BaseSettings, SettingsConfigDict

from . import places
from .core.model.project import parse_project
from .kernels import ready
from .logs import configure
from .postgres import CannotStart, cluster, free_port
from .report.signature import Signer
from .runs.runs import Runs
from .runs.scheduler import CannotReach, Local, Scheduler
from .store.database import connect
from .store.issues import Issues
from .store.project_store import ProjectStore
from .store.results import Results
from .store.series import SeriesCache
from .store.tidy import tidy_results
from .web import demo_map
from .web.app import make_app

__all__ = ["Settings", "serving"]


class Settings(BaseSettings):
    """From the environment: MADIDUS_PORT, MADIDUS_DATA, MADIDUS_THREADS, MADIDUS_SERIES_BYTES (room for series
    of storms), MADIDUS_SCHEDULER (address of a Dask scheduler whose workers compute the storms, else threads of this
    process do); options of the command line overrule."""

    model_config = SettingsConfigDict(env_prefix="MADIDUS_")

    port: int = Field(8420, ge=1, le=65_535)
    data: Path = Field(default_factory=places.data)
    threads: int = Field(2, ge=1, le=256)
    series_bytes: int = Field(4 << 30, ge=1 << 20)
    scheduler: str = Field("", max_length=200)


def _scheduler(settings: Settings) -> Scheduler:
    if not settings.scheduler:
        return Local(settings.threads)
    from .runs.cluster import Cluster  # whoever has no cluster does not load what it takes

    return Cluster(settings.scheduler)


def _load_demo(projects: ProjectStore, runs: Runs) -> None:
    if not projects.list()[0]:
        for file in places.demos():
            runs.edited(projects.create(parse_project(json.loads(file.read_text(encoding="utf-8")))))


def serving(settings: Settings, demo: bool) -> int:
    """Serve until somebody stops it; the exit status. demo : its projects where there is none yet, and its map."""
    configure()
    port, data = settings.port, settings.data.resolve()
    if free_port(port) != port:
        print(f"Port {port} is taken. Choose another: --port {free_port()}", file=sys.stderr)
        return 1
    try:
        with cluster(data, "madidus") as url:
            engine = connect(url)
            tidy_results(engine)
            projects, cache = ProjectStore(engine), SeriesCache(data / "series", settings.series_bytes)
            runs = Runs(projects, Results(engine), cache, _scheduler(settings))
            if demo:
                _load_demo(projects, runs)
            also = [demo_map.router] if demo else []
            app = make_app(projects, Issues(engine), Signer(data / "signing"), runs, places.interface(), also)
            config = uvicorn.Config(
                app, host="127.0.0.1", port=port, log_level="warning", timeout_graceful_shutdown=3
            )  # fmt: skip
            server = uvicorn.Server(config)
            threading.Thread(target=ready, args=(_said,), daemon=True).start()  # what is asked meanwhile waits for it
            threading.Thread(target=_announce, args=(server, port), daemon=True).start()
            signal.signal(signal.SIGTERM, lambda *_: setattr(server, "should_exit", True))
            server.run()
            engine.dispose()
    except (CannotStart, CannotReach) as error:
        print(f"Cannot start: {error}", file=sys.stderr)
        return 1
    except KeyboardInterrupt:
        pass  # Ctrl-C is how people stop it
    return 0


def _said(what: str) -> None:
    print(what, file=sys.stderr, flush=True)


def _announce(server: uvicorn.Server, port: int) -> None:
    waited = threading.Event()
    while not server.started and not server.should_exit:
        waited.wait(0.05)
    if server.started:
        print(f"Madidus is up: http://127.0.0.1:{port}   (Ctrl-C stops it)", flush=True)
