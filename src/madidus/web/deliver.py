"""Files that go out: report, workbook, maps, drawings, tables, network and project; each alone, or all in one."""

import re
from typing import Annotated, Any

from fastapi import Query, Response
from pydantic import BaseModel

from ..report.files import FILES, everything, of_results, plain_name
from ..store.project_store import Missing
from .context import Seen, option_router
from .handing_over import Issued, Wanted, Whole, reported

__all__ = ["download", "router"]

_REFUSED: dict[int | str, dict[str, Any]] = {409: {"description": "storms are not in; ask for it incomplete"}}
Named = Annotated[str | None, Query(alias="layout", max_length=120, description="of the report; the first if none")]

router = option_router()


class FileOut(BaseModel):
    """A file that can be taken. results : it tells of results; grid : it needs a named coordinate system."""

    name: str
    title: str
    holds: str
    results: bool
    grid: bool


@router.get("/files")
def listed(seen: Seen) -> list[FileOut]:
    """Every file that can be taken of this option."""
    return [
        FileOut(name=name, title=one.title, holds=one.holds, results=one.write is not None, grid=one.grid)
        for name, one in FILES.items()
    ]  # fmt: skip


def download(content: bytes, media: str, name: str) -> Response:
    """A file with its name, which holds nothing that a header or a folder would misread."""
    safe = re.sub(r"[^A-Za-z0-9._-]", "_", name)
    return Response(content, media_type=media, headers={"Content-Disposition": f'attachment; filename="{safe}"'})


@router.get("/files/{name}", response_class=Response, responses=_REFUSED)
def file(
    seen: Seen, issues: Issued, name: str, layout: Named = None, selection: Wanted = None, incomplete: Whole = False
) -> Response:
    """One file. What tells of results is given while storms are not in only to somebody who asks for it so."""
    one = FILES.get(name)
    if one is None:
        raise Missing(f"there is no file {name[:40]}")
    if one.inputs is not None:
        return download(one.made(seen.project, None), one.media, f"{plain_name(seen.project.name, '')}.{name}")
    of = reported(seen, incomplete, layout, selection, issues.last(seen.revision.project_id))
    return download(one.made(of.project, of), one.media, f"{plain_name(of.project.name, of.missing)}.{name}")


@router.get("/everything.zip", response_class=Response, responses=_REFUSED)
def together(
    seen: Seen, issues: Issued, name: Annotated[list[str], Query(max_length=40)], layout: Named = None,
    selection: Wanted = None, incomplete: Whole = False,
) -> Response:  # fmt: skip
    """Chosen files in one archive, with a manifest of their SHA-256."""
    unknown = [one for one in name if one not in FILES]
    if unknown:
        raise Missing(f"there is no file {unknown[0][:40]}")
    of = None
    if of_results(name):
        of = reported(seen, incomplete, layout, selection, issues.last(seen.revision.project_id))
    content = everything(seen.project, seen.revision.fingerprint, of, name)
    return download(content, "application/zip", f"{plain_name(seen.project.name, of.missing if of else '')}.zip")
