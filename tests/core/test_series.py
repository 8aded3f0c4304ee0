"""Series of storms: whole in one run, and what is derived from them."""

import dataclasses
import os
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest

from madidus.core.elements.geometry import critical_depth, normal_depth
from madidus.core.elements.sections import Circular
from madidus.core.ensemble import make_plan, run_job, run_plan, submit_to
from madidus.core.errors import ModelError
from madidus.core.hydraulics import record as record_module
from madidus.core.hydraulics.flatten import flatten
from madidus.core.hydraulics.inflow import Inflow
from madidus.core.hydraulics.layout import held_at
from madidus.core.hydraulics.simulate import simulate
from madidus.core.model import parse_project
from madidus.core.results.reduction import Reduction
from madidus.core.results.series import Layout, StormSeries
from madidus.store.series import SeriesCache
from tests.cases.build import Run, identity, network
from tests.exchange.test_demos import SCRIPTS, demo

KEY = "100+40-30-winter"


@pytest.fixture(scope="module")
def plan(demo_document):
    return make_plan(parse_project(demo_document))


@pytest.fixture(scope="module")
def recorded(plan):
    outcome = run_job(plan.hydraulics, plan.job(KEY, recorded=True))
    return plan.layout.whole(outcome.series), outcome.result


def test_a_storm_is_kept_whole_with_few_frames_in_its_recession(recorded):
    series, figures = recorded
    end = figures.summary["end_time"]
    assert (series.time[0], series.time[-1]) == (0.0, pytest.approx(end))
    assert (np.diff(series.time) > 0.0).all()
    assert series.scale == 1.0
    storm = series.time <= 45 * 60.0
    assert end > 4 * 3600.0
    assert storm.sum() > 0.5 * series.time.size  # most frames are where the water moves


def greatest_mean(time: np.ndarray, values: np.ndarray, window: float = 10.0) -> float:
    """The greatest mean over a window of a line through points, by its integral."""
    v = values.astype(float)
    area = np.concatenate([[0.0], np.cumsum(0.5 * (v[1:] + v[:-1]) * np.diff(time))])

    def up_to(at: np.ndarray) -> np.ndarray:
        k = np.clip(np.searchsorted(time, at, side="right") - 1, 0, time.size - 2)
        on, slope = at - time[k], (v[k + 1] - v[k]) / (time[k + 1] - time[k])
        return area[k] + v[k] * on + 0.5 * slope * on**2

    about = time[int(v.argmax())] + np.linspace(-3 * window, 2 * window, 201)
    starts = np.clip(np.concatenate([time, time - window, about]), time[0], time[-1] - window)
    return float(((up_to(starts + window) - up_to(starts)) / window).max())


@pytest.mark.parametrize("name", SCRIPTS)
def test_every_kept_peak_is_met_by_the_series_in_every_demo(name):
    """Levels within 2 mm; flows within 0.5 % of the element's greatest, at both ends of conduits."""
    plan = make_plan(demo(name))
    kept, figures = {}, {}
    with ThreadPoolExecutor(2) as pool:
        for found in run_plan(plan, plan.inflow, submit_to(pool), record=kept.__setitem__):
            figures[found.key] = found
    place = {column: k for k, column in enumerate(plan.layout.columns)}
    most = {id_: max(f.flow[i] for f in figures.values()) for i, id_ in enumerate(plan.links)}
    for key, series in kept.items():
        own = figures[key]

        def top(column, series=series):
            return greatest_mean(series.time, series.values[place[column]])

        for i, id_ in enumerate(plan.nodes):
            if np.isfinite(own.level[i]):
                assert top(f"level:{id_}") == pytest.approx(own.level[i], abs=2e-3), (key, plan.network.label(id_))
        for i, id_ in enumerate(plan.links):
            ends = [(f"flow:{id_}", own.flow_down[i]), (f"into:{id_}", own.flow_up[i])]
            for column, peak in ends[: 2 if f"into:{id_}" in place else 1]:
                assert top(column) == pytest.approx(peak, abs=5e-3 * most[id_] + 1e-6), (key, plan.network.label(id_))


def test_room_that_runs_out_doubles_the_tolerance_and_says_so(plan, monkeypatch):
    monkeypatch.setattr(record_module, "_BYTES", 0)  # the least room that there is
    series = plan.series("100+40-1440-winter")
    assert series.scale > 1.0
    assert series.time.size <= 200


def test_a_conduit_tells_its_flow_at_both_ends_and_the_greater(recorded, plan):
    _, figures = recorded
    assert np.array_equal(figures.flow, np.maximum(figures.flow_up, figures.flow_down))
    conduits = [i for i, id_ in enumerate(plan.links) if id_ in plan.flat.pipe_faces]
    others = [i for i in range(len(plan.links)) if i not in conduits]
    assert np.array_equal(figures.flow_up[others], figures.flow_down[others])
    assert (figures.flow_up[conduits] != figures.flow_down[conduits]).sum() > 10
    # a flood wave in a long conduit: the peak that goes in is not the one that comes out
    net = network(
        {"A": {"kind": "manhole", "invert": 10.0, "cover": 14.0}, "O": {"kind": "outfall", "invert": 9.0}},
        {"P": {"kind": "pipe", "upstream": "A", "downstream": "O", "length": 1000.0, "upstream_invert": 10.0,
               "downstream_invert": 9.0, "section": {"shape": "circular", "diameter": 0.9}}},
    )  # fmt: skip
    run = Run(net, {"A": [(0, 0.0), (300, 0.3), (600, 0.0)]}, 7200.0, 10.0)
    found = Reduction(net, run.flat).figures("x", run.result)
    assert found.flow_down[0] < 0.7 * found.flow_up[0]
    assert found.flow[0] == found.flow_up[0]
    assert found.flow_time[0] < 700.0


def test_recording_changes_no_figure(plan, recorded):
    _, figures = recorded
    plain = plan.reduction.figures(KEY, plan.simulate(KEY))
    assert np.array_equal(plain.level, figures.level, equal_nan=True)
    assert np.array_equal(plain.flow, figures.flow)


def _values(plan, series, name, quantity):
    network = plan.network
    id_ = next(k for k, e in {**network.nodes, **network.links}.items() if e.name == name)
    return id_, plan.layout.derive(id_, quantity, series.values[plan.layout.needed(id_, quantity)])


def test_peaks_over_time_are_the_kept_ones(plan, recorded):
    series, figures = recorded
    for name, quantity, peaks in (("A6–A7", "flow", figures.flow), ("A6", "level", figures.level)):
        id_, values = _values(plan, series, name, quantity)
        place = (plan.links if quantity == "flow" else plan.nodes).index(id_)
        assert values.max() == pytest.approx(peaks[place], rel=0.02)  # spikes of less than ten seconds stand above


def test_speed_times_wetted_area_is_the_flow(plan, recorded):
    """A circular section by its closed form, at a moment when the pipe runs part full."""
    series, _ = recorded
    id_, speed = _values(plan, series, "A6–A7", "speed")
    _, flow = _values(plan, series, "A6–A7", "flow")
    _, fill = _values(plan, series, "A6–A7", "fill")
    d = plan.network.links[id_].section.diameter
    assert fill.max() <= 1.0
    part = (fill > 0.3) & (fill < 0.7)
    assert part.any()
    angle = 2 * np.arccos(1 - 2 * fill[part])
    area = d * d / 8 * (angle - np.sin(angle))
    # head and foot differ a little in depth: their mean area is not quite that of the mean depth
    assert speed[part] == pytest.approx(flow[part] / area, rel=0.02)


def test_volume_of_a_node_follows_its_level(plan, recorded):
    series, _ = recorded
    network = plan.network
    pond = next(n.name for n in network.nodes.values() if n.kind == "storage")
    id_, level = _values(plan, series, pond, "level")
    _, volume = _values(plan, series, pond, "volume")
    _, fill = _values(plan, series, pond, "fill")
    rising = np.argsort(level)
    assert np.all(np.diff(volume[rising]) >= -1e-6)
    below = level < network.nodes[id_].cover
    assert np.all(fill[below] <= 1.0 + 1e-6)
    assert volume.max() > 10.0


@pytest.mark.parametrize("store", ["T1", "P1"])
def test_what_enters_a_store_and_what_leaves_make_what_it_holds(plan, recorded, store):
    """Continuity: its volume is the integral of inflow less outflow, runoff into it counted."""
    series, figures = recorded
    id_, held = _values(plan, series, store, "volume")
    through = {
        each: plan.trace(KEY, id_, each, series.time, series.values[plan.layout.needed(id_, each)])
        for each in ("entering", "leaving")
    }
    assert all((flow >= 0.0).all() for flow in through.values())
    net = through["entering"] - through["leaving"]
    made = held[0] + np.concatenate([[0.0], np.cumsum(0.5 * (net[1:] + net[:-1]) * np.diff(series.time))])
    assert made == pytest.approx(held, abs=0.01 * held.max())
    place = plan.reduction.nodes.index(id_)
    assert through["entering"].max() == pytest.approx(figures.entering[place], rel=0.02)
    assert through["leaving"].max() == pytest.approx(figures.leaving[place], rel=0.02)


def test_runoff_into_a_store_is_part_of_its_inflow(plan, recorded):
    series, _ = recorded
    id_ = next(k for k, n in plan.network.nodes.items() if n.kind == "storage")
    columns = series.values[plan.layout.needed(id_, "entering")]
    alone = plan.layout.derive(id_, "entering", columns)
    beside = dataclasses.replace(plan, inflow={KEY: Inflow.steady({id_: 0.25})})
    assert beside.trace(KEY, id_, "entering", series.time, columns) == pytest.approx(alone + 0.25)
    assert beside.trace(KEY, id_, "leaving", series.time, columns) == pytest.approx(
        plan.trace(KEY, id_, "leaving", series.time, columns)
    )


def test_a_store_with_sloping_sides_holds_what_the_prismoid_says():
    """Area linear in depth: V = A0 y + (A1 − A0) y² / 2D below the bank, and straight up above it."""
    table = np.array([[0.0, 2.0], [100.0, 500.0], [0.0, 600.0]])
    depths = np.array([-0.1, 0.0, 0.1, 1.0, 2.0, 2.5])
    assert held_at(table, depths) == pytest.approx([0.0, 0.0, 11.0, 200.0, 600.0, 850.0])


def test_an_outfall_takes_what_its_links_bring(plan, recorded):
    series, figures = recorded
    id_ = next(k for k, n in plan.network.nodes.items() if n.kind == "outfall")
    columns = plan.layout.needed(id_, "flow")
    flow = plan.layout.derive(id_, "flow", series.values[columns])
    assert flow.max() == pytest.approx(figures.outflow[plan.nodes.index(id_)], rel=0.02)
    with pytest.raises(ModelError, match=f"{plan.network.label(id_)}, speed: is not a figure of this element"):
        plan.layout.needed(id_, "speed")


def test_the_cache_keeps_values_to_a_hair_and_gives_single_columns(tmp_path, recorded):
    series, _ = recorded
    cache = SeriesCache(tmp_path)
    assert cache.read("a") is None
    cache.keep("a", series)
    back = cache.read("a")
    span = series.values.max(axis=1) - series.values.min(axis=1)
    assert np.all(np.abs(back.values - series.values).max(axis=1) <= span / 65_535 + 1e-5)
    assert np.array_equal(back.time, series.time)
    assert back.scale == series.scale
    some = cache.read("a", [3, 1])
    assert np.array_equal(some.values, back.values[[3, 1]])


def test_the_cache_lets_the_longest_unread_go(tmp_path, monkeypatch):
    series = StormSeries(np.arange(100.0), np.zeros((100, 100), np.float32))
    size = 100 * (8 + 200) + 101 * 8 + 256
    cache = SeriesCache(tmp_path, most_bytes=int(5.5 * size))
    for k in range(5):
        cache.keep(f"s{k}", series)
        os.utime(tmp_path / f"s{k}.npy", (k, k))
    cache.read("s0")
    cache.keep("s5", series)
    assert cache.read("s1") is None
    assert cache.read("s0") is not None
    assert cache.read("s5") is not None
    # a full disk keeps nothing and breaks nothing; what it cut off counts as gone
    monkeypatch.setattr(np, "save", lambda *_: (_ for _ in ()).throw(OSError("no space left")))
    cache.keep("s9", series)
    assert cache.read("s9") is None
    assert list(tmp_path.glob("*.part")) == []
    (tmp_path / "s5.npy").write_bytes(b"\x93NUMPY")
    assert cache.read("s5") is None


@pytest.mark.parametrize("tail", [{"kind": "free"}, {"kind": "normal"}, {"kind": "fixed", "level": 9.6}])
def test_no_stand_in_level_of_an_outfall_leaves_the_solver(tail):
    """A free outfall stands at critical depth, a normal one at that of the pipe, any other at its water."""
    net = network(
        {"A": {"kind": "manhole", "invert": 10.0, "cover": 14.0}, "O": {"kind": "outfall", "invert": 9.0, "tail_water": tail}},
        {"P": {"kind": "pipe", "upstream": "A", "downstream": "O", "length": 200.0, "upstream_invert": 10.0,
               "downstream_invert": 9.2, "section": {"shape": "circular", "diameter": 0.6}}},
    )  # fmt: skip
    flat = flatten(net)
    layout = Layout(net, flat)
    inflow = Inflow(np.array([0.0, 600.0, 3000.0]), np.array([[0.0], [0.2], [0.2]]), [identity("A")], np.zeros(1))
    series = layout.take(simulate(flat, inflow, until=3000.0, follow=layout.follow))
    levels = series.values[layout.columns.index(f"level:{identity('O')}")]
    assert np.isfinite(series.values).all()
    assert levels.min() >= 9.0
    expected = {
        "free": 9.2 + critical_depth(Circular(diameter=0.6), 0.2),
        "normal": 9.2 + normal_depth(Circular(diameter=0.6), 0.013, 0.004, 0.2), "fixed": 9.6,
    }  # fmt: skip
    assert levels[-1] == pytest.approx(expected[tail["kind"]], abs=0.01)
    assert levels[0] == (9.6 if tail["kind"] == "fixed" else 9.0)


def test_depths_are_levels_above_the_invert_at_a_node_and_at_the_foot_of_a_conduit(plan, recorded):
    series, _ = recorded
    network = plan.network
    shaft = next(n.name for n in network.nodes.values() if n.kind == "manhole")
    id_, level = _values(plan, series, shaft, "level")
    _, deep = _values(plan, series, shaft, "depth")
    assert deep == pytest.approx(np.maximum(level - network.nodes[id_].invert, 0.0))
    assert deep.max() > 0.05
    id_, level = _values(plan, series, "A6–A7", "level")
    _, deep = _values(plan, series, "A6–A7", "depth")
    pipe = network.links[id_]
    wet = deep > 0.0
    floor = (level - deep)[wet]
    # half of the last cell above the invert at the lower end
    assert floor == pytest.approx(np.full(floor.size, floor[0]))
    assert pipe.downstream_invert < floor[0] < pipe.downstream_invert + 0.5 * pipe.gradient * pipe.length
