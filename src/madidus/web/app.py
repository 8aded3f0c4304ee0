"""The application."""

from collections.abc import AsyncIterator, Callable, Iterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Annotated, Any
from uuid import UUID

import jsonpatch
from fastapi import Body, Depends, FastAPI, Header, Response
from fastapi.responses import FileResponse, HTMLResponse, StreamingResponse
from fastapi.staticfiles import StaticFiles
from pydantic import BaseModel, Field

from .. import __version__
from ..core.checks import EXPLAINED, Explanation, Fix, judged
from ..core.errors import ModelError
from ..core.hydraulics.duty import Duty, duty_curve
from ..core.model.nodes import Free, NormalDepth, Outfall, TailWater
from ..core.model.project import Project, completed, parse_project
from ..core.steady import Capacity, Keep, Profile, capacity, steady
from ..runs.manager import Answer, LogLine, RunManager
from ..store.projects import Conflict, Revision, Shelf
from . import (
    cause,
    drawing,
    files,
    guard,
    layers,
    moments,
    permits,
    problems,
    rain,
    runoff,
    series,
    standin,
    statistics,
)
from .answers import AnswerOut, answer_out
from .storm_report import StormReport, storm_report

__all__ = ["answer_events", "make_app"]


class ProjectOut(BaseModel):
    id: UUID
    revision: int
    fingerprint: str
    can_undo: bool
    can_redo: bool
    document: dict[str, Any]


class ShelfEntry(BaseModel):
    id: UUID
    name: str
    opened: str
    document: dict[str, Any]
    answer: AnswerOut


class NewProject(BaseModel):
    name: str = Field(min_length=1, max_length=80)


class FindingOut(BaseModel):
    """fix : a safe remedy, its patch relative to the network. accepted : the reason for which it stays as it is."""

    check: str
    severity: str
    element: str | None
    field: str
    why: str
    remedy: str
    fix: Fix | None
    about: str
    accepted: str | None


class SteadyIn(BaseModel):
    """Inflows in m3/s by node id; `tail_water` replaces that of every outfall when it is given."""

    inflows: dict[UUID, float] = Field(max_length=10_000)
    tail_water: TailWater | None = None


class CapacityIn(BaseModel):
    """A pattern of inflows in m3/s by node id, and what it must keep."""

    inflows: dict[UUID, float] = Field(max_length=10_000)
    keep: Keep


def _out(revision: Revision, response: Response) -> ProjectOut:
    response.headers["ETag"] = f'"{revision.number}"'
    return ProjectOut(
        id=revision.project_id, revision=revision.number, fingerprint=revision.fingerprint,
        can_undo=revision.can_undo, can_redo=revision.can_redo, document=completed(revision.document),
    )  # fmt: skip


def _expected(if_match: Annotated[str, Header()]) -> int:
    """The revision that an edit was made from."""
    text = if_match.strip().strip('"')
    if not text.isdigit() or len(text) > 9:
        raise Conflict
    return int(text)


Expected = Annotated[int, Depends(_expected)]


def answer_events(look: Callable[[], AnswerOut], wait: Callable[[int], int]) -> Iterator[str]:
    """Server-sent events: what `look` finds each time `wait` sees a newer version, until a look finds it settled.

    Whether it is settled is read from the very answer that was sent: a run may end between two looks.
    """
    version = -1
    while True:
        version = wait(version)
        out = look()
        yield f"event: answer\ndata: {out.model_dump_json()}\n\n"
        if out.state != "running" and not out.worth.looking:
            yield "event: end\ndata: {}\n\n"
            return


def make_app(shelf: Shelf, runs: RunManager, interface: Path | None) -> FastAPI:
    """The application on its records and its run manager; `interface` is the folder of the built interface."""

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        runs.resume()
        yield
        runs.close()

    app = FastAPI(title="Madidus", version=__version__, lifespan=lifespan, docs_url=None, redoc_url=None)
    problems.install(app)

    def current(project_id: UUID) -> tuple[Project, Revision, Answer]:
        revision = shelf.get(project_id)
        answer = runs.answer(revision)
        return answer.project, revision, answer

    def plan_of(answer: Answer) -> Any:
        if answer.plan is None:
            raise answer.problem or ModelError("project", "network", "cannot run", "see the checks")
        return answer.plan

    @app.get("/api/projects")
    def list_projects() -> list[ShelfEntry]:
        entries = []
        for row in shelf.list():
            project, revision, answer = current(row.id)
            entries.append(
                ShelfEntry(
                    id=row.id,
                    name=row.name,
                    opened=row.opened.isoformat(),
                    document=completed(revision.document),
                    answer=answer_out(project, answer),
                )  # fmt: skip
            )
        return entries

    @app.post("/api/projects", status_code=201)
    def create_project(new: NewProject, response: Response) -> ProjectOut:
        empty = {
            "format": "madidus-project", "version": 1, "name": new.name,
            "options": {"00000000-0000-4000-8000-000000000001": {"name": "A"}},
        }  # fmt: skip
        return _out(shelf.create(parse_project(empty)), response)

    @app.post("/api/projects/import", status_code=201)
    def import_project(document: Annotated[dict[str, Any], Body()], response: Response) -> ProjectOut:
        return _out(shelf.create(parse_project(document)), response)

    @app.get("/api/projects/{project_id}")
    def get_project(project_id: UUID, response: Response) -> ProjectOut:
        shelf.touch(project_id)
        return _out(shelf.get(project_id), response)

    @app.patch("/api/projects/{project_id}")
    def edit_project(
        project_id: UUID, expected: Expected, patch: Annotated[list[dict[str, Any]], Body()], response: Response
    ) -> ProjectOut:
        """Apply a JSON Patch (RFC 6902) to the revision named by If-Match."""
        revision = shelf.get(project_id)
        if revision.number != expected:
            raise Conflict
        try:
            document = jsonpatch.apply_patch(completed(revision.document), patch)
        except (jsonpatch.JsonPatchException, jsonpatch.JsonPointerException, TypeError, KeyError) as error:
            raise ModelError("edit", "patch", f"cannot be applied: {error}", "load the project again") from error
        return _out(shelf.save(project_id, parse_project(document), expected), response)

    @app.delete("/api/projects/{project_id}", status_code=204)
    def remove_project(project_id: UUID) -> None:
        runs.cancel(project_id)
        shelf.remove(project_id)

    @app.post("/api/projects/{project_id}/undo")
    def undo(project_id: UUID, expected: Expected, response: Response) -> ProjectOut:
        return _out(shelf.undo(project_id, expected), response)

    @app.post("/api/projects/{project_id}/redo")
    def redo(project_id: UUID, expected: Expected, response: Response) -> ProjectOut:
        return _out(shelf.redo(project_id, expected), response)

    @app.post("/api/projects/{project_id}/duplicate", status_code=201)
    def duplicate(project_id: UUID, response: Response) -> ProjectOut:
        document = {**shelf.get(project_id).document}
        document["name"] = f"{document['name'][:70]}, copy"
        copy = shelf.create(parse_project(document))
        shelf.copy_files(project_id, copy.project_id)
        return _out(copy, response)

    @app.get("/api/projects/{project_id}/answer")
    def get_answer(project_id: UUID) -> AnswerOut:
        project, _, answer = current(project_id)
        return answer_out(project, answer)

    @app.post("/api/projects/{project_id}/run", status_code=202)
    def run(project_id: UUID) -> AnswerOut:
        project, revision, _ = current(project_id)
        return answer_out(project, runs.run(revision))

    @app.post("/api/projects/{project_id}/refine", status_code=202)
    def refine(project_id: UUID) -> AnswerOut:
        """Compute the storms that may decide a close verdict on finer cells."""
        project, revision, _ = current(project_id)
        return answer_out(project, runs.refine(revision))

    @app.delete("/api/projects/{project_id}/run", status_code=204)
    def cancel(project_id: UUID) -> None:
        runs.cancel(project_id)

    @app.get("/api/projects/{project_id}/run/log")
    def run_log(project_id: UUID) -> list[LogLine]:
        """What the last run of the present inputs did, in order; empty where all was kept from earlier ones."""
        _, _, answer = current(project_id)
        return list(answer.log)

    @app.get("/api/projects/{project_id}/events", response_class=StreamingResponse)
    def events(project_id: UUID) -> StreamingResponse:
        """Server-sent events: the answer to the present revision each time it changes, until it is settled."""
        project, _, answer = current(project_id)

        def wait(version: int) -> int:
            return runs.wait(answer, version, timeout=15.0)

        stream = answer_events(lambda: answer_out(project, answer), wait)
        return StreamingResponse(stream, media_type="text/event-stream", headers={"Cache-Control": "no-store"})

    @app.get("/api/projects/{project_id}/checks")
    def checks(project_id: UUID) -> list[FindingOut]:
        project, _, answer = current(project_id)
        deepest = answer.plan.deepest(dict(answer.figures)) if answer.plan else {}
        return [FindingOut(**vars(finding), accepted=reason) for finding, reason in judged(project, deepest)]

    @app.get("/api/checks")
    def explanations() -> dict[str, Explanation]:
        """What each check looks at, why it matters and what to do, by its key."""
        return EXPLAINED

    @app.get("/api/projects/{project_id}/storms/{storm}/report")
    def report_of_storm(project_id: UUID, storm: str) -> StormReport:
        """Balance by term, oscillation, steps and events of a storm."""
        project, _, answer = current(project_id)
        plan = plan_of(answer)
        if storm not in answer.figures:
            raise ModelError("storm", storm, "is not in", "run it, or pick another from the storm matrix")
        return storm_report(plan, answer.figures[storm], project.rain.runoff)

    @app.get("/api/projects/{project_id}/controls/{control}/duty")
    def duty(project_id: UUID, control: UUID) -> Duty:
        """Rating curve of a control, free of tail water."""
        project, _, _ = current(project_id)
        return duty_curve(project.option.network, str(control))

    @app.post("/api/projects/{project_id}/steady")
    def steady_flow(project_id: UUID, given: SteadyIn) -> Profile:
        """The profile that steady inflows settle to."""
        project, _, _ = current(project_id)
        inflows = {str(id_): flow for id_, flow in given.inflows.items()}
        return steady(project.option.network, inflows, given.tail_water)

    @app.post("/api/projects/{project_id}/capacity")
    def capacity_of(project_id: UUID, given: CapacityIn) -> dict[str, Capacity]:
        """The largest multiple of inflows that keeps a criterion, with each kind of tail water side by side."""
        project, _, _ = current(project_id)
        inflows = {str(id_): flow for id_, flow in given.inflows.items()}
        tails: dict[str, TailWater | None] = {"own": None, "free": Free(), "normal": NormalDepth()}
        network, known = project.option.network, dict[str, Capacity]()
        waters = {node.tail_water.model_dump_json() for node in network.nodes.values() if isinstance(node, Outfall)}
        found = {}
        for name, tail in tails.items():
            # an outfall that is drawn free is not computed twice
            key = tail.model_dump_json() if tail else (waters.pop() if len(waters) == 1 else "own")
            known[key] = known.get(key) or capacity(network, inflows, given.keep, tail)
            found[name] = known[key]
        return found

    files.install(app, shelf, current, plan_of)
    drawing.install(app, shelf, current)
    layers.install(app, shelf, current)
    rain.install(app, current, plan_of)
    permits.install(app, current)
    runoff.install(app, current)
    statistics.install(app, current, plan_of)
    cause.install(app, current, plan_of)
    series.install(app, current, plan_of, runs)
    moments.install(app, current, plan_of, runs)
    standin.install(app)

    guard.install(app)

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
