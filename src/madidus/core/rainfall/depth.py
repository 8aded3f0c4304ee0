"""Depth of rain for a duration and a return period."""

import numpy as np

from ..errors import ModelError
from ..model.rain import DepthTable, IntensityFormula, Rainfall

__all__ = ["depth"]


def depth(rainfall: Rainfall, duration: float, return_period: float) -> float:
    """Rain depth in mm for a duration in min and a return period in years.

    A table is interpolated linearly in log depth over log duration and log return period. Outside it there is no
    answer: extrapolated rain is a guess.

    Raises
    ------
    ModelError
        When the duration or the return period lies outside the data.
    """
    if isinstance(rainfall, IntensityFormula):
        for row in rainfall.rows:
            if np.isclose(row.return_period, return_period):
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
