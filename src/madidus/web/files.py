"""Files that come in: networks in open formats."""

from contextlib import suppress
from typing import Annotated, Any
from uuid import UUID

import jsonpatch
from fastapi import Body, Query, Request
from fastapi.concurrency import run_in_threadpool
from pydantic import ValidationError

from ..core.edit import remove
from ..core.errors import ModelError
from ..core.model.mappings import Mappings
from ..exchange.formats import FileFormat, Look, look, read_network
from ..exchange.imports import Proposal, propose
from ..store.project_store import Missing
from .context import Projects, Seen, option_router, project_router
from .layers import ground_level

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


def _mapping(text: str) -> Mappings | None:
    if not text:
        return None
    try:
        return Mappings.model_validate_json(text)
    except ValidationError as error:
        first = error.errors()[0]
        where = "/".join(str(step) for step in first["loc"])
        raise ModelError("mapping", where or "mapping", first["msg"], "match the columns again") from error


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
async def look_at(
    seen: Seen,
    request: Request,
    form: Annotated[FileFormat, Query(alias="format")],
    kind: Annotated[
        list[str] | None, Query(max_length=20, description="of the table that rows are pasted into")
    ] = None,
) -> Look:
    """What has to be matched before a file (the body) is read: columns, layers, blocks, types of structure."""
    content = await limited(request)
    project = seen.project
    return await run_in_threadpool(look, form, content, project, kind)


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
