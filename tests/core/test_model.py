"""Bad input: each slip is refused with the element, the field and the remedy, or shows up in the checks."""

import copy
import json
import math
from pathlib import Path

import pytest

from madidus.core.checks import check, judged
from madidus.core.ensemble import make_plan
from madidus.core.errors import ModelError
from madidus.core.model import fingerprint, parse_project
from madidus.core.model.project import completed

DEMO = json.loads((Path(__file__).parents[2] / "demo" / "quillmere_boatyard.madidus.json").read_text())


@pytest.fixture
def demo():
    return copy.deepcopy(DEMO)


def net(document):
    return next(iter(document["options"].values()))["network"]


def named(part, name):
    return next(item for item in part.values() if item["name"] == name)


def test_the_demo_is_whole(demo):
    project = parse_project(demo)
    assert all(reason for _, reason in judged(project))
    network = project.option.network
    assert len(network.catchments) == 35
    assert 40 <= sum(node.kind == "manhole" for node in network.nodes.values()) <= 50
    assert len(make_plan(project).storms) == 54


def test_the_fingerprint_follows_the_meaning(demo):
    again = json.loads(json.dumps(parse_project(demo).model_dump(mode="json")))
    assert fingerprint(again) == fingerprint(parse_project(demo).model_dump(mode="json"))
    named(net(again)["links"], "A1–A2")["length"] += 0.01
    assert fingerprint(again) != fingerprint(demo)


SLIPS = {
    "no project": (lambda d: d.update(format="other"), "format"),
    "newer version": (lambda d: d.update(version=99), "version"),
    "unknown node": (lambda d: named(net(d)["links"], "A1–A2").update(upstream="0" * 8 + "-0000-4000-8000-" + "0" * 12), "upstream"),
    "both ends the same": (lambda d: (p := named(net(d)["links"], "A1–A2")).update(downstream=p["upstream"]), "A1–A2"),
    "negative diameter": (lambda d: named(net(d)["links"], "A1–A2")["section"].update(diameter=-0.3), "diameter"),
    "not a number": (lambda d: named(net(d)["links"], "A1–A2").update(length=math.nan), "length"),
    "zero length": (lambda d: named(net(d)["links"], "A1–A2").update(length=0), "length"),
    "misspelt field": (lambda d: named(net(d)["links"], "A1–A2").update(lenght=5), "lenght"),
    "depths fall": (lambda d: named(net(d)["nodes"], "P1")["table"].reverse(), "depths"),
    "hole in the table": (lambda d: d["rain"]["rainfall"]["depths"][1].pop(), "10-year row"),
    "depth falls with duration": (lambda d: d["rain"]["rainfall"]["depths"][0].__setitem__(3, 1.0), "2-year row"),
    "no option": (lambda d: d.update(options={}), "options"),
}  # fmt: skip


@pytest.mark.parametrize("slip", SLIPS)
def test_impossible_values_are_refused(demo, slip):
    spoil, mention = SLIPS[slip]
    spoil(demo)
    with pytest.raises(ModelError) as caught:
        parse_project(demo)
    assert mention in str(caught.value)
    assert caught.value.remedy


STOPS = {
    "cover below invert": (lambda d: named(net(d)["nodes"], "A3").update(cover=0.0), "A3"),
    "pipe below its manhole": (lambda d: named(net(d)["links"], "A3–A4").update(upstream_invert=0.5), "A3–A4"),
    "no outfall": (lambda d: net(d)["nodes"].update({
        k: {"kind": "manhole", "name": n["name"], "cover": 4.0, "invert": 1.3}
        for k, n in net(d)["nodes"].items() if n["kind"] == "outfall"}), "outfall"),
    "empty ensemble": (lambda d: d["rain"]["ensemble"].update(durations=[]), "durations"),
    "rain beyond the table": (lambda d: d["rain"]["ensemble"]["durations"].append(2880), "2880"),
    "storm twice": (lambda d: d["rain"]["ensemble"]["durations"].append(15), "twice"),
}  # fmt: skip


@pytest.mark.parametrize("slip", STOPS)
def test_what_cannot_run_says_so_in_checks_and_plan(demo, slip):
    spoil, mention = STOPS[slip]
    spoil(demo)
    project = parse_project(demo)
    assert any(f.severity == "stops" and mention in f"{f.why} {f.field}" for f in check(project))
    with pytest.raises(ModelError, match=mention):
        make_plan(project)


LOOKS = {
    "catchment to nowhere": (lambda d: named(net(d)["catchments"], "Green").update(node=None), "Green"),
    "uphill": (lambda d: named(net(d)["links"], "A3–A4").update(downstream_invert=3.9), "uphill"),
    "smaller downstream": (lambda d: named(net(d)["links"], "A6–A7")["section"].update(diameter=0.15), "smaller"),
    "length against drawing": (lambda d: named(net(d)["links"], "A3–A4").update(length=99), "drawn"),
    "rule without storms": (lambda d: d["brief"]["rules"][0]["limits"][0].update(return_period=5), "no storm"),
}  # fmt: skip


@pytest.mark.parametrize("slip", LOOKS)
def test_what_makes_no_sense_is_a_finding(demo, slip):
    spoil, mention = LOOKS[slip]
    spoil(demo)
    findings = check(parse_project(demo))
    assert any(mention in f.why and f.remedy for f in findings)


def test_a_kept_document_of_an_older_program_gets_what_was_added_since(demo):
    old = {key: value for key, value in demo.items() if key not in ("run", "check_limits", "accepted")}
    whole = completed(old)
    assert whole["check_limits"]["cover"] == 0.6
    assert whole["accepted"] == []
    assert completed(whole) == whole
