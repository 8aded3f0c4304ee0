"""Sense checks: each slip is found where it is, explained, and put right by its remedy; a sound network is left alone."""

import copy
import json
import re
from pathlib import Path

import jsonpatch
import pytest

from madidus.core.checks import EXPLAINED, check, judged
from madidus.core.model.check_limits import Accepted
from madidus.core.model.project import parse_project
from madidus.core.rainfall.storms import ensemble as storms_of
from madidus.core.results.quality import LIMITS
from madidus.core.results.whole_run import WholeRun
from tests.core.generated import identity

DEMO = json.loads((Path(__file__).parents[2] / "demo" / "quillmere_boatyard.madidus.json").read_text(encoding="utf-8"))


@pytest.fixture
def demo():
    return copy.deepcopy(DEMO)


def network(document):
    return next(iter(document["options"].values()))["network"]


def named(document, collection, name):
    return next((id_, e) for id_, e in network(document)[collection].items() if e["name"] == name)


def put(collection, element, **fields):
    return lambda d: named(d, collection, element)[1].update(fields)


def cross(d):
    """A new pair of manholes whose pipe cuts through A3–A4 at its depth."""
    _, pipe = named(d, "links", "A3–A4")
    a, b = (network(d)["nodes"][pipe[end]] for end in ("upstream", "downstream"))
    x, y, invert = (
        0.5 * (a["x"] + b["x"]),
        0.5 * (a["y"] + b["y"]),
        0.5 * (pipe["upstream_invert"] + pipe["downstream_invert"]),
    )
    for name, dy in (("X1", 5.0), ("X2", -5.0)):
        network(d)["nodes"][identity(name)] = {
            "kind": "manhole",
            "name": name,
            "x": x,
            "y": y + dy,
            "cover": invert + 3,
            "invert": invert,
        }
    network(d)["links"][identity("X")] = {**pipe, "name": "X", "upstream": identity("X1"), "downstream": identity("X2"), "length": 10.0,
                                          "upstream_invert": invert + 0.02, "downstream_invert": invert}  # fmt: skip


def twin(d):
    _, node = named(d, "nodes", "A3")
    network(d)["nodes"][identity("twin")] = {**node, "name": "A3 again", "x": node["x"] + 0.1}


PATTERN = {"duration": 60, "name": "1", "increments": [0.5, 0.5]}


def ensemble(d):
    return d["rain"]["ensemble"]


def every_key(d):
    return [storm.key for storm in storms_of(parse_project(d).rain)]


FINDINGS = {
    "runs-uphill": (put("links", "A3–A4", downstream_invert=3.9), "A3–A4"),
    "below-its-node": (put("links", "A3–A4", upstream_invert=0.5), "A3–A4"),
    "cover-below-invert": (put("nodes", "A3", cover=0.0), "A3"),
    "soffit-above-cover": (put("links", "A3–A4", upstream_invert=9.0), "A3–A4"),
    "shallow": (lambda d: d["check_limits"].update(cover=2.0), "of cover at"),
    "big-drop": (put("links", "A2–A3", downstream_invert=9.0), "A2–A3"),
    "smaller-downstream": (put("links", "A6–A7", section={"shape": "circular", "diameter": 0.15}), "A6–A7"),
    "leaves-higher": (put("links", "A6–A7", upstream_invert=3.4), "A6–A7"),
    "unusual-roughness": (put("links", "A6–A7", roughness=0.13), "A6–A7"),
    "fast": (lambda d: d["check_limits"].update(max_velocity=0.9), "m/s when full"),
    "slow": (lambda d: d["check_limits"].update(min_velocity=1.5), "silt may stay"),
    "name-twice": (put("nodes", "A3", name="A4"), "A4"),
    "same-place": (twin, "A3 again"),
    "length-against-drawing": (put("links", "A3–A4", length=99), "99.0"),
    "pipes-clash": (cross, "A3–A4"),
    "catchment-without-node": (put("catchments", "Green", node=None), "Green"),
    "catchment-far": (lambda d: put("catchments", "Slip head", node=named(d, "nodes", "H1")[0])(d), "Slip head"),
    "runs-over-elsewhere": (
        lambda d: put("catchments", "Slip head", over=named(d, "catchments", "Green")[0])(d), "runs over Green",
    ),
    "area-against-outline": (put("catchments", "Green", area=5000.0), "Green"),
    "island": (lambda d: (cross(d), named(d, "nodes", "X1")[1].update(y=500), named(d, "nodes", "X2")[1].update(y=510)), "X1"),
    "store-overfull": (put("nodes", "P1", initial_depth=3.0), "P1"),
    "control-above-cover": (put("links", "P1 overflow", crest=4.0), "P1 overflow"),
    "rain-ends-early": (lambda d: ensemble(d)["durations"].append(2880), "2880 min lies outside"),
    "no-rainfall": (lambda d: d["rain"].update(rainfall=None), "the ensemble has no rainfall"),
    "no-storms": (lambda d: d["rain"].update(excluded=every_key(d)), "leaves no storm"),
    "pattern-missing": (lambda d: ensemble(d)["patterns"].append(PATTERN), "no patterns for 15, 30"),
    "block-incomplete": (lambda d: d["rain"]["further"].append({"name": "hill"}), "“hill” has no duration"),
    "curve-extended": (
        lambda d: ensemble(d)["seasons"][0].update(shape={"kind": "chicago", "peak": 0.4}), "depths of 0.968 min",
    ),
    "mass-curve-duration": (
        lambda d: ensemble(d)["seasons"][0].update(shape={"kind": "mass", "type": "II"}), "used for 15, 30",
    ),
    "interval-coarse": (
        lambda d: d["rain"]["given"].append({"name": "hourly", "interval": 60, "depths": [3, 9]}), "steps of 60 min",
    ),
    "weir-coefficient": (put("links", "P1 overflow", coefficient=2.7), "C is 2.7 m½/s"),
    "head-regained": (put("links", "E11–P1", exit_loss=0.4), "E11–P1 has an exit loss of 0.4 into P1"),
    "flood-upright": (put("nodes", "A3", ponded_side_slope=0.0), "A3: water above its cover stands on 60 m² with upright"),
    "excluded-unknown": (lambda d: d["rain"]["excluded"].append("1-2-winter"), "1-2-winter is left out"),
    "rule-without-storms": (lambda d: d["brief"]["rules"][0]["limits"][0].update(return_period=5), "no storm"),
}  # fmt: skip


def test_the_demo_has_nothing_open():
    assert [f.why for f, reason in judged(parse_project(DEMO)) if reason is None] == []


@pytest.mark.parametrize("key", FINDINGS)
def test_a_slip_is_found_and_explained(demo, key):
    spoil, mention = FINDINGS[key]
    before = {(f.check, f.why) for f in check(parse_project(demo))}
    spoil(demo)
    found = [f for f in check(parse_project(demo)) if f.check == key and (f.check, f.why) not in before]
    assert found
    assert any(mention in f.why for f in found)
    assert all(f.remedy for f in found)
    text = EXPLAINED[key]
    assert all((text.title, text.looks, text.matters, text.remedy))


@pytest.mark.parametrize(
    "key",
    [
        "below-its-node",
        "head-regained",
        "name-twice",
        "length-against-drawing",
        "catchment-without-node",
        "area-against-outline",
    ],
)
def test_a_safe_remedy_puts_it_right_and_brings_nothing_new(demo, key):
    before = {(f.check, f.why) for f in check(parse_project(demo))}
    FINDINGS[key][0](demo)
    finding = next(f for f in check(parse_project(demo)) if f.check == key)
    option = next(iter(demo["options"]))
    patch = [{**change, "path": f"/options/{option}/network{change['path']}"} for change in finding.fix.patch]
    mended = jsonpatch.apply_patch(demo, patch)
    after = {(f.check, f.why) for f in check(parse_project(mended))}
    if key != "below-its-node":  # that node is then lower than what arrives there: told, and not mended in silence
        assert after <= before
    assert key not in {name for name, _ in after - before}


def test_a_finding_is_accepted_with_a_reason_but_never_one_that_stops(demo):
    id_, _ = named(demo, "links", "A3–A4")
    put("links", "A3–A4", length=99)(demo)
    demo["accepted"].append({"check": "length-against-drawing", "element": id_, "reason": "drawn as a sketch"})
    put("links", "A3–A4", upstream_invert=0.5)(demo)
    demo["accepted"].append({"check": "below-its-node", "element": id_, "reason": "no"})
    reasons = {f.check: reason for f, reason in judged(parse_project(demo)) if f.element == id_}
    assert reasons["length-against-drawing"] == "drawn as a sketch"
    assert reasons["below-its-node"] is None


def test_every_finding_in_the_code_is_explained():
    folder = Path(__file__).parents[2] / "src" / "madidus" / "core"
    files = [path for kind in ("checks", "elements") for path in (folder / kind).glob("*.py")]
    code = "".join(path.read_text(encoding="utf-8") for path in files if path.name != "explained.py")
    assert set(re.findall(r'(?:Finding|Unusual|_found)\(\s*"([a-z-]+)"', code)) | {
        f"storms-{kind.replace(' ', '-')}" for kind in LIMITS if kind != "flood"
    } | {"range-shortest", "range-longest"} == set(EXPLAINED)


def test_two_names_in_use_are_not_given_again(demo):
    """The remedy of a doubled name passes over what is taken already."""
    put("nodes", "A3", name="A4")(demo)
    put("nodes", "A5", name="A4-2")(demo)
    finding = next(f for f in check(parse_project(demo)) if f.check == "name-twice")
    assert finding.fix.patch[0]["value"] == "A4-3"


def test_joined_pipes_do_not_clash_and_one_that_passes_below_is_free(demo):
    cross(demo)
    _, pipe = named(demo, "links", "X")
    for end in ("upstream", "downstream"):
        pipe[f"{end}_invert"] -= 2.0
        network(demo)["nodes"][pipe[end]]["invert"] -= 2.5
    assert not [f for f in check(parse_project(demo)) if f.check == "pipes-clash"]


def test_usual_limits_that_contradict_each_other_are_refused(demo):
    demo["check_limits"].update(min_velocity=9.0)
    with pytest.raises(Exception, match="min_velocity"):
        parse_project(demo)


def test_what_results_let_stand_too_deep_is_found_and_may_be_accepted(demo):
    project = parse_project(demo)
    id_ = next(i for i, n in project.option.network.nodes.items() if n.name == "A3")
    assert not [f for f, _ in judged(project, WholeRun({id_: (0.5, "a storm")})) if f.check == "flood-deep"]
    (found,) = [f for f, _ in judged(project, WholeRun({id_: (5.6, "100 yr, 15 min")})) if f.check == "flood-deep"]
    assert found.why == "A3: water stands 5.60 m above its cover in 100 yr, 15 min"
    project.accepted.append(Accepted(check="flood-deep", element=id_, reason="a yard with walls"))
    assert [reason for f, reason in judged(project, WholeRun({id_: (5.6, "x")})) if f.check == "flood-deep"] == [
        "a yard with walls"
    ]
