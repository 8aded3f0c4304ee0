"""Rain depths by duration and return period."""

import itertools
from typing import Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ...errors import ModelError
from .base import Depth, Minutes, RainfallBase, Years

__all__ = ["DepthTable"]


class DepthTable(RainfallBase):
    """Rain depth by duration and return period; `depths[i][j]` is for return period i and duration j."""

    kind: Literal["table"] = "table"
    durations: list[Minutes] = Field(min_length=1, max_length=200, description="min, rising")
    return_periods: list[Years] = Field(min_length=1, max_length=50, description="years, rising")
    depths: list[list[Depth]] = Field(max_length=50, description="mm")

    @model_validator(mode="after")
    def _is_whole(self) -> Self:
        for label, values in (("durations", self.durations), ("return periods", self.return_periods)):
            if any(b <= a for a, b in itertools.pairwise(values)):
                raise ValueError(f"rainfall table, {label}: must rise from one to the next; sort or correct them")
        if len(self.depths) != len(self.return_periods):
            raise ValueError(
                f"rainfall table, depths: {len(self.depths)} rows for {len(self.return_periods)} return periods; "
                "give one row for each"
            )
        for period, row in zip(self.return_periods, self.depths, strict=True):
            if len(row) != len(self.durations):
                raise ValueError(
                    f"rainfall table, {period:g}-year row: {len(row)} depths for {len(self.durations)} durations; "
                    "fill the holes"
                )
            for duration, a, b in zip(self.durations[1:], row, row[1:], strict=False):
                if b < a:
                    raise ValueError(
                        f"rainfall table, {period:g}-year row: {b:g} mm at {duration:g} min is less than the {a:g} mm "
                        "of a shorter duration; correct it"
                    )
        for i in range(1, len(self.depths)):
            for duration, a, b in zip(self.durations, self.depths[i - 1], self.depths[i], strict=True):
                if b < a:
                    raise ValueError(
                        f"rainfall table, {duration:g} min: {b:g} mm at {self.return_periods[i]:g} years is less than "
                        f"{a:g} mm at {self.return_periods[i - 1]:g} years; correct it"
                    )
        return self

    def depth_at(self, duration: float, return_period: float) -> float:
        """Linear in log depth over log duration and log return period."""
        for label, value, known, unit in (
            ("durations", duration, self.durations, "min"),
            ("return_periods", return_period, self.return_periods, "years"),
        ):
            low, high = known[0], known[-1]
            if not low * (1 - 1e-9) <= value <= high * (1 + 1e-9):
                raise ModelError(
                    "rainfall table", label, f"{value:g} {unit} lies outside its {low:g} to {high:g} {unit}",
                    "extend the table or leave this out of the ensemble",
                )  # fmt: skip
        logs = np.log(np.array(self.depths))
        across = [float(np.interp(np.log(duration), np.log(self.durations), row)) for row in logs]
        return float(np.exp(np.interp(np.log(return_period), np.log(self.return_periods), across)))

    def periods(self) -> list[float]:
        """Of its rows."""
        return self.return_periods

    def first_two(self) -> tuple[float, float]:
        """Of its columns."""
        return self.durations[0], self.durations[min(1, len(self.durations) - 1)]

    def sampled(self) -> tuple[list[float], list[float], list[list[float | None]]]:
        """The table."""
        return self.durations, self.return_periods, [list(row) for row in self.depths]
