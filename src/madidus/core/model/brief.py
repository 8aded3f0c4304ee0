"""The brief: what must be shown. Each criterion names its storms, the limit, and where it applies."""

from typing import Annotated, Literal

from pydantic import Field

from ..document import DocumentModel, ElementId, Name, Positive
from .permit import Greenfield, PerHectare, PreDevelopment

__all__ = [
    "Brief", "Criterion", "FloodVolume", "Freeboard", "Outflow", "OverPatterns", "Surcharge", "WaterBelowCover",
]  # fmt: skip

OverPatterns = Literal["mean", "median", "every"]


class _Criterion(DocumentModel):
    name: Name
    asked: bool = Field(True, description="false: measured, not judged")
    return_period: Positive = Field(description="years; storms of this return period are judged")
    allowance: float = Field(0.0, ge=0, le=2, description="climate change allowance as a fraction, 0.4 = +40 %")
    patterns: OverPatterns = Field(
        "mean",
        description="how temporal patterns of one duration are judged: by the highest mean or median over the "
        "durations, or every pattern for itself; fewer than three of a duration count each for itself",
    )


class Surcharge(_Criterion):
    """Water stays below the soffit of every pipe."""

    kind: Literal["surcharge"] = "surcharge"
    clearance: float = Field(0.0, ge=0, le=10, description="m kept between the water and the soffit")


class WaterBelowCover(_Criterion):
    """Water stays a distance below the cover of every node: 0 m is 'no flooding', 0.3 m a near-flood margin."""

    kind: Literal["cover"] = "cover"
    clearance: float = Field(0.0, ge=0, le=10, description="m kept between the water and the cover")


class FloodVolume(_Criterion):
    """At most this volume stands above (or is lost over) the cover of any node."""

    kind: Literal["flood_volume"] = "flood_volume"
    limit: float = Field(0.0, ge=0, description="m3")


class Outflow(_Criterion):
    """At most this flow leaves by an outfall or passes a link; `by` says which way to the permitted rate is in use."""

    kind: Literal["outflow"] = "outflow"
    limit: Positive = Field(description="m3/s, as typed")
    element: ElementId = Field(description="the outfall or link")
    by: Literal["typed", "hectare", "formula", "model"] = "typed"
    hectare: PerHectare = Field(default_factory=PerHectare)
    formula: Greenfield = Field(default_factory=Greenfield)
    model: PreDevelopment = Field(default_factory=PreDevelopment)


class Freeboard(_Criterion):
    """Water stays a distance below the bank of every pond and tank."""

    kind: Literal["freeboard"] = "freeboard"
    clearance: float = Field(0.3, ge=0, le=10, description="m kept between the water and the bank")


Criterion = Annotated[Surcharge | WaterBelowCover | FloodVolume | Outflow | Freeboard, Field(discriminator="kind")]


class Brief(DocumentModel):
    """The criteria, in the order in which they are read."""

    author: str = Field("", max_length=200)
    client: str = Field("", max_length=200)
    criteria: list[Criterion] = Field(default_factory=list, max_length=100)
