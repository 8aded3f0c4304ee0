"""Files of format version 1 open as they were meant, whatever has another name now."""

import copy

import pytest

from madidus.core.errors import ModelError
from madidus.core.model.project import FORMAT_VERSION, completed, parse_project
from madidus.core.model.upgrade import upgraded

from .generated import identity

POND = {
    "kind": "stone", "name": "S", "invert": 9.0, "cover": 11.0, "length": 10, "width": 5, "stone_depth": 1.5,
    "porosity": 0.3, "cover_voids": 0.2, "ponded_slope": 7.0,
}  # fmt: skip
GULLY = {"kind": "inlet", "name": "G", "invert": 9.0, "cover": 11.0, "capture": 0.02, "ponded_slope": 9.0}
OUT = {"kind": "outfall", "name": "O", "invert": 8.0}


def first():
    """A document as version 1 wrote it, with every field that has another name now."""
    options = {
        identity("later"): {"name": "B", "network": {"nodes": {identity("O"): OUT}}},
        identity("first"): {
            "name": "A",
            "network": {"nodes": {identity("S"): POND, identity("G"): GULLY, identity("O"): OUT}},
        },
    }
    outflow = {
        "kind": "outflow", "name": "out", "return_period": 30, "limit": 0.1, "element": identity("O"),
        "formula": {"yearly_rain": 812.0},
    }  # fmt: skip
    return {
        "format": "madidus-project", "version": 1, "name": "Old", "options": options, "brief": {"criteria": [outflow]},
        "sights": [{"name": "here", "stage": "network", "view": "depth"}, {"name": "plan", "stage": "network"}],
        "usual": {"cover_depth": 0.7, "slowest": 0.5, "fastest": 5.5, "smoothest": 0.009, "roughest": 0.02,
                  "farthest": 90.0},
        "defaults": {"ground_over": 1.3},
        "parts": {"pipes": [{"name": "iron", "roughness": 0.014, "diameters": [0.1]}]},
        "accepted": [{"check": "slow", "reason": "flushed"}],
        "mappings": {"tables": [{"headings": ["Q"], "kind": "inlet", "columns": {"Q": {"field": "capture", "unit": ""}}}]},
    }  # fmt: skip


def test_every_renamed_field_keeps_its_value():
    project = parse_project(first())
    limits = project.check_limits
    assert (limits.cover, limits.min_velocity, limits.max_velocity) == (0.7, 0.5, 5.5)
    assert (limits.min_roughness, limits.max_roughness, limits.max_distance) == (0.009, 0.02, 90.0)
    assert project.defaults.cover == 1.3
    assert [material.name for material in project.catalogue.pipes] == ["iron"]
    nodes = project.option.network.nodes
    assert nodes[identity("S")].cover_porosity == 0.2
    assert (nodes[identity("S")].ponded_side_slope, nodes[identity("G")].ponded_side_slope) == (7.0, 9.0)
    assert nodes[identity("G")].capacity == 0.02
    assert project.brief.rules[0].formula.mean_annual_rainfall == 812.0
    assert project.brief.rules[0].limits[0].model_dump() == {
        "return_period": 30.0, "allowance": 0.0, "duration": None, "value": 0.1,
    }  # fmt: skip
    assert project.mappings.tables[0].columns["Q"].field == "capacity"
    assert project.accepted[0].option is None
    assert [view.view for view in project.saved_views] == ["3d", "plan"]


def test_the_option_that_was_shown_is_the_one_in_view():
    project = parse_project(first())
    assert project.order == [identity("first"), identity("later")]
    assert project.in_view == identity("first") == project.saved_views[0].option
    assert project.option.name == "A"


def test_options_of_one_name_are_told_apart():
    old = first()
    for option in old["options"].values():
        option["name"] = "A "
    project = parse_project(old)
    assert [project.options[id_].name for id_ in project.order] == ["A", "A (2)"]


def test_a_present_document_is_left_as_it_is_and_an_old_one_is_not_touched():
    old = first()
    kept = copy.deepcopy(old)
    whole = completed(old)
    assert old == kept
    assert whole["version"] == FORMAT_VERSION
    assert upgraded(whole) is whole
    assert completed(whole) == whole


@pytest.mark.parametrize(
    "broken",
    [
        {"options": None}, {"options": {identity("x"): None}}, {"options": {identity("x"): {"name": 3, "network": []}}},
        {"usual": []}, {"brief": {"criteria": [1]}}, {"brief": None}, {"sights": 3}, {"mappings": {"tables": [None]}},
        {"mappings": {"tables": [{"columns": 1}]}}, {"options": {}}, {"sights": [{"name": "x"}]},
    ],
)  # fmt: skip
def test_a_broken_old_document_is_refused_in_words(broken):
    with pytest.raises(ModelError):
        parse_project({**first(), **broken})


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (lambda d: d["order"].pop(), "order"),
        (lambda d: d["order"].append(d["order"][0]), "order"),
        (lambda d: d.update(in_view=identity("nobody")), "in_view"),
        (lambda d: next(iter(d["options"].values())).update(name="A"), "two are called A"),
    ],
)
def test_options_that_do_not_agree_are_refused(change, said):
    document = completed(first())
    change(document)
    with pytest.raises(ModelError, match=said):
        parse_project(document)


def test_another_option_in_view_is_the_same_project():
    project = parse_project(first())
    other = project.seen(identity("later"))
    assert (project.option.name, other.option.name) == ("A", "B")
    assert project.seen(project.in_view) is project
    with pytest.raises(KeyError):
        project.seen(identity("nobody"))
