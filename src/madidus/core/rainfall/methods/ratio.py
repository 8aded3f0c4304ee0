"""Rain by the ratio of two depths of five years, and growth factors."""

import itertools
import math
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, model_validator
from scipy.optimize import brentq

from ...elements.document import DocumentModel, Positive
from ...errors import ModelError
from ...quantities import Quantity, said
from .base import Basis, Depth, RainfallBase, Years

__all__ = ["GrowthRow", "RatioDepths", "ratio_curve"]


def ratio_curve(depth_60: float, ratio: float, b: float) -> tuple[float, float]:
    """Intensity I0 (mm/h) and exponent n of I = I0 / (1 + B t)^n, t in h, B per h.

    The 60-minute depth is given, and the 48-hour depth is that over the ratio r.
    """
    n = float(np.log(48.0 * ratio) / np.log((1.0 + 48.0 * b) / (1.0 + b)))
    return depth_60 * (1.0 + b) ** n, n


class GrowthRow(DocumentModel):
    """Growth factors of one 5-year depth, in the order of the return periods."""

    depth: Depth = Field(description="mm, 5-year depth of the same duration")
    factors: list[Annotated[float, Field(gt=0, le=100)]] = Field(min_length=1, max_length=30)


class RatioDepths(RainfallBase):
    """Depths from the 60-minute 5-year depth and the ratio r of it to the 48-hour 5-year depth, with growth factors.

    I = I0 / (1 + B t)^n fixes depths of five years; other return periods are factors of them by the depth itself.
    """

    kind: Literal["ratio"] = "ratio"
    depth: Positive = Field(le=500, description="mm in 60 min, 5 years")
    ratio: float = Field(gt=0.05, lt=1.0, description="60-min 5-year depth over 48-h 5-year depth")
    b: Positive = Field(15.0, le=100, description="per hour")
    return_periods: list[Years] = Field(min_length=1, max_length=30, description="years, rising, without 5")
    growth: list[GrowthRow] = Field(min_length=1, max_length=50, description="by rising depth")

    @model_validator(mode="after")
    def _is_whole(self) -> Self:
        if any(b <= a for a, b in itertools.pairwise(self.return_periods)) or 5.0 in self.return_periods:
            raise ValueError("growth factors: return periods must rise and leave 5 years out, whose factor is 1")
        if any(b.depth <= a.depth for a, b in itertools.pairwise(self.growth)):
            raise ValueError("growth factors: depths must rise from row to row; sort or correct them")
        for row in self.growth:
            if len(row.factors) != len(self.return_periods):
                raise ValueError(
                    f"growth factors, {row.depth:g} mm: {len(row.factors)} for {len(self.return_periods)} return "
                    "periods; give one for each"
                )
        return self

    def basis(self) -> Basis:
        """The depth, the ratio and the growth factors."""
        return Basis(
            said(
                "Depths from ", Quantity(self.depth, "mm"), " in 60 minutes at 5 years and the ratio "
                f"{self.ratio:g} of it to that of 48 hours, b = {self.b:g} per hour, with growth factors.",
            ), "Growth factors",
            [("5-year depth", "mm", None), *((f"× at {period:g} yr", "", None) for period in self.return_periods)],
            [[row.depth, *row.factors] for row in self.growth],
        )  # fmt: skip

    def five_years(self, hours: float) -> float:
        """Depth of five years, mm."""
        i0, n = ratio_curve(self.depth, self.ratio, self.b)
        return float(i0 / (1.0 + self.b * hours) ** n * hours)

    def depth_at(self, duration: float, return_period: float) -> float:
        """The depth of five years times the factor of that depth, linear in the logarithm of the return period."""
        hours = duration / 60.0
        if not 1.0 / 60.0 <= hours <= 48.0 * (1 + 1e-9):
            raise ModelError(
                "rainfall by ratio", "durations", f"{duration:g} min lies outside its 1 to 2880 min",
                "leave this duration out of the ensemble",
            )  # fmt: skip
        five = self.five_years(hours)
        if math.isclose(return_period, 5.0, rel_tol=1e-5):
            return float(five)
        periods = np.array(self.return_periods)
        if not periods[0] * (1 - 1e-9) <= return_period <= periods[-1] * (1 + 1e-9):
            raise ModelError(
                "growth factors", "return_periods",
                f"{return_period:g} years lies outside their {periods[0]:g} to {periods[-1]:g} years",
                "add a column or leave this out of the ensemble",
            )  # fmt: skip
        rows = np.array([row.depth for row in self.growth])
        if not rows[0] * (1 - 1e-9) <= five <= rows[-1] * (1 + 1e-9):
            raise ModelError(
                "growth factors", "growth",
                f"{five:.1f} mm ({duration:g} min, 5 years) lies outside their {rows[0]:g} to {rows[-1]:g} mm",
                "add a row for that depth, or leave this duration out of the ensemble",
            )  # fmt: skip
        columns = [float(np.interp(five, rows, [row.factors[j] for row in self.growth])) for j in range(len(periods))]
        # the factor of five years is 1: a fixed point of the curve between the columns
        place = np.searchsorted(periods, 5.0)
        known = np.insert(periods, place, 5.0) if periods[0] < 5.0 < periods[-1] else periods
        factors = np.insert(columns, place, 1.0) if known is not periods else np.array(columns)
        return float(five * np.interp(np.log(return_period), np.log(known), factors))

    def periods(self) -> list[float]:
        """Of its factors, and five years."""
        return sorted([*self.return_periods, 5.0])

    def first_two(self) -> tuple[float, float]:
        """From where its growth factors hold the depth of five years."""
        least = self.growth[0].depth
        if self.five_years(1.0 / 60.0) >= least:
            return 1.0, 2.0
        first = 60.0 * float(brentq(lambda hours: self.five_years(hours) - least, 1.0 / 60.0, 48.0)) * (1 + 1e-9)
        return first, min(2.0 * first, 2880.0)
