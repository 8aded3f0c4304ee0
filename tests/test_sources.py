"""What the sources keep to: words that no name takes, and annotations wherever Numba does not infer types."""

import ast
import re
import tomllib
from fnmatch import fnmatch
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
SOURCES = {path.relative_to(ROOT / "src").with_suffix("").as_posix().replace("/", "."): path
           for path in (ROOT / "src" / "madidus").rglob("*.py")}  # fmt: skip
COMPILED = {"kernel", "routine", "brief_routine", "njit"}


def parsed(path: Path) -> ast.Module:
    return ast.parse(path.read_text(encoding="utf-8"))


def words_no_name_takes() -> set[str]:
    section = (ROOT / "docs" / "words.md").read_text(encoding="utf-8").split("## Words that no name takes")[1]
    return {word for row in re.findall(r"^\| ([^|]+) \|", section, flags=re.M) for word in re.findall(r"`(\w+)`", row)}


def public_names(name: str, path: Path) -> set[str]:
    """Of a module: its own, and those of its functions and classes."""
    own = {node.name for node in parsed(path).body if isinstance(node, ast.FunctionDef | ast.ClassDef)}
    return {name.rpartition(".")[2], *(one for one in own if not one.startswith("_"))}


def as_words(name: str) -> set[str]:
    """PlanTold and plan_told are both plan and told."""
    return set(re.sub(r"(?<=[a-z0-9])(?=[A-Z])", "_", name).lower().split("_")) | {name}


def taken(names: set[str], gone: set[str]) -> set[str]:
    return {name for name in names if as_words(name) & gone}


def test_no_module_function_or_class_is_called_by_a_word_that_says_nothing():
    gone = words_no_name_takes()
    assert len(gone) > 10
    found = {module: bad for module, path in SOURCES.items() if (bad := taken(public_names(module, path), gone))}
    assert found == {}


@pytest.mark.parametrize("name", ["told", "PlanTold", "verdicts_told", "ran_on"])
def test_such_a_word_is_seen_in_any_writing(name):
    assert taken({name, "plan", "toldest"}, {"told", "ran"}) == {name}


def unannotated(tree: ast.Module) -> list[str]:
    """Functions of a module and methods of its classes that leave a type out, and are not compiled."""
    found = []
    for scope in (tree, *(node for node in tree.body if isinstance(node, ast.ClassDef))):
        for one in scope.body:
            if not isinstance(one, ast.FunctionDef):
                continue
            marks = {getattr(getattr(mark, "func", mark), "id", "") for mark in one.decorator_list}
            given = [*one.args.posonlyargs, *one.args.args, *one.args.kwonlyargs]
            bare = [a.arg for a in given if a.annotation is None and a.arg not in ("self", "cls")]
            silent = one.returns is None and one.name != "__init__"
            if not marks & COMPILED and (silent or bare):
                found.append(one.name)
    return found


def test_what_is_not_compiled_says_its_types():
    settings = tomllib.loads((ROOT / "pyproject.toml").read_text(encoding="utf-8"))
    loose = next(o["module"] for o in settings["tool"]["mypy"]["overrides"] if o.get("disallow_untyped_defs") is False)
    own = {name: path for name, path in SOURCES.items() if any(fnmatch(name, pattern) for pattern in loose)}
    assert len(own) > 20
    found = {name: bare for name, path in own.items() if (bare := unannotated(parsed(path)))}
    assert found == {}


def test_a_function_that_says_no_types_is_seen():
    source = "@routine\ndef kernel(a):\n    return a\ndef plain(a) -> int:\n    return a\n"
    assert unannotated(ast.parse(source)) == ["plain"]
