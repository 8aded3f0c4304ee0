"""Areal reduction: rain over an area is less than the rain at its wettest point."""

import itertools
import math
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ..elements.document import DocumentModel
from .methods import Minutes

__all__ = ["ArealByDuration", "ArealFactor", "ArealFormula", "ArealReduction", "areal_factor"]

_SQUARE_MILE = 2.589988110336  # km2


class ArealFactor(DocumentModel):
    """Areal over point depth, of one duration."""

    duration: Minutes = Field(description="min")
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

    def factor(self, duration: float) -> float:
        """Areal depth over point depth, for a duration in min."""
        logs = np.log([row.duration for row in self.rows])
        return float(np.interp(math.log(duration), logs, [row.factor for row in self.rows]))

    def in_words(self) -> str:
        """What it is, as a report says it."""
        return "typed factors"

    def typed(self) -> list[ArealFactor]:
        """Factors that a report prints."""
        return self.rows


class ArealFormula(DocumentModel):
    """A published formula of area and duration.

    'power': 1 − b D^−a with D in h and a, b by area (Keers and Wescott 1977). 'exponential': 1 − e^(−1.1 D^¼) +
    e^(−1.1 D^¼ − 0.01 A), D in h, A in square miles (Leclerc and Schaake 1972, after US TP-29).
    """

    kind: Literal["formula"] = "formula"
    form: Literal["power", "exponential"] = "power"
    area: float = Field(gt=0, le=1.1e9, description="m2 over which the storm rains")

    def factor(self, duration: float) -> float:
        """Areal depth over point depth, for a duration in min."""
        return (_power if self.form == "power" else _exponential)(self.area / 1e6, duration / 60.0)

    def in_words(self) -> str:
        """What it is, as a report says it."""
        return f"a formula of the area, {self.form}"

    def typed(self) -> list[ArealFactor]:
        """Factors that a report prints: none."""
        return []


ArealReduction = Annotated[ArealByDuration | ArealFormula, Field(discriminator="kind")]


def areal_factor(areal: ArealReduction | None, duration: float) -> float:
    """Areal depth over point depth, for a duration in min; 1 where nothing is reduced."""
    return 1.0 if areal is None else areal.factor(duration)


def _power(area: float, hours: float) -> float:
    """Keers and Wescott 1977, as in the Flood Estimation Handbook, volume 2, table 3.1. area : km2."""
    log = 4.6 - math.log(area)
    a = 0.40 - 0.0208 * math.log(log) if area <= 20.0 else 0.40 - 0.00382 * log**2
    b = 0.0394 * area**0.354 if area < 100.0 else 0.0627 * area**0.254 if area < 500.0 else 0.1050 * area**0.180
    return float(min(max(1.0 - b * hours**-a, 0.05), 1.0))


def _exponential(area: float, hours: float) -> float:
    """Leclerc and Schaake 1972, fitted to the areal curves of US Weather Bureau TP-29."""
    decay = -1.1 * hours**0.25
    return 1.0 - math.exp(decay) + math.exp(decay - 0.01 * area / _SQUARE_MILE)
