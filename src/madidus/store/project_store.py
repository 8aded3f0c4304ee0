"""Projects and their revisions."""

import hashlib
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any
from uuid import UUID

from pydantic import BaseModel
from sqlalchemy import Engine
from sqlmodel import Session, col, delete, func, select

from ..core.model.card import Card, card_of
from ..core.model.project import FORMAT_VERSION, Project, completed, fingerprint
from ..core.numerics.kept import Kept
from ..core.verdicts import State
from .tables import FileRow, ProjectRow, RevisionRow

__all__ = ["Conflict", "LastVerdict", "Listed", "Missing", "ProjectStore", "Revision", "RuleSaid"]

_KEPT = 12  # documents in memory: a page asks for the one it looks at again and again


class Missing(LookupError):
    """No such project, revision, or step to undo."""


class Conflict(Exception):
    """Somebody else changed the project since it was read."""


@dataclass(frozen=True)
class Revision:
    """A project at one revision. document : shared by whoever reads it, to be changed by nobody."""

    project_id: UUID
    number: int
    parent: int | None
    fingerprint: str
    made: datetime
    document: dict[str, Any]
    can_undo: bool
    can_redo: bool


class RuleSaid(BaseModel):
    """What was said of a rule that is asked: its margin and what a full gauge means, in the rule's unit."""

    name: str
    state: State
    tight: bool
    value: float | None
    scale: float | None
    unit: str


class LastVerdict(BaseModel):
    """What was last said of an option. inputs : digest of what it rests on; solver : that computed it."""

    option: str
    inputs: str
    solver: str
    state: State
    said: str
    storms: int
    rules: list[RuleSaid]


class Listed(BaseModel):
    """A project in the list. verdict : the last that was reached, of whatever inputs and option it was."""

    id: UUID
    name: str
    opened: datetime
    changed: datetime
    card: Card
    verdict: LastVerdict | None


class ProjectStore:
    """All projects on this machine."""

    def __init__(self, engine: Engine):
        self._engine = engine
        self._documents: Kept[dict[str, Any]] = Kept(_KEPT)

    def list(self, first: int = 0, most: int = 100) -> tuple[int, list[Listed]]:
        """How many projects there are, and a page of them, the last opened first. No document is read for it."""
        current = (col(RevisionRow.project_id) == col(ProjectRow.id)) & (RevisionRow.number == ProjectRow.revision)
        query = select(ProjectRow, RevisionRow.made).join(RevisionRow, current)
        order = (col(ProjectRow.opened).desc(), col(ProjectRow.id))
        with Session(self._engine) as session:
            whole = session.exec(select(func.count()).select_from(ProjectRow)).one()
            rows = session.exec(query.order_by(*order).offset(first).limit(most)).all()
            return whole, [
                Listed(
                    id=row.id, name=row.name, opened=row.opened, changed=made,
                    card=Card.model_validate(row.card), verdict=row.verdict,
                )
                for row, made in rows
            ]  # fmt: skip

    def create(self, project: Project) -> Revision:
        """Keep a new project, as its first revision."""
        document = project.model_dump(mode="json")
        with Session(self._engine) as session:
            row = ProjectRow(name=project.name, card=_card(document))
            session.add(row)
            session.flush()
            session.add(RevisionRow(project_id=row.id, number=1, fingerprint=fingerprint(document), document=document))
            session.commit()
            return self._revision(session, row.id, 1)

    def get(self, project_id: UUID) -> Revision:
        """The current revision."""
        with Session(self._engine) as session:
            return self._revision(session, project_id, self._row(session, project_id).revision)

    def current(self, project_id: UUID) -> int:
        """Number of the current revision."""
        with Session(self._engine) as session:
            return self._row(session, project_id).revision

    def parent(self, revision: Revision) -> Revision | None:
        """What a revision was made from; None of the first."""
        if revision.parent is None:
            return None
        with Session(self._engine) as session:
            return self._revision(session, revision.project_id, revision.parent)

    def units(self, project_id: UUID) -> tuple[str, str | None]:
        """In which a project is read: its units and that of flow."""
        with Session(self._engine) as session:
            card = Card.model_validate(self._row(session, project_id).card)
            return card.units, card.flow_unit

    def touch(self, project_id: UUID) -> None:
        """Note that a project was opened."""
        with Session(self._engine) as session:
            self._row(session, project_id).opened = datetime.now(UTC)
            session.commit()

    def save(self, project_id: UUID, project: Project, expected: int) -> Revision:
        """Store a new revision made from `expected`, which must be current."""
        document = project.model_dump(mode="json")
        with Session(self._engine) as session:
            row = self._row(session, project_id, lock=True)
            if row.revision != expected:
                raise Conflict
            row.latest += 1
            session.add(
                RevisionRow(
                    project_id=project_id,
                    number=row.latest,
                    parent=row.revision,
                    fingerprint=fingerprint(document),
                    document=document,
                )  # fmt: skip
            )
            row.revision, row.name, row.card = row.latest, project.name, _card(document)
            session.commit()
            return self._revision(session, project_id, row.revision)

    def keep_verdict(self, project_id: UUID, verdict: LastVerdict) -> None:
        """Keep what was last said of a project, for the list."""
        with Session(self._engine) as session:
            self._row(session, project_id, lock=True).verdict = verdict.model_dump(mode="json")
            session.commit()

    def undo(self, project_id: UUID, expected: int) -> Revision:
        """Go back to the revision that the current one was made from; `expected` must be current."""
        return self._move(project_id, expected, back=True)

    def redo(self, project_id: UUID, expected: int) -> Revision:
        """Go on to the revision last made from the current one; `expected` must be current."""
        return self._move(project_id, expected, back=False)

    def remove(self, project_id: UUID) -> None:
        """Remove a project with its revisions, files and runs."""
        with Session(self._engine) as session:
            self._row(session, project_id)
            session.exec(delete(ProjectRow).where(col(ProjectRow.id) == project_id))
            session.commit()

    def keep_file(self, project_id: UUID, content: bytes) -> str:
        """Keep a file beside a project; its SHA-256, by which the document names it."""
        digest = hashlib.sha256(content).hexdigest()
        with Session(self._engine) as session:
            self._row(session, project_id)
            session.merge(FileRow(project_id=project_id, digest=digest, content=content))
            session.commit()
        return digest

    def file(self, project_id: UUID, digest: str) -> bytes:
        """A file that is kept beside a project."""
        with Session(self._engine) as session:
            row = session.get(FileRow, (project_id, digest))
            if row is None:
                raise Missing("this file is not kept here; add it again")
            return row.content

    def copy_files(self, project_id: UUID, to: UUID) -> None:
        """Keep the files of one project beside another one as well."""
        with Session(self._engine) as session:
            for row in session.exec(select(FileRow).where(FileRow.project_id == project_id)):
                session.merge(FileRow(project_id=to, digest=row.digest, content=row.content))
            session.commit()

    def _move(self, project_id: UUID, expected: int, back: bool) -> Revision:
        with Session(self._engine) as session:
            row = self._row(session, project_id, lock=True)
            if row.revision != expected:
                raise Conflict
            current = self._revision(session, project_id, expected)
            target = current.parent if back else self._child(session, project_id, expected)
            if target is None:
                raise Missing("nothing to undo" if back else "nothing to redo")
            found = self._revision(session, project_id, target)
            row.revision, row.name, row.card = target, found.document["name"], _card(found.document)
            session.commit()
            return found

    def _row(self, session: Session, project_id: UUID, lock: bool = False) -> ProjectRow:
        row = session.get(ProjectRow, project_id, with_for_update=lock)
        if row is None:
            raise Missing("no such project")
        return row

    def _child(self, session: Session, project_id: UUID, number: int) -> int | None:
        """The newest revision made from one: what redo returns to."""
        query = (
            select(RevisionRow.number)
            .where(RevisionRow.project_id == project_id, RevisionRow.parent == number)
            .order_by(col(RevisionRow.number).desc())
        )
        return session.exec(query).first()

    def _revision(self, session: Session, project_id: UUID, number: int) -> Revision:
        at = (RevisionRow.project_id == project_id, RevisionRow.number == number)
        query = select(RevisionRow.parent, RevisionRow.fingerprint, RevisionRow.made).where(*at)
        found = session.exec(query).first()
        if found is None:
            raise Missing("no such revision")
        parent, digest, made = found

        def read() -> dict[str, Any]:
            document = dict(session.exec(select(RevisionRow.document).where(*at)).one())
            # one that an older program kept lacks what newer ones have added
            current = document.get("version") == FORMAT_VERSION and Project.model_fields.keys() <= document.keys()
            return document if current else completed(document)

        return Revision(
            project_id, number, parent, digest, made, self._documents.get(f"{project_id} {number}", read),
            can_undo=parent is not None, can_redo=self._child(session, project_id, number) is not None,
        )  # fmt: skip


def _card(document: dict[str, Any]) -> dict[str, Any]:
    return card_of(document).model_dump(mode="json")
