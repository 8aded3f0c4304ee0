"""The application."""

from collections.abc import AsyncIterator, Sequence
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import APIRouter, FastAPI
from fastapi.responses import FileResponse, HTMLResponse
from fastapi.staticfiles import StaticFiles

from .. import __version__
from ..core.checks import EXPLAINED, Explanation
from ..report.document import Known
from ..report.signature import Signer
from ..runs.runs import Runs
from ..runs.tasks import Tasks
from ..store.issues import Issues
from ..store.project_store import ProjectStore
from . import (
    boundaries,
    cause,
    compare,
    deliver,
    dimensions,
    drawing,
    edits,
    estimate,
    files,
    guard,
    hydraulics,
    issues,
    last_edit,
    layers,
    moments,
    permits,
    ponds,
    problems,
    projects,
    rain,
    reports,
    requests,
    results,
    rules,
    running,
    runoff,
    searches,
    series,
    sizing,
    statistics,
    trial,
)

__all__ = ["make_app"]

_REPORTS = 6  # that are kept set, for their pages to be looked at

_ROUTERS = (
    projects.listing, projects.router, edits.router, running.router, hydraulics.router, files.whole_project,
    files.router, drawing.router, layers.grids, layers.whole_project, layers.router, rain.plain, rain.router,
    permits.router, results.router, rules.router, runoff.router, statistics.router, cause.router, series.router,
    moments.router, boundaries.router, dimensions.router, sizing.router, compare.router, estimate.router,
    searches.router, trial.router, last_edit.router, ponds.router,
    reports.whole_project, reports.router, deliver.router, issues.whole_project, issues.router, issues.plain,
)  # fmt: skip


def make_app(
    store: ProjectStore,
    issued: Issues,
    signer: Signer,
    runs: Runs,
    interface: Path | None,
    also: Sequence[APIRouter] = (),
) -> FastAPI:
    """The application on its records, its key and its runs.

    interface : folder of the built interface. also : further routes, such as the demo's map.
    """

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        runs.resume()
        yield
        app.state.searches.close()
        app.state.reports.close()
        runs.close()

    app = FastAPI(title="Madidus", version=__version__, lifespan=lifespan, docs_url=None, redoc_url=None)
    app.state.projects, app.state.runs, app.state.searches = store, runs, Tasks()
    app.state.reports, app.state.known_sections, app.state.issues = Tasks(_REPORTS), Known(), issued
    app.state.signer = signer
    problems.install(app)
    for router in (*_ROUTERS, *also):
        app.include_router(router)

    @app.get("/api/checks")
    def explanations() -> dict[str, Explanation]:
        """What each check looks at, why it matters and what to do, by its key."""
        return EXPLAINED

    guard.install(app)
    requests.install(app)

    @app.get("/api/docs", include_in_schema=False)
    def documentation() -> HTMLResponse:
        """The API's documentation, drawn from the OpenAPI description on this machine alone."""
        rows = "".join(
            f"<h2>{method.upper()} {path}</h2><p>{operation.get('description', operation.get('summary', ''))}</p>"
            for path, methods in app.openapi()["paths"].items()
            for method, operation in methods.items()
        )
        return HTMLResponse(
            f"<!doctype html><title>Madidus API</title><body style='font:14px sans-serif;max-width:60em;margin:2em'>"
            f"<h1>Madidus API</h1><p><a href='/openapi.json'>OpenAPI description</a></p>{rows}"
        )

    if interface is not None:
        app.mount("/assets", StaticFiles(directory=interface / "assets"), name="assets")

        @app.get("/{path:path}", include_in_schema=False)
        def page(path: str) -> FileResponse:
            return FileResponse(interface / "index.html", headers={"Cache-Control": "no-cache"})

    return app
