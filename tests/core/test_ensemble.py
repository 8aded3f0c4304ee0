"""Storms of several blocks, given storms, storms left out, and what area takes off their depths."""

from datetime import datetime

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from madidus.core.errors import ModelError
from madidus.core.rainfall.areal import ArealByDuration, ArealFormula, areal_factor
from madidus.core.rainfall.ensemble import Ensemble, GivenStorm
from madidus.core.rainfall.methods import IntensityFormula
from madidus.core.rainfall.rain import FurtherStorms, Rain
from madidus.core.rainfall.recorded import RainSeries, as_given, events
from madidus.core.rainfall.storms import ensemble

FORMULA = IntensityFormula(rows=[{"return_period": t, "a": 600 * t**0.3, "b": 9, "c": 0.8} for t in (2, 30, 100)])
HILL = IntensityFormula(rows=[{"return_period": 100, "a": 3000, "b": 9, "c": 0.8}])
WINTER = {"name": "winter", "shape": {"kind": "bell", "a": 0.06, "b": 1.026}}


def block(**changes) -> dict:
    return {
        "durations": [15, 360], "probabilities": [{"return_period": 100, "allowance": 0.4}], "seasons": [WINTER],
        **changes,
    }  # fmt: skip


def rain(**changes) -> Rain:
    return Rain(rainfall=FORMULA, ensemble=Ensemble(**block()), **changes)


def test_a_depth_is_point_times_area_times_allowance():
    plain = ensemble(rain())
    reduced = ensemble(
        rain(areal=ArealByDuration(rows=[{"duration": 15, "factor": 0.8}, {"duration": 360, "factor": 0.9}]))
    )
    for one, other, factor in zip(plain, reduced, (0.8, 0.9), strict=True):
        assert other.point == one.point
        assert other.areal == pytest.approx(factor)
        assert other.depth == pytest.approx(one.point * factor * 1.4, rel=1e-12)
        assert float((other.intensity * np.diff(other.times)).sum() / 3600) == pytest.approx(other.depth, rel=1e-12)


def test_typed_factors_are_linear_in_the_logarithm_of_duration_and_end_with_their_rows():
    typed = ArealByDuration(rows=[{"duration": 10, "factor": 0.8}, {"duration": 1000, "factor": 0.9}])
    assert areal_factor(typed, 100) == pytest.approx(0.85)
    assert areal_factor(typed, 1) == 0.8
    assert areal_factor(typed, 5000) == 0.9


@pytest.mark.parametrize(
    ("form", "km2", "hours", "factor"),
    [
        # the areal factors of the Flood Studies Report (1975), read to a hundredth
        ("power", 1, 1, 0.96),
        ("power", 10, 1, 0.91),
        ("power", 100, 6, 0.91),
        ("power", 100, 24, 0.94),
        # US Weather Bureau TP-29: 100 and 400 square miles in 24 h, read from its curves
        ("exponential", 259, 24, 0.94),
        ("exponential", 1036, 24, 0.91),
    ],
)
def test_formulas_meet_the_curves_that_they_were_fitted_to(form, km2, hours, factor):
    assert areal_factor(ArealFormula(form=form, area=km2 * 1e6), hours * 60) == pytest.approx(factor, abs=0.012)


@given(st.sampled_from(["power", "exponential"]), st.floats(100, 9e8), st.floats(5, 5000))
def test_a_formula_reduces_less_in_longer_rain_and_more_over_more_ground(form, area, minutes):
    here = areal_factor(ArealFormula(form=form, area=area), minutes)
    assert 0 < here <= 1
    assert areal_factor(ArealFormula(form=form, area=area), 1.5 * minutes) >= here - 1e-12
    assert areal_factor(ArealFormula(form=form, area=1.05 * area), minutes) <= here + 1e-3


def test_further_storms_have_rainfall_and_keys_of_their_own():
    more = FurtherStorms(name="hill side", rainfall=HILL, **block())
    storms = ensemble(rain(further=[more]))
    assert [s.key for s in storms] == [
        "100+40-15-winter", "100+40-360-winter", "100+40-15-winter@hill_side", "100+40-360-winter@hill_side",
    ]  # fmt: skip
    assert storms[2].label == "100 yr +40 % (hill side), 15 min, winter"
    assert storms[2].depth == pytest.approx(storms[0].depth * 3000 / (600 * 100**0.3))


def test_a_block_that_lacks_something_makes_no_storm():
    bare = FurtherStorms(name="later", durations=[15])
    assert len(ensemble(rain(further=[bare]))) == 2
    with pytest.raises(ModelError, match="choose at least one"):
        ensemble(Rain(rainfall=FORMULA, further=[bare]))


def test_given_storms_run_as_they_fell():
    flood = GivenStorm(name="May flood", interval=10, depths=[1, 4, 2], season="summer", return_period=30)
    storms = ensemble(rain(given=[flood], areal=ArealFormula(area=1e8)))
    storm = storms[-1]
    assert (storm.key, storm.row) == ("given-May_flood", "as given")
    assert storm.depth == 7
    assert storm.intensity.tolist() == [6, 24, 12]
    assert storm.times.tolist() == [0, 600, 1200, 1800]
    assert storm.return_period == 30
    alone = ensemble(Rain(given=[flood]))
    assert [s.key for s in alone] == ["given-May_flood"]


def test_storms_left_out_are_not_run():
    storms = ensemble(rain(excluded=["100+40-15-winter"]))
    assert [s.key for s in storms] == ["100+40-360-winter"]
    with pytest.raises(ModelError, match="leaves no storm"):
        ensemble(rain(excluded=["100+40-15-winter", "100+40-360-winter"]))


def test_names_that_are_there_twice_are_refused():
    storm = {"name": "a", "interval": 5, "depths": [1]}
    with pytest.raises(ValueError, match="“a” is there twice"):
        Rain(given=[storm, storm])
    with pytest.raises(ValueError, match="all 0"):
        GivenStorm(name="dry", interval=5, depths=[0, 0])


def test_an_event_of_a_record_becomes_a_storm_with_the_same_rain():
    at = np.array([0, 300, 1200, 90_000.0])
    series = RainSeries(datetime(2021, 5, 1, 6), 300.0, at, np.array([1.0, 2.0, 0.5, 3.0]), 100_000.0)
    first, second = events(series, 3600.0)
    given_first = as_given(series, first)
    assert given_first.depths == [1, 2, 0, 0, 0.5]
    assert (given_first.interval, given_first.season) == (5, "summer")
    assert as_given(series, second).began == datetime(2021, 5, 2, 7)
    assert ensemble(Rain(given=[given_first]))[0].depth == pytest.approx(first.depth)


def test_the_greatest_depth_within_a_span_is_found_wherever_it_lies():
    series = RainSeries(datetime(2021, 5, 1), 300.0, np.array([0, 600, 900.0]), np.array([3.0, 2.0, 2.5]), 1e5)
    event = events(series, 3600.0)[0]
    assert event.most_within(300) == pytest.approx(3.0)
    assert event.most_within(600) == pytest.approx(4.5)
    assert event.most_within(150) == pytest.approx(1.5)
    assert event.most_within(7200) == pytest.approx(7.5)
