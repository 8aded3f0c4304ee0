"""Rainfall of the region: depths by duration and return period, what area takes off them, and the storms of it."""

import itertools
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from ..elements.document import DocumentModel, Name, Positive
from ..surface.runoff import Runoff
from .ensemble import Ensemble, GivenStorm, ShortName, StormBlock

__all__ = [
    "ArealByDuration", "ArealFactor", "ArealFormula", "ArealReduction", "DepthTable", "FurtherStorms", "GrowthRow",
    "IntensityFormula", "IntensityRow", "Rain", "Rainfall", "RatioDepths",
]  # fmt: skip


_Minutes = Annotated[float, Field(gt=0, le=100_000)]
_Years = Annotated[float, Field(gt=0, le=1e6)]
_Depth = Annotated[float, Field(gt=0, le=10_000)]


class DepthTable(DocumentModel):
    """Rain depth by duration and return period; `depths[i][j]` is for return period i and duration j."""

    kind: Literal["table"] = "table"
    durations: list[_Minutes] = Field(min_length=1, max_length=200, description="min, rising")
    return_periods: list[_Years] = Field(min_length=1, max_length=50, description="years, rising")
    depths: list[list[_Depth]] = Field(max_length=50, description="mm")
    source: str = Field("", max_length=500)

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


class IntensityRow(DocumentModel):
    """Coefficients of one return period."""

    return_period: _Years = Field(description="years")
    a: Positive = Field(le=1e7, description="mm/h · min^c")
    b: float = Field(ge=0, le=10_000, description="min")
    c: float = Field(gt=0, le=1.5)


class IntensityFormula(DocumentModel):
    """Mean intensity a/(t+b)^c in mm/h, t in minutes, one row for each return period."""

    kind: Literal["formula"] = "formula"
    rows: list[IntensityRow] = Field(min_length=1, max_length=50)
    source: str = Field("", max_length=500)


class GrowthRow(DocumentModel):
    """Growth factors of one 5-year depth, in the order of the return periods."""

    depth: _Depth = Field(description="mm, 5-year depth of the same duration")
    factors: list[Annotated[float, Field(gt=0, le=100)]] = Field(min_length=1, max_length=30)


class RatioDepths(DocumentModel):
    """Depths from the 60-minute 5-year depth and the ratio r of it to the 48-hour 5-year depth, with growth factors.

    I = I0 / (1 + B t)^n fixes depths of five years; other return periods are factors of them by the depth itself.
    """

    kind: Literal["ratio"] = "ratio"
    depth: Positive = Field(le=500, description="mm in 60 min, 5 years")
    ratio: float = Field(gt=0.05, lt=1.0, description="60-min 5-year depth over 48-h 5-year depth")
    b: Positive = Field(15.0, le=100, description="per hour")
    return_periods: list[_Years] = Field(min_length=1, max_length=30, description="years, rising, without 5")
    growth: list[GrowthRow] = Field(min_length=1, max_length=50, description="by rising depth")
    source: str = Field("", max_length=500)

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


Rainfall = Annotated[DepthTable | IntensityFormula | RatioDepths, Field(discriminator="kind")]


class ArealFactor(DocumentModel):
    """Areal over point depth, of one duration."""

    duration: _Minutes = Field(description="min")
    factor: float = Field(gt=0, le=1, description="areal over point depth")


class ArealByDuration(DocumentModel):
    """Factors typed; between them linear in the logarithm of the duration, outside them the nearest."""

    kind: Literal["typed"] = "typed"
    rows: list[ArealFactor] = Field(min_length=1, max_length=60, description="by rising duration")

    @model_validator(mode="after")
    def _rises(self) -> Self:
        if any(b.duration <= a.duration for a, b in itertools.pairwise(self.rows)):
            raise ValueError("areal factors: durations must rise from row to row; sort or correct them")
        return self


class ArealFormula(DocumentModel):
    """A published formula of area and duration.

    'power': 1 − b D^−a with D in h and a, b by area (Keers and Wescott 1977). 'exponential': 1 − e^(−1.1 D^¼) +
    e^(−1.1 D^¼ − 0.01 A), D in h, A in square miles (Leclerc and Schaake 1972, after US TP-29).
    """

    kind: Literal["formula"] = "formula"
    form: Literal["power", "exponential"] = "power"
    area: float = Field(gt=0, le=1.1e9, description="m2 over which the storm rains")


ArealReduction = Annotated[ArealByDuration | ArealFormula, Field(discriminator="kind")]


class FurtherStorms(StormBlock):
    """Storms besides the main ones, of the same rainfall or of one of their own; their keys end with their name."""

    name: ShortName
    rainfall: Rainfall | None = Field(None, description="none: the project's")


class Rain(DocumentModel):
    """Rainfall, the storms that are made of it, and how they run off."""

    rainfall: Rainfall | None = None
    areal: ArealReduction | None = Field(None, description="applied to point depths, before the allowance")
    ensemble: Ensemble = Field(default_factory=Ensemble)
    further: list[FurtherStorms] = Field(default_factory=list, max_length=20)
    given: list[GivenStorm] = Field(default_factory=list, max_length=500)
    excluded: list[str] = Field(default_factory=list, max_length=5000, description="keys of storms that are not run")
    interval: float | None = Field(
        None,
        ge=0.1,
        le=60,
        description="min, longest interval of a storm; none: a fifth of the quickest catchment's time",
    )
    runoff: Runoff = Field(default_factory=Runoff)
    place: Name | None = None

    @model_validator(mode="after")
    def _names_differ(self) -> Self:
        for what, names in (
            ("further storms", [block.name for block in self.further]), ("given storms", [s.name for s in self.given]),
        ):  # fmt: skip
            twice = next((name for name in names if names.count(name) > 1), None)
            if twice is not None:
                raise ValueError(f"{what}: “{twice}” is there twice; give each its own name")
        return self
