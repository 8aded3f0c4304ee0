"""What stays of a report that was issued, as a file: changes are told against it, on the screen or without one."""

import hashlib
from datetime import date
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field, TypeAdapter, ValidationError

from ..core.elements.document import DocumentModel
from ..core.errors import ModelError
from ..core.model.project import fingerprint, parse_project
from ..core.model.report import ReportLayout
from .parts.changes import verdicts_in_words
from .reported import Before, Reported
from .verify import Sealed

__all__ = ["IssueFile", "IssueNumber", "issue_number", "issued_of", "read_issue"]

_LONGEST = 40


def _printable(text: str) -> str:
    if not text.isprintable() or text != text.strip():
        raise ValueError("is not a line of printable text")
    return text


# it stands on every page; no address and no path is made of it
IssueNumber = Annotated[str, Field(min_length=1, max_length=_LONGEST), AfterValidator(_printable)]


class IssueFile(DocumentModel):
    """An issue: number and day, inputs, option, layout, digests of results, verdicts in words, SHA-256 of the PDF."""

    format: Literal["madidus-issue"] = "madidus-issue"
    version: Literal[1] = 1
    number: IssueNumber
    day: date
    option: str = Field(description="id of the option that was reported")
    fingerprint: str = Field(description="of the inputs")
    layout: ReportLayout
    document: dict[str, Any] = Field(description="the project as it was")
    storms: dict[str, str] = Field(description="digest of each result by the key of its storm")
    verdicts: dict[str, str] = Field(description="in words, by rule")
    missing: str = Field("", description="storms that were not in")
    sha256: str = Field(description="of the PDF")

    def sealed(self) -> Sealed:
        """What a report is known again by."""
        return Sealed(self.number, self.fingerprint, self.sha256)

    def before(self) -> Before:
        """What was issued, to tell changes by.

        Raises
        ------
        ModelError
            When the project in it is not valid.
        """
        return Before(
            self.number, self.day.isoformat(), parse_project(self.document).seen(self.option), self.verdicts
        )  # fmt: skip


def issue_number(text: str) -> str:
    """A number under which a report may be issued.

    Raises
    ------
    ModelError
        When it is none: it stands on every page.
    """
    try:
        return TypeAdapter(IssueNumber).validate_python(text)
    except ValidationError as error:
        raise ModelError(
            "issue", "number", f"“{text[:40]}” is none", f"use 1 to {_LONGEST} printable characters"
        ) from error


def issued_of(of: Reported, number: str, content: bytes) -> IssueFile:
    """What stays of a report. content : its PDF."""
    return IssueFile(
        number=number, day=of.day, option=of.project.in_view, fingerprint=of.fingerprint, layout=of.layout,
        document=of.project.model_dump(mode="json"), storms={key: of.plan.digests[key] for key in of.figures},
        verdicts=verdicts_in_words(of), missing=of.missing, sha256=hashlib.sha256(content).hexdigest(),
    )  # fmt: skip


def read_issue(content: bytes, name: str) -> IssueFile:
    """An issue from a file. name : of the file, for what is told.

    Raises
    ------
    ModelError
        When it is not such a file, or its inputs are not those of its fingerprint.
    """
    try:
        issue = IssueFile.model_validate_json(content)
    except ValidationError as error:
        place = ".".join(str(step) for step in error.errors()[0]["loc"]) or "its text"
        raise ModelError(
            f"issue {name}", place, error.errors()[0]["msg"], "choose the *.issue.json of an issued report"
        ) from error
    if issue.option not in issue.document.get("options", {}) or fingerprint(issue.document) != issue.fingerprint:
        raise ModelError(
            f"issue {name}", "document", "is not what was issued: its fingerprint differs",
            "take the file as it was written",
        )  # fmt: skip
    return issue
