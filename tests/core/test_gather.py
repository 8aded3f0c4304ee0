"""What enters at nodes: inflows of their own on top of runoff, and inlets that pass on what they cannot take."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from madidus.core.hydraulics.inflow import Inflow
from madidus.core.runoff.gather import add_inflows, base_flows, pass_inlets
from tests.cases.build import identity, network

OUT = {"kind": "outfall", "invert": 8}
SHAFT = {"kind": "manhole", "cover": 12, "invert": 10}
WEIR = {"kind": "weir", "upstream": "a", "downstream": "out", "crest": 10, "length": 1}
RUNOFF = Inflow(np.array([0.0, 600, 1200]), np.array([[0.0], [0.1], [0.0]]), [identity("a")], np.zeros(1))


def with_inflows(*inflows):
    return network({"a": {**SHAFT, "inflows": list(inflows)}, "out": OUT}, {"w": WEIR})


def volume(inflow: Inflow) -> float:
    return float(np.trapezoid(inflow.flow.sum(axis=1), inflow.times))


def test_a_constant_flow_runs_before_and_after_the_storm():
    net = with_inflows({"kind": "constant", "flow": 0.02})
    total = add_inflows(net, RUNOFF)
    assert np.interp(600, total.times, total.flow[:, 0]) == pytest.approx(0.12)
    assert total.flow[0, 0] == pytest.approx(0.02)
    assert total.after[0] == pytest.approx(0.02)
    assert base_flows(net) == {identity("a"): 0.02}


def test_a_hydrograph_may_jump():
    rows = [{"time": t, "flow": q} for t, q in ((300, 0.0), (300, 0.05), (900, 0.05), (900, 0.0))]
    net = with_inflows({"kind": "hydrograph", "rows": rows})
    total = add_inflows(net, RUNOFF)
    assert volume(total) == pytest.approx(volume(RUNOFF) + 0.05 * 600)
    at = total.times.tolist()
    assert at.count(300) == 2
    assert base_flows(net) == {}


def test_a_pattern_has_its_mean_over_a_day():
    net = with_inflows({"kind": "pattern", "mean": 0.01, "factors": [0.5, 1.5], "start": 6})
    total = add_inflows(net, RUNOFF)
    runoff_alone = volume(RUNOFF)
    times, flow = total.times, total.flow[:, 0]
    gathered = np.append(0.0, np.cumsum(0.5 * (flow[1:] + flow[:-1]) * np.diff(times)))
    assert np.interp(86_400, times, gathered) - runoff_alone == pytest.approx(0.01 * 86_400, rel=1e-6)
    # six hours of the lower half, then the upper one
    assert np.interp(5 * 3600, total.times, total.flow[:, 0]) == pytest.approx(0.005)
    assert np.interp(7 * 3600, total.times, total.flow[:, 0]) == pytest.approx(0.015)


@given(capture=st.floats(0.001, 0.2), second=st.floats(0.001, 0.2))
def test_inlets_pass_on_exactly_what_they_do_not_take(capture, second):
    inlet = {"kind": "inlet", "cover": 12, "invert": 10}
    net = network(
        {"a": {**inlet, "capacity": capture, "bypass": identity("b")}, "b": {**inlet, "capacity": second}, "out": OUT},
        {"w": WEIR, "v": {**WEIR, "upstream": "b"}},
    )
    shared = pass_inlets(net, RUNOFF)
    by_node = {node: shared.flow[:, j] for j, node in enumerate(shared.nodes)}
    assert by_node[identity("a")].max() <= capture + 1e-12
    assert volume(shared) + shared.passed_by == pytest.approx(volume(RUNOFF), rel=1e-9)
    if identity("b") in by_node:
        assert by_node[identity("b")].max() <= second + 1e-12
