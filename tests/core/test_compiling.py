"""Whoever waits for a storm while the solver is compiled is told so."""

from pathlib import Path
from types import SimpleNamespace

import pytest

from madidus import kernels, places


@pytest.fixture
def fresh(monkeypatch, tmp_path):
    """No compiled code is kept."""
    monkeypatch.setattr(kernels, "_numba", SimpleNamespace(DISABLE_JIT=False, CACHE_DIR=str(tmp_path)))
    return tmp_path


def test_it_is_told_while_it_lasts_and_not_before_or_after(fresh, monkeypatch):
    seen = []
    monkeypatch.setattr(kernels, "_exercise", lambda _: seen.append(kernels.compiling()))
    assert not kernels.compiling()
    kernels.ready()
    assert seen
    assert all(seen)
    assert not kernels.compiling()
    assert (fresh / "complete").exists()
    kernels.ready()
    assert len(seen) == len(list(kernels.places.demos()))  # once on a machine


def test_a_compilation_that_breaks_off_is_not_under_way_any_more_nor_complete(fresh, monkeypatch):
    def broken(_):
        raise MemoryError

    monkeypatch.setattr(kernels, "_exercise", broken)
    with pytest.raises(MemoryError):
        kernels.ready()
    assert not kernels.compiling()
    assert not (fresh / "complete").exists()


ELEMENT = b'''"""A pipe."""
from typing import NamedTuple
KIND, FLAP = range(2)
class Row(NamedTuple):
    size: float
class Pipe(DocumentModel):
    """Round."""
    diameter: float = Field(description="m")
def carried(depth):
    return depth
'''


@pytest.mark.parametrize(
    ("was", "now", "anew"),
    [
        (b'description="m"', b'description="m, inside"', False),
        (b"Round.", b"Not round.", False),
        (b"return depth", b"return 2 * depth", False),
        (b"KIND, FLAP", b"FLAP, KIND", True),
        (b"size: float", b"width: float", True),
        (b"class Pipe", b"MOST = 3\nclass Pipe", True),
    ],
)
def test_what_compiled_code_does_not_see_has_nothing_compiled_anew(was, now, anew):
    """Constants and tuples are compiled in; the fields of an element and what reads them are not."""
    changed = ELEMENT.replace(was, now)
    assert changed != ELEMENT
    assert (places._compiled(changed) != places._compiled(ELEMENT)) == anew
    # of a module that compiles something every byte counts
    kernel = b"from ..numerics.compiled import kernel\n"
    assert places._compiled(kernel + changed) != places._compiled(kernel + ELEMENT)


def test_every_module_that_compiles_something_counts_whole():
    core = Path(places.__file__).parent / "core"
    sources = [path.read_bytes() for room in ("hydraulics", "elements") for path in (core / room).glob("*.py")]
    compiling = [source for source in sources if b"\n@kernel" in source or b"\n@routine" in source]
    assert len(compiling) > 15
    assert all(places._compiled(source) == source for source in compiling)
