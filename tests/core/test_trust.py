"""Doubts by stated limits: none where all is well, and each kind where it is made."""

import dataclasses

import pytest

from madidus.core.ensemble import make_plan, run_storm
from madidus.core.hydraulics.events import Event
from madidus.core.hydraulics.simulate import LATEST
from madidus.core.model import parse_project
from madidus.core.trust import LIMITS, doubts


@pytest.fixture(scope="module")
def stormed(demo_document):
    plan = make_plan(parse_project(demo_document))
    return plan, run_storm(plan, "2-60-winter")


def test_a_quiet_storm_is_not_doubtful(stormed):
    plan, figures = stormed
    assert doubts(plan.flat, plan.links, figures, []) == []


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
    (found,) = doubts(plan.flat, plan.links, changed, [])
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
    assert doubts(plan.flat, plan.links, dataclasses.replace(figures, summary=calm), []) == []


def test_a_control_beyond_its_curve_is_named_once_for_each_time(stormed):
    plan, figures = stormed
    control = next(iter(plan.flat.control_face))
    events = [
        Event(60.0, "beyond its curve", control, True), Event(90.0, "beyond its curve", control, False),
        Event(70.0, "flood", control, True),
    ]  # fmt: skip
    found = doubts(plan.flat, plan.links, figures, events)
    assert [(d.kind, d.element, d.value) for d in found] == [("curve", control, 60.0)]
