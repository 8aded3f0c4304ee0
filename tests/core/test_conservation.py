"""What must hold in any network: water is kept, still water stays still, order and names mean nothing."""

import uuid

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from madidus.core.hydraulics.flatten import flatten
from madidus.core.hydraulics.layout import FLOOR, INITIAL
from madidus.core.hydraulics.simulate import Inflow, simulate
from madidus.core.model.network import Network
from madidus.core.rainfall.storms import ensemble
from madidus.core.runoff.catchments import inflows

from ..cases.build import Run, network, tank
from .generated import rain, tree

few = settings(max_examples=8, deadline=None, suppress_health_check=[HealthCheck.too_slow])


@few
@given(seed=st.integers(0, 10_000), pipes=st.integers(3, 25), storm=st.integers(0, 53))
def test_volume_closes_to_rounding(seed, pipes, storm):
    net, values = tree(pipes, seed), rain()
    flat = flatten(net)
    inflow = inflows(net, values.runoff, ensemble(values)[storm])
    run = simulate(flat, inflow)
    assert abs(run.balance.error) < 1e-12
    assert run.balance.entered == pytest.approx(np.trapezoid(inflow.flow.sum(axis=1), inflow.times), rel=1e-9)
    levels = run.peaks.level.top
    assert np.all(levels >= flat.grid.cell[FLOOR, : flat.grid.cells] - 1e-9)
    assert np.all(np.isfinite(levels))


def test_lost_floods_are_counted():
    net = network(
        {"m": {"kind": "manhole", "cover": 11.0, "invert": 10.0, "flooding": "lost"}, "o": {"kind": "outfall", "invert": 9.9}},
        {"p": {"kind": "pipe", "upstream": "m", "downstream": "o", "length": 50, "upstream_invert": 10.0,
               "downstream_invert": 9.9, "section": {"shape": "circular", "diameter": 0.15}}},
    )  # fmt: skip
    run = Run(net, {"m": [(0, 0.0), (600, 0.08), (1200, 0.0)]}, 3600, 60)
    assert run.result.balance.lost > 20.0
    assert abs(run.result.balance.error) < 1e-12


def test_water_above_cover_returns():
    net = network(
        {"m": {"kind": "manhole", "cover": 11.0, "invert": 10.0, "ponded_area": 400}, "o": {"kind": "outfall", "invert": 9.9}},
        {"p": {"kind": "pipe", "upstream": "m", "downstream": "o", "length": 50, "upstream_invert": 10.0,
               "downstream_invert": 9.9, "section": {"shape": "circular", "diameter": 0.15}}},
    )  # fmt: skip
    run = Run(net, {"m": [(0, 0.0), (600, 0.08), (1200, 0.0)]}, 6 * 3600, 60)
    assert run.level("m").max() > 11.02
    assert run.level("m")[-1] < 10.1
    assert run.result.balance.lost == 0.0


def test_still_water_stays_still():
    """A level pool over falling, level and rising pipes."""

    def pipe(up, down, a, b):
        return {"kind": "pipe", "upstream": up, "downstream": down, "length": 60, "upstream_invert": a,
                "downstream_invert": b, "section": {"shape": "circular", "diameter": 0.6}}  # fmt: skip

    net = network(
        {"a": tank(10, 13, 40, depth=1.5), "b": tank(9.5, 13, 25, depth=2.0), "c": tank(9.5, 13, 60, depth=2.0),
         "o": {"kind": "outfall", "invert": 12.5}},
        {"p": pipe("a", "b", 10.0, 9.5), "q": pipe("b", "c", 9.6, 10.1),
         "spill": {"kind": "weir", "upstream": "c", "downstream": "o", "crest": 12.5, "length": 1}},
    )  # fmt: skip
    flat = flatten(net)
    # fill the pipes too, so that nothing has to move
    flat.grid.cell[INITIAL, : flat.grid.cells] = 11.5
    run = simulate(flat, Inflow.steady({}), until=3600.0)
    assert np.abs(run.peaks.speed).max() < 1e-9
    assert run.peaks.level.top == pytest.approx(11.5, abs=1e-9)


def test_names_and_order_mean_nothing():
    net, values = tree(12, 3), rain()
    storm = ensemble(values)[4]
    document = net.model_dump()
    for k, node in enumerate(document["nodes"].values()):
        node["name"] = f"renamed {99 - k}"
    shuffled = {key: dict(reversed(list(part.items()))) for key, part in document.items()}
    other = Network.model_validate(shuffled)
    a, b = flatten(net), flatten(other)
    assert a.digest == b.digest
    first = simulate(a, inflows(net, values.runoff, storm))
    second = simulate(b, inflows(other, values.runoff, storm))
    assert np.array_equal(first.peaks.level.top, second.peaks.level.top)


def test_new_ids_change_results_by_rounding_only():
    net, values = tree(12, 3), rain()
    storm = ensemble(values)[20]
    swap = {id_: str(uuid.uuid5(uuid.NAMESPACE_URL, id_)) for id_ in [*net.nodes, *net.links, *net.catchments]}
    text = net.model_dump_json()
    for old, new in swap.items():
        text = text.replace(old, new)
    other = Network.model_validate_json(text)
    a, b = flatten(net), flatten(other)
    first = simulate(a, inflows(net, values.runoff, storm))
    second = simulate(b, inflows(other, values.runoff, storm))
    for id_ in (id_ for id_, node in net.nodes.items() if node.kind != "outfall"):
        level = first.peaks.level.steady[a.node_row[id_]]
        assert second.peaks.level.steady[b.node_row[swap[id_]]] == pytest.approx(level, abs=0.005)


def test_reporting_interval_forces_no_step():
    net, values = tree(10, 5), rain()
    flat = flatten(net)
    inflow = inflows(net, values.runoff, ensemble(values)[10])
    plain = simulate(flat, inflow)
    recorded = simulate(flat, inflow, until=plain.end_time, frames=2000, interval=plain.end_time / 1999)
    assert recorded.steps <= plain.steps + 1
    assert recorded.peaks.level.steady == pytest.approx(plain.peaks.level.steady, abs=1e-6)
