"""Files that come in and go out: networks in open formats, the project, report and workbook."""

import csv
import io
import json
import re
from contextlib import suppress
from typing import Annotated, Any
from uuid import UUID

import jsonpatch
import pyarrow as pa
import pyarrow.compute
import pyarrow.csv
from fastapi import Body, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import ValidationError

from ..core.edit import remove
from ..core.ensemble import Plan
from ..core.errors import ModelError
from ..core.figures import Figures
from ..core.model.mappings import Mappings
from ..core.model.project import Project
from ..core.model.saved import Selection
from ..exchange.formats import WRITERS, FileFormat, Look, look, read_network
from ..exchange.imports import Proposal, propose
from ..report.pdf import report_pdf
from ..report.peaks import peaks_table
from ..report.results import statistics_sheets
from ..report.units import in_units
from ..report.workbook import workbook
from ..store.project_store import Missing
from .asked import Current, Projects, Seen, Shown, option_router, project_router
from .layers import ground_level
from .problems import Incomplete

__all__ = ["limited", "router", "whole_project"]

_LARGEST = 128 * 2**20  # bytes
_WORKBOOK = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


async def limited(request: Request) -> bytes:
    """The body of a request, refused as soon as it is too large."""
    content = bytearray()
    async for chunk in request.stream():
        content += chunk
        if len(content) > _LARGEST:
            raise ModelError(
                "file", "size", f"is larger than {_LARGEST // 2**20} MB", "import a smaller part of the network"
            )
    return bytes(content)


def _download(content: str | bytes, media_type: str, name: str, extension: str) -> Response:
    plain = "".join(c if c.isascii() and (c.isalnum() or c in "-_") else "_" for c in name.lower())[:60]
    headers = {"Content-Disposition": f'attachment; filename="{plain}.{extension}"'}
    return Response(content, media_type=media_type, headers=headers)


def _mapping(text: str) -> Mappings | None:
    if not text:
        return None
    try:
        return Mappings.model_validate_json(text)
    except ValidationError as error:
        first = error.errors()[0]
        where = "/".join(str(step) for step in first["loc"])
        raise ModelError("mapping", where or "mapping", first["msg"], "match the columns again") from error


Wanted = Annotated[str | None, Query(max_length=80, description="name of a kept selection of elements")]


Incompletely = Annotated[bool, Query(description="export although storms are not in; every page and sheet says so")]
_REFUSED: dict[int | str, dict[str, Any]] = {409: {"description": "storms are not in; ask for it incomplete"}}


def _selection(project: Project, name: str | None) -> Selection | None:
    if name is None:
        return None
    found = next((s for s in project.selections if s.name == name), None)
    if found is None:
        raise Missing("no such selection is kept with this project")
    return found


router, whole_project = option_router(), project_router()


@router.post("/removal")
def removal(
    seen: Seen, elements: Annotated[list[UUID], Body(min_length=1, max_length=100_000)]
) -> list[dict[str, Any]]:
    """The JSON Patch of the network that removes elements and the links of removed nodes, for one step with others."""
    after = remove(seen.network, {str(id_) for id_ in elements})
    patch = jsonpatch.make_patch(seen.network.model_dump(mode="json"), after.model_dump(mode="json"))
    return list(patch)


@router.post("/import/look")
async def look_at(seen: Seen, request: Request, form: Annotated[FileFormat, Query(alias="format")]) -> Look:
    """What has to be matched before a file (the body) is read: columns, layers, blocks, types of structure."""
    content = await limited(request)
    project = seen.project
    return await run_in_threadpool(look, form, content, project)


@router.post("/import")
async def import_network(
    seen: Seen,
    request: Request,
    form: Annotated[FileFormat, Query(alias="format")],
    mapping: Annotated[str, Query(max_length=60_000, description="Mappings as JSON; empty: as kept")] = "",
    name: Annotated[str, Query(max_length=200, description="of the file: what was imported under it is known")] = "",
) -> Proposal:
    """What importing a file (the body) would do, element by element; nothing changes."""
    content = await limited(request)

    def propose_it() -> Proposal:
        project = seen.project
        ground = ground_level(seen)
        by = _mapping(mapping)
        before = None
        if name in project.mappings.files:
            with suppress(Missing, ModelError):  # then nobody knows what was imported
                kept = seen.projects.file(seen.revision.project_id, project.mappings.files[name])
                before = read_network(form, kept, project, by, ground)
        return propose(project, read_network(form, content, project, by, ground), before=before)

    return await run_in_threadpool(propose_it)


@whole_project.post("/import/keep")
async def keep(project_id: UUID, request: Request, projects: Projects) -> str:
    """Keep a file that is imported beside the project; its SHA-256."""
    content = await limited(request)
    return await run_in_threadpool(projects.keep_file, project_id, content)


@router.get("/network.{ending}", response_class=Response)
def as_file(seen: Seen, ending: str) -> Response:
    """The shown option's network in an open format: xml (LandXML 1.2), geojson, xlsx, dxf or kml."""
    project = seen.project
    if f".{ending}" not in WRITERS:
        raise Missing(f"no format ends in .{ending[:20]}")
    media, write = WRITERS[f".{ending}"]
    return _download(write(seen.network, project), media, project.name, ending)


@whole_project.get("/file", response_class=Response)
def project_file(revision: Current) -> Response:
    """The project file: the document, as it is kept."""
    text = json.dumps(revision.document, indent=1, ensure_ascii=False)
    return _download(text, "application/json", revision.document["name"], "madidus.json")


def _whole(seen: Shown, asked: bool) -> tuple[Plan, dict[str, Figures]]:
    """Plan and figures of an answer. What is not whole is exported only to somebody who asked for it so."""
    plan, figures = seen.plan, dict(seen.answer.figures)
    missing = plan.missing(figures, seen.answer.failures)
    if missing and not asked:
        raise Incomplete(missing)
    return plan, figures


def _name_of(project: Project, plan: Plan, figures: dict[str, Figures]) -> str:
    return project.name + ("-incomplete" if plan.missing(figures) else "")


@router.get("/report.pdf", response_class=Response, responses=_REFUSED)
def report(seen: Seen, selection: Wanted = None, incomplete: Incompletely = False) -> Response:
    project, revision, answer = seen.project, seen.revision, seen.answer
    only = _selection(project, selection)
    plan, figures = _whole(seen, incomplete)
    content = report_pdf(
        project, revision.fingerprint, plan, figures, answer.verdicts(figures), list(answer.failures), only
    )
    return _download(content, "application/pdf", _name_of(project, plan, figures), "pdf")


@router.get("/peaks.csv", response_class=Response, responses=_REFUSED)
def peaks(seen: Seen, selection: Wanted = None, incomplete: Incompletely = False) -> Response:
    """One row for each storm and element, SI units in the headings' order: level, flow, speed and their times."""
    project, answer = seen.project, seen.answer
    only = _selection(project, selection)
    plan, figures = _whole(seen, incomplete)
    table = peaks_table(plan.network, figures, only)
    # a name must not begin a formula in a spreadsheet
    safe = pa.compute.replace_substring_regex(table.column("name"), r"^([=+@-])", r"'\1")
    content = io.BytesIO()
    missing = plan.missing(figures, answer.failures)
    if missing:
        content.write(f"# INCOMPLETE: {missing}\n".encode())
    pa.csv.write_csv(table.set_column(table.column_names.index("name"), "name", safe), content)
    return _download(content.getvalue(), "text/csv", _name_of(project, plan, figures), "peaks.csv")


@router.get("/statistics.csv", response_class=Response, responses=_REFUSED)
def statistics(seen: Seen, selection: Wanted = None, incomplete: Incompletely = False) -> Response:
    """Mean, median, quartiles and extremes of the peaks of every element and duration, in the project's units."""
    project, answer = seen.project, seen.answer
    only = _selection(project, selection)
    plan, figures = _whole(seen, incomplete)
    missing = plan.missing(figures, answer.failures)
    content = io.StringIO()
    if missing:
        content.write(f"# INCOMPLETE: {missing}\n")
    writer = csv.writer(content)
    for sheet in (in_units(one, seen.units) for one in statistics_sheets(plan, figures, only)):
        writer.writerow(sheet.header)
        # a name must not begin a formula in a spreadsheet
        writer.writerows([re.sub(r"^([=+@-])", r"'\1", row[0]), *row[1:]] for row in sheet.rows)
    return _download(content.getvalue().encode(), "text/csv", _name_of(project, plan, figures), "statistics.csv")


@router.get("/workbook.xlsx", response_class=Response, responses=_REFUSED)
def sheets(seen: Seen, selection: Wanted = None, incomplete: Incompletely = False) -> Response:
    project, revision, answer = seen.project, seen.revision, seen.answer
    only = _selection(project, selection)
    plan, figures = _whole(seen, incomplete)
    content = workbook(
        project, revision.fingerprint, plan, figures, answer.verdicts(figures), list(answer.failures), only
    )
    return _download(content, _WORKBOOK, _name_of(project, plan, figures), "xlsx")
