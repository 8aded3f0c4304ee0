"""Depths, shapes and losses where no reference case looks: other data, other intervals, dry spells."""

import numpy as np
import pytest

from madidus.core.errors import ModelError
from madidus.core.rainfall.methods import DepthTable, GrowthRow, IntensityFormula, RatioDepths, fit_formula
from madidus.core.rainfall.shapes import Alternating, Block, Chicago, Cumulative, MassCurve, Triangle
from madidus.core.surface.losses import horton
from madidus.core.surface.unit_hydrograph import STANDARD, ordinates

FORMULA = IntensityFormula(rows=[{"return_period": 10, "a": 1500, "b": 12, "c": 0.85}])
GROWTH = RatioDepths(
    depth=20.0, ratio=0.4, return_periods=[1, 2, 10, 20, 50, 100],
    growth=[GrowthRow(depth=20, factors=[0.64, 0.81, 1.24, 1.45, 1.73, 2.03]),
            GrowthRow(depth=30, factors=[0.68, 0.83, 1.22, 1.42, 1.7, 1.97])],
)  # fmt: skip


def nothing(minutes: np.ndarray) -> np.ndarray:
    raise AssertionError("this shape needs no depth–duration curve")


@pytest.mark.parametrize("peak_factor", [100.0, 300.0, STANDARD, 600.0])
def test_a_unit_hydrograph_holds_one_millimetre_whatever_its_peak_factor(peak_factor):
    q = ordinates(150.0 + 0.6 * 3600.0, 300.0, peak_factor)
    assert q.sum() * 300.0 == pytest.approx(1e-3, rel=1e-12)
    # peak: factor / 484 of the standard one, 0.208 A / Tp
    to_peak = (150.0 + 0.6 * 3600.0) / 3600.0
    assert q.max() == pytest.approx(0.208e-6 / to_peak * peak_factor / STANDARD, rel=0.03)


@pytest.mark.parametrize("dry", [[7200.0], [3600.0, 3600.0], [600.0, 6600.0]])
def test_hortons_capacity_recovers_by_its_closed_form_however_a_dry_spell_is_cut(dry):
    """Under rain above f0 an hour takes fc + (f - fc) (1 - e^-k)/k; then f -> f0 - (f0 - f) e^(-r t) for two hours."""
    f0, fc, k, r, rain = 75.0, 12.0, 4.0, 0.6, 90.0
    times = np.cumsum([0.0, 3600.0, *dry, 3600.0])
    excess, ponds = horton(times, np.array([rain, *[0.0] * len(dry), rain]), f0, fc, k, recovery=r)
    hour = lambda f: rain - (fc + (f - fc) * -np.expm1(-k) / k)  # noqa: E731
    after = fc + (f0 - fc) * np.exp(-k)
    assert ponds == 0.0
    assert excess[0] == pytest.approx(hour(f0), rel=1e-9)
    assert excess[-1] == pytest.approx(hour(f0 - (f0 - after) * np.exp(-r * 2.0)), rel=1e-9)
    assert excess[1:-1].tolist() == [0.0] * len(dry)


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


def test_other_shapes_keep_their_depth_whatever_the_interval():
    points = [
        {"time": 0, "depth": 0},
        {"time": 0.3, "depth": 0.1},
        {"time": 0.5, "depth": 0.8},
        {"time": 1, "depth": 1},
    ]
    for shape in (Block(), Triangle(peak=0.3), Cumulative(points=points), MassCurve(type="II")):
        for steps in (5, 17, 48):
            blocks = shape.increments(steps, 60.0, nothing)
            assert blocks.sum() == pytest.approx(1.0, rel=1e-12)
            assert (blocks >= 0).all()
    triangle = Triangle(peak=0.25).increments(400, 60.0, nothing)
    assert triangle.argmax() in (99, 100)
    assert triangle.max() * 400 == pytest.approx(2.0, rel=0.01)


def test_shapes_that_follow_the_curve_do_so_on_a_table_as_well():
    minutes = [5, 10, 15, 20, 25, 30, 40, 50, 60, 120]
    table = DepthTable(
        durations=minutes, return_periods=[2, 10], depths=[[0.5 * FORMULA.depth_at(t, 10) for t in minutes],
                                                           [FORMULA.depth_at(t, 10) for t in minutes]],
    )  # fmt: skip
    for shape in (Alternating(peak=0.5), Chicago(peak=0.4)):
        by_formula = shape.increments(12, 60.0, FORMULA.curve(10))
        by_table = shape.increments(12, 60.0, table.curve(10))
        assert by_table == pytest.approx(by_formula, rel=0.06)


def test_a_fit_gives_the_formula_back_and_says_how_far_off_it_is():
    minutes = [5, 10, 15, 30, 60, 120, 360]
    table = DepthTable(
        durations=minutes, return_periods=[2, 10],
        depths=[[0.6 * FORMULA.depth_at(t, 10) for t in minutes], [FORMULA.depth_at(t, 10) for t in minutes]],
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


def test_table_is_linear_in_logarithms_and_ends_where_it_ends():
    table = DepthTable(durations=[15, 60], return_periods=[2, 50], depths=[[10, 20], [20, 40]])
    assert table.depth_at(30, 2) == pytest.approx(200**0.5)
    assert table.depth_at(15, 10) == pytest.approx(200**0.5)
    for duration, period in ((10, 2), (90, 2), (30, 1), (30, 100)):
        with pytest.raises(ValueError, match="outside"):
            table.depth_at(duration, period)


@pytest.mark.parametrize(("minutes", "years"), [(15, 10), (60, 200), (4000, 10)])
def test_growth_factors_are_not_carried_beyond_their_rows(minutes, years):
    with pytest.raises(ModelError, match="outside"):
        GROWTH.depth_at(minutes, years)


def test_what_is_drawn_has_holes_where_nothing_is_known():
    durations, periods, depths = GROWTH.sampled()
    assert periods == [1, 2, 5, 10, 20, 50, 100]
    assert depths[periods.index(5)][durations.index(60)] == pytest.approx(20)
    assert depths[periods.index(10)][durations.index(15)] is None  # its 5-year depth is under the first row


@pytest.mark.parametrize("shape", [Alternating(peak=0.5), Chicago(peak=0.4), Block()])
def test_storms_by_ratio_reach_below_the_first_row_of_growth_as_a_power_law(shape):
    """15 minutes of five years are 12.8 mm, under the first row of 20 mm."""
    curve = GROWTH.curve(30)
    blocks = shape.increments(12, 60.0, curve)
    assert blocks.sum() == pytest.approx(1.0)
    near = curve(np.array([30.0, 58.0, 60.0]))
    assert (np.diff(near) > 0).all()
    assert curve(np.array([0.0]))[0] == 0.0
    assert near[2] == pytest.approx(GROWTH.depth_at(60, 30))


@pytest.mark.parametrize(("peak", "place"), [(0.01, 0), (0.25, 2), (0.5, 5), (0.99, 11)])
def test_alternating_blocks_fall_away_on_both_sides_of_their_peak(peak, place):
    blocks = Alternating(peak=peak).increments(12, 60.0, FORMULA.curve(10))
    assert blocks.argmax() == place
    assert (np.diff(blocks[: place + 1]) > 0).all()
    assert (np.diff(blocks[place:]) < 0).all()
    by_size = np.sort(np.diff([0.0, *(FORMULA.depth_at(5.0 * k, 10) for k in range(1, 13))]))
    assert np.sort(blocks) == pytest.approx(by_size / by_size.sum())


def test_a_unit_hydrograph_is_followed_to_its_end_and_an_offset_shifts_it():
    for peak_factor in (100.0, STANDARD):
        q = ordinates(3600.0, 300.0, peak_factor)
        assert q[-1] < 1e-2 * q.max()  # nothing of weight is cut off
        assert len(q) <= 5.0 * max(1.0, STANDARD / peak_factor) * 12 + 2  # nor endless nothing carried along
    on, half = ordinates(3600.0, 300.0), ordinates(3600.0, 300.0, offset=0.5)
    middle = [float((q * np.arange(len(q))).sum() / q.sum()) for q in (on, half)]
    assert middle[1] - middle[0] == pytest.approx(0.5, abs=0.01)


def test_growth_and_tables_hold_at_their_very_ends():
    assert GROWTH.depth_at(60, 100) == pytest.approx(20.0 * 2.03)
    assert GROWTH.depth_at(60, 1) == pytest.approx(20.0 * 0.64)
    with pytest.raises(ModelError, match="100"):
        GROWTH.depth_at(60, 100.1)


def test_a_fit_names_the_table_that_it_was_made_of_and_wants_three_durations():
    table = DepthTable(
        durations=[10, 30, 60], return_periods=[10], depths=[[FORMULA.depth_at(t, 10) for t in (10, 30, 60)]], source="gauge",
    )  # fmt: skip
    assert fit_formula(table)[0].source == "fitted to a table: gauge"
    assert fit_formula(table.model_copy(update={"source": ""}))[0].source == "fitted to a table"
    few = DepthTable(durations=[10, 60], return_periods=[10], depths=[[10.0, 20.0]])
    with pytest.raises(ModelError, match=r"rainfall table, durations: are 2: too few"):
        fit_formula(few)


def test_below_the_shortest_duration_depth_goes_on_as_the_power_law_of_the_first_two():
    """Twice the depth in four times the time: the root of the duration, down to nothing."""
    table = DepthTable(durations=[15, 60], return_periods=[2], depths=[[10.0, 20.0]])
    assert table.curve(2)(np.array([0.0, 3.75, 15.0, 60.0])) == pytest.approx([0.0, 5.0, 10.0, 20.0])
    assert table.known_from() == 15.0
