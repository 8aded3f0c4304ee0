"""Reports made beside everything else: begun, looked at page by page, stopped, taken."""

from collections.abc import Callable
from typing import Annotated, Any, Literal
from uuid import UUID

from fastapi import Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel, Field

from ..core.search.trials import Stopped
from ..report.document import Known, Report, drawn_sheet, report_pdf, sheet_pdf
from ..report.files import plain_name
from ..report.pages import page_picture
from ..report.parts.composed import sheet_drawn
from ..report.raster import check_picture
from ..report.reported import Reported
from ..runs.tasks import Task, Tasks
from ..store.project_store import Missing
from .context import Projects, Seen, Shown, option_router, project_router
from .deliver import download
from .files import limited
from .handing_over import Issued, Whole, basis_of, reported

__all__ = ["router", "whole_project"]

_WIDEST = 6000  # pixels of a page

router, whole_project = option_router(), project_router()


class ReportIn(BaseModel):
    """layout : by name; null is the first. incomplete : although storms are not in."""

    layout: Annotated[str, Field(max_length=120)] | None = None
    incomplete: bool = False


class PartOut(BaseModel):
    """part : its place in the layout. first : its first page, from 0; pages : on how many it stands."""

    part: int
    first: int
    pages: int


class ReportOut(BaseModel):
    """doing : what is under way, and which share of the whole is done. sizes : width and height of each page, mm."""

    id: UUID
    state: Literal["running", "done", "failed", "stopped"]
    doing: str
    share: float
    seconds: float
    problem: dict[str, str] | None
    bytes: int
    sizes: list[tuple[float, float]]
    parts: list[PartOut]


def _told(task: Task) -> ReportOut:
    doing, share, made = task.shown or ("", 0.0, None)
    parts: list[PartOut] = []
    if made is not None:
        ends = [*made.begins[1:], len(made.sizes)]
        parts = [
            PartOut(part=part, first=first, pages=max(end - first, 1))
            for part, first, end in zip(made.parts, made.begins, ends, strict=True)
        ]
    problem = task.problem
    return ReportOut(
        id=task.id, state=task.state, doing=doing, share=share,
        seconds=task.lasted, bytes=len(made.content) if made else 0, sizes=made.sizes if made else [], parts=parts,
        problem=None if problem is None else {
            "element": problem.element, "field": problem.field, "problem": problem.problem, "remedy": problem.remedy
        },
    )  # fmt: skip


def _begun(tasks: Tasks, known: Known, seen: Shown, of: Reported) -> Task:
    """The work that makes a report: that which makes the same already, or a new one."""
    basis, layout = basis_of(of), of.layout.model_dump_json()
    owner, key = (seen.revision.project_id, seen.option), f"{basis} {layout}"
    there = tasks.made(owner, "report", key)
    if there is not None:
        return there

    def work(tell: Callable[[Any], None], stop: Callable[[], bool]) -> None:
        def step(doing: str, share: float) -> None:
            if stop():
                raise Stopped
            tell((doing, share, None))

        made = report_pdf(of, step, known=known, basis=basis, checked=False)
        tell(("", 1.0, made))

    return tasks.begin(owner, key, "report", work)


@router.post("/reports", status_code=202)
def begin(request: Request, seen: Seen, issues: Issued, given: ReportIn) -> ReportOut:
    """Begin to make a report of a layout. What is under way for the same option is stopped."""
    of = reported(seen, given.incomplete, given.layout, before=issues.last(seen.revision.project_id))
    return _told(_begun(request.app.state.reports, request.app.state.known_sections, seen, of))


def _task(request: Request, seen: Shown, report: UUID) -> Task:
    tasks: Tasks = request.app.state.reports
    found = tasks.find((seen.revision.project_id, seen.option), report)
    if found is None:
        raise Missing("no such report is held; make it again")
    return found


def _made(task: Task) -> Report:
    if task.state != "done":
        raise Missing("the report is not made yet")
    made: Report = task.shown[2]
    return made


@router.get("/reports/{report}")
def look(request: Request, seen: Seen, report: UUID) -> ReportOut:
    """How far a report is, and its pages when it is made."""
    return _told(_task(request, seen, report))


@router.delete("/reports/{report}")
def stop(request: Request, seen: Seen, report: UUID) -> ReportOut:
    """Stop making a report."""
    task = _task(request, seen, report)
    task.stop.set()
    return _told(task)


@router.get("/reports/{report}/pages/{page}.png", response_class=Response)
def picture(
    request: Request, seen: Seen, report: UUID, page: int, wide: Annotated[int, Query(ge=40, le=_WIDEST)] = 800
) -> Response:
    """A page as it is printed, from 0."""
    made = _made(_task(request, seen, report))
    if not 0 <= page < len(made.sizes):
        raise Missing("there is no such page")
    content = page_picture(made.content, page, wide)
    return Response(content, media_type="image/png", headers={"Cache-Control": "private, max-age=3600"})


@router.get("/composed/{place}.{ending}", response_class=Response)
def composed(
    seen: Seen, place: int, ending: Literal["svg", "pdf"], incomplete: Whole = False,
    mark: Annotated[str | None, Query(alias="seen", max_length=80, description="so that no older one is taken")] = None,
) -> Response:  # fmt: skip
    """A sheet that was composed by hand, by its place from 0."""
    del mark
    of = reported(seen, incomplete)
    if not 0 <= place < len(of.project.sheets):
        raise Missing("there is no such sheet")
    sheet = of.project.sheets[place]
    if ending == "pdf":
        return download(sheet_pdf(of, sheet), "application/pdf", f"{plain_name(sheet.name, of.missing)}.pdf")
    return Response(sheet_drawn(of, sheet).svg, media_type="image/svg+xml")


@whole_project.post("/pictures")
async def keep_picture(project_id: UUID, request: Request, projects: Projects) -> str:
    """Keep a picture (the body, PNG or JPEG): a logo, or a view in 3D as it was drawn; its SHA-256."""
    content = await limited(request)

    def keep() -> str:
        check_picture(content)
        return projects.keep_file(project_id, content)

    return await run_in_threadpool(keep)


@router.get("/sheets/{part}/{sheet}.svg", response_class=Response)
def sheet(
    seen: Seen, part: int, sheet: int, layout: Annotated[str | None, Query(max_length=120)] = None,
    incomplete: Whole = False,
) -> Response:  # fmt: skip
    """A sheet of a plan, a long section or of sheets composed by hand, as SVG in mm. part : in the layout, from 0."""
    of = reported(seen, incomplete, layout)
    drawn = drawn_sheet(of, part, sheet)
    if drawn is None:
        raise Missing("there is no such sheet")
    return Response(drawn, media_type="image/svg+xml")
