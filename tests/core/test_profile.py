"""Water and energy drawn along conduits: the solver's own at the middles of cells, run on to both ends."""

import numpy as np
import pytest

from madidus.core.constants import GRAVITY
from madidus.core.elements import Conduit, Outfall
from madidus.core.ensemble import make_plan
from madidus.core.results.profile import Profiles
from madidus.core.results.reduction import Reduction
from madidus.core.results.series import Layout
from tests.cases.build import Run, identity, network
from tests.exchange.test_demos import SCRIPTS, demo

STILL = 1e-4  # m3/s


def one_pipe(tail, gradient=0.01, diameter=0.3, length=50.0, benched=True, **node):
    net = network(
        {"a": {"kind": "manhole", "cover": 14.0, "invert": 10.0, "benched": benched, **node},
         "out": {"kind": "outfall", "invert": 10.0 - gradient * length, "tail_water": tail}},
        {"p": {"kind": "pipe", "upstream": "a", "downstream": "out", "length": length, "roughness": 0.013,
               "upstream_invert": 10.0, "downstream_invert": 10.0 - gradient * length,
               "section": {"shape": "circular", "diameter": diameter}}},
    )  # fmt: skip
    return net


def steady_profile(net, flow, **more):
    """Water and energy of the pipe where a flow has settled, and what the run says of it."""
    run = Run(net, {"a": [(0, flow), (3600, flow)]}, 3600.0, 600.0, **more)
    profiles, id_ = Profiles(net, run.flat), identity("p")
    series = run.result.series
    first, last = run.flat.pipe_faces[id_]
    cells = series.level[-1, run.flat.pipe_rows[id_]]
    into, out = series.flow[-1, first], series.flow[-1, last]
    levels = [series.level[-1, run.flat.node_row[identity(node)]] for node in ("a", "out")]
    water = profiles.water(id_, cells, *levels, into, out)
    return profiles, id_, water, profiles.energy(id_, water, into, out), cells, run


def circle(depth, diameter):
    angle = 2.0 * np.arccos(1.0 - 2.0 * np.minimum(depth, diameter) / diameter)
    return diameter**2 / 8.0 * (angle - np.sin(angle)), diameter * np.sin(angle / 2.0)


def critical_depth(flow, diameter):
    depths = np.linspace(1e-4, diameter * 0.9999, 20_000)
    area, breadth = circle(depths, diameter)
    return float(depths[np.argmin(np.abs(flow**2 * breadth - GRAVITY * area**3))])


def test_a_run_of_one_pipe_has_a_surface_that_leaves_at_critical_depth():
    """A mild pipe that falls free: the water draws down to critical depth at the outfall, found by the textbook."""
    profiles, id_, water, energy, cells, _ = steady_profile(one_pipe({"kind": "free"}, gradient=0.001), 0.02)
    assert water[1:-1] == pytest.approx(cells, abs=0)  # the solver's own
    assert water[-1] - profiles.bed(id_)[-1] == pytest.approx(critical_depth(0.02, 0.3), abs=1e-3)
    assert (np.diff(water) < 0.0).all()
    assert (np.diff(energy) < 0.0).all()
    area, _ = circle(water - profiles.bed(id_), 0.3)
    assert energy - water == pytest.approx((0.02 / area) ** 2 / (2 * GRAVITY), rel=2e-3)


def test_a_steep_pipe_leaves_at_the_depth_that_arrives():
    profiles, id_, water, _, _, _ = steady_profile(one_pipe({"kind": "free"}, gradient=0.05), 0.02)
    depth = water - profiles.bed(id_)
    assert depth[-1] == pytest.approx(depth[-2])
    assert depth[-1] < critical_depth(0.02, 0.3)


@pytest.mark.parametrize(("tail", "level"), [(9.9, 9.9), (11.2, 11.2), (5.0, None)])
def test_a_given_level_is_met_where_it_stands_over_the_critical_depth(tail, level):
    net = one_pipe({"kind": "fixed", "level": tail}, gradient=0.001)
    profiles, id_, water, energy, _, _ = steady_profile(net, 0.02)
    least = profiles.bed(id_)[-1] + critical_depth(0.02, 0.3)
    assert water[-1] == pytest.approx(least if level is None else max(level, least), abs=1e-3)
    assert (energy >= water).all()
    assert (np.diff(energy) <= 0.0).all()


def test_normal_depth_runs_on_to_the_end():
    profiles, id_, water, _, _, _ = steady_profile(one_pipe({"kind": "normal"}, gradient=0.004), 0.03)
    depth = water - profiles.bed(id_)
    assert depth[1:] == pytest.approx(np.full(len(depth) - 1, depth[-2]), abs=2e-3)


def test_the_water_of_a_pipe_that_nothing_runs_through_is_on_its_bed():
    net = one_pipe({"kind": "free"})
    _, id_, water, energy, _, run = steady_profile(net, 0.0)
    bed = Profiles(net, run.flat).bed(id_)
    assert water == pytest.approx(bed)
    assert energy == pytest.approx(bed)


def test_water_that_pours_down_into_a_manhole_leaves_its_pipe_at_critical_depth():
    net = network(
        {"a": {"kind": "manhole", "cover": 14.0, "invert": 10.0}, "b": {"kind": "manhole", "cover": 14.0, "invert": 8.0},
         "out": {"kind": "outfall", "invert": 7.5}},
        {"p": {"kind": "pipe", "upstream": "a", "downstream": "b", "length": 50.0, "roughness": 0.013,
               "upstream_invert": 10.0, "downstream_invert": 9.95, "section": {"shape": "circular", "diameter": 0.3}},
         "q": {"kind": "pipe", "upstream": "b", "downstream": "out", "length": 30.0, "roughness": 0.013,
               "upstream_invert": 8.0, "downstream_invert": 7.5, "section": {"shape": "circular", "diameter": 0.3}}},
    )  # fmt: skip
    run = Run(net, {"a": [(0, 0.02), (3600, 0.02)]}, 3600.0, 600.0)
    layout = Layout(net, run.flat)
    reduction = Reduction(net, run.flat)
    figures = reduction.figures("s", run.result)
    found = layout.profiles.highest(identity("p"), reduction, [figures])
    assert found[-1] - 9.95 == pytest.approx(critical_depth(0.02, 0.3), abs=2e-3)
    assert found[0] == pytest.approx(figures.level[reduction.nodes.index(identity("a"))])
    assert found[1:-1] == pytest.approx(figures.cells[reduction.cells_of[identity("p")]], abs=0)


@pytest.mark.parametrize("name", SCRIPTS)
def test_every_drawn_point_is_the_solvers_own_in_every_storm(name):
    """Of each storm of a demo at every frame: middles of cells as computed, nothing below its bed, energy falling."""
    project = demo(name)
    plan = make_plan(project)
    keys = list(plan.inflow)
    conduits = [id_ for id_, link in plan.network.links.items() if isinstance(link, Conduit)]
    for key in keys[:: max(len(keys) // 18, 1)]:
        run = plan.simulate(key, follow=plan.layout.follow)
        series, figures = plan.layout.take(run), plan.reduction.figures(key, run)
        column = dict(zip(plan.layout.columns, series.values.astype(float), strict=True))
        for id_ in conduits:
            link, profiles = plan.network.links[id_], plan.layout.profiles
            water, energy = plan.layout.profile(id_, series.values[plan.layout.profile_columns(id_)])
            bed = profiles.bed(id_)[:, None]
            assert water[1] == pytest.approx(np.maximum(column[f"head:{id_}"], bed[1]), abs=1e-6)
            assert water[-2] == pytest.approx(np.maximum(column[f"foot:{id_}"], bed[-2]), abs=1e-6)
            assert (water >= bed).all()
            assert (energy >= water).all()
            into, out = column[f"into:{id_}"], column[f"flow:{id_}"]
            runs = (into > STILL) & (out > STILL)
            assert (np.diff(energy, axis=0)[:, runs] <= 1e-12).all()
            # at the ends: the node's, or higher where the water falls free
            assert (water[0] >= column[f"level:{link.upstream}"] - 1e-6).all()
            below = plan.network.nodes[link.downstream]
            if not isinstance(below, Outfall):
                assert (water[-1] >= column[f"level:{link.downstream}"] - 1e-6).all()
                drowned = column[f"level:{link.downstream}"] > bed[-1] + link.height
                assert water[-1][drowned] == pytest.approx(column[f"level:{link.downstream}"][drowned], abs=1e-6)
            highest = profiles.highest(id_, plan.reduction, [figures])
            assert highest[1:-1] == pytest.approx(np.maximum(run.peaks.level.steady[plan.flat.pipe_rows[id_]],
                                                             bed[1:-1, 0]), abs=1e-9)  # fmt: skip


def test_cells_between_the_first_and_the_last_are_drawn_too():
    net = one_pipe({"kind": "free"}, gradient=0.002, length=150.0)
    run = Run(net, {"a": [(0, 0.02), (3600, 0.02)]}, 3600.0, 600.0)
    layout = Layout(net, run.flat)
    id_ = identity("p")
    assert len(run.flat.pipe_rows[id_]) == 5
    assert [name for name in layout.columns if name.startswith("cell:")] == [f"cell:{id_}:{k}" for k in (1, 2, 3)]
    assert layout.profiles.chainage(id_).tolist() == [0.0, 15.0, 45.0, 75.0, 105.0, 135.0, 150.0]
    rows = np.arange(len(layout.columns), dtype=float)[:, None]
    names = [layout.columns[k] for k in rows[layout.profile_columns(id_)][:, 0].astype(int)]
    assert names[:5] == [f"head:{id_}", f"cell:{id_}:1", f"cell:{id_}:2", f"cell:{id_}:3", f"foot:{id_}"]


def test_a_storm_that_is_recorded_holds_every_cell():
    project = demo("quillmere_boatyard")
    project.run.spacing = 8.0
    plan = make_plan(project)
    key = next(iter(plan.inflow))
    run = plan.simulate(key, follow=plan.layout.follow)
    series = plan.layout.take(run)
    id_ = max(plan.flat.pipe_rows, key=lambda one: len(plan.flat.pipe_rows[one]))
    rows = plan.flat.pipe_rows[id_]
    assert len(rows) > 3
    values = series.values[plan.layout.profile_columns(id_)][: len(rows)]
    assert values.max(axis=1) == pytest.approx(run.peaks.level.top[rows], abs=5e-3)
