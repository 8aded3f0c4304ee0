"""Rainfall of the region, storm shapes and the ensemble."""

import itertools
from typing import Annotated, Literal, Self

from pydantic import Field, StringConstraints, model_validator

from .base import Name, Part, Positive, Share
from .runoff import Runoff

__all__ = [
    "Alternating", "Bell", "Block", "Chicago", "Cumulative", "DepthTable", "Ensemble", "GrowthRow", "IntensityFormula",
    "IntensityRow", "MassCurve", "Rain", "Rainfall", "RatioDepths", "Shape", "TemporalPattern", "Triangle",
]  # fmt: skip


class DepthTable(Part):
    """Rain depth by duration and return period; `depths[i][j]` is for return period i and duration j."""

    kind: Literal["table"] = "table"
    durations: list[Positive] = Field(min_length=1, max_length=200, description="min, rising")
    return_periods: list[Positive] = Field(min_length=1, max_length=50, description="years, rising")
    depths: list[list[Positive]] = Field(description="mm")
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


class IntensityRow(Part):
    return_period: Positive = Field(description="years")
    a: Positive = Field(description="mm/h · min^c")
    b: float = Field(ge=0, description="min")
    c: float = Field(gt=0, le=1.5)


class IntensityFormula(Part):
    """Mean intensity a/(t+b)^c in mm/h, t in minutes, one row for each return period."""

    kind: Literal["formula"] = "formula"
    rows: list[IntensityRow] = Field(min_length=1, max_length=50)
    source: str = Field("", max_length=500)


class GrowthRow(Part):
    """Growth factors of one 5-year depth, in the order of the return periods."""

    depth: Positive = Field(description="mm, 5-year depth of the same duration")
    factors: list[Positive] = Field(min_length=1, max_length=30)


class RatioDepths(Part):
    """Depths from the 60-minute 5-year depth and the ratio r of it to the 48-hour 5-year depth, with growth factors.

    I = I0 / (1 + B t)^n fixes depths of five years; other return periods are factors of them by the depth itself.
    """

    kind: Literal["ratio"] = "ratio"
    depth: Positive = Field(le=500, description="mm in 60 min, 5 years")
    ratio: float = Field(gt=0.05, lt=1.0, description="60-min 5-year depth over 48-h 5-year depth")
    b: Positive = Field(15.0, le=100, description="per hour")
    return_periods: list[Positive] = Field(min_length=1, max_length=30, description="years, rising, without 5")
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


class Bell(Part):
    """Symmetric bell: the central fraction x of the duration holds (1 − a^z)/(1 − a) of the depth, z = x^b."""

    kind: Literal["bell"] = "bell"
    a: float = Field(gt=0, lt=1)
    b: float = Field(gt=0, le=3)


class Block(Part):
    """Uniform intensity."""

    kind: Literal["block"] = "block"


class Triangle(Part):
    """Rises straight to its peak and falls straight to the end."""

    kind: Literal["triangle"] = "triangle"
    peak: float = Field(0.5, gt=0, lt=1, description="share of the duration before the peak")


class Alternating(Part):
    """Increments of the depth–duration curve, the largest at the peak, the others right and left of it in turn."""

    kind: Literal["alternating"] = "alternating"
    peak: float = Field(0.5, gt=0, lt=1, description="share of the duration before the peak")


class Chicago(Part):
    """Holds, for every duration nested about the peak, the depth of that duration (Keifer and Chu 1957)."""

    kind: Literal["chicago"] = "chicago"
    peak: float = Field(0.4, gt=0, lt=1, description="share of the duration before the peak")


class MassCurve(Part):
    """One of the published 24-hour mass curves (SCS types), by the short table; straight between its hours."""

    kind: Literal["mass"] = "mass"
    type: Literal["IA", "II", "III"] = "II"


class CurvePoint(Part):
    time: Share = Field(description="share of the duration")
    depth: Share = Field(description="share of the depth fallen by then")


class Cumulative(Part):
    """A curve of one's own: shares of the depth by shares of the duration, from 0, 0 to 1, 1."""

    kind: Literal["curve"] = "curve"
    points: list[CurvePoint] = Field(min_length=2, max_length=1000)

    @model_validator(mode="after")
    def _runs_through(self) -> Self:
        times, depths = [p.time for p in self.points], [p.depth for p in self.points]
        if (times[0], depths[0], times[-1], depths[-1]) != (0.0, 0.0, 1.0, 1.0):
            raise ValueError("the curve must begin at 0, 0 and end at 1, 1; add these points")
        if any(b <= a for a, b in itertools.pairwise(times)) or any(b < a for a, b in itertools.pairwise(depths)):
            raise ValueError("the curve must rise in time and never fall in depth; sort or correct its points")
        return self


Shape = Annotated[Bell | Block | Triangle | Alternating | Chicago | MassCurve | Cumulative, Field(discriminator="kind")]


class Season(Part):
    name: Literal["summer", "winter", "all year"]
    shape: Shape


class Probability(Part):
    """A return period with a climate change allowance."""

    return_period: Positive = Field(description="years")
    allowance: float = Field(0.0, ge=0, le=2, description="fraction added to the depth")


class TemporalPattern(Part):
    """How the depth of storms of one duration falls: shares of it in equal intervals, one of several for a duration."""

    duration: float = Field(ge=1, le=14_400, description="min")
    name: Annotated[str, StringConstraints(min_length=1, max_length=40, pattern=r"^[\w .]+$")]
    increments: list[Share] = Field(min_length=1, max_length=2000)

    @model_validator(mode="after")
    def _is_whole(self) -> Self:
        total = sum(self.increments)
        if abs(total - 1.0) > 1e-3:
            raise ValueError(
                f"pattern {self.name} of {self.duration:g} min: its increments sum to {total:.4f}; they must sum to 1"
            )
        return self


class Ensemble(Part):
    """Durations × (return period, allowance) × seasons, and patterns where durations have them."""

    durations: list[Annotated[float, Field(ge=1, le=14_400)]] = Field(default_factory=list, max_length=60)
    probabilities: list[Probability] = Field(default_factory=list, max_length=30)
    seasons: list[Season] = Field(default_factory=list, max_length=3)
    patterns: list[TemporalPattern] = Field(default_factory=list, max_length=1000)
    labels: Literal["years", "aep"] = Field("years", description="return periods as years, or as the yearly chance")

    @model_validator(mode="after")
    def _patterns_differ(self) -> Self:
        known = [(p.duration, p.name) for p in self.patterns]
        if len(set(known)) < len(known):
            twice = next(k for k in known if known.count(k) > 1)
            raise ValueError(f"pattern {twice[1]} of {twice[0]:g} min is there twice; give each its own name")
        return self


class Rain(Part):
    rainfall: Rainfall | None = None
    ensemble: Ensemble = Field(default_factory=Ensemble)
    runoff: Runoff = Field(default_factory=Runoff)
    place: Name | None = None
