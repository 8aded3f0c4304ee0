"""What the last edit set, and the figure that a slip in it moves out of proportion."""

from dataclasses import replace

import pytest

from madidus.core.checks.last_edit import Set, leap, set_since
from madidus.core.edit import EDITS, apply
from madidus.core.elements.figures import Figures
from madidus.core.ensemble import run_plan
from madidus.core.model import Project
from madidus.core.quantities import Units
from tests.cases.build import identity
from tests.core.searched import HEAD, ORIFICE, PIPE, SUBMIT, TANK, plan_of, tank_project

ROOF = identity("roof")


def verdicts(project: Project):
    plan = plan_of(project)
    figures = {one.key: one for one in run_plan(plan, plan.inflow, SUBMIT) if isinstance(one, Figures)}
    return plan.verdicts(figures)


@pytest.fixture(scope="module")
def base():
    project = tank_project()
    return project, verdicts(project)


def edited(project: Project, element: str, field: str, value) -> Project:
    step = {"edit": "set", "element": element, "field": field, "value": value}
    return apply(project, project.in_view, EDITS.validate_python([step]))[0]


def leapt(base, *edits) -> str | None:
    project, before = base
    after = project
    for one in edits:
        after = edited(after, *one)
    return leap(set_since(project, after, project.in_view), before, verdicts(after))


def test_a_slip_is_found_by_what_it_moves_and_says_which_cell(base):
    found = leapt(base, (ROOF, "area", 50.0))
    assert found.startswith("roof: area 5000 m² → 50 m² moved ")
    assert " from " in found
    assert " to " in found
    us = Units("us", None).words(found)
    assert "53819.552 ft²" in us
    assert " m" not in us.replace(" moved", "")


@pytest.mark.parametrize(
    ("element", "field", "value"),
    [(ROOF, "area", 5.0e5), (ROOF, "impervious", 0.01), (ORIFICE, "section/diameter", 0.8), (HEAD, "invert", 4.0)],
)
def test_only_what_moved_a_margin_is_a_slip(base, element, field, value):
    """A hundred times the roof floods it; a floor that is lowered below everything changes nothing that is judged."""
    found = leapt(base, (element, field, value))
    assert (found is None) is (element == HEAD)


def test_a_step_of_design_is_none(base):
    assert leapt(base, (ORIFICE, "section/diameter", 0.09)) is None
    assert leapt(base, (ROOF, "area", 6000.0)) is None


def test_several_cells_are_no_slip_and_neither_is_nothing(base):
    assert leapt(base, (ROOF, "area", 50.0), (PIPE, "length", 25.0)) is None
    assert leapt(base) is None


def shifted(verdicts, by):
    """Verdicts whose margins have gone by so many of their scales."""
    return [
        v if v.governing is None
        else replace(v, governing=replace(v.governing, value=v.governing.value + by * v.governing.scale))
        for v in verdicts
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("field", "was", "now", "by", "found"),
    [
        ("area", 100.0, 290.0, 5.0, False), ("area", 100.0, 300.0, 5.0, True), ("area", 300.0, 100.0, -5.0, True),
        ("area", 100.0, 300.0, 0.9, False), ("area", 100.0, 300.0, 1.1, True), ("area", 0.0, 1.0, 5.0, True),
        ("invert", 10.0, 10.4, 5.0, False), ("invert", 10.0, 9.5, 5.0, True), ("rim_ground", None, 9.0, 5.0, True),
        ("sealed", False, True, 5.0, False), ("name", "M1", "M2", 5.0, False), ("", "", "", 5.0, False),
    ],
)  # fmt: skip
def test_both_the_cell_and_the_margin_have_gone_far(base, field, was, now, by, found):
    before = base[1]
    change = Set(ROOF, "roof", field, was, now)
    assert (leap([change], before, shifted(before, by)) is not None) is found


def test_what_went_with_an_invert_belongs_to_its_cell(base):
    project, before = base
    after = shifted(before, 3.0)
    moved = edited(project, HEAD, "invert", 3.9)
    changes = set_since(project, moved, project.in_view)
    assert {(c.element, c.field) for c in changes} == {(HEAD, "invert"), (PIPE, "upstream_invert")}
    assert leap(changes, before, after).startswith("H: invert 5 m → 3.9 m moved ")
    assert leap(changes[::-1], before, after).startswith("H: invert")
    apart = [changes[0], Set(PIPE, "P", "upstream_invert", 5.0, 4.2)]
    assert leap(apart, before, after) is None
    assert leap([Set(PIPE, "P", "length", 5.0, 50.0), Set(ROOF, "roof", "area", 5.0, 50.0)], before, after) is None


def test_an_edit_is_told_field_by_field():
    project = tank_project()
    other = edited(edited(project, TANK, "cover", 2.5), ROOF, "name", "Hall")
    other = other.model_copy(update={"brief": project.brief.model_copy(update={"author": "Somebody"})})
    told = [str(one.told) for one in set_since(project, other, project.in_view)]
    assert "T: cover 2 m → 2.5 m" in told
    assert "Hall: name roof → Hall" in told
    assert told[-1].startswith("the brief: author")
    removed = project.model_copy(deep=True)
    del removed.options[project.in_view].network.catchments[ROOF]
    assert [str(c.told) for c in set_since(project, removed, project.in_view)] == ["roof is removed"]
    assert [str(c.told) for c in set_since(removed, project, project.in_view)] == ["roof is new"]
    assert set_since(project, project, project.in_view) == []


def test_rows_are_counted_from_one_and_lists_of_another_length_are_told_as_such():
    assert (
        str(Set("", "the rain", "rainfall/depths/3/2", 64.0, 640.0).told)
        == "the rain: depths, row 4, column 3 64 mm → 640 mm"
    )
    assert str(Set("", "the rain", "ensemble/durations", [15.0], [15.0, 30.0]).told) == (
        "the rain: durations 1 row → 2 rows"
    )
