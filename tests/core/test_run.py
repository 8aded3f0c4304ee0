"""Warm starts, pumps, tides, events and the balance by term."""

import numpy as np
import pytest

from madidus.core.hydraulics.events import decode
from madidus.core.hydraulics.flatten import flatten
from madidus.core.hydraulics.inflow import Inflow
from madidus.core.hydraulics.simulate import settle, simulate
from tests.cases.build import identity, network, tank
from tests.core.generated import tree

PIPE = {"kind": "pipe", "length": 60, "section": {"shape": "circular", "diameter": 0.3}}


def line():
    return network(
        {"a": {"kind": "manhole", "cover": 12, "invert": 10}, "b": {"kind": "manhole", "cover": 11.6, "invert": 9.6},
         "out": {"kind": "outfall", "invert": 9.2}},
        {"p": {**PIPE, "upstream": "a", "downstream": "b", "upstream_invert": 10, "downstream_invert": 9.6},
         "q": {**PIPE, "upstream": "b", "downstream": "out", "upstream_invert": 9.6, "downstream_invert": 9.2}},
    )  # fmt: skip


def test_a_warm_start_stays_as_it_is():
    """Nothing depends on when a run began: base flow alone moves no level."""
    flat, base = flatten(line()), Inflow.steady({identity("a"): 0.02})
    start = settle(flat, base).end
    run = simulate(flat, base, start=start, until=7200.0, frames=60, interval=120.0)
    levels = run.series.level[:, : flat.grid.cells]
    assert np.ptp(levels, axis=0).max() < 1e-4
    assert run.balance.left == pytest.approx(0.02 * 7200, rel=1e-3)
    assert run.balance.error == pytest.approx(0.0, abs=1e-12)


def test_the_same_storm_from_a_warm_start_has_the_same_peak_whenever_the_base_began():
    flat, a = flatten(line()), identity("a")
    start = settle(flat, Inflow.steady({a: 0.005})).end
    storm = Inflow(np.array([0.0, 600, 1800]), np.array([[0.005], [0.06], [0.005]]), [a], np.array([0.005]))
    late = Inflow(
        np.array([0.0, 7200, 7800, 9000]), np.array([[0.005], [0.005], [0.06], [0.005]]), [a], np.array([0.005])
    )
    first, second = simulate(flat, storm, start=start), simulate(flat, late, start=start)
    assert second.peaks.level.steady == pytest.approx(first.peaks.level.steady, abs=0.002)


def test_floods_begin_and_end_with_time_and_place():
    flat = flatten(line())
    storm = Inflow(
        np.array([0.0, 600, 1800, 3600]), np.array([[0.0], [0.2], [0.2], [0.0]]), [identity("a")], np.zeros(1)
    )
    events = [e for e in decode(simulate(flat, storm).events, flat) if e.kind == "flood"]
    assert [e.begins for e in events] == [True, False]
    assert events[0].element == identity("a")
    assert 0.0 < events[0].time < events[1].time


@pytest.mark.parametrize("longest", [20.0, 400.0])
def test_a_flood_begins_and_ends_when_the_water_passes_the_cover(longest):
    """A tank fed and drawn evenly: its volume tells when."""
    area = 50.0
    net = network(
        {"t": {**tank(10.0, 12.0, area), "ponded_area": area, "ponded_side_slope": 0.0},
         "o": {"kind": "outfall", "invert": 5.0}},
        {"p": {"kind": "pump", "upstream": "t", "downstream": "o",
               "units": [{"on": 12.3, "off": 11.0, "curve": [{"flow": 0.049999, "head": 20}, {"flow": 0.05, "head": 0}]}]}},
    )  # fmt: skip
    flat, stop = flatten(net), 1900.0
    storm = Inflow(
        np.array([0.0, stop, stop, 9000]), np.array([[0.061], [0.061], [0.0], [0.0]]), [identity("t")], np.zeros(1)
    )
    run = simulate(flat, storm, longest_step=longest, until=5000.0)
    acts = [(e.kind, e.time) for e in decode(run.events, flat) if e.kind in ("flood", "pump 1 runs")]
    assert [kind for kind, _ in acts] == ["flood", "pump 1 runs", "flood", "pump 1 runs"]
    (_, begins), (_, starts), (_, ends), _ = acts
    assert begins == pytest.approx(2.0 * area / 0.061, abs=0.05)
    assert ends == pytest.approx(starts + (0.061 * stop - 2.0 * area) / 0.05, abs=0.05)


def test_a_channel_over_its_bank_is_told():
    ditch = {"shape": "rectangular", "width": 0.4, "height": 0.25}
    net = network(
        {"a": {"kind": "manhole", "cover": 13, "invert": 10}, "out": {"kind": "outfall", "invert": 9.9}},
        {"c": {"kind": "channel", "upstream": "a", "downstream": "out", "length": 80, "section": ditch,
               "upstream_invert": 10, "downstream_invert": 9.9}},
    )  # fmt: skip
    flat = flatten(net)
    storm = Inflow(
        np.array([0.0, 600, 1800, 3600]), np.array([[0.0], [0.2], [0.2], [0.0]]), [identity("a")], np.zeros(1)
    )
    events = [e for e in decode(simulate(flat, storm).events, flat) if e.kind == "over its bank"]
    assert {e.element for e in events} == {identity("c")}
    assert events[0].begins
    assert not events[-1].begins


def test_a_falling_curve_in_a_narrow_shaft_settles():
    """A vortex control whose flow falls while it starts: the shaft's level climbs through that part and comes back."""
    rows = [{"head": h, "flow": q} for h, q in ((0, 0), (0.3, 0.012), (0.6, 0.008), (2.0, 0.014))]
    net = network(
        {"a": {"kind": "manhole", "cover": 13, "invert": 10, "diameter": 1.2}, "out": {"kind": "outfall", "invert": 9.5}},
        {"v": {"kind": "curve", "upstream": "a", "downstream": "out", "invert": 10, "rows": rows}},
    )  # fmt: skip
    flat = flatten(net)
    storm = Inflow(np.array([0.0, 600, 1200, 2400]), np.array([[0.0], [0.011], [0.011], [0.0]]), [identity("a")],
                   np.zeros(1))  # fmt: skip
    run = simulate(flat, storm, until=6000.0, frames=601, interval=10.0)
    fine = simulate(flat, storm, until=6000.0, finer=6.0, frames=601, interval=10.0)
    row = flat.node_row[identity("a")]
    assert run.balance.error == pytest.approx(0.0, abs=1e-12)
    assert run.series.level[:, row] == pytest.approx(fine.series.level[:, row], abs=0.02)
    assert run.steps < 2000


def test_lost_floods_and_what_soaks_away_are_terms_of_the_balance():
    net = network(
        {"a": {"kind": "manhole", "cover": 10.6, "invert": 10, "flooding": "lost"},
         "pit": {"kind": "stone", "cover": 10.5, "invert": 9.5, "length": 8, "width": 3, "stone_depth": 1,
                 "porosity": 0.35, "base_slope": 0.01, "infiltration": {"rate": 1e-4, "safety_factor": 1.5}},
         "out": {"kind": "outfall", "invert": 9}},
        {"p": {**PIPE, "upstream": "a", "downstream": "pit", "upstream_invert": 10, "downstream_invert": 9.6},
         "w": {"kind": "weir", "upstream": "pit", "downstream": "out", "crest": 10.4, "length": 0.5}},
    )  # fmt: skip
    flat = flatten(net)
    storm = Inflow(
        np.array([0.0, 600, 2400, 3600]), np.array([[0.0], [0.2], [0.2], [0.0]]), [identity("a")], np.zeros(1)
    )
    run = simulate(flat, storm, until=20_000.0)
    balance = run.balance
    assert min(balance.lost, balance.infiltrated, balance.left) > 1.0
    total = balance.left + balance.lost + balance.infiltrated + balance.after
    assert total == pytest.approx(balance.before + balance.entered, rel=1e-12)


def test_pumps_start_one_after_the_other_at_their_levels():
    curve = [{"flow": 0, "head": 10}, {"flow": 0.02, "head": 6}, {"flow": 0.04, "head": 1}]
    units = [{"on": 11.0, "off": 10.2, "curve": curve}, {"on": 11.5, "off": 10.6, "curve": curve}]
    net = network(
        {"well": tank(10.0, 13.0, 4.0), "out": {"kind": "outfall", "invert": 15}},
        {"pump": {"kind": "pump", "upstream": "well", "downstream": "out", "units": units,
                  "main": {"length": 80, "diameter": 0.15, "discharge_level": 15}}},
    )  # fmt: skip
    flat = flatten(net)
    run = simulate(flat, Inflow.steady({identity("well"): 0.035}), until=1800.0, frames=1801, interval=1.0)
    level = run.series.level[:, flat.node_row[identity("well")]]
    events = decode(run.events, flat)
    for event in events:
        unit = int(event.kind.split()[1]) - 1
        wanted = units[unit]["on" if event.begins else "off"]
        assert np.interp(event.time, run.series.time, level) == pytest.approx(wanted, abs=0.01)
    assert {e.kind for e in events} >= {"pump 1 runs", "pump 2 runs"}
    assert level.max() < 11.52  # located: no overshoot


def test_a_pump_that_leaves_its_curve_is_told():
    curve = [{"flow": 0.005, "head": 6}, {"flow": 0.02, "head": 3}]
    net = network(
        {"well": tank(10.0, 13.0, 4.0), "out": {"kind": "outfall", "invert": 11}},
        {"pump": {"kind": "pump", "upstream": "well", "downstream": "out",
                  "units": [{"on": 11.0, "off": 10.2, "curve": curve}]}},
    )  # fmt: skip
    flat = flatten(net)
    run = simulate(flat, Inflow.steady({identity("well"): 0.01}), until=900.0)
    assert "beyond its curve" in {e.kind for e in decode(run.events, flat)}


def test_a_flap_keeps_the_tide_out():
    rows = [{"time": 0, "level": 9.0}, {"time": 3600, "level": 11.0}, {"time": 7200, "level": 9.0}]
    net = network(
        {"a": tank(9.5, 12.0, 20.0), "sea": {"kind": "outfall", "invert": 9.4, "flap": True,
                                            "tail_water": {"kind": "series", "rows": rows}}},
        {"p": {**PIPE, "upstream": "a", "downstream": "sea", "upstream_invert": 9.5, "downstream_invert": 9.4}},
    )  # fmt: skip
    flat = flatten(net)
    run = simulate(flat, Inflow.steady({identity("a"): 0.005}), until=9000.0, frames=901, interval=10.0)
    flow = run.series.flow[:, flat.pipe_faces[identity("p")][1]]
    assert flow.min() >= 0.0
    shut = [e for e in decode(run.events, flat) if e.kind == "flap shut"]
    assert [e.begins for e in shut][:2] == [True, False]
    assert run.balance.error == pytest.approx(0.0, abs=1e-12)


def test_memory_of_a_storm_does_not_grow_with_its_steps():
    flat = flatten(line())
    storm = Inflow(np.array([0.0, 600, 1800]), np.array([[0.0], [0.05], [0.0]]), [identity("a")], np.zeros(1))
    coarse, fine = simulate(flat, storm), simulate(flat, storm, longest_step=0.5)
    assert fine.steps > 10 * coarse.steps
    size = lambda run: sum(a.nbytes for part in (run.peaks.level, run.peaks.flow, run.end) for a in part)  # noqa: E731
    assert size(fine) == size(coarse)


def test_separate_networks_run_together_as_they_do_alone():
    one = tree(6, 3)
    other = tree(5, 9)
    text = other.model_dump_json()
    for id_ in [*other.nodes, *other.links, *other.catchments]:
        text = text.replace(id_, identity(id_))
    other = type(one).model_validate_json(text)
    both = type(one)(
        nodes={**one.nodes, **other.nodes}, links={**one.links, **other.links},
        catchments={**one.catchments, **other.catchments},
    )  # fmt: skip
    parts = both.parts()
    assert [len(p) for p in parts] == [8, 7]
    assert both.only(parts[0]).links.keys() == one.links.keys()
    node = max(one.catchments.values(), key=lambda c: c.area).node
    storm = Inflow(np.array([0.0, 600, 1800]), np.array([[0.0], [0.1], [0.0]]), [node], np.zeros(1))
    together, alone = flatten(both), flatten(one)
    a = simulate(together, storm, until=3600.0).peaks.level.steady
    b = simulate(alone, storm, until=3600.0).peaks.level.steady
    for id_ in one.nodes:
        if one.nodes[id_].kind != "outfall":
            assert a[together.node_row[id_]] == pytest.approx(b[alone.node_row[id_]], abs=1e-6)
