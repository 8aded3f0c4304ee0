"""The tables."""

from datetime import UTC, datetime
from typing import Any
from uuid import UUID, uuid4

from sqlalchemy import BigInteger, Column, DateTime, ForeignKey, LargeBinary, UniqueConstraint
from sqlalchemy.dialects.postgresql import JSONB
from sqlmodel import Field, SQLModel

__all__ = ["FileRow", "IssueRow", "ProjectRow", "RevisionRow", "RunRow", "StormRow"]


def _now() -> datetime:
    return datetime.now(UTC)


class ProjectRow(SQLModel, table=True):
    """A project and the revision that is current; undo moves the pointer, nothing is lost."""

    __tablename__ = "project"

    id: UUID = Field(default_factory=uuid4, primary_key=True)
    name: str
    revision: int = 1
    latest: int = 1
    opened: datetime = Field(default_factory=_now, sa_column=Column(DateTime(timezone=True), nullable=False))
    card: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSONB, nullable=False))
    verdict: dict[str, Any] | None = Field(default=None, sa_column=Column(JSONB))


class RevisionRow(SQLModel, table=True):
    """An immutable state of the document. `parent` is the revision it was made from."""

    __tablename__ = "revision"
    __table_args__ = (UniqueConstraint("project_id", "number"),)

    id: int | None = Field(default=None, sa_column=Column(BigInteger, primary_key=True))
    project_id: UUID = Field(sa_column=Column(ForeignKey("project.id", ondelete="CASCADE"), index=True, nullable=False))
    number: int
    parent: int | None = None
    fingerprint: str
    document: dict[str, Any] = Field(sa_column=Column(JSONB, nullable=False))
    made: datetime = Field(default_factory=_now, sa_column=Column(DateTime(timezone=True), nullable=False))


class RunRow(SQLModel, table=True):
    """A named set of storm results for a revision."""

    __tablename__ = "run"

    id: int | None = Field(default=None, sa_column=Column(BigInteger, primary_key=True))
    project_id: UUID = Field(sa_column=Column(ForeignKey("project.id", ondelete="CASCADE"), index=True, nullable=False))
    option: str
    revision: int
    state: str = "running"  # running, done, cancelled, failed
    storms: dict[str, str] = Field(default_factory=dict, sa_column=Column(JSONB, nullable=False))
    failures: list[dict[str, Any]] = Field(default_factory=list, sa_column=Column(JSONB, nullable=False))
    started: datetime = Field(default_factory=_now, sa_column=Column(DateTime(timezone=True), nullable=False))
    ended: datetime | None = Field(default=None, sa_column=Column(DateTime(timezone=True)))


class StormRow(SQLModel, table=True):
    """Figures of one storm, named by the hash of what the solver saw. used : when they were last asked for, by day."""

    __tablename__ = "storm"

    digest: str = Field(primary_key=True)
    figures: bytes = Field(sa_column=Column(LargeBinary, nullable=False))
    summary: dict[str, Any] = Field(sa_column=Column(JSONB, nullable=False))
    used: datetime = Field(default_factory=_now, sa_column=Column(DateTime(timezone=True), nullable=False))


class FileRow(SQLModel, table=True):
    """A file that a project's document names by its SHA-256: a picture, a drawing, a terrain."""

    __tablename__ = "file"

    project_id: UUID = Field(sa_column=Column(ForeignKey("project.id", ondelete="CASCADE"), primary_key=True))
    digest: str = Field(primary_key=True)
    content: bytes = Field(sa_column=Column(LargeBinary, nullable=False))


class IssueRow(SQLModel, table=True):
    """A report that was issued: the revision, option, results and layout that it was made of, and its PDF.

    document : of the project as it was; storms : digest of each result by key; verdicts : in words, by rule.
    """

    __tablename__ = "issue"
    __table_args__ = (UniqueConstraint("project_id", "number"),)

    id: int | None = Field(default=None, sa_column=Column(BigInteger, primary_key=True))
    project_id: UUID = Field(sa_column=Column(ForeignKey("project.id", ondelete="CASCADE"), index=True, nullable=False))
    number: str
    option: str
    revision: int
    fingerprint: str
    layout: dict[str, Any] = Field(sa_column=Column(JSONB, nullable=False))
    document: dict[str, Any] = Field(sa_column=Column(JSONB, nullable=False))
    storms: dict[str, str] = Field(sa_column=Column(JSONB, nullable=False))
    verdicts: dict[str, str] = Field(sa_column=Column(JSONB, nullable=False))
    missing: str = ""
    sha256: str
    content: bytes = Field(sa_column=Column(LargeBinary, nullable=False))
    made: datetime = Field(default_factory=_now, sa_column=Column(DateTime(timezone=True), nullable=False))
