"""Runs and the figures of storms."""

import io
from collections.abc import Iterable
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import UUID

import numpy as np
from sqlalchemy import Engine, update
from sqlalchemy.dialects.postgresql import insert
from sqlmodel import Session, col, select

from ..core.figures import Figures
from .tables import RunRow, StormRow

__all__ = ["Results"]

_DAY = timedelta(days=1)
_ARRAYS = [name for name in Figures.__dataclass_fields__ if name not in ("key", "summary")]


def _pack(figures: Figures) -> bytes:
    buffer = io.BytesIO()
    np.savez(buffer, **{name: getattr(figures, name) for name in _ARRAYS})
    return buffer.getvalue()


def _unpack(key: str, row: StormRow) -> Figures:
    with np.load(io.BytesIO(row.figures), allow_pickle=False) as arrays:
        return Figures(key, **{name: arrays[name] for name in _ARRAYS}, summary=row.summary)


class Results:
    """Figures by digest, and runs as sets of them."""

    def __init__(self, engine: Engine):
        self._engine = engine

    def find(self, digests: dict[str, str]) -> dict[str, Figures]:
        """Figures that are known, by storm key, for `digests` by storm key."""
        with Session(self._engine) as session:
            rows = session.exec(select(StormRow).where(col(StormRow.digest).in_(set(digests.values()))))
            known = {row.digest: row for row in rows}
            now = datetime.now(UTC)
            worn = [digest for digest, row in known.items() if now - row.used > _DAY]
            session.expunge_all()
            if worn:
                session.exec(update(StormRow).where(col(StormRow.digest).in_(worn)).values(used=now))
                session.commit()
        # storms that the solver sees alike share a digest
        return {key: _unpack(key, known[digest]) for key, digest in digests.items() if digest in known}

    def keep(self, digests: dict[str, str], figures: Iterable[Figures]) -> None:
        """Store figures under the digests of their storms; what is there already stays."""
        values = [{"digest": digests[f.key], "figures": _pack(f), "summary": f.summary} for f in figures]
        if values:
            with self._engine.begin() as connection:
                connection.execute(insert(StormRow).values(values).on_conflict_do_nothing())

    def open_run(self, project_id: UUID, option: str, revision: int, digests: dict[str, str]) -> int:
        """Note that a run has begun, for it to go on after a kill; its id."""
        with Session(self._engine) as session:
            row = RunRow(project_id=project_id, option=option, revision=revision, storms=digests)
            session.add(row)
            session.commit()
            assert row.id is not None
            return row.id

    def close_run(self, run_id: int, state: str, failures: list[dict[str, Any]]) -> None:
        """Note how a run ended; one whose project was removed meanwhile is gone with it."""
        ended = update(RunRow).where(col(RunRow.id) == run_id)
        with self._engine.begin() as connection:
            connection.execute(ended.values(state=state, failures=failures, ended=datetime.now(UTC)))

    def interrupted(self) -> list[RunRow]:
        """Runs that a kill left open."""
        with Session(self._engine) as session:
            return list(session.exec(select(RunRow).where(RunRow.state == "running")))
