"""Inflows and waters outside: how long each is given, and which ends while it still rains."""

import copy
import json

import pytest

from madidus.core.checks import check
from madidus.core.model import parse_project
from madidus.core.runoff.boundaries import boundaries

from .test_checks import DEMO, named
from .test_usual import DEMOS

TIDE = [{"time": 0.0, "level": 1.0}, {"time": 21_600.0, "level": 2.0}]


def told(document, rain=86_400.0):
    network = parse_project(document).option.network
    return {(network.nodes[one.element].name, one.what): one for one in boundaries(network, rain)}


def given(inflow=None, water=None):
    document = copy.deepcopy(DEMO)
    if inflow:
        named(document, "nodes", "A1")[1]["inflows"] = [inflow]
    if water:
        named(document, "nodes", "O1")[1]["tail_water"] = water
    return document


def test_a_series_that_ends_while_it_rains_is_short_and_one_that_lasts_is_not():
    document = given(water={"kind": "series", "rows": TIDE})
    one = told(document)[("O1", "tail water")]
    assert (one.begin, one.end, one.least, one.most) == (0.0, 21_600.0, 1.0, 2.0)
    assert one.short
    assert one.after == "the last level stays"
    assert not told(document, rain=21_600.0)[("O1", "tail water")].short


def test_an_inflow_is_short_only_where_it_breaks_off():
    rows = [{"time": 600.0, "flow": 0.0}, {"time": 3600.0, "flow": 0.02}, {"time": 7200.0, "flow": 0.01}]
    broken = told(given(inflow={"kind": "hydrograph", "rows": rows}))[("A1", "inflow")]
    assert (broken.begin, broken.end, broken.most, broken.short) == (600.0, 7200.0, 0.02, True)
    faded = told(given(inflow={"kind": "hydrograph", "rows": [*rows, {"time": 9000.0, "flow": 0.0}]}))
    assert not faded[("A1", "inflow")].short


def test_what_has_no_end_says_so():
    base = told(given(inflow={"kind": "constant", "flow": 0.003}))[("A1", "inflow")]
    assert (base.end, base.least, base.most, base.short) == (None, 0.003, 0.003, False)
    daily = told(given(inflow={"kind": "pattern", "mean": 0.002, "factors": [0.5, 1.5], "start": 6.0}))
    one = daily[("A1", "inflow")]
    assert (one.end, one.least, one.most) == (None, 0.001, 0.003)
    assert one.rows == [(21_600.0, 0.003), (64_800.0, 0.001)]  # noon and midnight, of a storm that begins at six
    fixed = told(given(water={"kind": "fixed", "level": 1.4}))[("O1", "tail water")]
    assert (fixed.least, fixed.most, fixed.short) == (1.4, 1.4, False)
    free = told(given(water={"kind": "free"}))[("O1", "tail water")]
    assert (free.kind, free.least) == ("falls free", None)


def test_the_checks_name_the_element_and_both_spans():
    found = [
        f for f in check(parse_project(given(water={"kind": "series", "rows": TIDE}))) if f.check == "boundary-short"
    ]
    assert [f.why for f in found] == [
        "O1: its levels outside are given for 6 h, and the longest storm rains for 24 h; then the last level stays"
    ]
    assert found[0].field == "tail_water"


@pytest.mark.parametrize("name", ["quillmere_boatyard", "ferry_flat", "alder_hill_library"])
def test_every_boundary_of_a_demo_is_listed(name):
    document = json.loads((DEMOS / f"{name}.madidus.json").read_text(encoding="utf-8"))
    network = parse_project(document).option.network
    found = boundaries(network, 3600.0)
    outfalls = [node for node in network.nodes.values() if node.kind == "outfall"]
    inflows = [i for node in network.nodes.values() if node.kind != "outfall" for i in node.inflows]
    assert len(found) == len(outfalls) + len(inflows)
