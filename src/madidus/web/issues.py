"""Reports that are issued: frozen under a number, brought out again, held against the project as it is now."""

from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Path, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel, Field

from ..core.model.project import parse_project
from ..report.document import report_pdf
from ..report.files import plain_name
from ..report.issued import IssueNumber, issued_of
from ..report.parts.changes import changed_elements, verdicts_in_words
from ..report.verify import Sealed, Verified, verified
from .context import Current, Seen, option_router, project_router
from .deliver import download
from .files import limited
from .handing_over import Issued, Signing, before_of, issue_file, reported

__all__ = ["plain", "router", "whole_project"]

router, whole_project, plain = option_router(), project_router(), APIRouter(prefix="/api")

IssueId = Annotated[int, Path(ge=1, lt=2**63)]


class IssueIn(BaseModel):
    """number : under which it is issued; layout : by name, null is the first."""

    number: IssueNumber
    layout: Annotated[str, Field(max_length=120)] | None = None
    incomplete: bool = False


class IssueOut(BaseModel):
    """id : its address; stands : the inputs are those of the project as it is now."""

    id: int
    number: str
    option: str
    option_name: str
    revision: int
    fingerprint: str
    layout: str
    missing: str
    sha256: str
    bytes: int
    made: datetime
    stands: bool


class ChangedVerdict(BaseModel):
    rule: str
    was: str
    now: str


class SinceIssue(BaseModel):
    """elements : element, field, what it was and what it is. verdicts : those that differ."""

    elements: list[list[str]]
    verdicts: list[ChangedVerdict]


@whole_project.get("/issues")
def listed(revision: Current, issues: Issued) -> list[IssueOut]:
    """Every issued report, the newest first."""
    return [
        IssueOut(
            id=row.id or 0, number=row.number, option=row.option,
            option_name=row.document["options"][row.option]["name"],
            revision=row.revision, fingerprint=row.fingerprint, layout=row.layout["name"], missing=row.missing,
            sha256=row.sha256, bytes=len(row.content), made=row.made, stands=row.fingerprint == revision.fingerprint,
        )
        for row in issues.list(revision.project_id)
    ]  # fmt: skip


@router.post("/issues", status_code=201)
def issue(seen: Seen, issues: Issued, signer: Signing, given: IssueIn) -> str:
    """Issue a report: signed, and revision, option, results and layout stay with it; its SHA-256."""
    of = reported(seen, given.incomplete, given.layout, before=issues.last(seen.revision.project_id))
    content = signer.signed(report_pdf(of, number=given.number).content)
    issue = issued_of(of, given.number, content)
    issues.add(
        seen.revision, seen.option, given.number, issue.layout.model_dump(mode="json"), issue.storms, issue.verdicts,
        issue.missing, content,
    )  # fmt: skip
    return issue.sha256


@whole_project.get("/issues/{issue}/report.pdf", response_class=Response)
def again(revision: Current, issues: Issued, issue: IssueId) -> Response:
    """The report as it was issued."""
    row = issues.get(revision.project_id, issue)
    name = plain_name(row.document["name"], row.missing, row.number)
    return download(row.content, "application/pdf", f"{name}.report.pdf")


@whole_project.get("/issues/{issue}/issue.json", response_class=Response)
def kept(revision: Current, issues: Issued, issue: IssueId) -> Response:
    """What stays of an issued report: inputs, option, layout, digests, verdicts. Changes can be told against it."""
    row = issues.get(revision.project_id, issue)
    name = plain_name(row.document["name"], row.missing, row.number)
    content = issue_file(row).model_dump_json(indent=1).encode()
    return download(content, "application/json", f"{name}.issue.json")


@router.get("/issues/{issue}/changes")
def changes(seen: Seen, issues: Issued, issue: IssueId) -> SinceIssue:
    """What has changed since a report was issued, element by element, verdict by verdict."""
    row = issues.get(seen.revision.project_id, issue)
    before = before_of(row)
    assert before is not None
    of = reported(seen, True)
    now = verdicts_in_words(of)
    rules = dict.fromkeys([*row.verdicts, *now])
    return SinceIssue(
        elements=list(changed_elements(before, of)),
        verdicts=[
            ChangedVerdict(rule=rule, was=row.verdicts.get(rule, "was not there"), now=now.get(rule, "is gone"))
            for rule in rules if row.verdicts.get(rule) != now.get(rule)
        ],
    )  # fmt: skip


@plain.get("/certificate.pem", response_class=Response)
def certificate(signer: Signing) -> Response:
    """The certificate of this installation: whoever has it can tell its signatures."""
    return download(signer.certificate, "application/x-pem-file", "certificate.pem")


@whole_project.post("/verify")
async def verify(revision: Current, issues: Issued, signer: Signing, request: Request) -> Verified:
    """Whether a report (the body, a PDF) is one that was issued, and belongs to the project as it is now."""
    content = await limited(request)

    def held() -> Verified:
        kept = [Sealed(*one) for one in issues.sealed(revision.project_id)]
        return verified(content, parse_project(revision.document), revision.fingerprint, kept, signer.known)

    return await run_in_threadpool(held)
