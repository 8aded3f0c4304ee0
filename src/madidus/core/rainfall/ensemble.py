"""The ensemble: which storms are made of the rainfall, and those that are given as they fell."""

from datetime import datetime
from typing import Annotated, Literal, Self

from pydantic import Field, StringConstraints, model_validator

from ..elements.document import DocumentModel, Positive, Share
from .shapes import Shape

__all__ = [
    "Ensemble",
    "GivenStorm",
    "Probability",
    "Season",
    "SeasonName",
    "ShortName",
    "StormBlock",
    "TemporalPattern",
]

SeasonName = Literal["summer", "winter", "all year"]
ShortName = Annotated[str, StringConstraints(min_length=1, max_length=40, pattern=r"^[\w .]+$")]


class Season(DocumentModel):
    """A season and the shape of its storms."""

    name: SeasonName
    shape: Shape


class Probability(DocumentModel):
    """A return period with a climate change allowance."""

    return_period: Positive = Field(description="years")
    allowance: float = Field(0.0, ge=0, le=2, description="fraction added to the depth")


class TemporalPattern(DocumentModel):
    """How the depth of storms of one duration falls: shares of it in equal intervals, one of several for a duration."""

    duration: float = Field(ge=1, le=14_400, description="min")
    name: ShortName
    increments: list[Share] = Field(min_length=1, max_length=2000)

    @model_validator(mode="after")
    def _is_whole(self) -> Self:
        total = sum(self.increments)
        if abs(total - 1.0) > 1e-3:
            raise ValueError(
                f"pattern {self.name} of {self.duration:g} min: its increments sum to {total:.4f}; they must sum to 1"
            )
        return self


class StormBlock(DocumentModel):
    """Durations × (return period, allowance) × seasons, and patterns where durations have them."""

    durations: list[Annotated[float, Field(ge=1, le=14_400)]] = Field(default_factory=list, max_length=60)
    probabilities: list[Probability] = Field(default_factory=list, max_length=30)
    seasons: list[Season] = Field(default_factory=list, max_length=3)
    patterns: list[TemporalPattern] = Field(default_factory=list, max_length=1000)
    pattern_source: str = Field("", max_length=500, description="where the patterns come from")

    @model_validator(mode="after")
    def _patterns_differ(self) -> Self:
        known = [(p.duration, p.name) for p in self.patterns]
        if len(set(known)) < len(known):
            twice = next(k for k in known if known.count(k) > 1)
            raise ValueError(f"pattern {twice[1]} of {twice[0]:g} min is there twice; give each its own name")
        return self


class Ensemble(StormBlock):
    """The main block of storms, and how return periods are told in all of them."""

    labels: Literal["years", "aep"] = Field("years", description="return periods as years, or as AEP")


class GivenStorm(DocumentModel):
    """Rain as it fell or as somebody prescribes it: depths in equal intervals. Allowances do not touch it."""

    name: ShortName
    interval: float = Field(gt=0, le=1440, description="min")
    depths: list[Annotated[float, Field(ge=0, le=1000)]] = Field(min_length=1, max_length=5000, description="mm")
    season: SeasonName = "all year"
    return_period: Positive | None = Field(None, description="years; rules of it judge this storm too")
    began: datetime | None = None
    source: str = Field("", max_length=500)

    @model_validator(mode="after")
    def _has_rain(self) -> Self:
        if sum(self.depths) <= 0.0:
            raise ValueError(f"storm {self.name}: its depths are all 0; give at least one")
        return self
