"""What enters at nodes: inflows of their own on top of runoff, and inlets that pass on what they cannot take."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from madidus.core.hydraulics.inflow import Inflow
from madidus.core.runoff.gather import add_inflows, base_flows, pass_inlets, swing
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


def test_a_hydrograph_that_begins_with_a_flow_is_no_base_flow_and_several_inflows_add_up():
    rows = [{"time": t, "flow": q} for t, q in ((0, 0.05), (900, 0.0))]
    constant = {"kind": "constant", "flow": 0.02}
    pattern = {"kind": "pattern", "mean": 0.01, "factors": [0.5, 1.5], "start": 0.0}
    assert base_flows(with_inflows({"kind": "hydrograph", "rows": rows})) == {}
    net = with_inflows({"kind": "hydrograph", "rows": rows}, constant, constant, pattern)
    assert base_flows(net) == {identity("a"): pytest.approx(0.02 + 0.02 + 0.005)}


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


def test_inflows_are_read_between_their_own_points():
    """Runoff has its peak between two points of a hydrograph: there the two lines add."""
    rising = {"kind": "hydrograph", "rows": [{"time": 0, "flow": 0.0}, {"time": 1000, "flow": 0.1}]}
    total = add_inflows(with_inflows(rising), RUNOFF)
    at = {t: q for t, q in zip(total.times.tolist(), total.flow[:, 0], strict=True)}
    assert at[600] == pytest.approx(0.1 + 0.06)
    assert volume(total) == pytest.approx(volume(RUNOFF) + 50.0)


@pytest.mark.parametrize(
    ("began", "expected"), [(0.0, 0.03 * 1000), (400.0, 0.03 * 600), (1000.0, 0.0), (1200.0, 0.0), (5000.0, 0.0)]
)
def test_of_a_hydrograph_only_what_comes_after_the_beginning_enters(began, expected):
    even = {"kind": "hydrograph", "rows": [{"time": t, "flow": 0.03} for t in (0, 200, 1000)]}
    nothing = Inflow(np.zeros(1), np.zeros((1, 0)), [], np.zeros(0))
    total = add_inflows(with_inflows(even), nothing, began)
    assert volume(total) == pytest.approx(expected)
    assert total.after[0] == 0.0
    assert (total.times >= 0.0).all()


def test_the_swing_of_patterns_is_what_they_bring_above_the_hour_of_the_storm():
    day = {"kind": "pattern", "mean": 0.01, "factors": [0.5, 0.25, 2.0, 1.25], "start": 6}
    night = {"kind": "pattern", "mean": 0.02, "factors": [1.5, 0.5], "start": 0}
    assert swing(with_inflows(day)) == pytest.approx(0.01 * (2.0 - 0.25))
    assert swing(with_inflows(day, night)) == pytest.approx(0.01 * 1.75)  # the night's first hour is its highest
    assert swing(with_inflows({"kind": "constant", "flow": 1.0})) == 0.0
