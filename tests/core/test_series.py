"""Series of storms: whole in one run, and what is derived from them."""

import os

import numpy as np
import pytest

from madidus.core.ensemble import make_plan, run_storm
from madidus.core.errors import ModelError
from madidus.core.model import parse_project
from madidus.core.series import FRAMES, StormSeries, first_interval
from madidus.store.series import SeriesCache

KEY = "100+40-30-winter"


@pytest.fixture(scope="module")
def plan(demo_document):
    return make_plan(parse_project(demo_document))


@pytest.fixture(scope="module")
def recorded(plan):
    kept = {}
    figures = run_storm(plan, KEY, kept.__setitem__)
    return kept[KEY], figures


def test_a_storm_is_kept_whole_though_its_end_is_not_known(plan, recorded):
    series, figures = recorded
    frames = series.values.shape[1]
    assert FRAMES // 2 <= frames <= FRAMES
    end = figures.summary["end_time"]
    assert series.time[-1] <= end < series.time[-1] + series.interval
    # thinned by halves from the first interval
    times = series.interval / first_interval(30)
    assert times == 2 ** round(np.log2(times)) > 1


def test_thinned_frames_are_those_of_a_run_with_that_interval(plan, recorded):
    series, _ = recorded
    plain = plan.simulate(KEY, frames=series.values.shape[1], interval=series.interval)
    again = plan.layout.take(plain)
    assert np.array_equal(series.values, again.values)


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
        assert values.max() == pytest.approx(peaks[place], rel=0.02)


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


def test_an_outfall_takes_what_its_links_bring(plan, recorded):
    series, figures = recorded
    id_ = next(k for k, n in plan.network.nodes.items() if n.kind == "outfall")
    columns = plan.layout.needed(id_, "flow")
    flow = plan.layout.derive(id_, "flow", series.values[columns])
    assert flow.max() == pytest.approx(figures.outflow[plan.nodes.index(id_)], rel=0.02)
    with pytest.raises(ModelError, match="speed"):
        plan.layout.needed(id_, "speed")


def test_the_cache_keeps_values_to_a_hair_and_gives_single_columns(tmp_path, recorded):
    series, _ = recorded
    cache = SeriesCache(tmp_path)
    assert cache.read("a") is None
    cache.keep("a", series)
    back = cache.read("a")
    span = series.values.max(axis=1) - series.values.min(axis=1)
    assert np.all(np.abs(back.values - series.values).max(axis=1) <= span / 65_535 + 1e-5)
    assert back.interval == pytest.approx(series.interval)
    some = cache.read("a", [3, 1])
    assert np.array_equal(some.values, back.values[[3, 1]])


def test_the_cache_lets_the_longest_unread_go(tmp_path, monkeypatch):
    series = StormSeries(1.0, np.zeros((100, 100), np.float32))
    size = 101 * (8 + 200)
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
