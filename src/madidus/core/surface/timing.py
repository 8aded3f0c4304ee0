"""How a catchment's time of concentration is found from its lie: formulas, or the stretches of its flow path."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from ..elements.document import DocumentModel, Positive, Share

__all__ = ["Airport", "Bransby", "ChannelFlow", "FlowPath", "Kirpich", "Lag", "ShallowFlow", "SheetFlow", "Timing"]

_Slope = Annotated[float, Field(gt=0, le=2, description="fall per length")]
_Length = Annotated[float, Field(gt=0, le=50_000, description="m")]
_Roughness = Annotated[float, Field(ge=0.005, le=1.0, description="Manning's n")]


class Kirpich(DocumentModel):
    """0.0195 L^0.77 S^-0.385 min (Kirpich 1940): small rural basins with channels."""

    kind: Literal["kirpich"] = "kirpich"
    length: _Length = 200.0
    slope: _Slope = 0.02


class Lag(DocumentModel):
    """Curve-number lag over 0.6 (USDA NEH 630, chapter 15)."""

    kind: Literal["lag"] = "lag"
    length: _Length = 300.0
    slope: _Slope = 0.02
    curve_number: float = Field(75.0, ge=30, le=100)


class Airport(DocumentModel):
    """1.8 (1.1 − C) L^½ / S^⅓ min, in ft and % (US FAA, AC 150/5320-5B, 1970): overland flow over smooth ground."""

    kind: Literal["airport"] = "airport"
    length: _Length = 100.0
    slope: _Slope = 0.01
    coefficient: Share = Field(0.7, description="runoff coefficient of the rational method")


class Bransby(DocumentModel):
    """58.5 L A^-0.1 S^-0.2 min, in km, km2 and m/km (Bransby Williams 1922, as in Australian Rainfall and Runoff)."""

    kind: Literal["bransby"] = "bransby"
    length: _Length = 500.0
    slope: _Slope = 0.02


class SheetFlow(DocumentModel):
    """A film over the ground (USDA TR-55, eq. 3-3)."""

    length: float = Field(30.0, gt=0, le=100, description="m; beyond, water gathers")
    slope: _Slope = 0.02
    roughness: _Roughness = 0.15
    rain: Positive = Field(50.0, le=1000, description="mm in 24 h, 2 years")


class ShallowFlow(DocumentModel):
    """Water that has gathered, without a channel (USDA TR-55, figure 3-1)."""

    length: _Length = 60.0
    slope: _Slope = 0.02
    surface: Literal["unpaved", "paved"] = "unpaved"


class ChannelFlow(DocumentModel):
    """A channel, brim-full (Manning)."""

    length: _Length = 100.0
    slope: _Slope = 0.01
    roughness: _Roughness = 0.03
    area: Positive = Field(0.5, le=1000, description="m2 of flow, brim-full")
    perimeter: Positive = Field(2.0, le=1000, description="m wetted")


class FlowPath(DocumentModel):
    """Sheet flow, then shallow concentrated flow, then a channel (USDA TR-55); at least one of them."""

    kind: Literal["path"] = "path"
    sheet: SheetFlow | None = None
    shallow: ShallowFlow | None = None
    channel: ChannelFlow | None = None

    @model_validator(mode="after")
    def _has_a_stretch(self) -> Self:
        if self.sheet is None and self.shallow is None and self.channel is None:
            raise ValueError("the flow path has no stretch; give sheet, shallow or channel flow")
        return self


Timing = Annotated[Kirpich | Lag | Airport | Bransby | FlowPath, Field(discriminator="kind")]
