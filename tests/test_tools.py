"""The tools beside the product name what is there."""

import importlib
from pathlib import Path

import pytest

TOOLS = sorted(path.stem for path in (Path(__file__).parents[1] / "tools").glob("*.py"))


@pytest.mark.parametrize("name", TOOLS)
def test_a_tool_can_be_imported(name):
    importlib.import_module(f"tools.{name}")
