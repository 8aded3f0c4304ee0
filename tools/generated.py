"""What follows from models, routes and kinds and is kept in the repository: written by `tools/generate`, compared by a
test.
"""

import hashlib
import json
import subprocess
from collections.abc import Callable
from pathlib import Path

from madidus.core.model import Project
from madidus.core.rules import KINDS
from madidus.web.app import make_app

__all__ = ["ROOT", "SOURCES", "due", "write"]

ROOT = Path(__file__).parents[1]
_STAMP = ROOT / "ui" / "src" / "api" / ".written"


def _openapi() -> str:
    app = make_app(None, None, None, None, None)  # type: ignore[arg-type]
    return json.dumps(app.openapi())


def _rules() -> str:
    """Kinds of rules for the interface, in the order in which they are offered."""
    kinds = {
        name: {
            "label": kind.START.label, "name": kind.START.name, "before": kind.START.before, "after": kind.START.after,
            "limit": kind.START.limit, "storms": kind.START.storms, "unit": kind.UNIT, "looksAt": kind.LOOKS_AT,
            "mendedBy": list(kind.MENDED_BY),
        }
        for name, kind in KINDS.items()
    }  # fmt: skip
    said = "/** Kinds of rules, as their modules tell them. Written by tools/generate. */"
    return f"{said}\nexport const RULE_KINDS = {json.dumps(kinds, ensure_ascii=False)} as const;\n"


def _schema() -> str:
    return json.dumps(Project.model_json_schema(), indent=1, ensure_ascii=False) + "\n"


SOURCES: dict[str, Callable[[], str]] = {
    "ui/openapi.json": _openapi, "ui/src/api/rules.ts": _rules, "docs/project.schema.json": _schema,
}  # fmt: skip
"""What is written from Python, by its path in the repository, before anything formats it."""


def _digest() -> str:
    return hashlib.sha256("".join(make() for make in SOURCES.values()).encode()).hexdigest()[:16]


def due() -> bool:
    """Whether something has changed since all was written."""
    return not _STAMP.exists() or _STAMP.read_text(encoding="utf-8").strip() != _digest()


def write() -> None:
    """All of it.

    Raises
    ------
    subprocess.CalledProcessError
        When the interface's tools fail.
    """
    for path, make in SOURCES.items():
        (ROOT / path).write_text(make(), encoding="utf-8")
    interface = ROOT / "ui"
    types = interface / "src" / "api" / "schema.d.ts"
    subprocess.run(["npx", "openapi-typescript", "openapi.json", "-o", str(types)], cwd=interface, check=True)
    subprocess.run(["npx", "biome", "check", "--write", "src/api"], cwd=interface, check=True)
    _STAMP.write_text(_digest() + "\n", encoding="utf-8")


if __name__ == "__main__":
    write()
