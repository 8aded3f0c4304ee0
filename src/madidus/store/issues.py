"""Reports that were issued. One stays as it is: a number is given once."""

import hashlib
from collections.abc import Mapping
from typing import Any
from uuid import UUID

from sqlalchemy import Engine
from sqlalchemy.exc import IntegrityError
from sqlmodel import Session, col, select

from ..core.errors import ModelError
from .project_store import Missing, Revision
from .tables import IssueRow

__all__ = ["IssueRow", "Issues"]


class Issues:
    """Issued reports by project and number."""

    def __init__(self, engine: Engine):
        self._engine = engine

    def add(
        self, revision: Revision, option: str, number: str, layout: Mapping[str, Any], storms: Mapping[str, str],
        verdicts: Mapping[str, str], missing: str, content: bytes,
    ) -> IssueRow:  # fmt: skip
        """Keep a report under a number, with all that it was made of.

        Raises
        ------
        ModelError
            When the number is already given.
        """
        row = IssueRow(
            project_id=revision.project_id, number=number, option=option, revision=revision.number,
            fingerprint=revision.fingerprint, layout=dict(layout), document=dict(revision.document),
            storms=dict(storms), verdicts=dict(verdicts), missing=missing,
            sha256=hashlib.sha256(content).hexdigest(), content=content,
        )  # fmt: skip
        with Session(self._engine, expire_on_commit=False) as session:
            session.add(row)
            try:
                session.commit()
            except IntegrityError as error:
                raise ModelError(
                    f"issue {number}", "number", "is already given", "an issued report stays; give the next number"
                ) from error
        return row

    def sealed(self, project_id: UUID) -> list[tuple[str, str, str]]:
        """Number, fingerprint of the inputs and SHA-256 of every issued report of a project, the newest first."""
        with Session(self._engine) as session:
            rows = session.exec(
                select(IssueRow.number, IssueRow.fingerprint, IssueRow.sha256)
                .where(IssueRow.project_id == project_id)
                .order_by(col(IssueRow.id).desc())
            )
            return [(number, inputs, sha256) for number, inputs, sha256 in rows]

    def list(self, project_id: UUID) -> list[IssueRow]:
        """Every issued report of a project, the newest first."""
        with Session(self._engine) as session:
            rows = session.exec(
                select(IssueRow).where(IssueRow.project_id == project_id).order_by(col(IssueRow.id).desc())
            )
            found = list(rows)
            session.expunge_all()
            return found

    def get(self, project_id: UUID, id_: int) -> IssueRow:
        """An issued report.

        Raises
        ------
        Missing
            When none of the project has this id.
        """
        found = self._first(IssueRow.project_id == project_id, IssueRow.id == id_)
        if found is None:
            raise Missing("no such report was issued")
        return found

    def last(self, project_id: UUID) -> IssueRow | None:
        """The newest issued report of a project, where there is one."""
        return self._first(IssueRow.project_id == project_id)

    def _first(self, *where: Any) -> IssueRow | None:
        with Session(self._engine) as session:
            found = session.exec(select(IssueRow).where(*where).order_by(col(IssueRow.id).desc()).limit(1)).first()
            session.expunge_all()
            return found
