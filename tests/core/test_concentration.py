"""Times of concentration against worked examples and published figures, away from the units' own ones."""

import math

import pytest

from madidus.core.surface.concentration import (
    airport,
    bransby,
    channel_velocity,
    curve_number_lag,
    kirpich,
    shallow_velocity,
    sheet_flow,
)

FOOT, INCH = 0.3048, 25.4


def test_the_worked_example_of_tr_55():
    """Example 3-1: 100 ft of dense grass at 1 %, 3.6 in; 1,400 ft unpaved at 1 %; 7,300 ft of channel at 0.5 %."""
    assert sheet_flow(100 * FOOT, 0.01, 0.24, 3.6 * INCH) / 60 == pytest.approx(0.30, abs=0.005)
    velocity = shallow_velocity(0.01) / FOOT
    assert velocity == pytest.approx(1.6, abs=0.02)
    assert 1400 / velocity / 3600 == pytest.approx(0.24, abs=0.005)
    channel = channel_velocity(27 * FOOT**2, 28.2 * FOOT, 0.005, 0.05) / FOOT
    assert channel == pytest.approx(2.05, abs=0.01)
    assert 7300 / channel / 3600 == pytest.approx(0.99, abs=0.005)


def test_pavement_is_faster_than_meadow():
    assert shallow_velocity(0.04, "paved") / FOOT == pytest.approx(4.07, abs=0.01)


@pytest.mark.parametrize(
    ("form", "given", "scale", "power"),
    [
        (sheet_flow, {"length": 30.0, "slope": 0.01, "roughness": 0.2, "rain": 60.0}, "rain", -0.5),
        (sheet_flow, {"length": 30.0, "slope": 0.01, "roughness": 0.2, "rain": 60.0}, "slope", -0.4),
        (sheet_flow, {"length": 30.0, "slope": 0.01, "roughness": 0.2, "rain": 60.0}, "roughness", 0.8),
        (kirpich, {"length": 400.0, "slope": 0.02}, "length", 0.77),
        (kirpich, {"length": 400.0, "slope": 0.02}, "slope", -0.385),
        (airport, {"length": 90.0, "slope": 0.02, "coefficient": 0.6}, "length", 0.5),
        (airport, {"length": 90.0, "slope": 0.02, "coefficient": 0.6}, "slope", -1 / 3),
        (bransby, {"length": 900.0, "slope": 0.02, "area": 3e5}, "area", -0.1),
        (bransby, {"length": 900.0, "slope": 0.02, "area": 3e5}, "slope", -0.2),
        (bransby, {"length": 900.0, "slope": 0.02, "area": 3e5}, "length", 1.0),
        (curve_number_lag, {"length": 900.0, "slope": 0.02, "curve_number": 75.0}, "length", 0.8),
        (curve_number_lag, {"length": 900.0, "slope": 0.02, "curve_number": 75.0}, "slope", -0.5),
    ],
)
def test_each_formula_has_its_powers(form, given, scale, power):
    assert form(**{**given, scale: 2 * given[scale]}) / form(**given) == pytest.approx(2**power)


def test_formulas_at_round_figures_of_their_own_units():
    # 1.8 (1.1 - 0.5) sqrt(400 ft) / (1 %)^(1/3)
    assert airport(400 * FOOT, 0.01, 0.5) == pytest.approx(1.8 * 0.6 * 20)
    # 58.5 · 1 km · (1 km²)^-0.1 · (1 m/km)^-0.2
    assert bransby(1000.0, 0.001, 1e6) == pytest.approx(58.5)
    # curve number 80: S = 2.5 in
    lag = 60 * 1000**0.8 * 3.5**0.7 / (1900 * math.sqrt(4.0))
    assert curve_number_lag(1000 * FOOT, 0.04, 80.0) == pytest.approx(lag)
