"""What enters a node besides runoff."""

import itertools
import math
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from .document import DocumentModel

__all__ = ["Constant", "FlowRow", "Hydrograph", "Inflow", "Pattern", "times_rise"]


class Constant(DocumentModel):
    """Base flow."""

    kind: Literal["constant"] = "constant"
    flow: float = Field(ge=0, le=1e4, description="m3/s, without end")


class FlowRow(DocumentModel):
    """A point of a hydrograph."""

    time: float = Field(ge=0, le=1e8, description="s from the start of the storm")
    flow: float = Field(ge=0, le=1e4, description="m3/s")


def times_rise(times: list[float]) -> None:
    """Raises ValueError where a time falls from one row to the next."""
    if any(b < a for a, b in itertools.pairwise(times)):
        raise ValueError("times must not fall from row to row; sort or correct them")


class Hydrograph(DocumentModel):
    """Flow joined by straight lines; nothing before the first row nor after the last."""

    kind: Literal["hydrograph"] = "hydrograph"
    rows: list[FlowRow] = Field(min_length=2, max_length=20_000)

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        times_rise([row.time for row in self.rows])
        return self


class Pattern(DocumentModel):
    """A mean flow times a factor for each equal part of the day, from midnight, day after day."""

    kind: Literal["pattern"] = "pattern"
    mean: float = Field(ge=0, le=1e4, description="m3/s")
    factors: list[float] = Field(min_length=1, max_length=288)
    start: float = Field(0.0, ge=0, lt=24, description="h of the day at which a storm begins")

    @model_validator(mode="after")
    def _not_negative(self) -> Self:
        if min(self.factors) < 0 or not all(math.isfinite(f) for f in self.factors):
            raise ValueError("a factor is negative; correct it")
        return self


Inflow = Annotated[Constant | Hydrograph | Pattern, Field(discriminator="kind")]
