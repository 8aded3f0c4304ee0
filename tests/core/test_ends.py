"""Ends of conduits: what a free exit, an entry, a still and a benched node do to levels, on any grid."""

import math

import numpy as np
import pytest

from madidus.core.design.steady import steady
from madidus.core.elements.geometry import critical_depth, geometry, normal_depth, uniform_flow
from madidus.core.elements.sections import Circular
from madidus.core.hydraulics.flatten import flatten
from madidus.core.hydraulics.inflow import Inflow
from madidus.core.hydraulics.layout import LOST_OUT, MIXES, STREAM
from madidus.core.hydraulics.simulate import simulate
from tests.cases.build import Run, identity, network, tank

G, MANNING = 9.81, 0.013


def manhole(invert, **more):
    return {"kind": "manhole", "invert": invert, "cover": invert + 6.0, **more}


def pipe(up, down, length, invert, gradient, diameter, **more):
    return {
        "kind": "pipe", "upstream": up, "downstream": down, "length": length, "upstream_invert": invert,
        "downstream_invert": invert - gradient * length, "roughness": MANNING,
        "section": {"shape": "circular", "diameter": diameter}, **more,
    }  # fmt: skip


def level(net, flow, node="A", spacing=30.0, beside=None):
    inflows = {identity("A"): flow, **{identity(k): q for k, q in (beside or {}).items()}}
    return steady(net, inflows, spacing=spacing).level[identity(node)]


def velocity_head(diameter, depth, flow):
    return float((flow / geometry(Circular(diameter=diameter)).area_at(depth)) ** 2 / (2 * G))


def critical_energy(diameter, flow, heads=1.0):
    """Depth of a node whose water passes critical depth in the pipe and takes some velocity heads there."""
    depth = critical_depth(Circular(diameter=diameter), flow)
    return depth + heads * velocity_head(diameter, depth, flow)


STEEP = {"A": manhole(10.0), "O": {"kind": "outfall", "invert": 9.0}}


@pytest.mark.parametrize(("flow", "expected"), [(0.34, 3.461), (0.38, 3.518), (0.42, 3.593), (0.50, 3.731)])
def test_a_pipe_nearly_or_quite_full_that_falls_into_a_tank_is_on_the_drawdown_curve(flow, expected):
    """The boatyard's last pipe, 26.31 m at 1:165.47: standard steps from the exit, done apart from the product, to the
    upper end of the pipe and the entry loss; a velocity head above that stands the manhole.
    """
    net = network(
        {"A": manhole(3.009), "T": tank(0.5, 6.0, 1e6), "O": {"kind": "outfall", "invert": 0.0}},
        {"P": pipe("A", "T", 26.31, 3.009, 1 / 165.47, 0.525, entry_loss=0.1),
         "W": {"kind": "weir", "upstream": "T", "downstream": "O", "crest": 0.6, "length": 50.0}},
    )  # fmt: skip
    start = min(expected - 3.009, 0.525)
    assert level(net, flow) == pytest.approx(expected + velocity_head(0.525, start, flow), abs=0.010)


@pytest.mark.parametrize("benched", [None, True, False])
@pytest.mark.parametrize(
    ("diameter", "gradient", "flow"),
    [(0.225, 0.01, 0.03), (0.45, 0.02, 0.05), (0.45, 0.02, 0.12), (0.3, 0.2, 0.12), (0.3, 0.2, 0.15), (0.6, 0.03, 0.9)],
)
def test_at_the_head_of_a_steep_run_the_water_is_set_in_motion_at_the_cost_of_a_velocity_head(
    diameter, gradient, flow, benched
):
    """Benched or not, up to the crown (critical depth at 0.88, 0.94 and 0.98 of the height), on any grid."""
    nodes = {"A": manhole(10.0, benched=benched), "O": {"kind": "outfall", "invert": 5.0}}
    net = network(nodes, {"P": pipe("A", "O", 20.0, 10.0, gradient, diameter)})
    for spacing in (3.0, 30.0):
        assert level(net, flow, spacing=spacing) - 10.0 == pytest.approx(critical_energy(diameter, flow), abs=0.003)


def test_where_a_conduit_may_arrive_but_does_not_the_head_is_paid_as_well():
    net = network(
        {"A": manhole(11.0), "B": manhole(10.0), "O": {"kind": "outfall", "invert": 9.0}},
        {"P": pipe("A", "B", 50.0, 11.0, 0.02, 0.45), "Q": pipe("B", "O", 50.0, 10.0, 0.02, 0.45)},
    )
    assert level(net, 0.0, "B", beside={"B": 0.12}) - 10.0 == pytest.approx(critical_energy(0.45, 0.12), abs=0.003)


def test_what_a_control_or_a_pump_brings_does_not_arrive_in_motion():
    net = network(
        {"T": tank(11.0, 15.0, 100.0, depth=2.0), "A": manhole(10.0), "B": manhole(10.6),
         "O": {"kind": "outfall", "invert": 9.0}},
        {"C": {"kind": "orifice", "upstream": "T", "downstream": "A", "invert": 11.0,
               "section": {"shape": "circular", "diameter": 0.2}},
         "P": pipe("B", "A", 30.0, 10.6, 0.02, 0.45), "Q": pipe("A", "O", 50.0, 10.0, 0.02, 0.45)},
    )  # fmt: skip
    run = Run(net, {"T": [(0.0, 0.12), (7200.0, 0.12)]}, 7200.0, 600.0)
    flow = float(run.flow("C")[-1])
    assert run.level("A")[-1] - 10.0 == pytest.approx(critical_energy(0.45, flow), abs=0.003)


@pytest.mark.parametrize("loss", [0.2, 0.5, 1.0])
def test_a_contracted_entry_is_drowned_before_its_pipe_is_full(loss):
    """A jet of the share Cc of the height and area, K = (1/Cc − 1)²; below it critical depth and 1 + K velocity heads."""
    net = network(
        {"A": manhole(10.0, cover=16.0), "O": {"kind": "outfall", "invert": 5.0}},
        {"P": pipe("A", "O", 50.0, 10.0, 0.05, 0.45, entry_loss=loss)},
    )
    area, jet = math.pi / 4 * 0.45**2, 1.0 / (1.0 + math.sqrt(loss))
    before = 0.0
    for share in (0.3, 0.5, 0.65, 0.8, 0.9, 1.0):
        flow = share * area * math.sqrt(G * 0.45)
        drowned = jet * 0.45 + (flow / (jet * area)) ** 2 / (2 * G)
        deep = jet * 0.45 <= critical_depth(Circular(diameter=0.45), flow)
        expected = max(critical_energy(0.45, flow, 1.0 + loss), drowned if deep else 0.0)
        found = level(net, flow) - 10.0
        assert found == pytest.approx(expected, rel=0.01)
        assert found > before
        before = found


def test_an_entry_passes_more_the_higher_the_water_stands():
    """By the law itself, from a film to twice the height, at every share of what rests."""
    net = network(
        {"A": manhole(10.0), "O": {"kind": "outfall", "invert": 5.0}},
        {"P": pipe("A", "O", 50.0, 10.0, 0.05, 0.45, entry_loss=0.5)},
    )
    grid = flatten(net).grid
    first = int(np.flatnonzero(grid.end[0] < 0)[0])
    row = int(grid.end_index[4, first])
    position = np.arange(grid.entry_bound.shape[1], dtype=float)
    shape = geometry(Circular(diameter=0.45))
    for which, heads in ((row, 0.5), (row + 1, 1.5)):
        depths = np.linspace(0.01, position[-1] / grid.entry_per[which], 500)
        square = np.interp(depths * grid.entry_per[which], position, grid.entry_bound[which])
        flow = np.sqrt(square) * shape.area_at(np.clip(depths - heads * square / (2 * G), 0.0, 0.45))
        assert np.all(np.diff(flow) > 0.0)


def through(**more):
    return network(
        {"A": manhole(11.0), "B": manhole(10.0, **more), "O": {"kind": "outfall", "invert": 9.0}},
        {"P": pipe("A", "B", 50.0, 11.0, 0.02, 0.45), "Q": pipe("B", "O", 50.0, 10.0, 0.02, 0.45)},
    )


@pytest.mark.parametrize("spacing", [3.0, 30.0])
def test_a_benched_manhole_does_not_choke_a_supercritical_stream_and_a_still_one_does(spacing):
    flow, section = 0.12, Circular(diameter=0.45)
    depth = normal_depth(section, MANNING, 0.02, flow)
    assert level(through(), flow, "B", spacing) - 10.0 == pytest.approx(depth, abs=0.006)
    assert level(through(benched=False), flow, "B", spacing) - 10.0 > critical_depth(section, flow) + 0.05


@pytest.mark.parametrize("spacing", [3.0, 30.0])
def test_water_that_joins_from_the_side_slows_the_stream_until_it_chokes(spacing):
    found = level(through(), 0.10, "B", spacing, beside={"B": 0.05}) - 10.0
    assert found == pytest.approx(critical_energy(0.45, 0.15, 1.0 / 3.0), abs=0.01)


@pytest.mark.parametrize("gradient", [0.004, 0.007, 0.01, 0.02])
@pytest.mark.parametrize("joining", [0.0, 0.004, 0.02])
def test_a_benched_manhole_has_one_level_for_one_flow_whichever_way_it_came(gradient, joining):
    """Rapid and nearly critical streams: from a dry pipe, from twice the flow, and from a pipe that was full."""
    net = network(
        {"A": manhole(11.0), "B": manhole(10.0), "O": {"kind": "outfall", "invert": 5.0}},
        {"P": pipe("A", "B", 50.0, 10.0 + 50.0 * gradient, gradient, 0.45),
         "Q": pipe("B", "O", 50.0, 10.0, 1.3 * gradient, 0.45)},
    )  # fmt: skip
    nodes = net.nodes | {identity("A"): net.nodes[identity("A")].model_copy(update={"invert": 10.0 + 50.0 * gradient})}
    flat = flatten(net.model_copy(update={"nodes": nodes}))
    flow = 0.4 * uniform_flow(Circular(diameter=0.45), MANNING, gradient, 0.45)
    row, found = flat.node_row[identity("B")], []
    for before in (0.0, 2.0, 4.0):
        times = np.array([0.0, 1800.0, 1801.0, 9000.0])
        shape = np.array([before, before, 1.0, 1.0])[:, None] * np.array([[flow, joining]])
        run = simulate(
            flat, Inflow(times, shape, [identity("A"), identity("B")], np.array([flow, joining])), until=9000.0
        )
        found.append(float(run.end.cell[0, row]))
    assert np.ptp(found) < 1e-3


def test_an_exit_loss_of_one_makes_a_manhole_still_unless_it_is_said_to_be_benched():
    def losses(**more):
        net = network(
            {"A": manhole(11.0), "B": manhole(10.0, **more), "O": {"kind": "outfall", "invert": 9.0}},
            {"P": pipe("A", "B", 50.0, 11.0, 0.02, 0.45, exit_loss=1.0), "Q": pipe("B", "O", 50.0, 10.0, 0.02, 0.45)},
        )
        grid = flatten(net).grid
        node = flatten(net).node_row[identity("B")]
        ends = [e for e in range(grid.end.shape[1]) if grid.end_index[2, e] == node]
        out, into = sorted(ends, key=lambda e: -grid.end[0, e])
        return float(grid.end[LOST_OUT, out]), int(grid.end_index[MIXES, into]), int(grid.end_index[STREAM, into])

    assert losses() == (0.0, 0, -1)
    lost_out, mixes, stream = losses(benched=True)
    assert (lost_out, mixes) == (1.0, 1)
    assert stream >= 0


@pytest.mark.parametrize("loss", [None, 0.0, 0.5, 1.0])
def test_an_exit_that_falls_free_is_not_charged(loss):
    net = network(
        {"A": manhole(10.0), "T": tank(5.0, 12.0, 1e6), "O": {"kind": "outfall", "invert": 4.0}},
        {"P": pipe("A", "T", 60.0, 10.0, 0.003, 0.45, exit_loss=loss),
         "W": {"kind": "weir", "upstream": "T", "downstream": "O", "crest": 5.1, "length": 50.0}},
    )  # fmt: skip
    free = network(STEEP, {"P": pipe("A", "O", 60.0, 10.0, 0.003, 0.45)})
    assert level(net, 0.1) == pytest.approx(level(free, 0.1), abs=5e-4)


def test_a_lossless_manhole_in_the_middle_changes_no_level():
    """Part full and under pressure: the level at the head, with the pipe whole and cut in two."""
    section = Circular(diameter=0.45)
    full = uniform_flow(section, MANNING, 0.004, section.height)
    for share in (0.5, 0.9, 1.2):
        whole = network(
            {"A": manhole(10.0), "O": {"kind": "outfall", "invert": 9.6}},
            {"P": pipe("A", "O", 100.0, 10.0, 0.004, 0.45)},
        )
        cut = network(
            {"A": manhole(10.0), "B": manhole(9.8), "O": {"kind": "outfall", "invert": 9.6}},
            {"P": pipe("A", "B", 50.0, 10.0, 0.004, 0.45), "Q": pipe("B", "O", 50.0, 9.8, 0.004, 0.45)},
        )
        assert level(cut, share * full) == pytest.approx(level(whole, share * full), abs=0.005)


def test_water_that_came_to_rest_stays_at_rest():
    """A pipe filled from outside swings and settles: no seiche of the size of Newton's tolerance is kept up."""
    net = network(
        {"A": manhole(10.0, plan_area=5.0), "O": {"kind": "outfall", "invert": 9.6, "tail_water": {"kind": "fixed", "level": 10.8}}},
        {"P": pipe("A", "O", 100.0, 10.0, 0.004, 0.6)},
    )  # fmt: skip
    run = Run(net, {}, 6 * 3600.0, 60.0, empty=True)
    late = run.level("A")[-60:]
    assert np.abs(late - 10.8).max() < 5e-4
