"""What may go: results, runs, revisions and files that nothing current, named or recent needs.

- Results of storms stay while they were asked for in the last days, or the newest run of an option or an issued report
  has them.
- Runs stay while they are of the last days, or the newest of their option.
- Revisions stay while they are of the last days, or within the last steps of undo from the current one.
- Files beside a project stay while a revision that stays, or an issued report, names them.
"""

from dataclasses import dataclass

from sqlalchemy import Connection, Engine, text

__all__ = ["DAYS", "STEPS", "Tidied", "tidy", "tidy_results"]

DAYS = 30
STEPS = 200  # of undo

_NEWEST = "SELECT DISTINCT ON (project_id, option) id FROM run ORDER BY project_id, option, id DESC"
_RUNS = f"""
    DELETE FROM run WHERE state <> 'running' AND started < now() - make_interval(days => :days)
    AND id NOT IN ({_NEWEST})
"""
_STORMS = f"""
    DELETE FROM storm WHERE used < now() - make_interval(days => :days) AND digest NOT IN (
        SELECT value FROM run, jsonb_each_text(run.storms) WHERE run.id IN ({_NEWEST})
        UNION SELECT value FROM issue, jsonb_each_text(issue.storms)
    )
"""
_REVISIONS = """
    WITH RECURSIVE line AS (
        SELECT r.project_id, r.number, r.parent, 0 AS back FROM revision r
        JOIN project p ON p.id = r.project_id AND p.revision = r.number
        UNION ALL
        SELECT r.project_id, r.number, r.parent, line.back + 1 FROM revision r
        JOIN line ON r.project_id = line.project_id AND r.number = line.parent WHERE line.back < :steps
    )
    DELETE FROM revision r WHERE made < now() - make_interval(days => :days)
    AND NOT EXISTS (SELECT 1 FROM line WHERE line.project_id = r.project_id AND line.number = r.number)
"""
_ENDS = """
    UPDATE revision r SET parent = NULL WHERE parent IS NOT NULL AND NOT EXISTS (
        SELECT 1 FROM revision p WHERE p.project_id = r.project_id AND p.number = r.parent
    )
"""
_FILES = """
    DELETE FROM file f WHERE NOT EXISTS (
        SELECT 1 FROM revision r WHERE r.project_id = f.project_id AND position(f.digest IN r.document::text) > 0
    ) AND NOT EXISTS (
        SELECT 1 FROM issue i WHERE i.project_id = f.project_id AND position(f.digest IN i.document::text) > 0
    )
"""


@dataclass(frozen=True)
class Tidied:
    """How many of each went."""

    runs: int
    storms: int
    revisions: int
    files: int


def _gone(connection: Connection, statement: str, **values: int) -> int:
    return connection.execute(text(statement), values).rowcount


def tidy_results(engine: Engine, days: int = DAYS) -> tuple[int, int]:
    """Let runs and results of storms go that are neither current nor recent; how many went. Both can be made anew."""
    with engine.begin() as connection:
        runs = _gone(connection, _RUNS, days=days)
        return runs, _gone(connection, _STORMS, days=days)


def tidy(engine: Engine, days: int = DAYS, steps: int = STEPS, dry: bool = False) -> Tidied:
    """Let go what nothing needs. dry : say how much it would be, and keep it."""
    with engine.connect() as connection, connection.begin() as work:
        runs = _gone(connection, _RUNS, days=days)
        storms = _gone(connection, _STORMS, days=days)
        revisions = _gone(connection, _REVISIONS, days=days, steps=steps)
        _gone(connection, _ENDS)
        files = _gone(connection, _FILES)
        if dry:
            work.rollback()
        return Tidied(runs, storms, revisions, files)
