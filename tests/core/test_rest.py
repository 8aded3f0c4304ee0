"""A run begins at rest with its tail water: in every demo, and in networks that flaps and sills part from it."""

from dataclasses import replace

import numpy as np
import pytest

from madidus.core.ensemble import make_plan
from madidus.core.hydraulics.flatten import flatten
from madidus.core.hydraulics.inflow import Inflow
from madidus.core.hydraulics.layout import INITIAL
from madidus.core.hydraulics.simulate import settle, simulate
from madidus.core.hydraulics.work import LEVEL
from tests.cases.build import Run, identity, network, tank
from tests.exchange.test_demos import SCRIPTS, demo


def later(inflow: Inflow, by: float) -> Inflow:
    still = np.zeros((2, inflow.flow.shape[1]))
    times = np.concatenate([[0.0, by], inflow.times + by])
    return replace(inflow, times=times, flow=np.concatenate([still, inflow.flow]), ceases=None)


@pytest.mark.parametrize("name", SCRIPTS)
def test_until_the_first_runoff_nothing_moves_in_any_demo(name):
    plan = make_plan(demo(name))
    assert plan.flat.at_rest
    key = plan.storms[0].key
    storm = later(plan.inflow[key], 1800.0)
    whole = simulate(plan.flat, storm, start=plan.hydraulics.start)
    before = simulate(plan.flat, storm, start=plan.hydraulics.start, until=1800.0).peaks.flow
    peak = np.maximum(whole.peaks.flow.top, -whole.peaks.flow.least)
    moved = np.maximum(before.top, -before.least)
    assert (moved <= 1e-3 * np.maximum(peak, 1e-6)).all()


def line(tail, flap=False):
    return network(
        {"A": {"kind": "manhole", "invert": 10.0, "cover": 13.0}, "O": {"kind": "outfall", "invert": 9.5, "flap": flap, "tail_water": tail}},
        {"P": {"kind": "pipe", "upstream": "A", "downstream": "O", "length": 40.0, "upstream_invert": 10.0,
               "downstream_invert": 9.5, "section": {"shape": "circular", "diameter": 0.3}}},
    )  # fmt: skip


def flapped(net):
    """With the flap on the pipe instead of on the outfall."""
    pipe = net.links[identity("P")]
    return net.model_copy(update={"links": {identity("P"): pipe.model_copy(update={"flap": True})}})


def before(net, node):
    flat = flatten(net)
    return float(flat.grid.cell[INITIAL, flat.node_row[identity(node)]]), flat.at_rest


FIXED = {"kind": "fixed", "level": 10.4}


@pytest.mark.parametrize(("net", "level"), [
    (line(FIXED), 10.4), (line(FIXED, flap=True), 10.0), (line({"kind": "fixed", "level": 9.9}), 10.0), (flapped(line(FIXED)), 10.0),
    (line({"kind": "series", "rows": [{"time": 0, "level": 10.2}, {"time": 600, "level": 11}]}), 10.2),
    (line({"kind": "free"}), 10.0), (line({"kind": "normal"}), 10.0),
])  # fmt: skip
def test_a_manhole_stands_at_the_tail_water_that_reaches_it(net, level):
    assert before(net, "A") == (pytest.approx(level), True)


def test_water_reaches_through_an_orifice_and_over_a_weir_but_not_through_a_pump_or_a_flap():
    def beside(control):
        return network(
            {"T": tank(8.0, 13.0, 50.0), "A": {"kind": "manhole", "invert": 9.0, "cover": 13.0},
             "O": {"kind": "outfall", "invert": 9.0, "tail_water": {"kind": "fixed", "level": 10.5}}},
            {"P": {"kind": "pipe", "upstream": "A", "downstream": "O", "length": 20.0, "upstream_invert": 9.0,
                   "downstream_invert": 9.0, "section": {"shape": "circular", "diameter": 0.3}},
             "C": {"upstream": "T", "downstream": "A", **control}},
        )  # fmt: skip

    orifice = {"kind": "orifice", "invert": 9.0, "section": {"shape": "circular", "diameter": 0.2}}
    for control, level in (
        (orifice, 10.5), ({**orifice, "flap": True}, 8.0), ({"kind": "weir", "crest": 10.2, "length": 1.0}, 10.5),
        ({"kind": "weir", "crest": 10.6, "length": 1.0}, 8.0),
        ({"kind": "pump", "units": [{"on": 12.0, "off": 11.0, "curve": [{"flow": 0, "head": 5}, {"flow": 0.1, "head": 1}]}]}, 8.0),
    ):  # fmt: skip
        assert before(beside(control), "T")[0] == pytest.approx(level), control
    run = Run(beside(orifice), {}, 3600.0, 60.0)
    assert abs(run.flow("C")).max() < 1e-9


def test_two_waters_of_different_levels_run_together_before_a_storm_begins():
    net = network(
        {"A": {"kind": "manhole", "invert": 9.0, "cover": 13.0},
         **{name: {"kind": "outfall", "invert": 9.0, "tail_water": {"kind": "fixed", "level": level}}
            for name, level in (("High", 10.5), ("Low", 10.0))}},
        {name: {"kind": "pipe", "upstream": "A", "downstream": name, "length": 30.0, "upstream_invert": 9.0,
                "downstream_invert": 9.0, "section": {"shape": "circular", "diameter": 0.3}} for name in ("High", "Low")},
    )  # fmt: skip
    flat = flatten(net)
    assert not flat.at_rest
    end = settle(flat, Inflow.steady({})).end
    assert 10.1 < end.cell[LEVEL, flat.node_row[identity("A")]] < 10.4


def test_what_stood_before_is_no_inflow_of_the_storm():
    run = Run(line(FIXED), {}, 3600.0, 60.0)
    assert run.result.balance.before > 0.5
    assert run.result.balance.entered == 0.0
    assert run.result.balance.left == pytest.approx(0.0, abs=1e-12)
