"""Reference cases of rainfall and runoff, by name."""

import math

import numpy as np
import pytest

from madidus.core.errors import ModelError
from madidus.core.model.rain import DepthTable, GrowthRow, IntensityFormula, RatioDepths
from madidus.core.model.shapes import Alternating, Block, Chicago, Cumulative, MassCurve, Triangle
from madidus.core.rainfall.depth import curve_of, depth, fit_formula, ratio_curve
from madidus.core.rainfall.shapes import increments
from madidus.core.runoff.concentration import (
    Reach,
    channel_velocity,
    curve_number_lag,
    kirpich,
    rational,
    shallow_velocity,
    sheet_flow,
)
from madidus.core.runoff.losses import curve_number_excess, green_ampt, horton, initial_continuing, retention
from madidus.core.runoff.overland import kinematic_plane, nonlinear_reservoir
from madidus.core.runoff.unit_hydrograph import STANDARD, flow_of, ordinates

FORMULA = IntensityFormula(rows=[{"return_period": 10, "a": 1500, "b": 12, "c": 0.85}])


def nothing(minutes: np.ndarray) -> np.ndarray:
    raise AssertionError("this shape needs no depth–duration curve")


@pytest.mark.parametrize(
    ("kind", "accumulated", "half_hour"),
    [
        ("II", [1.98, 7.2, 10.8, 16.29, 21.15, 25.47, 59.67, 66.15, 69.48, 79.2, 85.68, 90.0], 34.2),
        ("IA", [4.5, 18.54, 38.25, 51.93, 56.16, 58.05, 59.76, 61.47, 63.09, 72.0, 81.54, 90.0], 7.065),
        ("III", [1.8, 6.48, 10.35, 17.01, 22.5, 26.82, 45.0, 63.18, 67.59, 79.74, 86.13, 90.0], 18.18),
    ],
)
def test_mass_curves(kind, accumulated, half_hour):
    """Case C1."""
    blocks = 90.0 * increments(MassCurve(type=kind), 48, 1440.0, nothing)
    fallen = np.cumsum(blocks)
    hours = np.array([2, 6, 8, 10, 11, 11.5, 12, 12.5, 13, 16, 20, 24])
    assert fallen[(hours * 2).astype(int) - 1] == pytest.approx(accumulated, rel=0.005, abs=0.1)
    assert blocks.max() == pytest.approx(half_hour, rel=0.01)
    assert fallen[-1] == pytest.approx(90.0, rel=1e-12)


def test_alternating_block_and_chicago():
    """Case C2."""
    curve = curve_of(FORMULA, 10)
    total = depth(FORMULA, 60, 10)
    assert total == pytest.approx(39.56932, rel=0.001)
    blocks = total * increments(Alternating(peak=0.5), 12, 60.0, curve)
    expected = [1.11663, 1.410447, 1.886077, 2.756099, 4.703695, 11.24679, 6.819993, 3.507539, 2.248237, 1.616986,
                1.247696, 1.009139]  # fmt: skip
    assert blocks == pytest.approx(expected, rel=0.005)
    assert blocks.max() * 12 == pytest.approx(134.9614, rel=0.005)
    storm = total * increments(Chicago(peak=0.4), 12, 60.0, curve)
    expected = [1.092592, 1.467767, 2.174696, 3.865963, 9.934575, 8.132204, 4.285114, 2.773613, 2.002262, 1.546339,
                1.250021, 1.044179]  # fmt: skip
    assert storm == pytest.approx(expected, rel=0.005)
    assert storm.max() * 12 == pytest.approx(119.2149, rel=0.005)
    fine = total * increments(Chicago(peak=0.4), 600, 60.0, curve)
    assert fine[:240].sum() == pytest.approx(15.82773, rel=0.005)
    assert fine.max() * 600 == pytest.approx(181.4626, rel=0.02)


GROWTH = RatioDepths(
    depth=20.0, ratio=0.4, return_periods=[1, 2, 10, 20, 50, 100],
    growth=[GrowthRow(depth=20, factors=[0.64, 0.81, 1.24, 1.45, 1.73, 2.03]),
            GrowthRow(depth=30, factors=[0.68, 0.83, 1.22, 1.42, 1.7, 1.97])],
)  # fmt: skip


def test_depths_by_ratio_and_growth():
    """Case C4."""
    i0, n = ratio_curve(20.0, 0.4, 15.0)
    assert (i0, n) == (pytest.approx(171.9427, rel=0.001), pytest.approx(0.7759641, rel=0.001))
    five = {15: 12.83021, 30: 16.33647, 60: 20.0, 120: 23.94257, 360: 31.14507, 1440: 42.76233, 2880: 50.0}
    wide = GROWTH.model_copy(
        update={"growth": [GrowthRow(depth=10, factors=[1] * 6), GrowthRow(depth=60, factors=[1] * 6)]}
    )
    for minutes, mm in five.items():
        assert depth(wide, minutes, 5) == pytest.approx(mm, rel=0.003)
    for minutes, period, mm in (
        (60, 2, 16.2), (60, 10, 24.8), (60, 30, 31.47804), (60, 100, 40.6), (90, 2, 18.13344), (90, 10, 27.50487),
        (90, 30, 34.88802), (90, 100, 44.89083),
    ):  # fmt: skip
        assert depth(GROWTH, minutes, period) == pytest.approx(mm, rel=0.003)
    assert depth(GROWTH, 60, 5) == pytest.approx(20.0, rel=1e-9)
    for minutes, period in ((15, 10), (60, 200), (4000, 10)):
        with pytest.raises(ModelError, match="outside"):
            depth(GROWTH, minutes, period)


def test_curve_number_and_unit_hydrograph():
    """Case C5."""
    rain = np.array(
        [0.5, 0.6, 0.8, 1.0, 1.3, 1.8, 2.6, 4.0, 7.5, 12.0, 8.5, 5.0, 3.4, 2.4, 1.8, 1.4, 1.1, 0.9, 0.7, 0.6]
    )
    assert retention(78) == pytest.approx(71.64103, rel=0.001)
    excess = np.diff(curve_number_excess(np.concatenate([[0], np.cumsum(rain)]), 78), prepend=0)[1:]
    assert excess.sum() == pytest.approx(16.47821, rel=0.003)
    expected = [0, 0, 0, 0, 0, 0, 0, 0, 0.4303372, 3.102005, 3.516859, 2.45326, 1.805049, 1.334218, 1.031042, 0.8190228,
                0.6536159, 0.541189, 0.4248207, 0.3667934]  # fmt: skip
    assert excess == pytest.approx(expected, rel=0.005, abs=0.005)
    flow = 1.2e6 * flow_of(excess, 0.75 * 3600, 360.0)
    at = [0.0, 0.4, 0.8, 1.2, 1.6, 2.0, 2.4, 2.8, 3.2, 3.6, 4.0, 4.4]
    expected = [0, 0, 0, 1.890656, 5.669983, 3.803061, 1.709589, 0.4892595, 0.1345926, 0.02861099, 0.004627974, 0]
    found = [flow[round(h * 10)] if round(h * 10) < len(flow) else 0.0 for h in at]
    assert found == pytest.approx(expected, rel=0.02, abs=0.1133997)
    assert flow.max() == pytest.approx(5.67, rel=0.02)
    assert flow.sum() * 360.0 == pytest.approx(1.2e6 * 16.47821e-3, rel=0.003)


@pytest.mark.parametrize("peak_factor", [100.0, 300.0, STANDARD, 600.0])
def test_a_unit_hydrograph_holds_one_millimetre_whatever_its_peak_factor(peak_factor):
    q = ordinates(3600.0, 300.0, peak_factor)
    assert q.sum() * 300.0 == pytest.approx(1e-3, rel=1e-12)
    # peak: factor / 484 of the standard one, 0.208 A / Tp
    to_peak = (150.0 + 0.6 * 3600.0) / 3600.0
    assert q.max() == pytest.approx(0.208e-6 / to_peak * peak_factor / STANDARD, rel=0.03)


RAIN = np.array([10, 20, 35, 60, 45, 15, 5, 30, 50, 20, 8, 4], float)
TIMES = np.arange(13) * 600.0


def test_horton_by_what_is_taken_in():
    """Case C7."""
    excess, ponds = horton(TIMES, RAIN, 75.0, 12.0, 4.0)
    assert ponds == pytest.approx(30.0 * 60, abs=30)
    assert excess.sum() == pytest.approx(18.06565, abs=0.1)
    assert excess == pytest.approx([0, 0, 0, 4.474276, 3.689833, 0, 0, 2.569433, 6.112273, 1.219837, 0, 0], abs=0.1)
    assert (RAIN / 6).sum() - excess.sum() == pytest.approx(32.26768, rel=0.01)


def test_horton_recovers_in_dry_spells():
    wet, dry = np.full(6, 60.0), np.zeros(6)
    rain = np.concatenate([wet, dry, wet])
    times = np.arange(19) * 600.0
    without, _ = horton(times, rain, 75.0, 12.0, 4.0)
    with_, _ = horton(times, rain, 75.0, 12.0, 4.0, recovery=1.0)
    assert with_[:6] == pytest.approx(without[:6])
    assert with_[12:].sum() < without[12:].sum()
    rested, _ = horton(times, rain, 75.0, 12.0, 4.0, recovery=1e3)
    assert rested[12:] == pytest.approx(rested[:6], abs=1e-6)


def test_green_ampt_with_ponding_inside_a_step():
    """Case C7."""
    excess, ponds = green_ampt(TIMES, RAIN, 6.5, 110.0, 0.25)
    assert ponds == pytest.approx(22.18045 * 60, abs=30)
    assert excess == pytest.approx(
        [0, 0, 0.8385886, 6.386345, 4.445952, 0, 0, 2.51329, 5.990054, 1.101252, 0, 0], abs=0.1
    )
    assert excess.sum() == pytest.approx(21.27548, abs=0.1)


def test_initial_and_continuing_loss():
    """Case C8."""
    rain = np.array([6, 14, 30, 52, 40, 22, 12, 2, 9, 3], float)
    excess = initial_continuing(np.arange(11) * 900.0, rain, 10.0, 2.5)
    assert excess == pytest.approx([0, 0, 2.291667, 12.375, 9.375, 4.875, 2.375, 0, 1.625, 0.125], abs=0.02)
    assert excess.sum() * 1e-3 * 42e4 == pytest.approx(13877.5, rel=0.003)
    assert excess.max() * 4 == pytest.approx(49.5, rel=0.003)


def test_kinematic_plane():
    """Case C9, plane."""
    conveyance = math.sqrt(0.02) / 0.05
    at = np.array([4, 8, 12, 20, 40, 45, 50, 60]) * 60.0
    flow = kinematic_plane(np.array([0.0, 2400.0]), np.array([50.0 / 3.6e6]), 100.0, conveyance, 0.0, at)[:, 0]
    expected = [
        0.0002103825,
        0.0006679227,
        0.00131284,
        0.001388889,
        0.001388889,
        0.0006857618,
        0.000334122,
        9.789286e-05,
    ]
    assert flow == pytest.approx(expected, rel=0.03, abs=2.777778e-05)
    fine = np.arange(0, 1500, 5.0)
    rising = kinematic_plane(np.array([0.0, 2400.0]), np.array([50.0 / 3.6e6]), 100.0, conveyance, 0.0, fine)[:, 0]
    assert fine[np.argmax(rising > 0.995 * 0.001388889)] / 60 == pytest.approx(12.41237, rel=0.02)
    assert (rising[-1] / conveyance) ** 0.6 * 1e3 == pytest.approx(10.34364, rel=0.01)


def test_nonlinear_reservoir():
    """Case C9, reservoir."""
    rain = np.array([10, 25, 50, 90, 60, 30, 15, 5], float) / 3.6e6
    factor = 100.0 * math.sqrt(0.01) / (5000.0 * 0.015)
    times = np.arange(9) * 300.0

    def flow(at: np.ndarray) -> np.ndarray:
        over = np.maximum(nonlinear_reservoir(times, rain, factor, 0.002, at) - 0.002, 0)
        return 5000.0 * factor * over ** (5 / 3)

    at = np.array([10, 15, 20, 25, 30, 40, 60]) * 60.0
    expected = [0.005215196, 0.0491977, 0.1133133, 0.08764491, 0.05059796, 0.01470706, 0.001543552]
    assert flow(at) == pytest.approx(expected, rel=0.02, abs=0.001133133)
    fine = np.arange(0, 5401, 5.0)
    series = flow(fine)
    assert series.max() == pytest.approx(0.1133133, rel=0.01)
    assert fine[series.argmax()] / 60 == pytest.approx(20.0, abs=0.5)
    assert np.trapezoid(series, fine) == pytest.approx(107.9508, rel=0.005)
    assert nonlinear_reservoir(times, rain, factor, 0.002, np.array([5400.0]))[0] * 1e3 == pytest.approx(
        2.159834, abs=0.05
    )


def test_times_of_concentration():
    """Case C10."""
    assert kirpich(850, 0.018) == pytest.approx(16.49709, rel=0.01)
    sheet = sheet_flow(30, 0.01, 0.15, 65.0)
    assert sheet == pytest.approx(14.27472, rel=0.01)
    shallow = shallow_velocity(0.02)
    assert shallow == pytest.approx(0.6954813, rel=0.005)
    area, perimeter = 0.5 * (0.6 + 2 * 0.5), 0.6 + 2 * 0.5 * math.sqrt(5)
    velocity = channel_velocity(area, perimeter, 0.006, 0.035)
    assert velocity == pytest.approx(0.9518967, rel=0.005)
    assert sheet + 220 / shallow / 60 + 640 / velocity / 60 == pytest.approx(30.75254, rel=0.01)
    lag = curve_number_lag(900, 0.04, 76)
    assert (lag, lag / 0.6) == (pytest.approx(25.57179, rel=0.01), pytest.approx(42.61965, rel=0.01))


def test_rational_method():
    """Case C11."""
    line = [
        Reach([(0.9, 8000), (0.3, 11_000)], 8.0, 180 / 1.2 / 60, 1),
        Reach([(0.85, 15_000)], 6.0, 240 / 1.4 / 60, 2),
        Reach([(0.6, 9000), (0.2, 20_000)], 14.0, 100 / 1.5 / 60, None),
    ]
    found = rational(line, lambda t: depth(FORMULA, t, 10) / t * 60)
    assert [f.concentration for f in found] == pytest.approx([8.0, 10.5, 14.0], rel=0.005)
    assert [f.intensity for f in found] == pytest.approx([117.5481, 106.3497, 94.05111], rel=0.003)
    assert [f.flow for f in found] == pytest.approx([0.3428487, 0.6868416, 0.8529913], rel=0.005)


def test_other_shapes_keep_their_depth_whatever_the_interval():
    points = [
        {"time": 0, "depth": 0},
        {"time": 0.3, "depth": 0.1},
        {"time": 0.5, "depth": 0.8},
        {"time": 1, "depth": 1},
    ]
    for shape in (Block(), Triangle(peak=0.3), Cumulative(points=points), MassCurve(type="II")):
        for steps in (5, 17, 48):
            blocks = increments(shape, steps, 60.0, nothing)
            assert blocks.sum() == pytest.approx(1.0, rel=1e-12)
            assert (blocks >= 0).all()
    triangle = increments(Triangle(peak=0.25), 400, 60.0, nothing)
    assert triangle.argmax() in (99, 100)
    assert triangle.max() * 400 == pytest.approx(2.0, rel=0.01)


def test_shapes_that_follow_the_curve_do_so_on_a_table_as_well():
    minutes = [5, 10, 15, 20, 25, 30, 40, 50, 60, 120]
    table = DepthTable(
        durations=minutes, return_periods=[2, 10], depths=[[0.5 * depth(FORMULA, t, 10) for t in minutes],
                                                           [depth(FORMULA, t, 10) for t in minutes]],
    )  # fmt: skip
    for shape in (Alternating(peak=0.5), Chicago(peak=0.4)):
        by_formula = increments(shape, 12, 60.0, curve_of(FORMULA, 10))
        by_table = increments(shape, 12, 60.0, curve_of(table, 10))
        assert by_table == pytest.approx(by_formula, rel=0.06)


def test_a_fit_gives_the_formula_back_and_says_how_far_off_it_is():
    minutes = [5, 10, 15, 30, 60, 120, 360]
    table = DepthTable(
        durations=minutes, return_periods=[2, 10],
        depths=[[0.6 * depth(FORMULA, t, 10) for t in minutes], [depth(FORMULA, t, 10) for t in minutes]],
    )  # fmt: skip
    formula, residuals = fit_formula(table)
    assert (formula.rows[1].a, formula.rows[1].b, formula.rows[1].c) == (
        pytest.approx(1500, rel=1e-3), pytest.approx(12, rel=1e-3), pytest.approx(0.85, rel=1e-3),
    )  # fmt: skip
    assert np.abs(residuals).max() < 1e-4
    bent = table.model_copy(
        update={"depths": [[d * (1.1 if k == 3 else 1) for k, d in enumerate(r)] for r in table.depths]}
    )
    _, residuals = fit_formula(bent)
    assert 0.02 < np.abs(residuals).max() < 0.1
    assert residuals.shape == (2, 7)
