"""Kinds of rules by hand: what each measures, of which elements, in which storms; and nothing silent about scopes."""

import math

import numpy as np
import pytest

from madidus.core.ensemble import make_plan
from madidus.core.model import parse_project
from madidus.core.model.network import Network
from madidus.core.model.project import fingerprint, inputs_of
from madidus.core.rules import Scope
from madidus.core.rules.kinds import (
    ConduitCover,
    FloodDepth,
    Freeboard,
    Gradient,
    HalfDrain,
    InvertDepth,
    NoneSmaller,
    Outflow,
    PipeSize,
    Surcharge,
    VelocityLeast,
    VelocityMost,
    VolumeOut,
    WaterBelowCover,
)
from madidus.core.verdicts import by_element, demand, judge, plain

from .told import asked, changed, figures_of, outfalls, storm_of, table_of

ID = "00000000-0000-4000-8000-00000000000{}".format
STORM = storm_of(60, "winter", pattern=False)


def network() -> Network:
    """M0 – 300 mm, 1:100 – M1 – 225 mm, 1:200 – pond P – 150 mm – M3, and M4 – 300 mm – M5 apart."""
    circle = lambda d: {"shape": "circular", "diameter": d}  # noqa: E731
    nodes = {
        ID(0): {"kind": "manhole", "name": "M0", "invert": 10.0, "cover": 12.0},
        ID(1): {"kind": "manhole", "name": "M1", "invert": 9.5, "cover": 11.0},
        ID(2): {"kind": "storage", "name": "P", "form": "pond", "invert": 9.0, "cover": 11.0,
                "table": [{"depth": 0, "area": 100}, {"depth": 2, "area": 100}]},
        ID(3): {"kind": "outfall", "name": "O", "invert": 8.0, "ground": 9.5},
        ID(4): {"kind": "manhole", "name": "M4", "invert": 5.0, "cover": 9.0, "sealed": True},
        ID(5): {"kind": "outfall", "name": "Q", "invert": 4.0},
    }  # fmt: skip
    links = {
        ID(6): {"kind": "pipe", "name": "A", "upstream": ID(0), "downstream": ID(1), "length": 50,
                "upstream_invert": 10.0, "downstream_invert": 9.5, "section": circle(0.3)},
        ID(7): {"kind": "pipe", "name": "B", "upstream": ID(1), "downstream": ID(2), "length": 50,
                "upstream_invert": 9.5, "downstream_invert": 9.25, "section": circle(0.225)},
        ID(8): {"kind": "pipe", "name": "C", "upstream": ID(2), "downstream": ID(3), "length": 50,
                "upstream_invert": 9.0, "downstream_invert": 8.0, "section": circle(0.15)},
        ID(9): {"kind": "pipe", "name": "D", "upstream": ID(4), "downstream": ID(5), "length": 100,
                "upstream_invert": 5.0, "downstream_invert": 4.0, "section": circle(0.3)},
    }  # fmt: skip
    return Network.model_validate({"nodes": nodes, "links": links})


def figures(end=50_000.0, **arrays):
    found = figures_of(STORM.key, 6, **{"level": [10.5, 10.2, 10.6, math.nan, 9.2, math.nan], **arrays})
    found.summary["end_time"] = end
    return found


def drawn(kind, limit, net=None):
    """By name: what is left of a rule about the drawing."""
    net = net or network()
    found = by_element(plain(kind(name="rule", limit=limit))[0], net, [], {})
    return {net.label(one.margin.element).split()[1]: round(one.margin.value, 9) for one in found}


def test_rules_about_the_drawing_by_hand():
    assert drawn(PipeSize, 0.225) == {"C": -0.075, "B": 0.0, "A": 0.075, "D": 0.075}
    assert drawn(Gradient, 0.01) == {"B": -0.005, "A": 0.0, "C": 0.01, "D": 0.0}
    assert drawn(InvertDepth, 1.8) == {"M4": -2.2, "M0": -0.2, "P": -0.2, "M1": 0.3}
    # C has 1.85 m at the pond and 9.5 − 8 − 0.15 at the outfall that has ground; D's outfall has none
    assert drawn(ConduitCover, 1.0) == {"A": 0.2, "B": 0.275, "C": 0.35, "D": 2.7}
    # B follows A and is 75 mm smaller; C is the pond's outlet
    assert drawn(NoneSmaller, 0.0) == {"B": -0.075}
    assert drawn(NoneSmaller, 0.1) == {"B": 0.025}


def test_a_rule_about_the_drawing_is_judged_without_a_storm():
    (v,) = judge(plain(PipeSize(name="150", limit=0.15)), network(), [], {})
    assert (v.state, v.due, v.storm, v.governing.element) == ("meets", 0, None, ID(8))
    (v,) = judge(plain(PipeSize(name="225", limit=0.225)), network(), [STORM], {})
    assert (v.state, v.reason) == ("fails", "")
    (v,) = judge(plain(PipeSize(name="225", limit=0.225)), outfalls("O"), [], {})
    assert (v.state, v.reason) == ("not judged", "there is no pipe")


def of(criterion, found, storms=(STORM,)):
    return judge([criterion], network(), storms, {found.key: found})[0]


def test_velocities_at_least_and_at_most_look_from_both_sides():
    speeds = figures(speed=[1.2, 0.6, 2.5, 0.9])
    least = of(asked(VelocityLeast, 0.75), speeds)
    assert (least.state, least.governing.element, round(least.governing.value, 9)) == ("fails", ID(7), -0.15)
    most = of(asked(VelocityMost, 2.4), speeds)
    assert (most.state, most.governing.element, round(most.governing.value, 9)) == ("fails", ID(8), -0.1)
    assert of(asked(VelocityMost, 2.5), speeds).state == "meets"


def test_a_flood_is_as_deep_as_the_water_above_the_cover_and_a_sealed_manhole_has_none():
    deep = figures(level=[12.1, 11.05, 10.6, math.nan, 9.8, math.nan])
    v = of(asked(FloodDepth, 0.08), deep)
    assert (v.state, v.governing.element, round(v.governing.value, 9)) == ("fails", ID(0), -0.02)
    assert of(asked(FloodDepth, 0.1), deep).state == "meets"
    dry = of(asked(FloodDepth, 0.1), figures(level=[11.9, 10.8, 10.6, math.nan, 9.8, math.nan]))
    assert dry.dry == pytest.approx(0.1)  # of M0


@pytest.mark.parametrize(
    ("half", "taken", "end", "state"),
    [
        (3600.0, 80.0, 50_000.0, "meets"),
        (7201.0, 80.0, 50_000.0, "fails"),
        (math.nan, 80.0, 9_000.0, "fails"),  # 8,000 s after its peak it is not half empty
        (math.nan, 80.0, 4_000.0, "not judged"),  # the run says nothing of what came later
        (math.nan, 0.0, 4_000.0, "meets"),  # it took nothing
    ],
)
def test_half_drain_times_are_met_only_where_the_half_was_seen_to_go(half, taken, end, state):
    nan = math.nan
    one = figures(end, half_drain=[nan, nan, half, nan, nan, nan], taken=[nan, nan, taken, nan, nan, nan],
                  level_time=[0, 0, 1000.0, 0, 0, 0])  # fmt: skip
    v = of(asked(HalfDrain, 7200.0), one)
    assert v.state == state
    assert (v.reason != "") == (state == "not judged")


def test_a_volume_is_read_at_its_time_and_unknown_at_another():
    at = figures(
        marks=[3600.0, 7200.0], passed_at=[[0, 0, 0, 40.0, 0, 0, *[0] * 4], [0, 0, 0, 90.0, 0, 0, 7.0, 0, 0, 0]]
    )
    late = asked(VolumeOut, 80.0, element=ID(3), within=7200.0)
    assert (of(late, at).state, of(late, at).governing.value) == ("fails", -10.0)
    assert of(changed(late, within=3600.0), at).governing.value == 40.0
    assert of(changed(late, element=ID(6)), at).governing.value == 73.0
    unknown = of(changed(late, within=1800.0), at)
    assert unknown.state == "not judged"
    assert "after 0.5 h" in unknown.reason


def test_what_rules_ask_of_a_run_is_of_the_storms_that_they_judge():
    rare, often = storm_of(60, "winter", pattern=False), storm_of(60, "winter", pattern=False, return_period=2)
    long = storm_of(360, "winter", pattern=False)
    rules = [
        asked(VolumeOut, 10.0, element=ID(3), within=7200.0), asked(VolumeOut, 10.0, element=ID(3), within=3600.0),
        asked(HalfDrain, 500.0), asked(HalfDrain, 900.0, 2),
    ]  # fmt: skip
    assert demand(rules, rare) == demand(rules, long)
    assert demand(rules, rare).marks == (3600.0, 7200.0)
    assert [demand(rules, storm).after for storm in (rare, often)] == [500.0, 900.0]
    # of several the storm goes on for the longest
    assert demand([*rules, asked(HalfDrain, 700.0), asked(HalfDrain, 600.0)], rare).after == 700.0
    assert demand(rules[:2], rare).after == 0.0
    of_an_hour = rules[0].at(rules[0].limit.model_copy(update={"duration": 60.0}))
    assert [demand([of_an_hour], storm).marks for storm in (rare, long)] == [(7200.0,), ()]


def test_a_limit_may_be_of_one_duration_alone():
    storms, found = table_of({"O": {15: [0.9], 60: [0.1]}})
    rule = asked(Outflow, 0.5, element=ID(0))
    assert judge([rule], outfalls("O"), storms, found)[0].state == "fails"
    hour = rule.at(rule.limit.model_copy(update={"duration": 60.0}))
    (v,) = judge([hour], outfalls("O"), storms, found)
    assert (v.state, v.due) == ("meets", 1)
    day = rule.at(rule.limit.model_copy(update={"duration": 1440.0}))
    (v,) = judge([day], outfalls("O"), storms, found)
    assert (v.state, v.reason) == ("not judged", "no storm of 100 yr, 1440 min")


def scoped(criterion, **scope):
    return changed(criterion, scope=Scope(**scope))


SURCHARGED = {"clearance": [-0.3, 0.1, -0.003, 0.2], "clearance_time": [1.0] * 4}
SURCHARGE = asked(Surcharge)


@pytest.mark.parametrize(
    ("scope", "governs", "value"),
    [
        ({"of": "all"}, "A", -0.3),
        ({"of": "all but", "elements": [ID(6)], "reason": "stands in the river"}, "C", -0.003),
        ({"of": "all but", "elements": [ID(6), ID(8)]}, "B", 0.1),
        ({"of": "elements", "elements": [ID(7), ID(9)]}, "B", 0.1),
        ({"of": "network", "elements": [ID(5)]}, "D", 0.2),
        ({"of": "network", "elements": [ID(9)]}, "D", 0.2),
        ({"of": "network", "elements": [ID(1)]}, "A", -0.3),
    ],
)
def test_a_rule_looks_at_its_scope_alone(scope, governs, value):
    v = of(scoped(SURCHARGE, **scope), figures(**SURCHARGED))
    assert (network().links[v.governing.element].name, v.governing.value) == (governs, value)
    assert v.state == ("fails" if value < 0 else "meets")


def test_a_kept_selection_is_a_scope_and_its_nodes_do_not_make_a_rule_of_pipes_wider():
    from dataclasses import replace

    picked = replace(scoped(SURCHARGE, of="selection", selection="row"), selections={"row": [ID(7), ID(0)]})
    assert of(picked, figures(**SURCHARGED)).governing.element == ID(7)
    gone = replace(picked, selections={})
    assert of(gone, figures(**SURCHARGED)).reason == "the selection “row” is gone; choose another scope"
    nodes = replace(picked, selections={"row": [ID(0)]})
    assert of(nodes, figures(**SURCHARGED)).reason == "nothing in its scope is of the kind that it looks at"


@pytest.mark.parametrize("of_", ["elements", "network"])
def test_a_scope_that_has_lost_an_element_judges_nothing(of_):
    """A rule that shrank in silence would be met by what nobody looked at."""
    ids = [ID(7), "10000000-0000-4000-8000-000000000000"]
    v = of(scoped(SURCHARGE, of=of_, elements=ids[-1:] if of_ == "network" else ids), figures(**SURCHARGED))
    assert v.state == "not judged"
    assert "an element of its scope is not in this option" in v.reason
    everything = [ID(6), ID(7), ID(8), ID(9)]
    none = of(scoped(SURCHARGE, of="all but", elements=everything), figures(**SURCHARGED))
    assert (none.state, none.reason) == ("not judged", "its scope leaves every element out")


def test_a_scope_says_what_it_is_of():
    for bad in ({"of": "elements"}, {"of": "all but"}, {"of": "network"}, {"of": "selection"},
                {"of": "network", "elements": [ID(1), ID(2)]}):  # fmt: skip
        with pytest.raises(ValueError, match="scope"):
            Scope(**bad)


def test_an_unknown_figure_hides_no_broken_limit_and_is_not_met():
    some = {"clearance": [math.nan, 0.1, 0.2, 0.3], "clearance_time": [1.0] * 4}
    assert of(SURCHARGE, figures(**some)).state == "not judged"
    broken = {**some, "clearance": [math.nan, 0.1, -0.2, 0.3]}
    v = of(SURCHARGE, figures(**broken))
    assert (v.state, v.governing.element) == ("fails", ID(8))


def test_every_element_is_told_by_its_own_worst_storm():
    one, two = storm_of(15, "winter", pattern=False), storm_of(60, "winter", pattern=False)
    net = outfalls("O", "P")
    rule = asked(WaterBelowCover)
    made = Network.model_validate({"nodes": {
        ID(k): {"kind": "manhole", "name": f"M{k}", "invert": 0.0, "cover": 3.0} for k in range(3)}})  # fmt: skip
    found = {
        one.key: figures_of(one.key, level=[1.0, 3.4, 2.0], level_time=[5.0, 6.0, 7.0]),
        two.key: figures_of(two.key, level=[2.9, 1.0, math.nan], level_time=[8.0, 9.0, 9.0]),
    }
    told = by_element(rule, made, [one, two], found)
    assert [(t.margin.element, t.storm) for t in told] == [(ID(1), one.key), (ID(0), two.key), (ID(2), two.key)]
    assert [round(t.margin.value, 9) for t in told[:2]] == [-0.4, 0.1]
    assert np.isnan(told[2].margin.value)  # what is not known in one storm is not known
    assert told[0].margin.time == 6.0
    assert by_element(rule, made, [one, two], {}) == []
    assert net


@pytest.mark.parametrize("how", ["mean", "median", "every"])
def test_elements_under_patterns_agree_with_the_verdict(how):
    rng = np.random.default_rng(17)
    storms, found = table_of({"O": {d: list(rng.uniform(0, 1, 7)) for d in (15, 60, 360)}})
    rule = asked(Outflow, 0.6, element=ID(0), patterns=how)
    (v,) = judge([rule], outfalls("O"), storms, found)
    (told,) = by_element(rule, outfalls("O"), storms, found)
    assert told.margin.value == pytest.approx(v.governing.value)
    assert told.storm == v.storm


def test_the_least_of_all_elements_is_the_verdict_in_the_demo(demo_document):
    project = parse_project(demo_document)
    plan = make_plan(project)
    keys = [key for key in plan.inflow if key.startswith(("2-15", "100+40-15"))]
    reduced = {key: plan.reduction.figures(key, plan.simulate(key)) for key in keys}
    for k, v in enumerate(plan.verdicts(reduced)):
        told = plan.by_element(k, reduced)
        if v.governing is None:
            assert told == []
        elif v.dry is None:
            assert told[0].margin.value == pytest.approx(v.governing.value, abs=1e-12)


def test_a_selection_that_a_rule_is_asked_of_is_an_input_and_others_are_none(demo_document):
    document = parse_project(demo_document).model_dump(mode="json")
    element = next(iter(document["options"][document["in_view"]]["network"]["links"]))
    kept = [{"name": "row", "elements": [element]}, {"name": "other", "elements": [element]}]
    plainly = {**document, "selections": kept}
    assert fingerprint(plainly) == fingerprint(document)
    rules = [{**document["brief"]["rules"][0], "scope": {"of": "selection", "elements": [], "selection": "row",
                                                         "reason": ""}}]  # fmt: skip
    asks = {**plainly, "brief": {**document["brief"], "rules": rules}}
    other = {**asks, "selections": [kept[0] | {"elements": [element, element]}, kept[1]]}
    unused = {**asks, "selections": [kept[0], kept[1] | {"elements": [element, element]}]}
    assert fingerprint(other) != fingerprint(asks) == fingerprint(unused)
    option = document["in_view"]
    assert inputs_of(other, option) != inputs_of(asks, option) == inputs_of(unused, option)


def test_freeboard_is_of_stores_alone():
    v = of(asked(Freeboard, 0.3), figures(level=[11.9, 10.9, 10.6, math.nan, 8.9, math.nan]))
    assert (v.governing.element, round(v.governing.value, 9)) == (ID(2), 0.1)
