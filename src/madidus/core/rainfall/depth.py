"""Depth of rain for a duration and a return period."""

import math
from collections.abc import Callable

import numpy as np
from scipy.optimize import brentq, minimize_scalar

from ..errors import ModelError
from .rain import DepthTable, IntensityFormula, IntensityRow, Rainfall, RatioDepths

__all__ = ["curve_of", "depth", "fit_formula", "known_from", "ratio_curve", "sampled"]

_COMMON = (5.0, 10.0, 15.0, 30.0, 60.0, 120.0, 180.0, 240.0, 360.0, 480.0, 720.0, 960.0, 1440.0, 2880.0)  # min


def depth(rainfall: Rainfall, duration: float, return_period: float) -> float:
    """Rain depth in mm for a duration in min and a return period in years.

    A table is interpolated linearly in log depth over log duration and log return period. Outside it there is no
    answer: extrapolated rain is a guess.

    Raises
    ------
    ModelError
        When the duration or the return period lies outside the data.
    """
    if isinstance(rainfall, RatioDepths):
        return _by_ratio(rainfall, duration, return_period)
    if isinstance(rainfall, IntensityFormula):
        for row in rainfall.rows:
            if math.isclose(row.return_period, return_period, rel_tol=1e-5):
                return float(row.a / (duration + row.b) ** row.c * duration / 60.0)
        known = ", ".join(f"{row.return_period:g}" for row in rainfall.rows)
        raise ModelError(
            "rainfall formula", "return_period", f"has no row for {return_period:g} years (it has {known})",
            "add a row or leave the return period out of the ensemble",
        )  # fmt: skip
    table: DepthTable = rainfall
    for label, value, known_values, unit in (
        ("durations", duration, table.durations, "min"),
        ("return_periods", return_period, table.return_periods, "years"),
    ):
        low, high = known_values[0], known_values[-1]
        if not low * (1 - 1e-9) <= value <= high * (1 + 1e-9):
            raise ModelError(
                "rainfall table", label, f"{value:g} {unit} lies outside its {low:g} to {high:g} {unit}",
                "extend the table or leave this out of the ensemble",
            )  # fmt: skip
    logs = np.log(np.array(table.depths))
    across = [float(np.interp(np.log(duration), np.log(table.durations), row)) for row in logs]
    return float(np.exp(np.interp(np.log(return_period), np.log(table.return_periods), across)))


def sampled(rainfall: Rainfall) -> tuple[list[float], list[float], list[list[float | None]]]:
    """Durations (min), return periods (years) and depths (mm) to draw or read; None where the data hold no answer.

    A table gives its own; other rainfall is taken at common durations.
    """
    if isinstance(rainfall, DepthTable):
        return rainfall.durations, rainfall.return_periods, [list(row) for row in rainfall.depths]
    if isinstance(rainfall, IntensityFormula):
        periods = sorted(row.return_period for row in rainfall.rows)
    else:
        periods = sorted([*rainfall.return_periods, 5.0])

    def at(duration: float, period: float) -> float | None:
        try:
            return depth(rainfall, duration, period)
        except ModelError:
            return None

    return list(_COMMON), periods, [[at(duration, period) for duration in _COMMON] for period in periods]


def ratio_curve(depth_60: float, ratio: float, b: float) -> tuple[float, float]:
    """Intensity I0 (mm/h) and exponent n of I = I0 / (1 + B t)^n, t in h, B per h.

    The 60-minute depth is given, and the 48-hour depth is that over the ratio r.
    """
    n = float(np.log(48.0 * ratio) / np.log((1.0 + 48.0 * b) / (1.0 + b)))
    return depth_60 * (1.0 + b) ** n, n


def _five(rain: RatioDepths, hours: float) -> float:
    """Depth of five years, mm."""
    i0, n = ratio_curve(rain.depth, rain.ratio, rain.b)
    return float(i0 / (1.0 + rain.b * hours) ** n * hours)


def _by_ratio(rain: RatioDepths, duration: float, return_period: float) -> float:
    hours = duration / 60.0
    if not 1.0 / 60.0 <= hours <= 48.0 * (1 + 1e-9):
        raise ModelError(
            "rainfall by ratio", "durations", f"{duration:g} min lies outside its 1 to 2880 min",
            "leave this duration out of the ensemble",
        )  # fmt: skip
    five = _five(rain, hours)
    if math.isclose(return_period, 5.0, rel_tol=1e-5):
        return float(five)
    periods = np.array(rain.return_periods)
    if not periods[0] * (1 - 1e-9) <= return_period <= periods[-1] * (1 + 1e-9):
        raise ModelError(
            "growth factors", "return_periods",
            f"{return_period:g} years lies outside their {periods[0]:g} to {periods[-1]:g} years",
            "add a column or leave this out of the ensemble",
        )  # fmt: skip
    rows = np.array([row.depth for row in rain.growth])
    if not rows[0] * (1 - 1e-9) <= five <= rows[-1] * (1 + 1e-9):
        raise ModelError(
            "growth factors", "growth",
            f"{five:.1f} mm ({duration:g} min, 5 years) lies outside their {rows[0]:g} to {rows[-1]:g} mm",
            "add a row for that depth, or leave this duration out of the ensemble",
        )  # fmt: skip
    columns = [float(np.interp(five, rows, [row.factors[j] for row in rain.growth])) for j in range(len(periods))]
    # the factor of five years is 1: a fixed point of the curve between the columns
    place = np.searchsorted(periods, 5.0)
    known = np.insert(periods, place, 5.0) if periods[0] < 5.0 < periods[-1] else periods
    factors = np.insert(columns, place, 1.0) if known is not periods else np.array(columns)
    return float(five * np.interp(np.log(return_period), np.log(known), factors))


def known_from(rainfall: Rainfall) -> float:
    """The shortest duration (min) for which the data hold depths: below it `curve_of` goes on; 0 of a formula."""
    return 0.0 if isinstance(rainfall, IntensityFormula) else _first_two(rainfall)[0]


def _first_two(rainfall: Rainfall) -> tuple[float, float]:
    """The shortest duration (min) for which the data hold depths, and another."""
    if isinstance(rainfall, DepthTable):
        return rainfall.durations[0], rainfall.durations[min(1, len(rainfall.durations) - 1)]
    assert isinstance(rainfall, RatioDepths)
    least = rainfall.growth[0].depth
    if _five(rainfall, 1.0 / 60.0) >= least:
        return 1.0, 2.0
    first = 60.0 * float(brentq(lambda hours: _five(rainfall, hours) - least, 1.0 / 60.0, 48.0)) * (1 + 1e-9)
    return first, min(2.0 * first, 2880.0)


def curve_of(rainfall: Rainfall, return_period: float) -> Callable[[np.ndarray], np.ndarray]:
    """Depth (mm) by duration (min, arrays) from zero on, for shapes that follow the depth–duration curve.

    Below the shortest duration that the data hold, intensity goes on as the power law of their first two; to nothing
    at 0. Nothing is looked up before it is asked for.
    """
    if isinstance(rainfall, IntensityFormula):
        return lambda minutes: np.array([depth(rainfall, float(t), return_period) if t > 0 else 0.0 for t in minutes])

    def depths(minutes: np.ndarray) -> np.ndarray:
        shortest, second = _first_two(rainfall)
        first = depth(rainfall, shortest, return_period)
        power = 1.0
        if second > shortest:
            power = float(np.log(depth(rainfall, second, return_period) / first) / np.log(second / shortest))
        return np.array(
            [
                depth(rainfall, float(t), return_period) if t >= shortest else first * (t / shortest) ** power
                for t in minutes
            ]
        )

    return depths


def fit_formula(table: DepthTable) -> tuple[IntensityFormula, np.ndarray]:
    """The a/(t+b)^c that lies nearest to a table in the logarithm of intensity, row by row; and the residuals.

    Returns the formula, and depth of the formula over depth of the table less 1, (return periods, durations).

    Raises
    ------
    ModelError
        When the table has fewer than three durations.
    """
    t = np.array(table.durations)
    if len(t) < 3:
        raise ModelError("rainfall table", "durations", f"are {len(t)}: too few for a fit", "give three at least")
    rows, residuals = [], []
    for period, depths in zip(table.return_periods, table.depths, strict=True):
        intensity = np.log(np.array(depths) / t * 60.0)

        def error(b: float, intensity: np.ndarray = intensity) -> float:
            line = np.polyfit(np.log(t + b), intensity, 1)
            return float(((np.polyval(line, np.log(t + b)) - intensity) ** 2).sum())

        b = float(minimize_scalar(error, bounds=(0.0, 120.0), method="bounded", options={"xatol": 1e-6}).x)
        slope, start = np.polyfit(np.log(t + b), intensity, 1)
        c = float(min(max(-slope, 1e-3), 1.5))
        a = float(np.exp(np.mean(intensity + c * np.log(t + b)))) if c != -slope else float(np.exp(start))
        rows.append(IntensityRow(return_period=period, a=a, b=b, c=c))
        residuals.append(a / (t + b) ** c * t / 60.0 / np.array(depths) - 1.0)
    source = f"fitted to a table{': ' + table.source if table.source else ''}"[:500]
    return IntensityFormula(rows=rows, source=source), np.array(residuals)
