"""Impossible values and combinations: refused, or reported, with the element, the field and the remedy."""

import pytest

from madidus.core.checks import check
from madidus.core.ensemble import make_plan
from madidus.core.errors import ModelError
from madidus.core.model.project import Project, parse_project
from tests.cases.build import identity

NODES = {
    "M1": {"kind": "manhole", "cover": 12, "invert": 10, "x": 0},
    "M2": {"kind": "manhole", "cover": 12, "invert": 9.8, "x": 40},
    "P1": {"kind": "storage", "cover": 12, "invert": 9, "table": [{"depth": 0, "area": 50}, {"depth": 3, "area": 90}]},
    "O1": {"kind": "outfall", "invert": 8},
}
LINKS = {
    "L1": {"kind": "pipe", "upstream": "M1", "downstream": "M2", "length": 40, "upstream_invert": 10,
           "downstream_invert": 9.8, "section": {"shape": "circular", "diameter": 0.3}},
    "L2": {"kind": "pipe", "upstream": "M2", "downstream": "P1", "length": 40, "upstream_invert": 9.8,
           "downstream_invert": 9.6, "section": {"shape": "circular", "diameter": 0.3}},
    "C1": {"kind": "orifice", "upstream": "P1", "downstream": "O1", "invert": 9,
           "section": {"shape": "circular", "diameter": 0.1}},
}  # fmt: skip
CURVE = [{"head": 0, "flow": 0}, {"head": 1, "flow": 0.01}]
STONE = {"kind": "stone", "cover": 12, "invert": 9, "length": 10, "width": 5, "stone_depth": 1, "porosity": 0.3}
UNIT = {"on": 11, "off": 10, "curve": [{"flow": 0, "head": 9}, {"flow": 0.01, "head": 5}]}


def document(nodes: dict | None = None, links: dict | None = None) -> dict:
    """A sound project, changed: a name maps to fields that replace its own, or to None when it is left out."""

    def merged(base: dict, change: dict) -> dict:
        names = {**base, **change}
        parts = {}
        for name in names:
            if name in change and change[name] is None:
                continue
            own = change.get(name, {})
            fields = own if "kind" in own else {**base.get(name, {}), **own}
            ends = {e: identity(fields[e]) for e in ("upstream", "downstream") if e in fields}
            parts[identity(name)] = {"name": name, **fields, **ends}
        return parts

    network = {"nodes": merged(NODES, nodes or {}), "links": merged(LINKS, links or {}), "catchments": {}}
    option = {"name": "A", "network": network}
    return {
        "format": "madidus-project",
        "version": 2,
        "name": "bad",
        "options": {identity("option"): option},
        "order": [identity("option")],
        "in_view": identity("option"),
    }


REFUSED = {
    "zero-length pipe": ({}, {"L1": {"length": 0}}, "L1", "length"),
    "both ends at one node": ({}, {"L1": {"downstream": "M1"}}, "L1", "downstream"),
    "no such node": ({}, {"L1": {"downstream": "gone"}}, "L1", "downstream"),
    "storage table falls": (
        {"P1": {"table": [{"depth": 0, "area": 5}, {"depth": 2, "area": 6}, {"depth": 1, "area": 7}]}},
        {}, "P1", "depths",
    ),
    "control curve not monotone": (
        {}, {"C1": {"kind": "curve", "upstream": "P1", "downstream": "O1", "invert": 9, "rows": [*CURVE, CURVE[1]]}},
        "C1", "heads",
    ),
    "control curve without origin": (
        {}, {"C1": {"kind": "curve", "upstream": "P1", "downstream": "O1", "invert": 9,
                    "rows": [{"head": 0.1, "flow": 0}, CURVE[1]]}}, "C1", "start at head 0",
    ),
    "pump curve rises": (
        {}, {"C1": {"kind": "pump", "upstream": "P1", "downstream": "O1",
                    "units": [{**UNIT, "curve": [{"flow": 0, "head": 5}, {"flow": 0.01, "head": 9}]}]}},
        "C1", "falls as its flow grows",
    ),
    "pump starts below its stop": (
        {}, {"C1": {"kind": "pump", "upstream": "P1", "downstream": "O1", "units": [{**UNIT, "on": 9}]}}, "C1", "on level",
    ),
    "porosity 0": ({"P1": {**STONE, "porosity": 0}}, {}, "P1", "porosity"),
    "porosity above 1": ({"P1": {**STONE, "porosity": 1.2}}, {}, "P1", "porosity"),
    "silted up": ({}, {"L1": {"silt": 0.28}}, "L1", "silt"),
    "weir without length": (
        {}, {"C1": {"kind": "weir", "upstream": "P1", "downstream": "O1", "crest": 11, "length": 0}}, "C1", "length",
    ),
    "roof higher than the section": (
        {}, {"L1": {"section": {"shape": "arch", "width": 1, "height": 0.5, "rise": 0.8}}}, "L1", "rise",
    ),
    "survey that turns back": (
        {}, {"L1": {**LINKS["L1"], "kind": "channel", "section": {"shape": "irregular", "stations": [
            {"offset": 0, "elevation": 2}, {"offset": 3, "elevation": 0}, {"offset": 2, "elevation": 2}]}}},
        "L1", "offsets",
    ),
    "tide that turns back": (
        {"O1": {"tail_water": {"kind": "series", "rows": [{"time": 9, "level": 1}, {"time": 3, "level": 2}]}}}, {},
        "O1", "times",
    ),
    "trench smaller than its pipe": (
        {}, {"L1": {"kind": "trench", "upstream": "M1", "downstream": "M2", "length": 40, "upstream_invert": 10,
                    "downstream_invert": 9.8, "width": 0.2, "height": 1, "porosity": 0.3,
                    "pipe": {"shape": "circular", "diameter": 0.3}}}, "L1", "pipe is larger",
    ),
    "base without area": (
        {"P1": {"kind": "basin", "cover": 12, "invert": 9, "base": [(0, 0), (9, 0), (18, 0)]}}, {}, "P1", "base",
    ),
}  # fmt: skip
NOT_COMPUTED = {
    "no outfall": ({"O1": None}, {"C1": None}, "network", "end a pipe at an outfall"),
    "outfall with an outgoing pipe": (
        {}, {"L3": {**LINKS["L1"], "upstream": "O1", "downstream": "M2"}}, "L3", "turn it round",
    ),
    "cover below invert": ({"M1": {"cover": 9}}, {}, "M1", "raise the cover"),
    "pipe below its manhole": ({}, {"L1": {"downstream_invert": 9}}, "L1", "raise its end"),
    "inlets that pass on in a circle": (
        {"M1": {"kind": "inlet", "cover": 12, "invert": 10, "capacity": 0.1, "bypass": identity("M2")},
         "M2": {"kind": "inlet", "cover": 12, "invert": 9.8, "capacity": 0.1, "bypass": identity("M1")}},
        {}, "M", "pass on elsewhere",
    ),
}  # fmt: skip
REPORTED = {
    "orifice above the bank": ({}, {"C1": {"invert": 12.5}}, "C1", "invert"),
    "curve that falls": (
        {}, {"C1": {"kind": "curve", "upstream": "P1", "downstream": "O1", "invert": 9,
                    "rows": [*CURVE, {"head": 2, "flow": 0.005}]}}, "C1", "rows",
    ),
    "island": (
        {"X1": {**NODES["M1"], "y": 99}, "X2": {**NODES["M2"], "y": 99}},
        {"L9": {**LINKS["L1"], "upstream": "X1", "downstream": "X2"}}, "X1", "links",
    ),
    "store without outlet": ({"P2": NODES["P1"]}, {"L9": {**LINKS["L2"], "downstream": "P2"}}, "P2", "links"),
    "pump that starts above the cover": (
        {}, {"C1": {"kind": "pump", "upstream": "P1", "downstream": "O1", "units": [{**UNIT, "on": 13}]}}, "C1", "units",
    ),
    "stone above the surface": ({"P1": {**STONE, "stone_depth": 4}}, {}, "P1", "stone_depth"),
    "standing water above the bank": ({"P1": {"initial_depth": 4}}, {}, "P1", "initial_depth"),
    "inlet whose rest is lost": (
        {"M1": {"kind": "inlet", "cover": 12, "invert": 10, "capacity": 0.1}}, {}, "M1", "bypass",
    ),
}  # fmt: skip


def test_the_sound_project_is_sound():
    project = parse_project(document())
    make_plan_or_none = [f for f in check(project) if f.severity == "stops" and f.element]
    assert make_plan_or_none == []


@pytest.mark.parametrize("case", REFUSED)
def test_refused_with_element_and_reason(case):
    nodes, links, name, said = REFUSED[case]
    with pytest.raises(ModelError) as caught:
        parse_project(document(nodes, links))
    assert name in str(caught.value)
    assert said in str(caught.value)


def with_rain(nodes, links) -> Project:
    changed = document(nodes, links)
    changed["rain"] = {
        "rainfall": {"kind": "table", "durations": [60], "return_periods": [2], "depths": [[12]]},
        "ensemble": {"durations": [60], "probabilities": [{"return_period": 2}],
                     "seasons": [{"name": "summer", "shape": {"kind": "block"}}]},
    }  # fmt: skip
    return parse_project(changed)


@pytest.mark.parametrize("case", NOT_COMPUTED)
def test_not_computed_with_element_and_remedy(case):
    nodes, links, name, remedy = NOT_COMPUTED[case]
    project = with_rain(nodes, links)
    with pytest.raises(ModelError) as caught:
        make_plan(project)
    assert name in caught.value.element
    assert remedy in caught.value.remedy
    assert any(f.severity == "stops" for f in check(project))


@pytest.mark.parametrize("case", REPORTED)
def test_reported_with_element_field_and_remedy(case):
    nodes, links, name, field = REPORTED[case]
    project = parse_project(document(nodes, links))
    found = [f for f in check(project) if f.element == identity(name) and f.field == field]
    assert found, [f.why for f in check(project)]
    assert found[0].remedy
