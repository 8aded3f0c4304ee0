"""Capacity or backwater: small networks whose bottleneck is known beforehand, run with the real solver."""

import numpy as np
import pytest

from madidus.core.hydraulics.flatten import flatten
from madidus.core.hydraulics.inflow import Inflow
from madidus.core.hydraulics.simulate import simulate
from madidus.core.results.cause import cause
from madidus.core.results.reduction import Reduction
from tests.cases.build import identity, network


def run(net, flow: float):
    """Steady inflow at the head until all has settled."""
    flat = flatten(net)
    times = np.array([0.0, 300.0, 3600.0])
    inflow = Inflow(times, np.array([[0.0], [flow], [flow]]), [identity("1")], np.array([0.0]))
    reduction = Reduction(net, flat)
    figures = reduction.figures("s", simulate(flat, inflow, until=3600.0))
    return lambda name: cause(net, reduction.nodes, reduction.links, figures, identity(name))


def line(diameters=(0.3, 0.3, 0.3), tail=None, last="outfall", control=None):
    """Three pipes of 40 m at 1 in 200 below one another."""
    shaft = {"kind": "manhole", "cover": 14.0, "plan_area": 1.2}
    nodes = {str(k + 1): {**shaft, "invert": 10.0 - 0.2 * k, "x": 40.0 * k, "y": 0} for k in range(3)}
    end = {"kind": "outfall", "invert": 9.4, "x": 120, "y": 0}
    nodes["4"] = end if control is None else {**shaft, "invert": 9.4, "x": 120, "y": 0}
    if tail is not None:
        nodes["4"] = {**end, "tail_water": {"kind": "fixed", "level": tail}}
    links = {
        f"{k + 1}-{k + 2}": {
            "kind": "pipe", "upstream": str(k + 1), "downstream": str(k + 2), "length": 40.0, "roughness": 0.012,
            "upstream_invert": 10.0 - 0.2 * k, "downstream_invert": 9.8 - 0.2 * k,
            "section": {"shape": "circular", "diameter": d},
        }
        for k, d in enumerate(diameters)
    }  # fmt: skip
    if control is not None:
        nodes["out"] = {"kind": "outfall", "invert": 8.5, "x": 130, "y": 0}
        links["orifice"] = {
            "kind": "orifice", "upstream": "4", "downstream": "out", "invert": 9.4,
            "section": {"shape": "circular", "diameter": control},
        }  # fmt: skip
    return network(nodes, links)


def test_a_pipe_that_carries_more_than_its_full_flow_is_its_own_bottleneck():
    found = run(line((0.25, 0.3, 0.3)), 0.06)("1-2")
    assert (found.kind, found.chain) == ("capacity", (identity("1-2"),))
    assert found.flow > found.full


def test_pipes_above_a_small_one_back_up_from_it():
    why = run(line((0.3, 0.3, 0.225)), 0.055)
    found = why("1-2")
    assert (found.kind, found.chain) == ("backwater", tuple(identity(n) for n in ("1-2", "2-3", "3-4")))
    assert why("3-4").kind == "capacity"
    assert why("1").chain == found.chain


def test_a_high_tail_water_backs_up_through_every_pipe():
    found = run(line(tail=10.6), 0.03)("1-2")
    assert found.kind == "backwater"
    assert found.bottleneck == identity("4")


def test_a_control_holds_the_water_back():
    found = run(line(control=0.09), 0.03)("2-3")
    assert found.kind == "backwater"
    assert found.bottleneck == identity("orifice")


def test_what_is_not_surcharged_has_no_cause():
    why = run(line(), 0.02)
    assert why("1-2") is None
    assert why("2") is None
    assert why("4") is None


def test_a_control_that_a_node_stands_before_is_its_own_cause():
    why = run(line(control=0.09), 0.03)
    found = why("4")
    assert (found.kind, found.chain) == ("capacity", (identity("orifice"),))
    assert found.flow == pytest.approx(0.03, rel=0.02)
    assert why("2-3").flow == found.flow
    assert why("orifice") is None


def test_small_pipes_in_a_row_are_each_their_own_bottleneck():
    why = run(line((0.225, 0.225, 0.225)), 0.05)
    for name in ("1-2", "2-3", "3-4"):
        assert (why(name).kind, why(name).chain) == ("capacity", (identity(name),))
        assert why(name).flow == pytest.approx(0.05, rel=0.02)
