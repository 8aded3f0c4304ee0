"""Storage from a limiting flow: closed forms of a block of inflow, and an independent integration of the orifice."""

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from madidus.core.design.estimate import estimates, held_by_orifice, held_least
from madidus.core.hydraulics.inflow import Inflow
from madidus.core.model.flow_order import reaching
from madidus.core.rainfall.storms import Storm
from tests.cases.build import identity, network, tank

BLOCK = np.array([0.0, 0.0, 3600.0, 3600.0]), np.array([0.0, 0.1, 0.1, 0.0])


def test_a_block_of_inflow_leaves_what_runs_over_the_rate():
    assert held_least(*BLOCK, 0.03) == pytest.approx(0.07 * 3600.0, rel=1e-3)
    assert held_least(*BLOCK, 0.1) == pytest.approx(0.0, abs=0.5)
    assert held_least(np.zeros(0), np.zeros(0), 0.1) == 0.0


@pytest.mark.parametrize("rate", [0.01, 0.03, 0.06])
def test_an_orifice_is_just_full_at_its_rate_by_an_independent_integration(rate):
    full = held_by_orifice(*BLOCK, rate)

    def change(t, v):
        return [0.1 - rate * np.sqrt(max(v[0], 0.0) / full)]

    most = solve_ivp(change, (0.0, 3600.0), [0.0], rtol=1e-8, atol=1e-8).y[0, -1]
    assert most == pytest.approx(full, rel=2e-3)


def test_an_orifice_always_needs_more_than_the_lower_bound():
    times = np.array([0.0, 600.0, 1800.0, 5400.0])
    flow = np.array([0.0, 0.3, 0.1, 0.0])
    volumes = [(held_least(times, flow, rate), held_by_orifice(times, flow, rate)) for rate in (0.005, 0.02, 0.05, 0.1)]
    assert all(0.0 < least < orifice for least, orifice in volumes)
    # a larger rate needs less
    assert [v for v, _ in volumes] == sorted((v for v, _ in volumes), reverse=True)
    assert [v for _, v in volumes] == sorted((v for _, v in volumes), reverse=True)
    assert held_by_orifice(times, flow, 0.3) == 0.0


def made():
    nodes = {
        "a": {"kind": "manhole", "cover": 5.0, "invert": 3.0}, "beside": {"kind": "manhole", "cover": 5.0, "invert": 3.0},
        "t": tank(0.0, 2.5, 40.0), "o": {"kind": "outfall", "invert": -1.0},
    }  # fmt: skip
    pipe = {"kind": "pipe", "length": 50.0, "upstream_invert": 3.0, "downstream_invert": 2.0,
            "section": {"shape": "circular", "diameter": 0.3}}  # fmt: skip
    links = {
        "p": {**pipe, "upstream": "a", "downstream": "t"}, "q": {**pipe, "upstream": "beside", "downstream": "o"},
        "w": {"kind": "weir", "upstream": "t", "downstream": "o", "crest": 2.0, "length": 1.0},
    }  # fmt: skip
    return network(nodes, links)


def storm(row, duration):
    return Storm(row, 0.0, duration, "winter", 10.0, np.array([0.0, 60.0]), np.array([1.0]), 10.0)


def test_what_drains_above_a_store_counts_and_each_row_tells_its_own_storm():
    net = made()
    assert reaching(net, identity("t")) == {identity("t"), identity("a")}
    storms = [storm(2.0, 15.0), storm(2.0, 60.0), storm(30.0, 60.0)]
    inflow = {}
    for one, scale in zip(storms, (1.0, 2.0, 4.0), strict=True):
        flow = np.column_stack([BLOCK[1] * scale, BLOCK[1] * 100.0])
        inflow[one.key] = Inflow(BLOCK[0], flow, [identity("a"), identity("beside")], np.zeros(2))
    found = estimates(net, identity("t"), storms, inflow, 0.03)
    assert [one.row for one in found] == ["2 yr", "30 yr"]
    assert found[0].least == pytest.approx(0.17 * 3600.0, rel=1e-3)
    assert found[0].least_storm == storms[1].key
    assert found[1].least == pytest.approx(0.37 * 3600.0, rel=1e-3)
    assert found[1].orifice > found[1].least
