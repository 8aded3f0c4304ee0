"""Moments of a storm: spans from events, floods that come back, stores that drain by half."""

import numpy as np
import pytest

from madidus.core.ensemble import make_plan, run_job
from madidus.core.hydraulics.events import Event, decode
from madidus.core.model import parse_project
from madidus.core.results.moments import floods, half_drained, spans
from madidus.core.results.series import StormSeries

KEY = "100+40-15-winter"


def test_events_become_spans_in_order_of_their_beginning():
    events = [
        Event(10.0, "flood", "a", True), Event(12.0, "pump 1 runs", "b", True), Event(20.0, "flood", "a", False),
        Event(30.0, "flood", "a", True), Event(35.0, "flood", "c", False),
    ]  # fmt: skip
    found = [(s.element, s.kind, s.begin, s.end, s.over) for s in spans(events, 100.0)]
    assert found == [
        ("a", "flood", 10.0, 20.0, True), ("b", "pump 1 runs", 12.0, 100.0, False), ("a", "flood", 30.0, 100.0, False),
    ]  # fmt: skip


@pytest.fixture(scope="module")
def stormed(demo_document):
    plan = make_plan(parse_project(demo_document))
    outcome = run_job(plan.hydraulics, plan.job(KEY, recorded=True))
    figures, series = outcome.result, plan.layout.whole(outcome.series)
    codes = [(t, int(code)) for t, code in figures.summary["events"]]
    return plan, figures, series, spans(decode(codes, plan.flat), figures.summary["end_time"])


def test_floods_tell_how_much_how_deep_how_long_and_what_came_back(stormed):
    plan, figures, series, acted = stormed
    found = floods(plan.network, plan.nodes, plan.layout, figures, series, acted)
    fine = plan.simulate(KEY, frames=2400, interval=1.0).series.level
    assert {f.element for f in found} == {id_ for k, id_ in enumerate(plan.nodes) if figures.flooded[k] > 0.0}
    assert [f.volume for f in found] == sorted((f.volume for f in found), reverse=True)
    for flood in found:
        node = plan.network.nodes[flood.element]
        level = fine[:, plan.flat.node_row[flood.element]]
        assert flood.lasted == pytest.approx((level > node.cover).sum() * 1.0, abs=12.0)
        assert flood.deepest == pytest.approx((level - node.cover).max(), abs=0.006)  # of ten seconds
        assert flood.begin < flood.time < flood.begin + flood.lasted
        # the demo's floods stand on their ground and have gone back by the end
        assert (flood.lost, flood.returned) == (0.0, pytest.approx(flood.volume))


def test_a_lost_flood_does_not_come_back(demo_document):
    document = parse_project(demo_document).model_dump(mode="json")
    for node in next(iter(document["options"].values()))["network"]["nodes"].values():
        if node["kind"] == "manhole":
            node["flooding"] = "lost"
    plan = make_plan(parse_project(document))
    outcome = run_job(plan.hydraulics, plan.job(KEY, recorded=True))
    figures, series = outcome.result, plan.layout.whole(outcome.series)
    codes = [(t, int(code)) for t, code in figures.summary["events"]]
    acted = spans(decode(codes, plan.flat), figures.summary["end_time"])
    found = floods(plan.network, plan.nodes, plan.layout, figures, series, acted)
    assert found
    assert sum(f.lost for f in found) == pytest.approx(figures.summary["lost"], rel=1e-6)
    assert all(f.returned == 0.0 for f in found)


def test_a_store_is_half_drained_when_half_of_its_rise_is_gone(stormed):
    plan, _, series, _ = stormed
    (pond,) = [id_ for id_ in plan.flat.storage if plan.network.nodes[id_].name == "P1"]
    time = half_drained(plan.layout, [pond], series)[pond]
    held = plan.layout.derive(pond, "volume", series.values[plan.layout.needed(pond, "volume")])
    at = float(np.interp(time, series.time, held))
    assert at == pytest.approx(held[0] + 0.5 * (held.max() - held[0]), rel=1e-4)
    assert time > series.time[held.argmax()]
    # cut off before, it is not drained yet
    early = StormSeries(series.time[: held.argmax() + 2], series.values[:, : held.argmax() + 2])
    assert half_drained(plan.layout, [pond], early)[pond] is None
