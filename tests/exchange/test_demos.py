"""Every demo: valid, written by its script, without open findings, and the same after a round trip in any format."""

import importlib.util
import json
from datetime import datetime
from pathlib import Path

import jsonpatch
import pytest

from madidus.core.checks import judged
from madidus.core.ensemble import make_plan
from madidus.core.model.network import Network
from madidus.core.model.project import parse_project
from madidus.exchange.geojson import read_geojson, write_geojson
from madidus.exchange.imports import propose
from madidus.exchange.landxml import read_landxml
from madidus.exchange.landxml_writer import write_landxml
from madidus.exchange.sheets import look_at_tables, read_tables, write_workbook

FOLDER = Path(__file__).parents[2] / "demo"
SCRIPTS = {
    "quillmere_boatyard": "quillmere", "alder_hill_library": "alder_hill", "ferry_flat": "ferry_flat",
}  # fmt: skip
EVERY = pytest.mark.parametrize("name", SCRIPTS)


def demo(name: str):
    return parse_project(json.loads((FOLDER / f"{name}.madidus.json").read_text(encoding="utf-8")))


def test_there_is_a_script_for_every_demo():
    assert {file.name.removesuffix(".madidus.json") for file in FOLDER.glob("*.madidus.json")} == set(SCRIPTS)


@EVERY
def test_the_file_is_what_its_script_writes(name):
    path = FOLDER / f"{SCRIPTS[name]}.py"
    spec = importlib.util.spec_from_file_location(SCRIPTS[name], path)
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    assert parse_project(module.build()).model_dump() == demo(name).model_dump()


@EVERY
def test_nothing_is_left_to_look_at(name):
    assert [finding.why for finding, accepted in judged(demo(name)) if accepted is None] == []


def by_landxml(network: Network):
    return read_landxml(write_landxml(network, "x", datetime(2026, 11, 26)))


def by_geojson(network: Network):
    return read_geojson(write_geojson(network, "x").encode())


def by_tables(network: Network):
    content = write_workbook(network)
    return read_tables(content, [look.mapping for look in look_at_tables(content, [])])


@EVERY
@pytest.mark.parametrize("way", [by_landxml, by_geojson, by_tables], ids=["LandXML", "GeoJSON", "tables"])
def test_a_round_trip_changes_no_storm(name, way):
    project = demo(name)
    document = project.model_dump(mode="json")
    option = next(iter(document["options"].values()))
    option["network"] = Network().model_dump(mode="json")
    proposal = propose(parse_project(document), way(project.option.network))
    assert {entry.action for entry in proposal.entries} == {"create"}
    patch = [operation for entry in proposal.entries for operation in entry.patch]
    option["network"] = jsonpatch.apply_patch(option["network"], patch)
    back = parse_project(document)
    one, other = make_plan(project), make_plan(back)
    assert one.inflow.keys() == other.inflow.keys()
    for key, inflow in one.inflow.items():
        assert other.inflow[key].nodes == inflow.nodes
        assert other.inflow[key].flow == pytest.approx(inflow.flow, rel=1e-9, abs=1e-15)
    assert other.flat.digest == one.flat.digest or way is by_tables
    key = next(iter(one.inflow))
    levels = [plan.simulate(key).peaks.level.steady for plan in (one, other)]
    assert levels[0] == pytest.approx(levels[1], rel=1e-9)
