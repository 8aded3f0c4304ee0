"""Runoff is remembered by what it depends on, and by nothing less."""

import copy
import json
from pathlib import Path

import numpy as np
import pytest

from madidus.core.model import parse_project
from madidus.core.runoff.storms import storm_runoff

DEMO = json.loads((Path(__file__).parents[2] / "demo" / "quillmere_boatyard.madidus.json").read_text(encoding="utf-8"))


def found(change=lambda document, network: None):
    document = copy.deepcopy(DEMO)
    document["rain"]["ensemble"]["durations"] = [15, 60]
    change(document, next(iter(document["options"].values()))["network"])
    project = parse_project(document)
    return storm_runoff(project.option.network, project.rain)


def rougher(_, network):
    next(link for link in network["links"].values() if link["kind"] == "pipe")["roughness"] = 0.02


def test_a_pipe_leaves_the_runoff_as_it_is():
    assert found(rougher) is found()


def larger(_, network):
    next(iter(network["catchments"].values()))["area"] += 1.0


def elsewhere(_, network):
    catchment = next(c for c in network["catchments"].values() if c["node"])
    catchment["node"] = next(
        id_ for id_, n in network["nodes"].items() if n["kind"] == "manhole" and id_ != catchment["node"]
    )


def wetter(document, _):
    document["rain"]["ensemble"]["probabilities"][0]["allowance"] = 0.31


def with_flow(_, network):
    next(n for n in network["nodes"].values() if n["kind"] == "manhole")["inflows"] = [
        {"kind": "hydrograph", "rows": [{"time": 0, "flow": 0.0}, {"time": 600, "flow": 0.01}]}
    ]


@pytest.mark.parametrize("change", [larger, elsewhere, wetter, with_flow])
def test_whatever_the_runoff_depends_on_makes_it_anew(change):
    before, after = found(), found(change)
    assert after is not before
    # keys may change with the rain; storms keep their order
    pairs = list(zip(before.inflow.values(), after.inflow.values(), strict=True))
    assert any(a.nodes != b.nodes or a.flow.shape != b.flow.shape or (a.flow != b.flow).any() for a, b in pairs)


def test_what_is_remembered_is_what_would_be_computed():
    first = found()
    for change in (larger, wetter, elsewhere):  # pushes the first one out
        found(change)
    again = found()
    assert again is not first
    assert all(np.array_equal(again.inflow[key].flow, first.inflow[key].flow) for key in first.inflow)
