"""How elements fare over some storms: highest or mean of patterns, states with causes, stores and outfalls."""

import copy
import json
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace

import numpy as np
import pytest

from madidus.core.ensemble import make_plan, run_plan, submit_to
from madidus.core.model import parse_project
from madidus.core.results.cause import cause
from madidus.core.results.computed import Computed
from madidus.core.results.pumps import pump_results
from madidus.core.results.reduction import Reduction
from madidus.core.results.states import node_state
from tests.cases.build import Run, identity, network, tank

from .test_usual import DEMOS


def demo(name):
    return json.loads((DEMOS / f"{name}.madidus.json").read_text(encoding="utf-8"))


def run(document):
    plan = make_plan(parse_project(document))
    with ThreadPoolExecutor(2) as pool:
        return plan, {f.key: f for f in run_plan(plan, plan.inflow, submit_to(pool))}


@pytest.fixture(scope="module")
def boatyard():
    document = demo("quillmere_boatyard")
    document["rain"]["ensemble"].update(durations=[15, 120])
    return run(document)


@pytest.fixture(scope="module")
def flat():
    document = demo("ferry_flat")
    document["rain"]["ensemble"].update(durations=[30, 60], probabilities=[{"return_period": 100}])
    return run(document)


def test_each_element_has_its_own_highest_storm_and_what_is_left(boatyard):
    plan, figures = boatyard
    found = plan.element_results(figures, plan.storms)
    assert found.missing == ""
    assert len(found.nodes) + len(found.outfalls) == len(plan.nodes)
    for i, id_ in enumerate(plan.nodes):
        if id_ in found.outfalls:
            assert found.outfalls[id_].flow == max(f.outflow[i] for f in figures.values())
            assert found.outfalls[id_].volume == max(f.left[i] for f in figures.values())
            continue
        one, node = found.nodes[id_], plan.network.nodes[id_]
        assert one.level == max(f.level[i] for f in figures.values()) == figures[one.storm].level[i]
        assert one.left == pytest.approx(node.cover - one.level)
        assert one.depth == pytest.approx(one.level - node.invert)
        assert (one.state == "flooded") == (one.flooded > 0.0 or one.left < -1e-9)
    for i, id_ in enumerate(plan.links):
        one = found.links[id_]
        assert one.flow == max(f.flow[i] for f in figures.values())
        if one.clearance is not None:
            assert one.clearance == min(f.clearance[i] for f in figures.values())
            assert (one.state == "surcharged") == (one.clearance < 0.0)


def test_causes_are_those_of_the_storm_that_governs(boatyard):
    plan, figures = boatyard
    found = plan.element_results(figures, plan.storms)
    whys = set()
    for id_, one in [*found.nodes.items(), *((k, v) for k, v in found.links.items() if v.clearance is not None)]:
        storm = one.storm if id_ in found.nodes else one.clearance_storm
        alone = cause(plan.network, plan.nodes, plan.links, figures[storm], id_)
        if one.state != "ok":
            assert (one.why, one.by) == ((None, None) if alone is None else (alone.kind, alone.bottleneck))
            whys.add(one.why)
        else:
            assert one.why is None
    assert {"capacity", "backwater"} <= whys


def test_storms_that_are_not_in_are_told_and_nothing_is_made_up(boatyard):
    plan, figures = boatyard
    some = {key: figures[key] for key in list(figures)[:3]}
    assert plan.element_results(some, plan.storms).missing == f"3 of {len(plan.storms)} storms are in"
    none = plan.element_results({}, plan.storms)
    assert (none.nodes, none.links, none.stores, none.outfalls) == ({}, {}, {}, {})
    assert none.missing


def test_patterns_are_read_by_their_highest_mean_or_median(flat):
    plan, figures = flat
    place = plan.nodes.index(next(id_ for id_, n in plan.network.nodes.items() if n.name == "S1"))
    by_duration = {
        d: np.array([figures[s.key].level[place] for s in plan.storms if s.duration == d]) for d in (30.0, 60.0)
    }
    id_ = plan.nodes[place]
    highest = plan.element_results(figures, plan.storms).nodes[id_]
    mean = plan.element_results(figures, plan.storms, "mean").nodes[id_]
    median = plan.element_results(figures, plan.storms, "median").nodes[id_]
    assert highest.level == max(v.max() for v in by_duration.values())
    assert mean.level == pytest.approx(max(v.mean() for v in by_duration.values()))
    assert median.level == pytest.approx(max(np.median(v) for v in by_duration.values()))
    # the pattern nearest above stands for it
    own = figures[mean.storm].level[place]
    duration = next(s.duration for s in plan.storms if s.key == mean.storm)
    assert own == min(v for v in by_duration[duration] if v >= mean.level)
    (outfall,) = plan.element_results(figures, plan.storms, "mean").outfalls.values()
    assert outfall.flow < next(iter(plan.element_results(figures, plan.storms).outfalls.values())).flow


def test_two_patterns_are_too_few_for_a_mean(flat):
    plan, figures = flat
    storms = [s for s in plan.storms if s.duration == 30][:2]
    assert plan.element_results(figures, storms, "mean").nodes == plan.element_results(figures, storms).nodes


def test_what_enters_and_leaves_a_store_by_a_closed_form():
    """A triangular inflow of 70 L/s at 2400 s into a tank of 250 m2; its outlet takes 20 L/s from any depth on."""
    rows = [{"head": h, "flow": q} for h, q in ((0, 0), (0.001, 0.02), (10, 0.02))]
    net = network(
        {"pond": tank(0.0, 5.0, 250.0), "out": {"kind": "outfall", "invert": -5}},
        {"outlet": {"kind": "curve", "upstream": "pond", "downstream": "out", "invert": 0.0, "rows": rows}},
    )  # fmt: skip
    one = Run(net, {"pond": [(0, 0.0), (2400, 0.07), (10_800, 0.0)]}, 40_000.0, 60.0)
    figures = Reduction(net, one.flat).figures("storm", one.result)
    k = sorted(net.nodes).index(identity("pond"))
    assert figures.entering[k] == pytest.approx(0.07, rel=0.02)
    assert figures.entering_time[k] == pytest.approx(2400, abs=60)
    assert figures.leaving[k] == pytest.approx(0.02, rel=1e-6)
    # full at the moment when the falling inflow passes 20 L/s; held since the rising one did
    rise, fall = 2400 * 2 / 7, 10_800 - 8_400 * 2 / 7
    held = 0.5 * 0.05 * (fall - rise)
    assert figures.taken[k] == pytest.approx(held, rel=2e-3)
    assert figures.volume[k] == pytest.approx(held, rel=2e-3)
    # half of it goes with 20 L/s less what still runs in
    rest = held / 2 - (0.02 - 0.01) * (10_800 - fall)
    assert figures.half_drain[k] == pytest.approx(10_800 - fall + rest / 0.02, rel=5e-3)
    assert np.isnan(figures.infiltrated[k])


def test_the_boatyards_stores_keep_back_what_they_are_for(boatyard):
    plan, figures = boatyard
    found = plan.element_results(figures, plan.storms)
    names = {plan.network.nodes[id_].name: one for id_, one in found.stores.items()}
    assert set(names) == {"P1", "T1"}
    for one in names.values():
        assert 0.0 < one.share == one.volume / one.capacity < 1.0
        assert one.leaving < one.entering
        assert one.lag > 0.0
        assert one.half_drain is not None


def test_a_link_is_surcharged_from_its_soffit_on(boatyard):
    plan, figures = boatyard
    key = plan.storms[0].key
    pipe = next(i for i, c in enumerate(figures[key].clearance) if not np.isnan(c))

    def state(clearance):
        own = figures[key].clearance.copy()
        own[pipe] = clearance
        found = plan.element_results({key: replace(figures[key], clearance=own)}, plan.storms[:1])
        return found.links[plan.links[pipe]].state

    assert [state(c) for c in (0.03, 0.0, -1e-6, -0.03)] == ["ok", "ok", "surcharged", "surcharged"]


def test_half_of_nothing_is_gone_at_once_and_half_of_something_only_when_that_was_seen(boatyard):
    plan, figures = boatyard
    key, id_ = plan.storms[0].key, next(id_ for id_, n in plan.network.nodes.items() if n.name == "P1")
    at = plan.nodes.index(id_)

    def half_drain(taken, seen):
        own = {"taken": figures[key].taken.copy(), "half_drain": figures[key].half_drain.copy()}
        own["taken"][at], own["half_drain"][at] = taken, seen
        return plan.element_results({key: replace(figures[key], **own)}, plan.storms[:1]).stores[id_].half_drain

    assert half_drain(0.0, np.nan) == 0.0
    assert half_drain(5.0, np.nan) is None
    assert half_drain(5.0, 3600.0) == 3600.0


def test_a_node_at_a_bound_is_on_its_good_side():
    """cover 10, soffit 8; 0.5 m below the cover are kept free."""
    levels = [7.9, 8.0, 8.0001, 9.5, 9.5001, 10.0, 10.0001]
    found = [node_state(level, 10.0, 8.0, 0.0, 0.5) for level in levels]
    assert found == ["ok", "ok", "surcharged", "surcharged", "flood risk", "flood risk", "flooded"]
    assert [node_state(level, 10.0, 8.0, 0.0, 0.0) for level in levels[4:]] == ["surcharged", "surcharged", "flooded"]
    assert node_state(7.0, 10.0, 8.0, 1e-3, 0.5) == "flooded"  # lost over its cover, not seen in its level


def test_a_flood_risk_is_what_rules_of_cover_ask_to_keep(boatyard):
    plan, figures = boatyard
    bare = replace(plan, criteria=[c for c in plan.criteria if c.rule.kind != "cover"])
    states = lambda p: {one.state for one in p.element_results(figures, p.storms).nodes.values()}  # noqa: E731
    assert "flood risk" in states(plan)
    assert "flood risk" not in states(bare)
    assert copy.copy(plan) is not plan


def test_pumps_tell_their_starts_by_a_sump_that_fills_and_empties_evenly():
    """10 L/s into 5 m2; 30 L/s from 1 m down to 0.2 m: 200 s to empty 4 m3 net of what runs in, 400 s to fill."""
    curve = [{"flow": 0.03, "head": 30.0}, {"flow": 0.0301, "head": 1.0}]
    nodes = {
        "sump": tank(0.0, 3.0, 5.0) | {"ponded_area": 5.0}, "M": {"kind": "manhole", "cover": 14, "invert": 10},
        "out": {"kind": "outfall", "invert": 9},
    }  # fmt: skip
    links = {
        "station": {"kind": "pump", "upstream": "sump", "downstream": "M",
                    "units": [{"on": 1.0, "off": 0.2, "curve": curve}]},
        "away": {"kind": "pipe", "upstream": "M", "downstream": "out", "length": 50, "upstream_invert": 10,
                 "downstream_invert": 9, "section": {"shape": "circular", "diameter": 0.3}},
    }  # fmt: skip
    one = Run(network(nodes, links), {"sump": [(0, 0.01), (7200, 0.01), (7200, 0.0)]}, 9000.0, 60.0)
    reduction = Reduction(one.net, one.flat)
    figures = reduction.figures("storm", one.result)
    # a second pump beside, that never starts, and another storm with fewer starts
    short = Run(network(nodes, links), {"sump": [(0, 0.01), (1000, 0.01), (1000, 0.0)]}, 2000.0, 60.0)
    less = Reduction(short.net, short.flat).figures("less", short.result)
    of = Computed(one.net, one.flat, reduction, {"storm": figures, "less": less})
    (found,) = pump_results(of, ["less", "storm"]).values()
    cycle = 4.0 / 0.01 + 4.0 / 0.02
    assert found.storm == "storm"
    assert found.starts == pytest.approx((7200 - 100) / cycle, abs=1.01)
    assert found.most_in_hour == pytest.approx(3600 / cycle, abs=1.01)
    assert found.running == pytest.approx(found.starts * 200, rel=0.05)
    assert found.volume == pytest.approx(72.0 - 1.0, abs=4.1)
    assert (found.beyond, found.counted) == (0.0, True)
