"""Rainfall of the region, storm shapes and the ensemble; runoff values of the project."""

import itertools
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from .base import Name, Part, Positive, Share

__all__ = ["DepthTable", "Ensemble", "IntensityFormula", "IntensityRow", "Rain", "Rainfall", "Runoff", "Shape"]


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


Rainfall = Annotated[DepthTable | IntensityFormula, Field(discriminator="kind")]


class Bell(Part):
    """Symmetric bell: the central fraction x of the duration holds (1 − a^z)/(1 − a) of the depth, z = x^b."""

    kind: Literal["bell"] = "bell"
    a: float = Field(gt=0, lt=1)
    b: float = Field(gt=0, le=3)


class Block(Part):
    """Uniform intensity."""

    kind: Literal["block"] = "block"


Shape = Annotated[Bell | Block, Field(discriminator="kind")]


class Season(Part):
    name: Literal["summer", "winter", "all year"]
    shape: Shape


class Probability(Part):
    """A return period with a climate change allowance."""

    return_period: Positive = Field(description="years")
    allowance: float = Field(0.0, ge=0, le=2, description="fraction added to the depth")


class Ensemble(Part):
    """Durations × (return period, allowance) × seasons."""

    durations: list[Annotated[float, Field(ge=1, le=14_400)]] = Field(default_factory=list, max_length=60)
    probabilities: list[Probability] = Field(default_factory=list, max_length=30)
    seasons: list[Season] = Field(default_factory=list, max_length=3)


class Runoff(Part):
    """Project values of the fixed-coefficient runoff; a catchment may give its own time of entry."""

    summer_paved: Share = Field(0.75, description="runoff coefficient of paved ground in summer")
    winter_paved: Share = Field(0.84, description="runoff coefficient of paved ground in winter")
    summer_green: Share = Field(0.0, description="runoff coefficient of pervious ground in summer")
    winter_green: Share = Field(0.0, description="runoff coefficient of pervious ground in winter")
    creep: float = Field(0.0, ge=0, le=1, description="future growth of paved area, 0.1 = +10 % of it")
    time_of_entry: float = Field(300.0, ge=60, le=86_400, description="s")


class Rain(Part):
    rainfall: Rainfall | None = None
    ensemble: Ensemble = Field(default_factory=Ensemble)
    runoff: Runoff = Field(default_factory=Runoff)
    place: Name | None = None
