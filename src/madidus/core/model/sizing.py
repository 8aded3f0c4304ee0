"""How pipes are sized: within which limits, in which trenches, at which rates, and what is locked."""

import itertools
from typing import Literal, Self

from pydantic import Field, model_validator

from ..elements.document import DocumentModel, ElementId, Level, Positive

__all__ = ["AllowedLimit", "Crossing", "PipeLock", "PipeRate", "SizingLimits", "SizingRules", "TrenchRow"]


_RATES = [(0.15, 60.0), (0.3, 105.0), (0.6, 225.0), (0.9, 380.0), (1.5, 775.0), (2.1, 1250.0)]  # to begin with


class SizingLimits(DocumentModel):
    """Within which pipes are laid."""

    min_velocity: Positive = Field(0.75, le=20, description="m/s at full bore")
    max_velocity: Positive = Field(3.0, le=50, description="m/s at full bore")
    min_gradient: Positive = Field(1.0 / 500.0, le=1, description="m/m")
    max_gradient: Positive = Field(1.0 / 20.0, le=1, description="m/m")
    cover: float = Field(1.2, ge=0, le=50, description="m from soffit to ground at least, at both ends")
    deepest: Positive = Field(5.0, le=100, description="m from ground to invert at most, at both ends")
    drop: Positive = Field(1.5, le=50, description="m that a pipe may fall into a node")
    fill: float = Field(1.0, ge=0.05, le=1, description="of the full capacity that the design flow may take")
    gradients: list[float] = Field(
        default_factory=list, max_length=100, description="those that are permitted; empty: any between both"
    )
    match: Literal["soffit", "invert"] = Field("soffit", description="what is level where pipes join")
    step: float = Field(0.0, ge=0, le=5, description="m by which a pipe begins lower than that")
    grows: bool = Field(True, description="no pipe is smaller than one above it")


class TrenchRow(DocumentModel):
    """Of trenches no deeper than `deepest`; the last row is for all that are deeper."""

    deepest: Positive = Field(100.0, le=1000, description="m, bedding included")
    beside: float = Field(0.6, ge=0, le=50, description="m wider than the pipe, both sides together")
    side_slope: float = Field(0.0, ge=0, le=10, description="horizontal per vertical")


class PipeRate(DocumentModel):
    """What a metre of pipe costs, laid."""

    diameter: Positive = Field(le=20, description="m")
    rate: float = Field(ge=0, le=1e6)


class PipeLock(DocumentModel):
    """What of a pipe stays as it is when others are sized."""

    diameter: bool = False
    upstream: bool = Field(False, description="its upstream invert")
    downstream: bool = Field(False, description="its downstream invert")


class Crossing(DocumentModel):
    """A service that crosses a pipe: the pipe passes over it or under it, with its clearance."""

    pipe: ElementId
    name: str = Field("", max_length=80, description="what it is")
    chainage: float = Field(ge=0, le=100_000, description="m from the pipe's upper end")
    bottom: Level = Field(description="m, its underside")
    top: Level = Field(description="m, its upper side")
    clearance: float = Field(0.3, ge=0, le=20, description="m between it and the pipe at least")

    @model_validator(mode="after")
    def _has_height(self) -> Self:
        if self.top <= self.bottom:
            raise ValueError(f"crossing {self.name}, top: lies at its bottom or below; correct one of them")
        return self


class AllowedLimit(DocumentModel):
    """A limit that a pipe need not keep, and why. It is told all the same."""

    pipe: ElementId
    limit: Literal["capacity", "velocity", "gradient", "cover", "depth", "drop", "level", "outfall", "diameter",
                   "crossing"]  # fmt: skip
    reason: str = Field(min_length=1, max_length=500)


class SizingRules(DocumentModel):
    """Of a project: kept, so that a sizing can be repeated. They change no result."""

    limits: SizingLimits = Field(default_factory=SizingLimits)
    least_time: float = Field(5.0, ge=1, le=120, description="min of entry, at least")
    trench: list[TrenchRow] = Field(default_factory=lambda: [TrenchRow()], min_length=1, max_length=20)
    bedding: float = Field(0.15, ge=0, le=5, description="m below the invert")
    digging: float = Field(30.0, ge=0, le=1e6, description="cost of a m3")
    laying: list[PipeRate] = Field(
        default_factory=lambda: [PipeRate(diameter=d, rate=rate) for d, rate in _RATES],
        max_length=50, description="rising; straight between, held beyond",
    )  # fmt: skip
    locks: dict[ElementId, PipeLock] = Field(default_factory=dict, max_length=20_000)
    crossings: list[Crossing] = Field(default_factory=list, max_length=20_000)
    allowed: list[AllowedLimit] = Field(default_factory=list, max_length=20_000)

    @model_validator(mode="after")
    def _rise(self) -> Self:
        deepest, diameters = [row.deepest for row in self.trench], [row.diameter for row in self.laying]
        for what, values in (("trench", deepest), ("laying", diameters)):
            if any(b <= a for a, b in itertools.pairwise(values)):
                raise ValueError(f"{what}: its rows must rise from one to the next; sort or correct them")
        return self
