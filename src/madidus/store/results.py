"""Runs and the figures of storms."""

from collections.abc import Iterable
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import UUID

import pyarrow as pa
import pyarrow.ipc
from sqlalchemy import Engine, update
from sqlalchemy.dialects.postgresql import insert
from sqlmodel import Session, col, select

from ..core.elements.figures import Figures
from .tables import RunRow, StormRow

__all__ = ["Results"]

_DAY = timedelta(days=1)
_ARRAYS = [name for name in Figures.__dataclass_fields__ if name not in ("key", "summary")]


def _pack(figures: Figures) -> bytes:
    """An Arrow stream of one row, in which each array of the figures is a list."""
    lists = []
    for name in _ARRAYS:
        values = pa.array(getattr(figures, name).ravel())
        lists.append(pa.ListArray.from_arrays(pa.array([0, len(values)], pa.int32()), values))
    row = pa.record_batch(lists, names=_ARRAYS)
    stream = pa.BufferOutputStream()
    with pa.ipc.new_stream(stream, row.schema) as writer:
        writer.write_batch(row)
    content: bytes = stream.getvalue().to_pybytes()
    return content


def _unpack(key: str, row: StormRow) -> Figures:
    lists = pa.ipc.open_stream(row.figures).read_next_batch()
    arrays = {name: lists.column(name).values.to_numpy() for name in _ARRAYS}
    elements = arrays["level"].size + arrays["passed"].size
    arrays["passed_at"] = arrays["passed_at"].reshape(arrays["marks"].size, elements)
    return Figures(key, **arrays, summary=row.summary)


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
