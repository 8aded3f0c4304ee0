"""The tools beside the product name what is there."""

import importlib
import json
from pathlib import Path

import pytest
from tools import generated

TOOLS = sorted(path.stem for path in (Path(__file__).parents[1] / "tools").glob("*.py"))


@pytest.mark.parametrize("name", TOOLS)
def test_a_tool_can_be_imported(name):
    importlib.import_module(f"tools.{name}")


def test_what_follows_from_models_and_kinds_is_written():
    """Else: tools/generate."""
    assert not generated.due()


@pytest.mark.parametrize("path", ["ui/openapi.json", "docs/project.schema.json"])
def test_what_is_written_is_what_the_models_say(path):
    kept = json.loads((generated.ROOT / path).read_text(encoding="utf-8"))
    assert kept == json.loads(generated.SOURCES[path]())


def test_another_source_makes_it_due(monkeypatch):
    monkeypatch.setitem(generated.SOURCES, "ui/src/api/rules.ts", lambda: "another kind")
    assert generated.due()
