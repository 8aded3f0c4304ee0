"""The water outside an outfall."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from .document import DocumentModel, Level
from .inflow import times_rise

__all__ = ["FixedLevel", "Free", "LevelRow", "LevelSeries", "NormalDepth", "TailWater"]


class Free(DocumentModel):
    """Water falls free: critical depth at most."""

    kind: Literal["free"] = "free"


class NormalDepth(DocumentModel):
    """Water leaves at the depth of uniform flow."""

    kind: Literal["normal"] = "normal"


class FixedLevel(DocumentModel):
    """A level that stays."""

    kind: Literal["fixed"] = "fixed"
    level: Level


class LevelRow(DocumentModel):
    """A point of a series of levels."""

    time: float = Field(ge=0, le=1e8, description="s from the start of the storm")
    level: Level


class LevelSeries(DocumentModel):
    """A tide or another water: levels joined by straight lines, the first and last held."""

    kind: Literal["series"] = "series"
    rows: list[LevelRow] = Field(min_length=2, max_length=20_000)

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        times_rise([row.time for row in self.rows])
        return self


TailWater = Annotated[Free | NormalDepth | FixedLevel | LevelSeries, Field(discriminator="kind")]
