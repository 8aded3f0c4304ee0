"""Files that come in and go out: networks in open formats, the project, report and workbook."""

import json
from collections.abc import Callable
from datetime import UTC, datetime
from enum import StrEnum
from typing import Annotated
from uuid import UUID

from fastapi import FastAPI, Query, Request, Response
from fastapi.concurrency import run_in_threadpool

from ..core.ensemble import Plan
from ..core.errors import ModelError
from ..core.model.project import Project
from ..exchange.geojson import read_geojson, write_geojson
from ..exchange.incoming import Proposal, propose
from ..exchange.landxml import read_landxml, write_landxml
from ..report.pdf import report_pdf
from ..report.workbook import workbook
from ..runs.manager import Answer
from ..store.projects import Revision, Shelf

__all__ = ["install"]

_LARGEST = 128 * 2**20  # bytes
_WORKBOOK = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


class FileFormat(StrEnum):
    """Open formats that a network is taken in from."""

    geojson = "geojson"
    landxml = "landxml"


_READERS = {FileFormat.geojson: read_geojson, FileFormat.landxml: read_landxml}


async def _limited(request: Request) -> bytes:
    """The body of a request, refused as soon as it is too large."""
    content = bytearray()
    async for chunk in request.stream():
        content += chunk
        if len(content) > _LARGEST:
            raise ModelError(
                "file", "size", f"is larger than {_LARGEST // 2**20} MB", "take in a smaller part of the network"
            )
    return bytes(content)


def _download(content: str | bytes, media_type: str, name: str, extension: str) -> Response:
    plain = "".join(c if c.isascii() and (c.isalnum() or c in "-_") else "_" for c in name.lower())[:60]
    headers = {"Content-Disposition": f'attachment; filename="{plain}.{extension}"'}
    return Response(content, media_type=media_type, headers=headers)


def install(
    app: FastAPI,
    shelf: Shelf,
    current: Callable[[UUID], tuple[Project, Revision, Answer]],
    plan_of: Callable[[Answer], Plan],
) -> None:
    """Add the routes. current : project, revision and answer by id; plan_of : the plan of an answer, or its problem."""

    @app.post("/api/projects/{project_id}/incoming")
    async def take_in(
        project_id: UUID, request: Request, form: Annotated[FileFormat, Query(alias="format")]
    ) -> Proposal:
        """What taking in a file (the body) would do, element by element; nothing changes."""
        content = await _limited(request)

        def look() -> Proposal:
            project, _, _ = current(project_id)
            return propose(project, _READERS[form](content))

        return await run_in_threadpool(look)

    @app.get("/api/projects/{project_id}/network.geojson", response_class=Response)
    def as_geojson(project_id: UUID) -> Response:
        """The shown option's network as GeoJSON in the project's grid."""
        project, _, _ = current(project_id)
        text = write_geojson(project.option.network, project.name)
        return _download(text, "application/geo+json", project.name, "geojson")

    @app.get("/api/projects/{project_id}/network.xml", response_class=Response)
    def as_landxml(project_id: UUID) -> Response:
        """The shown option's network as LandXML 1.2."""
        project, _, _ = current(project_id)
        content = write_landxml(project.option.network, project.name, datetime.now(UTC))
        return _download(content, "application/xml", project.name, "xml")

    @app.get("/api/projects/{project_id}/file", response_class=Response)
    def project_file(project_id: UUID) -> Response:
        revision = shelf.get(project_id)
        text = json.dumps(revision.document, indent=1, ensure_ascii=False)
        return _download(text, "application/json", revision.document["name"], "madidus.json")

    @app.get("/api/projects/{project_id}/report.pdf", response_class=Response)
    def report(project_id: UUID) -> Response:
        project, revision, answer = current(project_id)
        content = report_pdf(project, revision.fingerprint, plan_of(answer), dict(answer.figures))
        return _download(content, "application/pdf", project.name, "pdf")

    @app.get("/api/projects/{project_id}/workbook.xlsx", response_class=Response)
    def sheets(project_id: UUID) -> Response:
        project, revision, answer = current(project_id)
        content = workbook(project, revision.fingerprint, plan_of(answer), dict(answer.figures))
        return _download(content, _WORKBOOK, project.name, "xlsx")
