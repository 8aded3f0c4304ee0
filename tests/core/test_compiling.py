"""Whoever waits for a storm while the solver is compiled is told so."""

from types import SimpleNamespace

import pytest

from madidus import kernels


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
