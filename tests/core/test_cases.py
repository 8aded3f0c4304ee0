"""One pump out as a case of the ensemble, stand-by pumps, and the energy that pumps take."""

import copy
import json
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest

from madidus.core.elements import PumpUnit, RisingMain, main_loss, pump_curve
from madidus.core.ensemble import make_plan, run_plan, submit_to
from madidus.core.errors import ModelError
from madidus.core.model import parse_project
from madidus.core.results.reduction import Reduction
from tests.cases.build import Run, identity, network, tank

from .test_usual import DEMOS

FLAT = [{"flow": 0.03, "head": 30.0}, {"flow": 0.0301, "head": 1.0}]
G = 9.81 * 1000.0


def lifted(units, main=None, ends=7200.0, out=9.0, **more):
    """10 L/s for two hours into a sump of 5 m2, lifted to an outfall."""
    nodes = {
        "sump": tank(0.0, 3.0, 5.0) | {"ponded_area": 5.0}, "M": {"kind": "manhole", "cover": 14, "invert": 10},
        "out": {"kind": "outfall", "invert": out},
    }  # fmt: skip
    links = {
        "station": {"kind": "pump", "upstream": "sump", "downstream": "M", "units": units, "main": main},
        "away": {"kind": "pipe", "upstream": "M", "downstream": "out", "length": 50, "upstream_invert": 10,
                 "downstream_invert": 9, "section": {"shape": "circular", "diameter": 0.3}},
    }  # fmt: skip
    one = Run(network(nodes, links), {"sump": [(0, 0.01), (ends, 0.01), (ends, 0.0)]}, ends + 1800.0, 60.0, **more)
    return one, Reduction(one.net, one.flat).figures("storm", one.result)


def of(figures, one, name):
    return float(getattr(figures, name)[sorted(one.net.links).index(identity("station"))])


def test_energy_is_weight_times_volume_times_head_over_efficiency():
    """Levels between 0.9 and 1.1 m, poured out at 12 m: a lift of 11 m within 1 %, no main."""
    main = {"length": 0.01, "diameter": 1.0, "minor_loss": 0.0, "discharge_level": 12.0}
    one, figures = lifted([{"on": 1.1, "off": 0.9, "curve": FLAT, "efficiency": 0.6}], main)
    volume = of(figures, one, "passed")
    assert volume > 60.0
    assert of(figures, one, "energy") == pytest.approx(G * volume * 11.0 / 0.6, rel=0.01)


def test_what_a_main_loses_costs_energy_too():
    curve = [{"flow": 0.0, "head": 20.0}, {"flow": 0.03, "head": 14.0}]
    main = {"length": 200.0, "diameter": 0.15, "minor_loss": 3.0, "discharge_level": 12.0}
    one, figures = lifted([{"on": 1.1, "off": 0.9, "curve": curve, "efficiency": 0.5}], main)
    unit = PumpUnit.model_validate({"on": 1.1, "off": 0.9, "curve": curve, "efficiency": 0.5})
    lift, flow, _ = pump_curve([unit], RisingMain.model_validate(main))
    q = float(np.interp(11.0, lift, flow))
    head = 11.0 + main_loss(RisingMain.model_validate(main), q)
    assert head > 13.0
    assert head == pytest.approx(20.0 - 6.0 * q / 0.03, abs=0.01)  # where both curves meet
    assert of(figures, one, "energy") == pytest.approx(G * of(figures, one, "passed") * head / 0.5, rel=0.01)


def test_without_an_efficiency_of_every_pump_no_energy_is_told():
    bare = {"on": 1.1, "off": 0.9, "curve": FLAT}
    for units in ([bare], [{**bare, "efficiency": 0.6}, {**bare, "on": 2.5, "off": 2.4}]):
        one, figures = lifted(units)
        assert np.isnan(of(figures, one, "energy"))
    one, figures = lifted([{**bare, "efficiency": 0.6}])
    assert of(figures, one, "energy") > 0.0
    assert np.isnan(figures.energy[sorted(one.net.links).index(identity("away"))])


def test_a_pump_that_is_out_never_runs_even_where_it_ran_before():
    units = [{"on": 1.0, "off": 0.2, "curve": FLAT}]
    one, figures = lifted(units, idle=[(identity("station"), 0)])
    assert of(figures, one, "passed") == 0.0
    assert one.level("sump")[-1] > 3.0
    usual, _ = lifted(units, ends=600.0)
    again, after = lifted(units, start=usual.result.end, idle=[(identity("station"), 0)])
    assert of(after, again, "passed") == 0.0


@pytest.fixture(scope="module")
def station():
    """The boatyard with a duty and a stand-by pump out of its pond, in two storms."""
    document = json.loads((DEMOS / "quillmere_boatyard.madidus.json").read_text(encoding="utf-8"))
    document["rain"]["ensemble"].update(durations=[60], seasons=document["rain"]["ensemble"]["seasons"][:1])
    document["rain"]["ensemble"]["probabilities"] = document["rain"]["ensemble"]["probabilities"][:2]
    links = document["options"][document["in_view"]]["network"]["links"]
    orifice = next(link for link in links.values() if link["name"] == "P1 orifice")
    pump = {"on": 1.9, "off": 1.7, "curve": [{"flow": 0.0, "head": 8.0}, {"flow": 0.02, "head": 4.0}]}
    ends = {key: orifice[key] for key in ("name", "upstream", "downstream")}
    orifice.clear()
    orifice.update({**ends, "kind": "pump", "units": [pump, {**pump, "standby": True}]})
    return document, orifice


def planned(station, **fields):
    document, link = station
    changed = copy.deepcopy(document)
    links = changed["options"][changed["in_view"]]["network"]["links"]
    next(one for one in links.values() if one["name"] == link["name"]).update(fields)
    return make_plan(parse_project(changed))


def runs_of(plan):
    with ThreadPoolExecutor(2) as pool:
        found = {f.key: f for f in run_plan(plan, plan.inflow, submit_to(pool))}
    place = next(k for k, id_ in enumerate(plan.links) if plan.network.links[id_].kind == "pump")
    return {key: {e[1] for e in f.summary["events"]} for key, f in found.items()}, {
        key: float(f.passed[place]) for key, f in found.items()
    }


def test_each_duty_pump_out_is_a_case_with_rows_and_keys_of_its_own(station):
    usual = planned(station)
    assert len(usual.storms) == 2
    plan = planned(station, one_out=True)
    assert len(plan.storms) == 4
    assert len({storm.key for storm in plan.storms}) == 4
    rows = [storm.row for storm in plan.storms]
    assert rows[2] == f"{rows[0]}, P1 orifice: pump 1 out"
    assert plan.storms[2].label.startswith(rows[2])
    # the same rain, another result
    assert plan.inflow[plan.storms[2].key] is plan.inflow[plan.storms[0].key]
    assert plan.digests[plan.storms[2].key] != plan.digests[plan.storms[0].key]


def test_a_stand_by_pump_serves_only_in_the_case(station):
    plan = planned(station, one_out=True)
    _, passed = runs_of(plan)
    usual, out = plan.storms[0].key, plan.storms[2].key
    id_ = next(k for k, link in plan.network.links.items() if link.kind == "pump")
    assert plan.idle[usual] == ((id_, 1),)
    assert plan.idle[out] == ((id_, 0),)
    # pumps alike: what serves in its stead lifts the same
    assert passed[out] == pytest.approx(passed[usual], rel=1e-6)
    assert passed[out] > 0.0
    document, link = station
    alone = planned((document, link), units=[link["units"][0]], one_out=True)
    _, passed = runs_of(alone)
    assert passed[alone.storms[2].key] == 0.0 < passed[alone.storms[0].key]


def test_rules_judge_the_case_like_any_other_storm(station):
    document, link = station
    plan = planned((document, link), units=[link["units"][0]], one_out=True)
    for criterion in plan.criteria:
        keys = [storm.case for storm in plan.storms if criterion.judges(storm)]
        assert keys.count("") == len(keys) / 2


def test_a_case_may_be_left_out_alone(station):
    document, link = station
    plan = planned(station, one_out=True)
    out = copy.deepcopy(document)
    links = out["options"][out["in_view"]]["network"]["links"]
    next(one for one in links.values() if one["name"] == link["name"])["one_out"] = True
    out["rain"]["excluded"] = [plan.storms[3].key]
    left = make_plan(parse_project(out))
    assert [s.key for s in left.storms] == [s.key for s in plan.storms[:3]]


def test_a_station_of_stand_by_pumps_alone_is_refused(station):
    document, link = station
    bad = copy.deepcopy(document)
    links = bad["options"][bad["in_view"]]["network"]["links"]
    next(one for one in links.values() if one["name"] == link["name"])["units"] = [link["units"][1]]
    with pytest.raises(ModelError, match="all its pumps stand by"):
        parse_project(bad)
