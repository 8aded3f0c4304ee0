"""Reference cases of flow in pipes and between stores; figures from closed forms or independent integration."""

import numpy as np
import pytest

from madidus.core.hydraulics.sections import (
    full_bore_capacity,
    normal_depth,
    uniform_flow,
)
from madidus.core.model.sections import Circular, Rectangular

from .build import Run, identity, network, tank

A1 = [
    (Circular(diameter=0.9), 0.013, 0.002, 0.111, 0.2251024),
    (Circular(diameter=0.9), 0.013, 0.002, 0.405, 0.4501323),
    (Circular(diameter=0.9), 0.013, 0.002, 0.791, 0.719673),
    (Rectangular(width=1.5, height=1.5), 0.015, 0.001, 0.471, 0.375217),
    (Rectangular(width=1.5, height=1.5), 0.015, 0.001, 1.23, 0.7484773),
    (Rectangular(width=1.5, height=1.5), 0.015, 0.001, 2.27, 1.201554),
]


@pytest.mark.parametrize(("section", "roughness", "gradient", "flow", "depth"), A1)
def test_normal_depth_by_formula_and_by_the_solver(section, roughness, gradient, flow, depth):
    assert normal_depth(section, roughness, gradient, flow) == pytest.approx(depth, abs=1e-5)
    net = network(
        {"head": {"kind": "manhole", "cover": 16, "invert": 10 + 1000 * gradient},
         "out": {"kind": "outfall", "invert": 10, "tail_water": {"kind": "normal"}}},
        {"pipe": {"kind": "pipe", "upstream": "head", "downstream": "out", "section": section.model_dump(),
                  "length": 1000, "upstream_invert": 10 + 1000 * gradient, "downstream_invert": 10,
                  "roughness": roughness}},
    )  # fmt: skip
    run = Run(net, {"head": [(0, flow), (21600, flow)]}, 21600, 300)
    depths = run.depths("pipe")
    assert depths[len(depths) // 2] == pytest.approx(depth, rel=0.005, abs=0.002)


def test_capacity_of_a_circular_pipe():
    """Case A2."""
    pipe, n, s = Circular(diameter=0.75), 0.013, 0.004
    assert full_bore_capacity(pipe, n, s) == pytest.approx(0.7040982, rel=0.002)
    for fill, flow in ((0.25, 0.09644864), (0.5, 0.3520491), (0.75, 0.6420514), (0.9, 0.750426)):
        assert uniform_flow(pipe, n, s, fill * 0.75) == pytest.approx(flow, rel=0.003)
    fills = np.linspace(0.01, 1.0, 2000)
    flows = np.array([uniform_flow(pipe, n, s, y * 0.75) for y in fills])
    assert fills[flows.argmax()] == pytest.approx(0.9381812, abs=0.003)
    assert flows.max() / full_bore_capacity(pipe, n, s) == pytest.approx(1.075706, abs=0.002)
    assert uniform_flow(pipe, n, s, 0.375) == pytest.approx(0.5 * full_bore_capacity(pipe, n, s), rel=1e-6)


def test_hydraulic_grade_line_between_fixed_levels():
    """Case A5: three surcharged pipes in a row."""

    def pipe(up, down, length, diameter, a, b):
        return {
            "kind": "pipe", "upstream": up, "downstream": down, "length": length, "upstream_invert": a,
            "downstream_invert": b, "section": {"shape": "circular", "diameter": diameter}, "roughness": 0.013,
            "entry_loss": 0.5, "exit_loss": 1.0,
        }  # fmt: skip

    net = network(
        {"in": tank(20.0, 30.0, 1e7, depth=5.0), "m1": {"kind": "manhole", "cover": 30, "invert": 19.6, "plan_area": 2},
         "m2": {"kind": "manhole", "cover": 30, "invert": 19.1, "plan_area": 2},
         "out": {"kind": "outfall", "invert": 18.9, "tail_water": {"kind": "fixed", "level": 22.6}}},
        {"p1": pipe("in", "m1", 180, 0.6, 20.0, 19.7), "p2": pipe("m1", "m2", 220, 0.675, 19.6, 19.2),
         "p3": pipe("m2", "out", 150, 0.75, 19.1, 18.9)},
    )  # fmt: skip
    run = Run(net, {}, 3600, 60)
    assert run.flow("p2")[-1] == pytest.approx(0.4661825, rel=0.005)
    assert run.level("m1")[-1] == pytest.approx(23.75456, abs=0.01)
    assert run.level("m2")[-1] == pytest.approx(22.94815, abs=0.01)


def test_mass_oscillation_between_two_tanks():
    """Case A9: rigid-column theory; an over-damped scheme would flatten the swing. The pipe starts full."""
    net = network(
        {"t1": tank(0, 10, 50, depth=4.6), "t2": tank(0, 10, 80, depth=4.0), "out": {"kind": "outfall", "invert": 9.9}},
        {"pipe": {"kind": "pipe", "upstream": "t1", "downstream": "t2", "length": 200, "upstream_invert": 0.2,
                  "downstream_invert": 0.2, "section": {"shape": "circular", "diameter": 0.8}, "roughness": 0.01,
                  "entry_loss": 0.5, "exit_loss": 1.0},
         "spill": {"kind": "weir", "upstream": "t2", "downstream": "out", "crest": 9.9, "length": 1}},
    )  # fmt: skip
    run = Run(net, {}, 470, 0.5, full={"pipe": 4.3}, longest_step=1.0)
    one, two, time = run.level("t1"), run.level("t2"), run.time
    for around, when, first, second in (
        (113, 113.3446, 4.001096, 4.374315), (225, 225.3778, 4.397995, 4.126253),
        (337, 336.9585, 4.099172, 4.313018), (448, 448.328, 4.339292, 4.162943),
    ):  # fmt: skip
        near = np.abs(time - around) < 20
        sign = 1.0 if first > 4.23 else -1.0
        top = int(np.nonzero(near)[0][(sign * one[near]).argmax()])
        assert time[top] == pytest.approx(when, rel=0.015)
        assert one[top] == pytest.approx(first, abs=0.01)
        assert two[top] == pytest.approx(second, abs=0.01)
    assert run.flow("pipe").max() == pytest.approx(0.417907, rel=0.01)
    assert time[run.flow("pipe").argmax()] == pytest.approx(48.15149, rel=0.02)


def test_tank_with_an_orifice():
    """Case B1: logarithmic filling, square-root emptying."""
    net = network(
        {"tank": tank(100, 106, 50, depth=0.575), "out": {"kind": "outfall", "invert": 99}},
        {"orifice": {"kind": "orifice", "upstream": "tank", "downstream": "out", "invert": 100.0,
                     "section": {"shape": "circular", "diameter": 0.15}, "discharge_coefficient": 0.61}},
    )  # fmt: skip
    run = Run(net, {"tank": [(0, 0.08), (1200, 0.08), (1200, 0.0)]}, 2460, 2)
    for time, level, flow in (
        (300, 100.8279, 0.04143169), (600, 101.042, 0.04695357), (900, 101.2269, 0.05124656),
        (1200, 101.3887, 0.05472621), (1800, 100.814, 0.0410472), (2400, 100.4035, 0.02736818),
    ):  # fmt: skip
        assert run.at(run.level("tank"), time) == pytest.approx(level, abs=0.005)
        assert run.at(run.flow("orifice"), time) == pytest.approx(flow, rel=0.005)
    assert run.result.balance.error == pytest.approx(0.0, abs=1e-12)


def test_pond_with_orifice_and_overflow_weir():
    """Case B2, its pond as a depth–area table of the offset polygon."""
    areas = [(0.0, 1217.0), (0.25, 1322.872), (0.5, 1432.882), (1.0, 1665.315), (1.5, 1914.299), (1.7, 2018.4)]
    net = network(
        {"pond": {"kind": "storage", "form": "pond", "invert": 60.0, "cover": 61.7, "initial_depth": 0.6569,
                  "table": [{"depth": y, "area": a} for y, a in areas]},
         "out": {"kind": "outfall", "invert": 59}},
        {"orifice": {"kind": "orifice", "upstream": "pond", "downstream": "out", "invert": 59.75,
                     "section": {"shape": "circular", "diameter": 0.2}, "discharge_coefficient": 0.6},
         "weir": {"kind": "weir", "upstream": "pond", "downstream": "out", "crest": 60.9, "length": 3.0,
                  "coefficient": 1.7}},
    )  # fmt: skip
    run = Run(net, {"pond": [(0, 0.075), (2400, 0.75), (7200, 0.075), (36000, 0.075)]}, 18000, 10)
    level = run.level("pond")
    assert level.max() == pytest.approx(61.12458, abs=0.01)
    row = run.flat.node_row[identity("pond")]
    assert run.result.peaks.level.top[row] == pytest.approx(61.12458, abs=0.01)
    assert run.result.peaks.level.when[row] == pytest.approx(3203.297, rel=0.01)
    assert run.flow("weir").max() == pytest.approx(0.542775, rel=0.03)
    assert run.flow("orifice").max() == pytest.approx(0.09426137, rel=0.01)
    for time, expected in ((1800, 60.94064), (3600, 61.11964), (5400, 61.05451), (7200, 60.9648), (18000, 60.85644)):
        assert run.at(level, time) == pytest.approx(expected, abs=0.01)


def test_flood_wave_in_a_long_channel():
    """Case A10: arrival, flattening and volume against the converged full equations. Ten hours at base flow come first."""
    before = 36_000.0
    times = np.arange(0, 21_601, 120.0)
    wave = 10.0 + 25.0 * (1.0 - np.cos(2.0 * np.pi * times / 21_600.0))
    inflow = [(0.0, 10.0), *((before + t, q) for t, q in zip(times, wave, strict=True)), (before + 54_000, 10.0)]

    def reach(up, down, a, b):
        return {
            "kind": "pipe", "upstream": up, "downstream": down, "length": 10_000, "upstream_invert": a,
            "downstream_invert": b, "section": {"shape": "rectangular", "width": 10, "height": 8}, "roughness": 0.03,
        }  # fmt: skip

    net = network(
        {"head": {"kind": "manhole", "cover": 40, "invert": 30, "plan_area": 10},
         "x10": {"kind": "junction", "cover": 30, "invert": 20, "plan_area": 10},
         "x20": {"kind": "junction", "cover": 20, "invert": 10, "plan_area": 10},
         "out": {"kind": "outfall", "invert": 0, "tail_water": {"kind": "normal"}}},
        {"upper": reach("head", "x10", 30, 20), "middle": reach("x10", "x20", 20, 10),
         "lower": reach("x20", "out", 10, 0)},
    )  # fmt: skip
    run = Run(net, {"head": inflow}, before + 54_000, 60, spacing=50.0)
    after = run.time >= before
    sampled = [7200, 10_800, 14_400, 18_000, 21_600, 28_800, 36_000]
    for pipe, node, bed, peak, when, depth, flows in (
        ("upper", "x10", 20, 56.344, 14_862, 3.3306, [13.77, 41.102, 56.153, 49.009, 31.497, 10.99, 10.002]),
        ("middle", "x20", 10, 53.059, 19_180, 3.1933, [10.0, 10.305, 32.242, 51.968, 49.456, 23.732, 11.126]),
    ):
        flow = run.flow(pipe)
        assert flow[after].max() == pytest.approx(peak, rel=0.01)
        assert run.time[after][flow[after].argmax()] - before == pytest.approx(when, rel=0.01)
        assert (run.level(node)[after] - bed).max() == pytest.approx(depth, abs=0.02)
        for t, expected in zip(sampled, flows, strict=True):
            assert run.at(flow, before + t) == pytest.approx(expected, rel=0.02, abs=0.3)
        assert np.trapezoid(flow[after], run.time[after]) == pytest.approx(1_080_000, rel=0.005)


def test_drawdown_to_a_free_outfall_through_mild_pipes():
    """Case A3: critical depth at the exit and M2 curves above it."""
    inverts = [20.527, 20.407, 20.299, 20.179, 20.099, 20.0]
    lengths, names = [120, 90, 150, 80, 110], ["m1", "m2", "m3", "m4", "m5", "out"]
    nodes = {
        name: {"kind": "manhole", "cover": z + 4, "invert": z, "plan_area": 1.2}
        for name, z in zip(names[:-1], inverts[:-1], strict=True)
    }
    links = {
        f"p{i + 1}": {"kind": "pipe", "upstream": names[i], "downstream": names[i + 1], "length": lengths[i],
                      "section": {"shape": "circular", "diameter": 1.2}, "roughness": 0.013,
                      "upstream_invert": inverts[i], "downstream_invert": inverts[i + 1]}
        for i in range(5)
    }  # fmt: skip
    net = network({**nodes, "out": {"kind": "outfall", "invert": 20.0}}, links)
    run = Run(net, {"m1": [(0, 1.0), (14_400, 1.0)]}, 14_400, 600, spacing=5.0)
    depths = run.depths("p5")[::-1]
    above = (np.arange(len(depths)) + 0.5) * 110 / len(depths)
    for at, expected, within in (
        (5, 0.6000323, 0.015), (10, 0.6214169, 0.015), (25, 0.6595828, 0.01), (50, 0.6964942, 0.01),
        (100, 0.7391341, 0.01),
    ):  # fmt: skip
        assert np.interp(at, above, depths) == pytest.approx(expected, abs=within)
    for node, expected in (("m5", 20.84427), ("m4", 20.95091), ("m3", 21.12298), ("m2", 21.21086), ("m1", 21.33752)):
        assert run.level(node)[-1] == pytest.approx(expected, abs=0.01)


def _trunk(length: float, flow: float, tail: str) -> tuple[Run, np.ndarray, np.ndarray]:
    """Case A6's trunk sewer at a steady flow: the run, distances above the outfall, depths there."""
    count = round(length / 150)
    nodes, links = {"out": {"kind": "outfall", "invert": 30, "tail_water": {"kind": tail}}}, {}
    for i in range(count):
        z = 30 + 0.001 * (length - 150 * i)
        nodes[f"m{i}"] = {"kind": "manhole", "cover": z + 12, "invert": z, "plan_area": 1.5}
        links[f"p{i}"] = {
            "kind": "pipe", "upstream": f"m{i}", "downstream": f"m{i + 1}" if i < count - 1 else "out", "length": 150,
            "upstream_invert": z, "downstream_invert": z - 0.15, "roughness": 0.015,
            "section": {"shape": "circular", "diameter": 1.5},
        }  # fmt: skip
    run = Run(network(nodes, links), {"m0": [(0, flow), (43_200, flow)]}, 43_200, 3600, spacing=10.0)
    depths = np.concatenate([run.depths(f"p{i}") for i in range(count)])[::-1]
    return run, (np.arange(len(depths)) + 0.5) * length / len(depths), depths


def test_a_steady_flow_that_fits_a_long_trunk_sewer():
    """Case A6, 1.65 m3/s: M2 curve to a free outfall, and normal depth."""
    _, above, depths = _trunk(4500, 1.65, "free")
    for at, expected, within in (
        (50, 0.8503572, 0.015), (150, 0.9385642, 0.015), (300, 0.9945774, 0.015), (600, 1.038135, 0.015),
        (1500, 1.06214, 0.015), (4495, 1.063972, 0.01),
    ):  # fmt: skip
        assert np.interp(at, above, depths) == pytest.approx(expected, abs=within)
    _, _, even = _trunk(600, 1.65, "normal")
    assert even == pytest.approx(np.full(len(even), 1.063972), abs=0.01)


def test_a_steady_flow_that_does_not_fit_a_long_trunk_sewer():
    """Case A6, 2.19 m3/s: 1.13 of the full-bore capacity; full from 2145 m above the free outfall on."""
    run, above, depths = _trunk(4500, 2.19, "free")
    assert above[np.argmax(depths >= 1.5)] == pytest.approx(2145.465, rel=0.05)
    assert run.level("m0")[-1] == pytest.approx(36.65424, abs=0.03)
