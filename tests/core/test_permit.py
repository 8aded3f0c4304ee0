"""Permitted discharge: published figures, shares of area, and the site before the works under the same storms."""

import copy
import json
from pathlib import Path

import numpy as np
import pytest

from madidus.core.ensemble import make_plan
from madidus.core.errors import ModelError
from madidus.core.model.project import parse_project
from madidus.core.rules.permit import Greenfield
from madidus.core.runoff.permit import hydrograph_before, mean_annual_flood, permitted
from madidus.core.verdicts import criteria

DEMO = json.loads((Path(__file__).parents[2] / "demo" / "quillmere_boatyard.madidus.json").read_text(encoding="utf-8"))


def project(**changes):
    document = copy.deepcopy(DEMO)
    rule = next(c for c in document["brief"]["rules"] if c["kind"] == "outflow")
    rule.update(changes)
    return parse_project(document)


def rule_of(found):
    return next(c for c in found.brief.rules if c.kind == "outflow")


def test_the_mean_annual_flood_of_fifty_hectares_by_hand():
    # 0.00108 · 0.5^0.89 · 800^1.17 · 0.45^2.17, worked by logarithms
    found = mean_annual_flood(Greenfield(area=500_000, mean_annual_rainfall=800, soil=0.45), 0.0)
    assert found == pytest.approx(0.2568, rel=2e-3)


def test_a_small_site_takes_its_share_of_fifty_hectares_and_a_large_one_its_own_power():
    whole = mean_annual_flood(Greenfield(), 500_000)
    assert mean_annual_flood(Greenfield(area=16_200), 1.0) == pytest.approx(whole * 0.0324)
    assert mean_annual_flood(Greenfield(), 1_000_000) == pytest.approx(whole * 2**0.89)


def test_growth_is_taken_at_its_rows_between_them_and_never_beyond():
    found = project(by="formula", formula={"area": 16_200, "mean_annual_rainfall": 680, "soil": 0.37})
    rule = rule_of(found)
    as_aep = mean_annual_flood(rule.formula, 0.0)
    assert as_aep == pytest.approx(0.0045, rel=0.01)
    assert permitted(rule, found, "formula", 100) == pytest.approx(3.19 * as_aep)
    assert 2.40 * as_aep < permitted(rule, found, "formula", 50) < 3.19 * as_aep
    with pytest.raises(ModelError, match="500 years lies outside"):
        permitted(rule, found, "formula", 500)


def test_a_rate_per_hectare_counts_what_drains_there():
    found = project(by="hectare", hectare={"rate": 0.008})
    rule = rule_of(found)
    drains = sum(c.area for c in found.option.network.catchments.values())
    paved = sum(c.area * c.impervious for c in found.option.network.catchments.values())
    assert permitted(rule, found, "hectare", 100) == pytest.approx(0.008 * drains / 1e4)
    by_paved = project(hectare={"rate": 0.008, "counted": "paved"})
    assert permitted(rule_of(by_paved), by_paved, "hectare", 100) == pytest.approx(0.008 * paved / 1e4)
    floor = project(hectare={"rate": 1e-6, "least": 0.005})
    assert permitted(rule_of(floor), floor, "hectare", 100) == 0.005


def test_a_site_without_an_area_of_its_own_is_all_that_drains_there():
    found = project()
    rule = rule_of(found)
    drains = sum(c.area for c in found.option.network.catchments.values())
    typed = project(formula={"area": drains}, model={"area": drains})
    for way in ("formula", "model"):
        assert permitted(rule, found, way, 100) == pytest.approx(permitted(rule_of(typed), typed, way, 100))


def test_a_place_that_nothing_drains_to_permits_nothing_and_that_is_told():
    found = project()
    for catchment in found.option.network.catchments.values():
        catchment.node = None
    with pytest.raises(ModelError, match="no catchment drains"):
        permitted(rule_of(found), found, "hectare", 100)


def test_the_judged_rule_has_the_limit_of_the_way_in_use():
    found = project(by="hectare", hectare={"rate": 0.02, "counted": "site", "site": 5000})
    judged = next(c for c in criteria(found) if c.rule.kind == "outflow")
    assert judged.value == pytest.approx(0.01)
    assert rule_of(found).limits[0].value != judged.value  # the typed one is kept
    assert next(c for c in make_plan(found).criteria if c.rule.kind == "outflow").value == judged.value


def test_a_rate_typed_for_a_return_period_holds_until_that_of_the_next_rarer_one():
    rates = [{"return_period": t, "value": q} for t, q in ((30, 0.009), (2, 0.005), (100, 0.014))]
    found = project(limits=rates)
    asked = {1: 0.005, 2: 0.005, 10: 0.005, 30: 0.009, 99: 0.009, 100: 0.014, 200: 0.014}
    assert {t: permitted(rule_of(found), found, "typed", t) for t in asked} == asked


def test_each_return_period_of_a_rule_is_judged_by_its_own_rate():
    rates = [{"return_period": t, "value": 0.1} for t in (2, 100)]
    found = project(by="formula", limits=rates)
    by = {c.limit.return_period: c for c in criteria(found) if c.rule.kind == "outflow"}
    assert {t: c.value for t, c in by.items()} == {t: permitted(rule_of(found), found, "formula", t) for t in (2, 100)}
    assert by[2].value < by[100].value
    assert [c.name for c in by.values()] == [f"{rule_of(found).name}, 2 yr", f"{rule_of(found).name}, 100 yr"]


def test_the_site_before_the_works_answers_to_the_same_storms_without_the_allowance():
    """A wholly paved site that answers at once gives the coefficient times the greatest intensity."""
    before = {"area": 10_000, "paved": 1.0, "entry": 60, "method": {"kind": "coefficient"}}
    found = project(model=before)
    storms = [s for s in make_plan(found).storms if s.return_period == 100]
    runoff = found.rain.runoff
    most = max(
        (runoff.winter_paved if s.season == "winter" else runoff.summer_paved) * s.intensity.max() / 1.4 for s in storms
    )
    assert permitted(rule_of(found), found, "model", 100) == pytest.approx(most / 3.6e6 * 10_000, rel=1e-9)
    small = project(model={**before, "area": 5_000})
    assert permitted(rule_of(small), small, "model", 100) == pytest.approx(most / 3.6e6 * 5_000, rel=1e-9)
    meadow = project(model={"area": 10_000})
    assert permitted(rule_of(meadow), meadow, "model", 2) < permitted(rule_of(meadow), meadow, "model", 100)


def test_the_hydrographs_before_the_works_peak_at_what_the_model_permits():
    found = project(model={"area": 10_000}, by="model")
    storms = [s for s in make_plan(found).storms if s.return_period == 100]
    assert all(s.allowance > 0.0 for s in storms)
    peaks = [float(hydrograph_before(rule_of(found), found, s)[1].max()) for s in storms]
    assert max(peaks) == pytest.approx(
        permitted(rule_of(found), found, "model", 100), rel=2e-3
    )  # its rain is cut finer
    assert min(peaks) < 0.9 * max(peaks)
    # volumes scale with the site
    times, flow = hydrograph_before(rule_of(found), found, storms[0])
    half = project(model={"area": 5_000}, by="model")
    assert np.trapezoid(hydrograph_before(rule_of(half), half, storms[0])[1], times) == pytest.approx(
        0.5 * np.trapezoid(flow, times)
    )


def test_growth_that_falls_is_refused():
    with pytest.raises(ValueError, match="must rise"):
        Greenfield(growth=[{"return_period": 2, "factor": 1}, {"return_period": 30, "factor": 0.9}])


def test_the_site_before_the_works_answers_to_the_main_block_alone():
    """Further blocks, given storms and storms left out say nothing about what is permitted."""
    found = project(model={"area": 10_000})
    as_it_is = permitted(rule_of(found), found, "model", 100)
    document = found.model_dump(mode="json")
    own = document["rain"]["ensemble"]
    document["rain"]["further"] = [
        {"name": "more", "rainfall": {**document["rain"]["rainfall"], "depths": [
            [9 * depth for depth in row] for row in document["rain"]["rainfall"]["depths"]
        ]}, **{key: own[key] for key in ("durations", "probabilities", "seasons", "patterns")}}
    ]  # fmt: skip
    document["rain"]["excluded"] = [storm.key for storm in make_plan(found).storms]
    more = parse_project(document)
    assert permitted(rule_of(more), more, "model", 100) == as_it_is


def test_growth_holds_at_its_very_ends():
    found = project(by="formula")
    rule = rule_of(found)
    ends = [rule.formula.growth[0], rule.formula.growth[-1]]
    flood = mean_annual_flood(rule.formula, sum(c.area for c in found.option.network.catchments.values()))
    for row in ends:
        assert permitted(rule, found, "formula", row.return_period) == pytest.approx(row.factor * flood)
    for beyond in (0.99 * ends[0].return_period, 1.01 * ends[1].return_period):
        with pytest.raises(ModelError, match=f"{ends[0].return_period:g} to {ends[1].return_period:g} years"):
            permitted(rule, found, "formula", beyond)
