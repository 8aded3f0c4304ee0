"""Rainfall of the region: depths by duration and return period, what area takes off them, and the storms of it."""

from typing import Self

from pydantic import Field, model_validator

from ..elements.document import DocumentModel, Name
from ..surface.runoff import Runoff
from .areal import ArealReduction
from .ensemble import Ensemble, GivenStorm, ShortName, StormBlock
from .methods import Rainfall

__all__ = ["FurtherStorms", "Rain"]


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
