"""Rules that are governed at an end of the durations that were run: said with the verdict, found, and put right."""

import copy

import jsonpatch
import pytest

from madidus.core.checks import judged
from madidus.core.model.project import parse_project
from madidus.core.verdicts import judge

from .test_margins import outflow
from .told import figures_of, outfalls, storm_of


@pytest.fixture
def document(demo_document):
    return copy.deepcopy(demo_document)


THREE = [storm_of(duration, "winter", pattern=False) for duration in (15, 60, 240)]


def verdict(worst, storms=THREE):
    """Of a rule whose governing storm is the one at a place of `storms`."""
    flows = {s.key: 0.5 + (0.2 if k == worst else 0.0) for k, s in enumerate(storms)}
    figures = {key: figures_of(key, outflow=[flow], outflow_time=[9.0]) for key, flow in flows.items()}
    return judge([outflow(1.0)], outfalls("O"), storms, figures, {})[0]


@pytest.mark.parametrize(("worst", "edge"), [(0, "shortest"), (1, None), (2, "longest")])
def test_a_verdict_says_at_which_end_of_the_durations_its_storm_lies(worst, edge):
    assert verdict(worst).edge == edge


def test_one_duration_alone_has_no_end():
    seasons = [storm_of(60, season, pattern=False) for season in ("summer", "winter")]
    assert verdict(0, seasons).edge is None


def found(document, *worst):
    document = parse_project(document)
    return {
        f.check: f for f, _ in judged(document, verdicts=[verdict(w) for w in worst]) if f.check.startswith("range-")
    }


def test_a_rule_governed_by_the_shortest_storm_offers_shorter_ones_that_the_rainfall_holds(document):
    rain = document["rain"]
    rain["ensemble"]["durations"] = [60.0, 120.0]
    assert found(document, 1) == {}
    finding = found(document, 0)["range-shortest"]
    assert "rate: governed by the shortest duration that was run, 60 min" in finding.why
    # 45 min lies within the table by the trade's interpolation, as does 30
    jsonpatch.JsonPatch(list(finding.fix.patch)).apply(document, in_place=True)
    assert rain["ensemble"]["durations"] == [30.0, 45.0, 60.0, 120.0]
    parse_project(document)


def test_no_duration_is_offered_beyond_what_the_rainfall_holds(document):
    """The table begins at 15 min and ends at 1440."""
    assert document["rain"]["rainfall"]["durations"][0] == min(document["rain"]["ensemble"]["durations"]) == 15
    both = found(document, 0, 2)
    assert set(both) == {"range-shortest", "range-longest"}
    for finding in both.values():
        assert finding.fix is None
        assert "extend the rainfall" in finding.remedy


def test_no_duration_is_offered_that_has_no_patterns(document):
    block = document["rain"]["ensemble"]
    block["durations"] = [60.0]
    block["patterns"] = [
        {"name": f"P{k}", "duration": duration, "increments": [0.4, 0.6]} for k, duration in enumerate((30.0, 60.0))
    ]
    block["seasons"] = []
    finding = found(document, 0)["range-shortest"]
    jsonpatch.JsonPatch(list(finding.fix.patch)).apply(document, in_place=True)
    assert block["durations"] == [30.0, 60.0]
