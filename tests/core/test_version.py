"""What is computed by another solver is another result."""

from pathlib import Path

import pytest

from madidus.core import hydraulics
from madidus.core.hydraulics import flatten as flatten_module
from madidus.core.hydraulics import version
from madidus.core.hydraulics.flatten import flatten
from madidus.core.hydraulics.version import SOLVER, fingerprint
from tests.core.generated import tree


def test_a_fingerprint_tells_any_change_of_a_source():
    first = {"a": b"x = 1\n", "b": b"y = 2\n"}
    assert fingerprint(first) == fingerprint(dict(reversed(first.items())))
    others = [
        {"a": b"x = 1\n", "b": b"y = 3\n"},
        {"a": b"x = 1\n", "c": b"y = 2\n"},
        {"a": b"x = 1\ny = 2\n", "b": b""},
        {"a": b"y = 2\n", "b": b"x = 1\n"},
        {"a": b"x = 1\n"},
    ]
    assert len({fingerprint(sources) for sources in [first, *others]}) == 6


@pytest.mark.parametrize("name", ["march", "momentum", "conduits", "flatten"])
def test_every_module_of_the_solver_is_part_of_it(monkeypatch, name):
    read = version.pkgutil.get_data
    folder = Path(hydraulics.__file__).parent
    assert read(hydraulics.__name__, f"{name}.py") == (folder / f"{name}.py").read_bytes()

    def edited(package, resource):
        found = read(package, resource)
        return found + b"#" if resource == f"{name}.py" else found

    monkeypatch.setattr(version.pkgutil, "get_data", edited)
    assert fingerprint(version._sources()) != SOLVER


def test_a_result_of_another_solver_has_another_digest(monkeypatch):
    network = tree(3)
    before = flatten(network).digest
    assert flatten(network).digest == before
    monkeypatch.setattr(flatten_module, "SOLVER", "another")
    assert flatten(network).digest != before
