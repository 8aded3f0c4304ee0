"""`madidus report`: the ensemble run, its report and files written; `madidus verify`: a report against a project."""

import os
from concurrent.futures import ThreadPoolExecutor
from datetime import date
from pathlib import Path
from typing import Annotated

import numpy as np
import typer
from rich.console import Console
from rich.progress import Progress

from .. import places
from ..core.elements.figures import Figures
from ..core.ensemble import Plan, make_plan, run_plan, submit_to
from ..core.errors import ModelError
from ..core.model.project import Project, fingerprint
from ..core.model.report import ReportLayout
from ..core.results.series import Quantity, StormSeries
from ..report.document import report_pdf
from ..report.files import FILES, everything, plain_name
from ..report.issued import IssueFile, issue_number, issued_of, read_issue
from ..report.reported import Before, Reported
from ..report.signature import Signer, certificate_print
from ..report.verify import verified
from .files import COULD_NOT, UNDECIDED, InView, ProjectFile, read, reporting_errors

__all__ = ["report", "verify"]


def report(
    project_file: ProjectFile,
    out: Annotated[Path, typer.Option(help="folder for what is written")],
    layout: Annotated[str, typer.Option(help="name of a layout of the project; else its first")] = "",
    file: Annotated[
        list[str] | None, typer.Option(help=f"what is written, as often as needed: {', '.join(FILES)}")
    ] = None,
    together: Annotated[bool, typer.Option("--together", help="all in one archive with a manifest")] = False,
    threads: Annotated[int, typer.Option(help="0: one for each core", min=0)] = 0,
    option: InView = "",
    day: Annotated[str, typer.Option(help="YYYY-MM-DD that is printed; else today")] = "",
    number: Annotated[
        str, typer.Option(help="issue the report under it: printed on every page, and what was issued kept beside it")
    ] = "",
    since: Annotated[
        Path | None, typer.Option(help="an *.issue.json: changes since that issue are reporting_errors in the report")
    ] = None,
) -> None:
    """Run every storm and write the report, or other files, without a browser."""
    names = file or ["report.pdf"]
    with reporting_errors():
        unknown = [name for name in names if name not in FILES]
        if unknown:
            raise ModelError(
                f"file {unknown[0]}", "--file", "is none that is written", f"name one of: {', '.join(FILES)}"
            )
        number = number and issue_number(number)
        if number and (together or "report.pdf" not in names):
            raise ModelError("report", "--number", "an issue is a report of its own", "leave --together and --file out")
        before = _issue(since).before() if since else None
        project = read(project_file, option)
        own = _layout(project, layout)
        kept = out / f"{plain_name(project.name, '', number)}.issue.json"
        if number and kept.exists():
            raise ModelError(f"issue {number}", "--number", "is already given", "an issued report stays; give the next")
        of = _ran(project, own, _day(day), project_file.parent, threads or os.cpu_count() or 1, before)
        out.mkdir(parents=True, exist_ok=True)
        base = plain_name(project.name, of.missing, number)
        with Progress(console=Console(stderr=True), transient=True) as progress:
            task = progress.add_task("writing", total=1.0)

            def step(doing: str, share: float) -> None:
                progress.update(task, description=doing, completed=share)

            if together:
                (out / f"{base}.zip").write_bytes(everything(project, of.fingerprint, of, names, step))
            for name in () if together else names:
                made = report_pdf(of, step, number).content if name == "report.pdf" else FILES[name].made(project, of)
                if number and name == "report.pdf":
                    made = Signer(places.data() / "signing").signed(made)
                (out / f"{base}.{name}").write_bytes(made)
                if number and name == "report.pdf":
                    kept.write_text(issued_of(of, number, made).model_dump_json(indent=1), encoding="utf-8")
    if of.missing:
        Console(stderr=True).print(of.banner, style="red", markup=False)
        raise typer.Exit(COULD_NOT)


def verify(
    report_file: Annotated[Path, typer.Argument(metavar="REPORT", help="a report as it was written, PDF")],
    project_file: ProjectFile,
    record: Annotated[
        list[Path] | None, typer.Option(help="an *.issue.json, as often as needed; else those beside the report")
    ] = None,
    certificate: Annotated[
        list[Path] | None,
        typer.Option(help="of an installation whose signatures count; else the one of this installation"),
    ] = None,
) -> None:
    """Hold a report against the records of issues, its signature and a project.

    Exit status 0: it is an issue of the project as it is; 1: it is not, or the project has changed since; 2: the files
    cannot be read; 3: it bears the project's fingerprint, and nothing is there that its content could be held to.
    """
    with reporting_errors():
        content = _content(report_file)
        beside = sorted(report_file.parent.glob("*.issue.json"))
        kept = [_issue(file).sealed() for file in (beside if record is None else record)]
        project = read(project_file)
        known = {certificate_print(_content(file)) for file in certificate or ()}
        if certificate is None:
            known |= Signer(places.data() / "signing").known
        found = verified(content, project, fingerprint(project.model_dump(mode="json")), kept, known)
    console = Console()
    console.print(found.said, markup=False)
    console.print(found.signed, markup=False)
    console.print(f"inputs of the report: {found.inputs}, {found.pages} pages", markup=False)
    console.print(f"SHA-256 of the file: {found.sha256}", markup=False)
    for remark in found.remarks:
        console.print(remark, markup=False)
    raise typer.Exit({"issued": 0, "not proven": UNDECIDED}.get(found.state, 1))


def _layout(project: Project, name: str) -> ReportLayout:
    found = next((one for one in project.layouts if name in ("", one.name)), None)
    if found is None:
        names = ", ".join(one.name for one in project.layouts) or "it has none"
        raise ModelError(f"layout {name}", "--layout", "is not in the project", f"name one of: {names}")
    return found


def _day(text: str) -> date:
    try:
        return date.fromisoformat(text) if text else date.today()
    except ValueError as error:
        raise ModelError("report", "--day", f"{text} is no day", "write it as 2026-11-28") from error


def _issue(file: Path) -> IssueFile:
    return read_issue(_content(file), file.name)


def _content(file: Path) -> bytes:
    try:
        return file.read_bytes()
    except OSError as error:
        raise ModelError("file", file.name, f"cannot be read ({error.strerror})", "check the path") from error


def _ran(
    project: Project, layout: ReportLayout, day: date, folder: Path, threads: int, before: Before | None
) -> Reported:
    """The project with all its storms run. folder : where files lie that the document names by their digest."""
    plan = make_plan(project)
    figures: dict[str, Figures] = {}
    failed: list[str] = []
    with ThreadPoolExecutor(threads) as executor, Progress(console=Console(stderr=True), transient=True) as progress:
        task = progress.add_task("storms", total=len(plan.storms))
        for result in run_plan(plan, plan.inflow, submit_to(executor)):
            if isinstance(result, Figures):
                figures[result.key] = result
            else:
                failed.append(result.key)
            progress.advance(task)

    def beside(digest: str) -> bytes:
        try:
            return (folder / digest).read_bytes()
        except OSError as error:
            raise ModelError(
                "project", "files", f"{digest[:12]} … is not beside the project file",
                "put it there under its SHA-256, or take it out of the project",
            ) from error  # fmt: skip

    return Reported(
        project, fingerprint(project.model_dump(mode="json")), plan, figures, plan.verdicts(figures, failed),
        tuple(failed), day, _Series(plan).trace, beside, before, layout,
    )  # fmt: skip


class _Series:
    """Series of storms, computed where they are asked for, the last one kept."""

    def __init__(self, plan: Plan):
        self._plan = plan
        self._last: tuple[str, StormSeries] | None = None

    def trace(self, storm: str, element: str, quantity: Quantity) -> tuple[np.ndarray, np.ndarray]:
        """Times in s and values in SI of a quantity of an element."""
        if self._last is None or self._last[0] != storm:
            self._last = (storm, self._plan.series(storm))
        one = self._last[1]
        needed = self._plan.layout.needed(element, quantity)
        return one.time, self._plan.trace(storm, element, quantity, one.time, one.values[needed])
