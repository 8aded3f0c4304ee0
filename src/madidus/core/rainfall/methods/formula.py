"""Rain by an intensity formula."""

import math
from typing import Literal

import numpy as np
from pydantic import Field
from scipy.optimize import minimize_scalar

from ...elements.document import DocumentModel, Positive
from ...errors import ModelError
from .base import Basis, RainfallBase, Years
from .table import DepthTable

__all__ = ["IntensityFormula", "IntensityRow", "fit_formula"]


class IntensityRow(DocumentModel):
    """Coefficients of one return period."""

    return_period: Years = Field(description="years")
    a: Positive = Field(le=1e7, description="mm/h · min^c")
    b: float = Field(ge=0, le=10_000, description="min")
    c: float = Field(gt=0, le=1.5)


class IntensityFormula(RainfallBase):
    """Mean intensity a/(t+b)^c in mm/h, t in minutes, one row for each return period."""

    kind: Literal["formula"] = "formula"
    rows: list[IntensityRow] = Field(min_length=1, max_length=50)

    def basis(self) -> Basis:
        """The formula, with its coefficients by return period."""
        return Basis(
            "Mean intensity a/(t + b)^c, with a in the unit that is told and t in minutes:", "Coefficients",
            [("Return period", "", None), ("a", "mm/h", 3), ("b", "min", None), ("c", "", None)],
            [[f"{row.return_period:g} yr", row.a, row.b, row.c] for row in self.rows],
        )  # fmt: skip

    def depth_at(self, duration: float, return_period: float) -> float:
        """Of the row of the return period; between rows there is no answer."""
        for row in self.rows:
            if math.isclose(row.return_period, return_period, rel_tol=1e-5):
                return float(row.a / (duration + row.b) ** row.c * duration / 60.0)
        known = ", ".join(f"{row.return_period:g}" for row in self.rows)
        raise ModelError(
            "rainfall formula", "return_period", f"has no row for {return_period:g} years (it has {known})",
            "add a row or leave the return period out of the ensemble",
        )  # fmt: skip

    def periods(self) -> list[float]:
        """Of its rows."""
        return sorted(row.return_period for row in self.rows)

    def first_two(self) -> None:
        """Any duration has a depth."""


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
