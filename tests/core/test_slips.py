"""Slips of the hand: each is found, said of the element that it was made at, with its words; the neighbour is not blamed."""

import copy

import jsonpatch
import pytest

from madidus.core.checks import check
from madidus.core.model.project import parse_project
from madidus.core.search.variables import changeable

from .test_checks import DEMO, ensemble, identity, named, network, put


def element(d, collection, name):
    return named(d, collection, name)[1]


def times(collection, name, field, factor):
    def spoil(d):
        element(d, collection, name)[field] *= factor

    return spoil


def at_no_place(*names):
    def spoil(d):
        for name in names:
            element(d, "nodes", name).update(x=0.0, y=0.0)

    return spoil


def in_inches(d):
    rain = d["rain"]["rainfall"]
    rain["depths"] = [[depth / 25.4 for depth in row] for row in rain["depths"]]


def main(d, **fields):
    pump = {
        "kind": "pump", "name": "lift", "upstream": named(d, "nodes", "P1")[0], "downstream": named(d, "nodes", "L1")[0],
        "units": [{"on": 4.0, "off": 3.9, "curve": [{"head": 9, "flow": 0}, {"head": 0, "flow": 0.01}]}],
        "main": {"length": 100.0, "diameter": 0.1, **fields},
    }  # fmt: skip
    network(d)["links"][identity("lift")] = pump


def narrows(d):
    store = {"kind": "storage", "name": "N", "x": 500.0, "y": 500.0, "invert": 1.0, "cover": 3.0,
             "table": [{"depth": 0, "area": 400}, {"depth": 2, "area": 200}]}  # fmt: skip
    network(d)["nodes"][identity("N")] = store


def outfall(d):
    return next(node for node in network(d)["nodes"].values() if node["kind"] == "outfall")


def drowned(d):
    outfall(d)["invert"] += 1.4


def ground_low(d):
    outfall(d)["ground"] = outfall(d)["invert"] - 0.5


def allowance(value):
    return lambda d: ensemble(d)["probabilities"][2].update(allowance=value)


def exchanged(d):
    pipe = element(d, "links", "A3–A4")
    pipe.update(upstream_invert=pipe["downstream_invert"], downstream_invert=pipe["upstream_invert"])


def turned(d):
    pipe = element(d, "links", "A3–A4")
    pipe.update(upstream=pipe["downstream"], downstream=pipe["upstream"])


SLIPS = [
    ("area in hectares", times("catchments", "Green", "area", 1e-4), "area-unit", "Green has an area of"),
    ("area 10⁴ too large", times("catchments", "Green", "area", 1e4), "area-unit", "more than drains to one node"),
    ("all of it typed as 1 %", put("catchments", "Green", impervious=0.01), "paved-slight", "1.0% of Green is paved"),
    ("inches pasted as mm", in_inches, "rain-small", "of the greatest rain ever measured"),
    ("outfall above its pipe", drowned, "outfall-above-pipe", "its invert lies 1.40 m above the end of"),
    ("ground below the outfall", ground_low, "outfall-ground", "lies below its invert"),
    ("two manholes at no place", at_no_place("A3", "A4"), "same-place", "lies at the place of"),
    ("top smaller than base", narrows, "store-narrows", "400 m² at its base and 200 m² at its top"),
    ("main of half an inch", lambda d: main(d, diameter=0.0127), "main-unusual", "a rising main of 13 mm"),
    ("main of 100,000 ft", lambda d: main(d, length=30_480.0), "main-unusual", "30480 m long"),
    ("opening of 71 mm", put("links", "P1 orifice", section={"shape": "circular", "diameter": 0.071}),
     "opening-small", "71 mm is less than the 75 mm"),
    ("allowance 1.4", allowance(0.014), "allowance-unusual", "1.4%"),
    ("allowance 140", allowance(1.4), "allowance-unusual", "140.0%"),
    ("375 typed as 37.5", put("links", "A3–A4", section={"shape": "circular", "diameter": 0.0375}),
     "size-small", "A3–A4 is 38 mm high"),
    ("east of 500,000", put("nodes", "A3", x=500_000.0), "node-far", "A3 lies"),
]  # fmt: skip


@pytest.fixture
def demo():
    return copy.deepcopy(DEMO)


def fresh(before, demo):
    seen = {(f.check, f.why) for f in before}
    return [f for f in check(parse_project(demo)) if (f.check, f.why) not in seen]


@pytest.mark.parametrize(("slip", "key", "words"), [row[1:] for row in SLIPS], ids=[row[0] for row in SLIPS])
def test_a_slip_is_told_in_words(demo, slip, key, words):
    before = check(parse_project(demo))
    slip(demo)
    found = [f for f in fresh(before, demo) if f.check == key]
    assert any(words in f.why for f in found), [(f.check, f.why) for f in fresh(before, demo)]
    assert all(f.remedy for f in found)


def test_a_size_typed_ten_times_too_small_blames_no_neighbour(demo):
    before = check(parse_project(demo))
    put("links", "A3–A4", section={"shape": "circular", "diameter": 0.0375})(demo)
    assert {f.element for f in fresh(before, demo) if f.check.startswith("size-")} == {named(demo, "links", "A3–A4")[0]}


def test_a_place_far_off_does_not_suggest_the_drawn_length(demo):
    before = check(parse_project(demo))
    put("nodes", "A3", x=500_000.0)(demo)
    lengths = [f for f in fresh(before, demo) if f.check == "length-against-drawing"]
    assert lengths
    for found in lengths:
        assert found.fix is None
        assert "coordinates" in found.remedy


@pytest.mark.parametrize(
    ("slip", "does"), [(exchanged, "exchange its inverts"), (turned, "turn it round, from A3 to A4")]
)
def test_a_pipe_with_its_ends_exchanged_is_put_right_by_its_remedy(demo, slip, does):
    whole = copy.deepcopy(demo)
    before = check(parse_project(demo))
    slip(demo)
    offered = [f.fix for f in fresh(before, demo) if f.fix and f.element == named(demo, "links", "A3–A4")[0]]
    assert {fix.does for fix in offered} == {does}
    option = next(iter(demo["options"]))
    patch = [{**change, "path": f"/options/{option}/network{change['path']}"} for change in offered[0].patch]
    assert parse_project(jsonpatch.apply_patch(demo, patch)) == parse_project(whole)


def test_two_slips_in_the_same_ground_are_each_found_and_what_is_right_is_left_alone(demo):
    in_inches(demo)
    allowance(1.4)(demo)
    assert {"rain-small", "allowance-unusual"} <= {f.check for f in check(parse_project(demo))}
    assert not {key for _, _, key, _ in SLIPS} & {f.check for f in check(parse_project(DEMO))}


def test_no_search_proposes_an_opening_below_the_least_of_the_project():
    project = parse_project(DEMO)
    id_ = next(key for key, link in project.option.network.links.items() if link.name == "P1 orifice")

    def low(least):
        return next(one.low for one in changeable(project.option.network, id_, least) if one.what == "size")

    assert low(0.0) == pytest.approx(0.3 * 0.08)
    assert low(project.check_limits.opening) == 0.075
    assert low(0.1) == 0.08  # smaller as drawn already
