"""Ends of conduits: what a free exit, an entry, a still and a benched node do to levels, on any grid."""

import numpy as np
import pytest

from madidus.core.elements.geometry import critical_depth, normal_depth, uniform_flow
from madidus.core.elements.sections import Circular
from madidus.core.hydraulics.flatten import flatten
from madidus.core.hydraulics.layout import LOST_IN, LOST_OUT, STREAM
from madidus.core.steady import steady
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


STEEP = {"A": manhole(10.0), "O": {"kind": "outfall", "invert": 9.0}}


@pytest.mark.parametrize(("flow", "expected"), [(0.34, 3.461), (0.38, 3.518), (0.42, 3.593), (0.50, 3.731)])
def test_a_pipe_nearly_or_quite_full_that_falls_into_a_tank_is_on_the_drawdown_curve(flow, expected):
    """The boatyard's last pipe, 26.31 m at 1:165.47: standard steps from the exit, done apart from the product."""
    net = network(
        {"A": manhole(3.009), "T": tank(0.5, 6.0, 1e6), "O": {"kind": "outfall", "invert": 0.0}},
        {"P": pipe("A", "T", 26.31, 3.009, 1 / 165.47, 0.525, entry_loss=0.1),
         "W": {"kind": "weir", "upstream": "T", "downstream": "O", "crest": 0.6, "length": 50.0}},
    )  # fmt: skip
    assert level(net, flow) == pytest.approx(expected, abs=0.010)


@pytest.mark.parametrize("spacing", [3.0, 30.0])
@pytest.mark.parametrize("flow", [0.05, 0.12])
def test_the_head_of_a_steep_pipe_stands_at_critical_depth_on_any_grid(flow, spacing):
    net = network(STEEP, {"P": pipe("A", "O", 50.0, 10.0, 0.02, 0.45)})
    critical = critical_depth(Circular(diameter=0.45), flow)
    assert normal_depth(Circular(diameter=0.45), MANNING, 0.02, flow) < critical
    assert level(net, flow, spacing=spacing) - 10.0 == pytest.approx(critical, abs=0.002)


def test_a_manhole_that_is_not_benched_stands_a_velocity_head_higher():
    flow, nodes = 0.12, {**STEEP, "A": manhole(10.0, benched=False)}
    net = network(nodes, {"P": pipe("A", "O", 50.0, 10.0, 0.02, 0.45)})
    critical = critical_depth(Circular(diameter=0.45), flow)
    angle = 2 * np.arccos(1 - 2 * critical / 0.45)
    head = (flow / (0.45**2 / 8 * (angle - np.sin(angle)))) ** 2 / (2 * G)
    assert level(net, flow) - 10.0 == pytest.approx(critical + head, abs=0.004)


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
    section = Circular(diameter=0.45)
    found = level(through(), 0.10, "B", spacing, beside={"B": 0.05}) - 10.0
    assert found == pytest.approx(critical_depth(section, 0.15), abs=0.01)


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
        return float(grid.end[LOST_OUT, out]), float(grid.end[LOST_IN, into]), int(grid.end_index[STREAM, into])

    assert losses() == (0.0, 1.0, -1)
    lost_out, lost_in, stream = losses(benched=True)
    assert (lost_out, lost_in) == (1.0, 0.0)
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
