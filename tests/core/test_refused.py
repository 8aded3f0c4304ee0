"""Refusals are sentences in the units that are read; no field is called by the words of a library."""

import copy

import pytest

from madidus.core.errors import ModelError
from madidus.core.model.project import parse_project
from madidus.core.quantities import Units

from .test_checks import DEMO, named, put

US = Units("us", None)
METRIC = Units("metric", None)


@pytest.mark.parametrize(
    ("spoil", "element", "metric", "us"),
    [
        (lambda d: d["rain"]["runoff"].update(winter_paved=84), "project",
         "is 84 (8400%), and can be 1 (100%) at most", None),
        (put("links", "A3–A4", length=-1.0), "A3–A4",
         "is -1 m, and must be more than 0 m", "is -3.281 ft, and must be more than 0 ft"),
        (put("links", "A3–A4", section={"shape": "circular", "diameter": 50}), "A3–A4",
         "is 50000 mm, and can be 20000 mm at most", "is 1968.504 in, and can be 787.402 in at most"),
        (put("links", "A3–A4", length="long"), "A3–A4", "is “long”, and must be a number", None),
        (put("links", "A3–A4", length=None), "A3–A4", "is empty, and must be a number", None),
        (lambda d: named(d, "links", "A3–A4")[1].pop("upstream_invert"), "A3–A4", "is missing", None),
        (put("links", "A3–A4", colour="red"), "A3–A4", "is no field that is known here", None),
        (put("nodes", "A3", flooding="gone"), "A3", "is “gone”, and must be 'stored' or 'lost'", None),
    ],
)  # fmt: skip
def test_a_refusal_is_a_sentence(spoil, element, metric, us):
    document = copy.deepcopy(DEMO)
    spoil(document)
    with pytest.raises(ModelError) as refused:
        parse_project(document)
    told = refused.value
    assert element in told.element or element == "project"
    assert METRIC.words(told.problem) == metric
    if us:
        assert US.words(told.problem) == us
    assert "Input should" not in str(told)
