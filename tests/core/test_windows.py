"""Long records of rain: events, windows, and the same peaks as without windows."""

from dataclasses import replace
from datetime import datetime

import numpy as np
import pytest

from madidus.core.elements import LevelSeries, Pattern
from madidus.core.ensemble.windows import run_windows
from madidus.core.errors import ModelError
from madidus.core.hydraulics.flatten import flatten
from madidus.core.hydraulics.simulate import simulate
from madidus.core.model.project import Project
from madidus.core.rainfall.recorded import RainEvent, RainSeries, events
from madidus.core.runoff.catchments import inflows
from tests.core.generated import identity, rain, tree

HOUR = 3600.0


def record(*bursts: tuple[float, float, float]) -> RainSeries:
    """Bursts of (start h, hours, mm) at 5-minute intervals."""
    at = np.concatenate(
        [np.arange(round(start * 12), round((start + hours) * 12)) * 300.0 for start, hours, _ in bursts]
    )
    depth = np.concatenate([np.full(round(hours * 12), mm / round(hours * 12)) for _, hours, mm in bursts])
    return RainSeries(datetime(2020, 9, 30, 12), 300.0, at, depth, 400 * HOUR)


def project(network=None) -> Project:
    return Project(name="long", rain=rain(), options={identity("A"): {"name": "A", "network": network or tree(12)}})


def test_dry_gaps_part_events_and_depth_is_kept():
    series = record((0, 1, 6), (1.5, 1, 3), (20, 2, 12))
    found = events(series, 2 * HOUR)
    assert [e.depth for e in found] == pytest.approx([9, 12])
    assert [e.start / HOUR for e in found] == pytest.approx([0, 20])
    assert [e.end / HOUR for e in found] == pytest.approx([2.5, 22])
    assert [e.season for e in found] == ["summer", "winter"]  # begins at noon on the last of September
    for event in found:
        assert (event.intensity * np.diff(event.times)).sum() / HOUR == pytest.approx(event.depth)


def test_a_gap_shorter_than_the_interval_is_refused():
    with pytest.raises(ModelError, match="recorded rain, inter-event time: 1 min is less than its interval"):
        events(record((0, 1, 5)), 60.0)


def test_windows_give_the_peaks_of_the_whole_record():
    """Full hydraulics over the whole record, dry spells and all, against the windows."""
    series = record((0, 1, 20), (3.5, 0.5, 2), (6.5, 3, 30), (200, 1, 1), (300, 2, 25))
    found = events(series, 2 * HOUR)
    p = project()
    runs = list(run_windows(p, found, least_depth=5.0))
    assert [run.figures is not None for run in runs] == [True, True, True, False, True]
    assert [run.window for run in runs] == [0, 0, 0, -1, 1]  # the pond is not empty when the second burst falls

    edges = np.unique(np.concatenate([e.start + e.times for e in found]))
    intensity = np.zeros(edges.size - 1)
    for e in found:
        intensity[np.searchsorted(edges, e.start + e.times[:-1])] = e.intensity
    whole = RainEvent(0.0, edges[-1], series.depth.sum(), edges, intensity, "winter")
    parts = list(
        run_windows(p, [RainEvent(e.start, e.end, e.depth, e.times, e.intensity, "winter") for e in found], 5.0)
    )
    network = p.option.network
    flat = flatten(network)
    run = simulate(flat, inflows(network, p.rain.runoff, whole), until=330 * HOUR)
    rows = [flat.node_row[id_] for id_ in sorted(network.nodes)]
    highest = np.max([part.figures.level for part in parts if part.figures], axis=0)
    for level, row in zip(highest, rows, strict=True):
        if row < flat.grid.cells:
            assert level == pytest.approx(run.peaks.level.steady[row], abs=0.01)
    entered = sum(part.figures.summary["entered"] for part in parts if part.figures)
    assert entered == pytest.approx(run.balance.entered * (78 - 1) / 78, rel=1e-9)


def test_nothing_is_set_back_between_windows():
    """A store without an outlet keeps what it took through the dry spell, and fills further."""
    network = tree(6)
    del network.links[identity("orifice")]
    runs = list(run_windows(project(network), events(record((0, 1, 10), (100, 1, 10)), 2 * HOUR), 5.0))
    assert [run.window for run in runs] == [0, 1]
    first, second = (run.figures.summary for run in runs)
    assert second["before"] == pytest.approx(first["after"], rel=1e-9)
    assert second["after"] > 1.9 * first["after"]


def test_patterns_go_by_the_clock_of_the_record():
    network = tree(6)
    head = identity("M5")
    day = Pattern(mean=0.0005, factors=[0.0] * 12 + [2.0] * 12)
    network.nodes[head] = network.nodes[head].model_copy(update={"inflows": [day]})
    found = events(record((0, 0.5, 6), (132.5, 0.5, 6)), 2 * HOUR)
    first, second = run_windows(project(network), [replace(e, season="summer") for e in found], 5.0)
    hours = (second.end - second.event.start) / HOUR
    in_first = max(first.end - 12 * HOUR, 0.0)
    assert in_first < 600.0
    assert hours < 11.5
    more = second.figures.summary["entered"] - first.figures.summary["entered"]
    assert more == pytest.approx(0.001 * (hours * HOUR - in_first), rel=1e-6)


def test_tides_go_by_the_clock_of_the_record():
    network = tree(6)
    out, pond = identity("out"), sorted(network.nodes).index(identity("pond"))
    rows = [{"time": 0, "level": 8.0}, {"time": 100 * HOUR, "level": 8.0}, {"time": 110 * HOUR, "level": 11.5}]
    network.nodes[out] = network.nodes[out].model_copy(update={"tail_water": LevelSeries(rows=rows)})
    low, high = run_windows(project(network), events(record((0, 0.5, 6), (120, 0.5, 6)), 2 * HOUR), 5.0)
    assert low.figures.level[pond] < 11.0 < 11.49 < high.figures.level[pond]


def test_it_stops_when_told():
    asked = iter([False, True])
    found = events(record((0, 1, 10), (100, 1, 10)), 2 * HOUR)
    assert len(list(run_windows(project(), found, 5.0, lambda: next(asked)))) == 1
