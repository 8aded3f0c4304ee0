"""What errors lead to: every field is found by its path, with meaning, unit and bounds."""

import pytest

from madidus.core.errors import ModelError
from madidus.core.model.about import about
from madidus.core.model.project import parse_project
from tests.core.generated import identity

LINK = f"options/{identity('o')}/network/links/{identity('l')}"


def test_a_field_of_one_kind_is_told_with_its_bounds():
    (found,) = about("rain/ensemble/durations/3")
    assert "at least 1" in found.rules
    assert "at most 14400" in found.rules
    (found,) = about("rain/runoff/time_of_entry")
    assert found.field == "time of entry"
    assert found.says == "s"
    assert found.of == "Runoff"
    assert "300 where nothing is given" in found.rules


def test_a_field_of_several_kinds_is_told_for_each_that_differs():
    found = about(f"{LINK}/roughness")
    assert {one.of for one in found} >= {"Pipe", "Channel"}
    assert all(one.of_says for one in found)
    assert [one.of for one in about(f"{LINK}/pipe/silt")] == ["Pipe"]


def test_choices_are_listed():
    (found,) = about("units")
    assert "one of metric, us" in found.rules


def test_what_is_no_field_has_no_page():
    assert about("no/such/field") == []
    assert about("") == []


@pytest.mark.parametrize(
    ("field", "value"),
    [("rain", {"runoff": {"creep": 3}}), ("brief", {"rules": [{"kind": "outflow", "limits": []}]})],
)
def test_the_path_of_an_error_leads_to_its_page(field, value):
    document = {
        "format": "madidus-project",
        "version": 2,
        "name": "x",
        "options": {identity("o"): {"name": "A"}},
        "order": [identity("o")],
        "in_view": identity("o"),
    }
    with pytest.raises(ModelError) as told:
        parse_project({**document, field: value})
    pages = about(told.value.field)
    assert pages
    assert pages[0].of_says
