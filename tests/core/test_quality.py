"""Doubts by stated limits: none where all is well, and each kind where it is made."""

import dataclasses

import numpy as np
import pytest

from madidus.core.ensemble import make_plan, run_job
from madidus.core.hydraulics.events import Event
from madidus.core.hydraulics.simulate import LATEST
from madidus.core.model import parse_project
from madidus.core.results.quality import LIMITS, beyond, swings
from madidus.core.results.reduction import Reduction


@pytest.fixture(scope="module")
def stormed(demo_document):
    plan = make_plan(parse_project(demo_document))
    return plan, run_job(plan.hydraulics, plan.job("2-60-winter")).result


def test_a_quiet_storm_is_not_doubtful(stormed):
    plan, figures = stormed
    assert beyond(plan.flat, plan.reduction, figures, []) == []


@pytest.mark.parametrize(
    ("field", "value", "kind"),
    [
        ("balance_error", -2e-4, "balance"), ("oscillation", 0.031, "level"), ("link_oscillation", 0.5, "flow"),
        ("end_time", LATEST, "cut off"),
    ],
)  # fmt: skip
def test_what_passes_its_limit_is_told_with_its_place(stormed, field, value, kind):
    plan, figures = stormed
    changed = dataclasses.replace(figures, summary={**figures.summary, field: value})
    (found,) = beyond(plan.flat, plan.reduction, changed, [])
    assert (found.kind, found.limit) == (kind, LIMITS[kind])
    assert found.value > found.limit
    places = {"level": {*plan.nodes, *plan.links}, "flow": set(plan.links)}.get(kind, {None})
    assert found.element in places


def test_just_under_a_limit_is_fine_and_a_trickle_swings_freely(stormed):
    plan, figures = stormed
    calm = {
        **figures.summary,
        "oscillation": LIMITS["level"],
        "balance_error": LIMITS["balance"],
        "link_oscillation": 9e-4,
    }
    assert beyond(plan.flat, plan.reduction, dataclasses.replace(figures, summary=calm), []) == []


def test_a_control_beyond_its_curve_is_named_once_for_each_time(stormed):
    plan, figures = stormed
    control = next(iter(plan.flat.control_face))
    events = [
        Event(60.0, "beyond its curve", control, True), Event(90.0, "beyond its curve", control, False),
        Event(70.0, "flood", control, True),
    ]  # fmt: skip
    found = beyond(plan.flat, plan.reduction, figures, events)
    assert [(d.kind, d.element, d.value) for d in found] == [("curve", control, 60.0)]


def test_water_that_stands_half_a_metre_above_a_cover_is_doubtful_but_not_under_a_sealed_one(stormed):
    plan, figures = stormed
    place = plan.nodes.index(next(id_ for id_, node in plan.network.nodes.items() if node.kind == "manhole"))
    cover = plan.reduction.open_cover[place]

    def told(above, reduction=plan.reduction):
        level = figures.level.copy()
        level[place] = cover + above
        changed = dataclasses.replace(figures, level=level)
        return [(d.value, d.element) for d in beyond(plan.flat, reduction, changed, []) if d.kind == "flood"]

    assert told(0.5) == []
    assert told(0.51) == [(pytest.approx(0.51), plan.nodes[place])]
    nodes = {
        **plan.network.nodes,
        plan.nodes[place]: plan.network.nodes[plan.nodes[place]].model_copy(update={"sealed": True}),
    }
    sealed = Reduction(plan.network.model_copy(update={"nodes": nodes}), plan.flat)
    assert told(3.0, sealed) == []


def test_a_level_far_above_the_ground_is_told_whether_the_cover_is_sealed_or_not(stormed):
    plan, figures = stormed
    place = plan.nodes.index(next(id_ for id_, node in plan.network.nodes.items() if node.kind == "manhole"))
    sealed = plan.network.nodes[plan.nodes[place]].model_copy(update={"sealed": True})
    shut = Reduction(
        plan.network.model_copy(update={"nodes": {**plan.network.nodes, plan.nodes[place]: sealed}}), plan.flat
    )
    for reduction in (plan.reduction, shut):
        for above, found in ((29.9, []), (30.5, [("pressure", plan.nodes[place])])):
            level = figures.level.copy()
            level[place] = sealed.cover + above
            told = beyond(plan.flat, reduction, dataclasses.replace(figures, level=level), [])
            assert [(one.kind, one.element) for one in told if one.kind != "flood"] == found


def test_every_link_whose_flow_swings_is_ranked_by_its_share_of_its_own_peak(stormed):
    plan, figures = stormed
    assert float(figures.swing.max()) == figures.summary["link_oscillation"]
    swing, flow = np.zeros(len(plan.links)), np.full(len(plan.links), 0.1)
    swing[[2, 5, 7]], flow[[2, 5, 7]] = [0.02, 0.004, 5e-4], [0.4, 0.01, 0.001]
    found = swings(plan.reduction, dataclasses.replace(figures, swing=swing, flow=flow))
    assert [(one.link, one.flow, round(one.share, 9)) for one in found] == [
        (plan.links[5], 0.004, 0.4), (plan.links[2], 0.02, 0.05),
    ]  # fmt: skip
