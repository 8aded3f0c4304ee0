"""What is handed over of an option: its inputs with its own results, whole or marked as not whole."""

import hashlib
from datetime import date
from typing import Annotated

import numpy as np
from fastapi import Depends, Query, Request

from ..core.errors import ModelError
from ..core.model.project import Project, canonical_json
from ..core.model.report import ReportLayout
from ..core.results.series import Quantity
from ..report.issued import IssueFile
from ..report.reported import Before, Reported, Trace
from ..report.signature import Signer
from ..store.issues import IssueRow, Issues
from ..store.project_store import Missing
from .context import Shown
from .problems import Incomplete

__all__ = ["Issued", "Signing", "Wanted", "Whole", "basis_of", "before_of", "issue_file", "reported"]

Wanted = Annotated[str | None, Query(max_length=120, description="name of a kept selection of elements")]
Whole = Annotated[bool, Query(alias="incomplete", description="although storms are not in; every page says so")]


def _issues(request: Request) -> Issues:
    found: Issues = request.app.state.issues
    return found


Issued = Annotated[Issues, Depends(_issues)]


def _signer(request: Request) -> Signer:
    found: Signer = request.app.state.signer
    return found


Signing = Annotated[Signer, Depends(_signer)]


def _layout_of(project: Project, name: str | None) -> ReportLayout:
    """A layout by its name; where none is named the first, or an empty one where the project has none.

    Raises
    ------
    Missing
        When there is none of this name.
    """
    if name is None and not project.layouts:
        return ReportLayout(name="all")
    found = next((one for one in project.layouts if name in (None, one.name)), None)
    if found is None:
        raise Missing("no such layout is kept with this project")
    return found


def before_of(row: IssueRow | None) -> Before | None:
    """What was issued, to tell changes by."""
    return None if row is None else issue_file(row).before()


def issue_file(row: IssueRow) -> IssueFile:
    """What stays of an issued report, as a file."""
    return IssueFile(
        number=row.number, day=row.made.date(), option=row.option, fingerprint=row.fingerprint,
        layout=ReportLayout.model_validate(row.layout), document=row.document, storms=row.storms,
        verdicts=row.verdicts, missing=row.missing, sha256=row.sha256,
    )  # fmt: skip


def reported(
    seen: Shown, incomplete: bool, layout: str | None = None, selection: str | None = None,
    before: IssueRow | None = None,
) -> Reported:  # fmt: skip
    """An option with its results. layout : by name, None is the first; selection : instead of the layout's.

    Raises
    ------
    Incomplete
        When storms are not in, and nobody said that this will do.
    Missing
        When there is no such layout or selection.
    """
    project, plan, answer = seen.project, seen.plan, seen.answer
    figures = dict(answer.figures)
    missing = plan.missing(figures, answer.failures)
    if missing and not incomplete:
        raise Incomplete(missing)
    own = _layout_of(project, layout)
    if selection is not None:
        if all(kept.name != selection for kept in project.selections):
            raise Missing("no such selection is kept with this project")
        own = own.model_copy(update={"selection": selection})
    elif own.selection and all(kept.name != own.selection for kept in project.selections):
        raise ModelError(
            f"layout {own.name}", "selection", f"“{own.selection}” is no longer kept", "choose another, or all elements"
        )
    return Reported(
        project, seen.revision.fingerprint, plan, figures, answer.verdicts(figures), tuple(answer.failures),
        date.today(), _trace(seen), lambda digest: seen.projects.file(seen.revision.project_id, digest),
        before_of(before), own,
    )  # fmt: skip


def _trace(seen: Shown) -> Trace:
    plan = seen.plan

    def trace(storm: str, element: str, quantity: Quantity) -> tuple[np.ndarray, np.ndarray]:
        needed = plan.layout.needed(element, quantity)
        one = seen.runs.series(seen.answer, [storm], needed)[0]
        return one.time, plan.trace(storm, element, quantity, one.time, one.values)

    return trace


def basis_of(of: Reported) -> str:
    """Digest of all that a report is made of but its layout: parts are made again only where that has changed."""
    parts = [
        of.project.model_dump(mode="json", exclude={"layouts"}), sorted(of.failed),
        {key: of.plan.digests[key] for key in of.figures}, of.day.isoformat(), of.before.number if of.before else "",
        [[v.state, v.close, v.refined, v.band] for v in of.verdicts],
    ]  # fmt: skip
    return hashlib.sha256(canonical_json(parts)).hexdigest()
