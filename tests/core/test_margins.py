"""Verdicts: margins, states, and what is not judged; what a rule asks when nothing is said."""

from dataclasses import replace

import numpy as np
import pytest

from madidus.core.ensemble import make_plan
from madidus.core.model import parse_project
from madidus.core.model.network import Network
from madidus.core.rules.kinds import FloodVolume, Freeboard, Outflow, Surcharge, WaterBelowCover
from madidus.core.verdicts import Margin, judge, overall

from .told import asked, changed, figures_of, outfalls, storm_of, table_of

ID = "00000000-0000-4000-8000-00000000000{}".format


@pytest.mark.parametrize(
    ("margin", "scale", "tight", "exceeded"),
    [
        (0.0002, 0.0042, True, False),
        (0.0, 0.011, True, False),
        (-0.0003, 0.015, False, True),
        (1.62, 2.0, False, False),
    ],
)
def test_equal_to_the_limit_passes(margin, scale, tight, exceeded):
    """Case D3."""
    found = Margin(margin, scale, "x", 0.0)
    assert (found.tight, found.exceeded) == (tight, exceeded)


def test_rules_have_start_values_that_ask_nothing_odd():
    rule = WaterBelowCover(name="a", limits=[{"return_period": 30}])
    assert (rule.limits[0].value, rule.patterns, rule.asked, rule.scope.of) == (0.0, "mean", True, "all")
    with pytest.raises(ValueError, match="greater than 0"):
        Outflow(name="a", limits=[{"return_period": 30, "value": 0}], element=ID(1))
    with pytest.raises(ValueError, match="two are for 30 years"):
        WaterBelowCover(name="a", limits=[{"return_period": 30}, {"return_period": 30, "value": 1}])
    with pytest.raises(ValueError, match="limits"):
        WaterBelowCover(name="a", limits=[])


def outflow(limit, patterns="every", return_period=100.0):
    return asked(Outflow, limit, return_period, name="rate", element=ID(0), patterns=patterns)


def one(criterion, network, storms, figures, failed=()):
    return judge([criterion], network, storms, figures, failed)[0]


SEASONS = [storm_of(duration, season, pattern=False) for duration in (15, 60) for season in ("summer", "winter")]


def peaks(*values, storms=SEASONS):
    return {s.key: figures_of(s.key, outflow=[v], outflow_time=[9.0]) for s, v in zip(storms, values, strict=False)}


def test_a_rule_without_a_storm_of_its_return_period_is_not_judged_and_says_so():
    v = one(outflow(1.0, return_period=30), outfalls("O"), SEASONS, peaks(0.1, 0.1, 0.1, 0.1))
    assert (v.state, v.reason, v.due) == ("not judged", "no storm of 30 yr", 0)
    assert v.margins  # the others' margins are there for reading


def test_storms_that_are_waiting_or_failed_are_never_taken_for_met():
    network = outfalls("O")
    waits = one(outflow(1.0), network, SEASONS, peaks(0.1, 0.2, 0.3))
    assert (waits.state, waits.reason) == ("not judged", "3 of 4 storms in")
    assert waits.governing.value == pytest.approx(0.7)  # so far
    lost = one(outflow(1.0), network, SEASONS, peaks(0.1, 0.2, 0.3), failed=[SEASONS[3].key])
    assert (lost.state, lost.reason) == ("not judged", "storm 100 yr, 60 min, winter failed")
    nothing = one(outflow(1.0), network, SEASONS, {})
    assert (nothing.state, nothing.governing) == ("not judged", None)
    assert one(outflow(1.0), network, SEASONS, peaks(0.1, 0.2, 0.3, 0.4)).state == "meets"


def test_a_storm_that_breaks_the_rule_settles_it_at_once():
    v = one(outflow(0.25), outfalls("O"), SEASONS, peaks(0.1, 0.3))
    assert (v.state, v.reason, v.storm) == ("fails", "", SEASONS[1].key)


@pytest.mark.parametrize(("how", "state"), [("mean", "not judged"), ("median", "not judged"), ("every", "fails")])
def test_over_patterns_a_rule_waits_for_all_of_them_unless_every_one_counts(how, state):
    storms, figures = table_of({"O": {15: [0.9, 0.9, 0.9], 60: [0.1, 0.1, 0.1]}})
    del figures[storms[-1].key]
    assert one(outflow(0.5, how), outfalls("O"), storms, figures).state == state


def test_the_highest_mean_is_judged_element_by_element_and_the_pattern_above_it_stands_for_it():
    storms, figures = table_of({"O": {15: [0.2, 0.4, 0.9], 60: [0.1, 0.3, 0.5]}})
    v = one(outflow(0.6, "mean"), outfalls("O"), storms, figures)
    assert v.state == "meets"
    assert v.governing.value == pytest.approx(0.1)  # the mean is 0.5, the highest pattern 0.9
    assert v.storm == storms[2].key
    assert [cell.whole for cell in v.cells] == [True, True]
    assert one(outflow(0.6, "every"), outfalls("O"), storms, figures).state == "fails"
    median = one(outflow(0.6, "median"), outfalls("O"), storms, figures)
    assert median.governing.value == pytest.approx(0.2)


def test_two_patterns_are_too_few_for_a_mean_and_seasons_are_never_averaged():
    storms, figures = table_of({"O": {15: [0.2, 0.9]}})
    assert one(outflow(0.6, "mean"), outfalls("O"), storms, figures).state == "fails"
    three = [storm_of(15, season, pattern=False) for season in ("summer", "winter", "all year")]
    assert one(outflow(0.6, "mean"), outfalls("O"), three, peaks(0.1, 0.1, 0.9, storms=three)).state == "fails"


def test_a_mean_beyond_the_limit_fails_once_all_patterns_are_in():
    storms, figures = table_of({"O": {15: [0.5, 0.8, 0.9]}})
    assert one(outflow(0.6, "mean"), outfalls("O"), storms, figures).state == "fails"


def test_storms_of_another_allowance_are_not_its_own():
    raised = replace(SEASONS[0], allowance=0.4)
    v = one(outflow(0.5), outfalls("O"), [raised], peaks(0.9, storms=[raised]))
    assert (v.state, v.reason) == ("not judged", "no storm of 100 yr")
    rule = outflow(0.5)
    rule = rule.at(rule.limit.model_copy(update={"allowance": 0.4}))
    assert one(rule, outfalls("O"), SEASONS, peaks(0.1)).reason == "no storm of 100 yr +40 %"


@pytest.mark.parametrize(
    ("rule", "reason"),
    [
        (asked(Surcharge), "there is no pipe or channel"),
        (asked(Freeboard), "there is no pond or tank"),
        (changed(outflow(1.0), element=ID(7)), "its outfall or link is gone; choose another"),
    ],
)
def test_a_rule_with_nothing_to_look_at_is_not_judged(rule, reason):
    v = one(rule, outfalls("O"), SEASONS, peaks(0.1, 0.1, 0.1, 0.1))
    assert (v.state, v.reason) == ("not judged", reason)


def manholes(*covers):
    return Network.model_validate(
        {
            "nodes": {
                ID(k): {"kind": "manhole", "name": f"M{k}", "invert": 0.0, "cover": c} for k, c in enumerate(covers)
            }
        }
    )


def test_a_rate_at_a_manhole_has_no_figure_and_is_not_met():
    figures = {s.key: figures_of(s.key, level=[1.0], level_time=[0.0]) for s in SEASONS}
    v = one(outflow(1.0), manholes(3.0), SEASONS, figures)
    assert (v.state, v.reason) == ("not judged", "M0 is no outfall; choose an outfall or a link")


def test_figures_that_are_no_numbers_meet_nothing():
    figures = {s.key: figures_of(s.key, level=[np.nan], level_time=[0.0]) for s in SEASONS}
    v = one(asked(WaterBelowCover), manholes(3.0), SEASONS, figures)
    assert (v.state, v.reason) == ("not judged", "its figures are no numbers")


def test_where_nothing_floods_the_water_nearest_to_its_cover_governs():
    levels = {"summer": [1.0, 2.0], "winter": [2.5, 1.0]}
    figures = {s.key: figures_of(s.key, level=levels[s.season], level_time=[5.0, 6.0]) for s in SEASONS[:2]}
    v = one(asked(FloodVolume), manholes(3.0, 2.2), SEASONS[:2], figures)
    assert (v.state, v.tied, v.storm) == ("meets", 1, SEASONS[0].key)
    assert (v.governing.element, v.governing.value, v.governing.time) == (ID(1), 0.0, 6.0)
    assert v.dry == pytest.approx(0.2)
    wet = figures_of(SEASONS[0].key, level=[3.1, 2.0], level_time=[5.0, 6.0], flooded=[0.4, 0.0])
    floods = one(asked(FloodVolume), manholes(3.0, 2.2), SEASONS[:1], {wet.key: wet})
    assert (floods.state, floods.dry, floods.governing.element) == ("fails", None, ID(0))


def test_all_rules_together_meet_only_when_each_was_judged():
    storms, figures = table_of({"O": {15: [0.5]}})
    network = outfalls("O")
    rules = {"meets": outflow(1.0), "fails": outflow(0.1), "not judged": outflow(1.0, return_period=2)}

    def together(*states):
        return overall(judge([rules[s] for s in states], network, storms, figures))

    assert together("meets", "meets").state == "meets"
    assert together("meets", "meets").said == "every rule is met"
    assert together("meets", "not judged").state == "not judged"
    assert together("meets", "not judged").said == "1 of 2 rules is not judged"
    assert together("meets", "not judged", "fails").said == "1 of 3 rules fails, 1 is not judged"
    assert together().state == "not judged"
    assert together().said == "no rule is asked"
    unasked = judge([changed(outflow(0.1), asked=False), rules["meets"]], network, storms, figures)
    assert overall(unasked).state == "meets"


def test_a_permit_that_cannot_be_computed_leaves_its_rule_unjudged_and_runs_the_rest(demo_document):
    project = parse_project(demo_document)
    rule = next(c for c in project.brief.rules if isinstance(c, Outflow))
    rule.by, rule.limits[0].return_period = "formula", 5_000.0
    plan = make_plan(project)
    verdicts = plan.verdicts({})
    v = next(v for v in verdicts if isinstance(v.criterion.rule, Outflow))
    assert v.state == "not judged"
    assert v.reason.startswith("its permitted rate cannot be computed: return_period 5000 years lies outside")
    assert sum(v.reason.startswith("its permitted") for v in verdicts) == 1


def test_the_pattern_that_stands_for_a_mean_lies_beyond_it_never_on_it():
    """Exact binary numbers: of 0.25, 0.5 and 0.75 the mean is 0.5, and one pattern lies on it."""
    storms, figures = table_of({"O": {15: [0.25, 0.5, 0.75]}})
    assert one(outflow(0.6, "mean"), outfalls("O"), storms, figures).storm == storms[2].key
    # of several beyond it the nearest
    storms, figures = table_of({"O": {15: [0.25, 0.875, 0.25, 0.625]}})
    assert one(outflow(0.6, "mean"), outfalls("O"), storms, figures).storm == storms[3].key
    # all alike: the first
    storms, figures = table_of({"O": {15: [0.5, 0.5, 0.5]}})
    assert one(outflow(0.6, "mean"), outfalls("O"), storms, figures).storm == storms[0].key


def test_the_pattern_that_stands_for_a_mean_does_so_at_the_worst_element():
    storms, figures = table_of({"O": {15: [0.125, 0.25, 0.375]}, "P": {15: [0.875, 0.125, 0.25]}})
    rule = outflow(1.0, "mean")
    own = changed(rule, element=ID(1))
    assert one(rule, outfalls("O", "P"), storms, figures).storm == storms[2].key
    assert one(own, outfalls("O", "P"), storms, figures).storm == storms[0].key
