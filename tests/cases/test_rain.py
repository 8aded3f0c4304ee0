"""Reference cases of storms, runoff and verdicts."""

import numpy as np
import pytest

from madidus.core.model.brief import Freeboard, Outflow, WaterBelowCover
from madidus.core.model.rain import DepthTable, IntensityFormula
from madidus.core.model.shapes import Bell
from madidus.core.rainfall.depth import depth
from madidus.core.rainfall.shapes import increments
from madidus.core.runoff.time_area import mean_intensity
from madidus.core.verdict import Margin

BELLS = [
    (Bell(a=0.06, b=1.026), 12, 25.0, 60, 57.57659, 0.7966158),
    (Bell(a=0.06, b=1.026), 15, 38.0, 180, 32.41775, 0.7966158),
    (Bell(a=0.1, b=0.815), 12, 25.0, 60, 69.01528, 0.8109537),
    (Bell(a=0.1, b=0.815), 15, 38.0, 180, 47.2456, 0.8109537),
]


@pytest.mark.parametrize(("shape", "steps", "total", "minutes", "peak", "central_half"), BELLS)
def test_symmetric_bell(shape, steps, total, minutes, peak, central_half):
    """Case C3."""
    blocks = increments(shape, steps, minutes, np.zeros_like) * total
    assert blocks.sum() == pytest.approx(total, rel=1e-12)
    assert blocks == pytest.approx(blocks[::-1])
    assert blocks.max() * 60 / (minutes / steps) == pytest.approx(peak, rel=0.005)
    fine = increments(shape, 4000, minutes, np.zeros_like)
    assert fine[1000:3000].sum() == pytest.approx(central_half, abs=0.001)


def test_linear_time_area():
    """Case C6."""
    times = np.arange(13) * 300.0
    rain = np.array([6, 12, 20, 36, 60, 84, 48, 30, 18, 12, 6, 3], float)
    at = np.array([10, 20, 27, 30, 32, 40]) * 60.0
    flow = mean_intensity(times, rain, 720.0, at) * 0.75 * 3.2 / 360
    assert flow == pytest.approx([0.05, 0.1688889, 0.36, 0.44, 0.4533333, 0.31], rel=0.005)
    fine = np.arange(0, 7200, 5.0)
    series = mean_intensity(times, rain, 720.0, fine) * 0.75 * 3.2 / 360
    assert np.trapezoid(series, fine) == pytest.approx(670.0, rel=0.002)


@pytest.mark.parametrize(("minutes", "intensity"), [(8.0, 117.5481), (10.5, 106.3497), (14.0, 94.05111)])
def test_intensity_formula(minutes, intensity):
    """Case C11."""
    rows = IntensityFormula(rows=[{"return_period": 10, "a": 1500, "b": 12, "c": 0.85}])
    assert depth(rows, minutes, 10) * 60 / minutes == pytest.approx(intensity, rel=0.002)


def test_table_is_linear_in_logarithms_and_ends_where_it_ends():
    table = DepthTable(durations=[15, 60], return_periods=[2, 50], depths=[[10, 20], [20, 40]])
    assert depth(table, 30, 2) == pytest.approx(200**0.5)
    assert depth(table, 15, 10) == pytest.approx(200**0.5)
    for duration, period in ((10, 2), (90, 2), (30, 1), (30, 100)):
        with pytest.raises(ValueError, match="outside"):
            depth(table, duration, period)


@pytest.mark.parametrize(
    ("margin", "scale", "state"),
    [(0.0002, 0.0042, "tight"), (0.0, 0.011, "tight"), (-0.0003, 0.015, "fails"), (1.62, 2.0, "meets")],
)
def test_equal_to_the_limit_passes(margin, scale, state):
    """Case D3."""
    assert Margin(margin, scale, "x", 0.0).state == state


def test_criteria_have_defaults_that_ask_nothing_odd():
    assert WaterBelowCover(name="a", return_period=30).clearance == 0.0
    assert Freeboard(name="a", return_period=30).clearance == 0.3
    with pytest.raises(ValueError, match="greater than 0"):
        Outflow(name="a", return_period=30, limit=-1, element="00000000-0000-4000-8000-000000000001")
