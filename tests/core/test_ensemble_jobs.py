"""Jobs: small, plain, and named by all that the solver sees."""

import copy
import dataclasses
import pickle
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import replace

import numpy as np
import pytest

from madidus.core.elements import Outfall
from madidus.core.ensemble import (
    Failure,
    make_plan,
    run_job,
    run_plan,
    submit_to,
)  # fmt: skip
from madidus.core.model import parse_project
from madidus.core.model.card import card_of
from madidus.core.model.project import inputs_of
from madidus.core.numerics.kept import Kept
from madidus.core.rules import Demand

KEY = "30-60-winter"


@pytest.fixture(scope="module")
def document(demo_document):
    document = copy.deepcopy(demo_document)
    document["rain"]["ensemble"].update(durations=[60], probabilities=[{"return_period": 30}])
    return parse_project(document).model_dump(mode="json")


@pytest.fixture(scope="module")
def plan(document):
    return make_plan(parse_project(document))


def test_a_job_and_its_network_travel_as_plain_arrays_and_give_the_same_bits(plan):
    hydraulics, job = plan.hydraulics, plan.job(KEY, recorded=True)
    assert len(pickle.dumps(job)) < 200_000
    there = pickle.dumps(hydraulics)
    assert b"madidus.core.model" not in there  # no document goes along
    here = run_job(hydraulics, job)
    away = run_job(pickle.loads(there), pickle.loads(pickle.dumps(job)))
    for field in dataclasses.fields(here.result):
        a, b = getattr(here.result, field.name), getattr(away.result, field.name)
        assert np.array_equal(a, b, equal_nan=True) if isinstance(a, np.ndarray) else a == b
    assert np.array_equal(here.series.values, away.series.values)
    assert run_job(hydraulics, plan.job(KEY)).series is None


def test_a_job_for_another_solver_is_refused(plan):
    other = dataclasses.replace(plan.hydraulics, solver="of last year")
    with pytest.raises(RuntimeError, match="of last year"):
        run_job(other, plan.job(KEY))


def network(document):
    return document["options"][document["in_view"]]["network"]


def first(document, collection, kind):
    return next(e for e in network(document)[collection].values() if e["kind"] == kind)


def of(document, name):
    nodes, links = network(document)["nodes"], network(document)["links"]
    return next(e for e in (*nodes.values(), *links.values()) if e["name"] == name)


INPUTS = {
    "length": lambda d: first(d, "links", "pipe").update(length=31.5),
    "roughness": lambda d: first(d, "links", "pipe").update(roughness=0.0131),
    "diameter": lambda d: first(d, "links", "pipe")["section"].update(diameter=0.76),
    "invert": lambda d: first(d, "links", "pipe").update(upstream_invert=first(d, "links", "pipe")["upstream_invert"] + 1e-3),
    "entry loss": lambda d: first(d, "links", "pipe").update(entry_loss=0.51),
    "exit loss": lambda d: first(d, "links", "pipe").update(exit_loss=0.9),
    "bend loss": lambda d: first(d, "links", "pipe").update(bend_loss=0.2),
    "silt": lambda d: first(d, "links", "pipe").update(silt=0.01),
    "barrels": lambda d: first(d, "links", "pipe").update(barrels=2),
    "flap": lambda d: first(d, "links", "pipe").update(flap=True),
    "plan area": lambda d: first(d, "nodes", "manhole").update(plan_area=1.2),
    "cover": lambda d: first(d, "nodes", "manhole").update(cover=first(d, "nodes", "manhole")["cover"] + 0.01),
    "ponded area": lambda d: first(d, "nodes", "manhole").update(ponded_area=55.0),
    "ponded side slope": lambda d: first(d, "nodes", "manhole").update(ponded_side_slope=45.0),
    "flooding": lambda d: first(d, "nodes", "manhole").update(flooding="lost"),
    "sealed": lambda d: first(d, "nodes", "manhole").update(sealed=True),
    "head loss": lambda d: first(d, "nodes", "manhole").update(head_loss={"kind": "fixed", "coefficient": 0.5}),
    "depth-area table": lambda d: first(d, "nodes", "storage")["table"][0].update(area=first(d, "nodes", "storage")["table"][0]["area"] + 1),
    "initial depth": lambda d: first(d, "nodes", "storage").update(initial_depth=0.05),
    "infiltration": lambda d: first(d, "nodes", "storage").update(infiltration={"rate": 1e-6}),
    "tail water": lambda d: first(d, "nodes", "outfall").update(tail_water={"kind": "fixed", "level": 1.0}),
    "orifice": lambda d: first(d, "links", "orifice").update(discharge_coefficient=0.61),
    "orifice crest": lambda d: first(d, "links", "orifice").update(invert=first(d, "links", "orifice")["invert"] + 1e-3),
    "weir": lambda d: first(d, "links", "weir").update(coefficient=1.71),
    "base flow": lambda d: first(d, "nodes", "manhole").update(inflows=[{"kind": "constant", "flow": 1e-4}]),
    "receded": lambda d: d["run"].update(receded=0.7),
    "lag": lambda d: d["run"].update(lag=300),
    "half drain": lambda d: d["run"].update(half_drain=False),
    "spacing": lambda d: d["run"].update(spacing=20),
    "area": lambda d: next(iter(network(d)["catchments"].values())).update(area=499.0),
    "impervious": lambda d: next(iter(network(d)["catchments"].values())).update(impervious=0.51),
    "runoff coefficient": lambda d: d["rain"]["runoff"].update(winter_paved=0.83),
    "time of entry": lambda d: d["rain"]["runoff"].update(time_of_entry=301.0),
    "shape": lambda d: d["rain"]["ensemble"]["seasons"][1]["shape"].update(a=0.061),
    "interval": lambda d: d["rain"].update(interval=0.9),
    "rainfall": lambda d: d["rain"]["rainfall"].update(depths=[[v + 0.1 for v in row] for row in d["rain"]["rainfall"]["depths"]]),
}  # fmt: skip


@pytest.mark.parametrize("what", INPUTS)
def test_every_input_that_the_solver_sees_names_another_result(document, plan, what):
    """A result that is kept under the digest of other inputs would be passed off as theirs."""
    changed = copy.deepcopy(document)
    INPUTS[what](changed)
    other = make_plan(parse_project(changed))
    assert other.digests[KEY] != plan.digests[KEY]
    assert inputs_of(changed, changed["in_view"]) != inputs_of(document, document["in_view"])


def test_what_goes_on_after_the_storm_names_another_result(document, plan):
    """A hydrograph that ends, and one that ends with the same flow but goes on, are not alike."""
    from madidus.core.ensemble.plan import _digest

    inflow, asked = plan.inflow[KEY], Demand()
    longer = dataclasses.replace(inflow, after=inflow.after + 1e-6)
    elsewhere = dataclasses.replace(inflow, nodes=list(reversed(inflow.nodes)))
    others = [
        dataclasses.replace(inflow, flow=inflow.flow * (1.0 + 1e-12)),
        dataclasses.replace(inflow, times=inflow.times + 1e-6),
        dataclasses.replace(inflow, passed_by=inflow.passed_by + 1e-3),
        dataclasses.replace(inflow, ceases=(inflow.ceases or 0.0) + 1.0),
    ]
    digests = {_digest(plan.flat, one, asked, (), plan.control, {}) for one in (inflow, longer, elsewhere, *others)}
    assert len(digests) == 7
    assert _digest(plan.flat, dataclasses.replace(inflow), asked, (), plan.control, {}) in digests
    more = [asked, Demand(marks=(3600.0,)), Demand(after=3600.0), Demand(marks=(3600.0, 7200.0))]
    assert len({_digest(plan.flat, inflow, one, (), plan.control, {}) for one in more}) == 4
    out = [(), (("station", 0),), (("station", 1),), (("other", 0),)]
    assert len({_digest(plan.flat, inflow, asked, one, plan.control, {}) for one in out}) == 4
    node = inflow.nodes[0]
    bases = [{}, {node: 1e-3}, {node: 2e-3}, {inflow.nodes[1]: 1e-3}]
    assert len({_digest(plan.flat, inflow, asked, (), plan.control, base) for base in bases}) == 4


LOOKS = {
    "name": lambda d: of(d, "A1").update(name="Renamed"),
    "place": lambda d: of(d, "P1").update(x=of(d, "P1")["x"] + 5.0),
    "material": lambda d: first(d, "links", "pipe").update(material="iron"),
    "option": lambda d: d["options"][d["in_view"]].update(name="Z", note="n"),
    "rule": lambda d: d["brief"]["rules"].pop(),
}


@pytest.mark.parametrize("what", LOOKS)
def test_what_is_only_looked_at_leaves_results_as_they_are(document, plan, what):
    changed = copy.deepcopy(document)
    LOOKS[what](changed)
    assert make_plan(parse_project(changed)).digests == plan.digests


def test_a_pipe_leaves_the_runoff_alone_and_rain_leaves_the_network_alone(document):
    plan = make_plan(parse_project(document))
    rougher, wetter = copy.deepcopy(document), copy.deepcopy(document)
    INPUTS["roughness"](rougher)
    INPUTS["area"](wetter)
    again = make_plan(parse_project(rougher)).inflow
    assert all(again[key] is own for key, own in plan.inflow.items())
    assert make_plan(parse_project(wetter)).hydraulics is plan.hydraulics


def test_what_was_asked_for_last_is_kept():
    kept, made = Kept(2), []

    def make(key):
        return kept.get(key, lambda: made.append(key) or key.upper())

    assert [make(key) for key in ("a", "b", "a", "c", "a")] == ["A", "B", "A", "C", "A"]
    assert made == ["a", "b", "c"]
    make("b")
    assert made == ["a", "b", "c", "b"]  # it went when c came


def test_a_run_that_is_stopped_passes_on_what_is_done_and_begins_no_more(plan):
    begun, stopped = [], []

    def submit(hydraulics, job):
        begun.append(job.key)
        return pool.submit(run_job, hydraulics, job)

    with ThreadPoolExecutor(1) as pool:
        found = []
        for result in run_plan(plan, plan.inflow, submit, lambda: bool(stopped)):
            found.append(result.key)
            stopped.append(True)
    assert begun == list(dict.fromkeys(begun))
    assert 1 <= len(found) <= len(plan.inflow)


def test_a_job_that_breaks_twice_is_a_failure_and_once_is_none(plan):
    tries: dict[str, int] = {}

    def submit(hydraulics, job):
        tries[job.key] = tries.get(job.key, 0) + 1
        done = Future()
        if job.key == KEY or tries[job.key] == 1:
            done.set_exception(ZeroDivisionError("of a trench without width"))
        else:
            done.set_result(run_job(hydraulics, job))
        return done

    found = {result.key: result for result in run_plan(plan, plan.inflow, submit)}
    assert isinstance(found[KEY], Failure)
    assert "ZeroDivisionError: of a trench without width" in found[KEY].problem
    assert sum(isinstance(result, Failure) for result in found.values()) == 1
    assert set(tries.values()) == {2}


def test_the_worst_of_every_element_is_that_of_the_storm_it_names(demo_document):
    document = copy.deepcopy(demo_document)
    document["rain"]["ensemble"].update(durations=[15, 60])
    plan = make_plan(parse_project(document))
    with ThreadPoolExecutor(2) as pool:
        figures = {f.key: f for f in run_plan(plan, plan.inflow, submit_to(pool))}
    nodes, links = plan.worst(figures)
    for i, id_ in enumerate(plan.nodes):
        worst = nodes[id_]
        if isinstance(plan.network.nodes[id_], Outfall):
            assert worst.level is None
            assert (worst.state, worst.level_storm, worst.level_time) == ("ok", worst.outflow_storm, None)
            assert worst.outflow_time == figures[worst.outflow_storm].outflow_time[i]
            assert (
                worst.outflow == max(f.outflow[i] for f in figures.values()) == figures[worst.outflow_storm].outflow[i]
            )
        else:
            assert worst.level == max(f.level[i] for f in figures.values()) == figures[worst.level_storm].level[i]
            assert worst.level_time == figures[worst.level_storm].level_time[i]
        assert worst.flooded == max(f.flooded[i] for f in figures.values())
    for i, id_ in enumerate(plan.links):
        worst = links[id_]
        assert worst.flow == max(f.flow[i] for f in figures.values()) == figures[worst.flow_storm].flow[i]
        most = figures[worst.flow_storm]
        assert (worst.flow_up, worst.flow_down, worst.flow_time) == (
            most.flow_up[i],
            most.flow_down[i],
            most.flow_time[i],
        )
        fastest = max(f.speed[i] for f in figures.values())
        assert worst.speed == (None if np.isnan(fastest) else fastest)
        assert (worst.clearance is None) == np.isnan(most.clearance[i])
        if worst.clearance is not None:
            assert worst.clearance == min(f.clearance[i] for f in figures.values())
            assert worst.clearance_time == figures[worst.clearance_storm].clearance_time[i]
            assert (worst.state == "surcharged") == (worst.clearance < 0.0)
    assert {n.state for n in nodes.values()} >= {"ok", "flooded", "surcharged"}
    assert plan.worst({}) == ({}, {})


def test_the_card_of_a_project_shows_the_option_in_view_and_the_largest_links_alone(document):
    card = card_of(document)
    assert (card.name, card.options, card.units) == ("A, as drawn", 1, "metric")
    assert card.inputs == inputs_of(document, document["in_view"])
    assert len(card.picture.links) == len(network(document)["links"])
    assert len(card.picture.stores) == 2
    assert len(card.picture.nodes) == len(network(document)["nodes"]) - 2
    large = copy.deepcopy(document)
    link = first(large, "links", "pipe")
    network(large)["links"].update(
        {str(k): {**link, "section": {"shape": "circular", "diameter": 0.1}} for k in range(400)}
    )
    large["options"]["x"] = {**large["options"][large["in_view"]], "retired": True}
    card = card_of(large)
    assert card.options == 1
    assert len(card.picture.links) == 300
    ends = {tuple(map(tuple, pair)) for pair in card.picture.links}
    place = lambda id_: (round(network(large)["nodes"][id_]["x"], 1), round(network(large)["nodes"][id_]["y"], 1))  # noqa: E731
    for own in network(document)["links"].values():
        if own["kind"] == "pipe":
            assert (place(own["upstream"]), place(own["downstream"])) in ends


def test_a_rule_of_cover_makes_a_risk_of_water_below_it_and_none_where_none_is_asked(demo_document):
    document = copy.deepcopy(demo_document)
    document["rain"]["ensemble"].update(durations=[60])
    for rule in document["brief"]["rules"]:
        if rule["kind"] == "cover":
            rule["limits"][0]["value"] = 0.8
    plan = make_plan(parse_project(document))
    with ThreadPoolExecutor(2) as pool:
        figures = {f.key: f for f in run_plan(plan, plan.inflow, submit_to(pool))}
    margin = max(c.value for c in plan.criteria if c.rule.kind == "cover" and c.asked)
    assert margin > 0.0
    near = {
        id_ for id_, worst in plan.worst(figures)[0].items()
        if worst.level is not None and not worst.flooded and plan.network.nodes[id_].cover - worst.level < margin
    }  # fmt: skip
    assert near
    assert {id_ for id_, worst in plan.worst(figures)[0].items() if worst.state == "flood risk"} == near
    bare = replace(plan, criteria=[c for c in plan.criteria if c.rule.kind != "cover"])
    assert not [worst for worst in bare.worst(figures)[0].values() if worst.state == "flood risk"]
