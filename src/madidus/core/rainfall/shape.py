"""Shapes of a storm in time."""

import itertools
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from ..elements.document import DocumentModel, Share

__all__ = ["Alternating", "Bell", "Block", "Chicago", "Cumulative", "MassCurve", "Shape", "Triangle"]


class Bell(DocumentModel):
    """Symmetric bell: the central fraction x of the duration holds (1 − a^z)/(1 − a) of the depth, z = x^b."""

    kind: Literal["bell"] = "bell"
    a: float = Field(gt=0, lt=1)
    b: float = Field(gt=0, le=3)


class Block(DocumentModel):
    """Uniform intensity."""

    kind: Literal["block"] = "block"


class Triangle(DocumentModel):
    """Rises straight to its peak and falls straight to the end."""

    kind: Literal["triangle"] = "triangle"
    peak: float = Field(0.5, gt=0, lt=1, description="share of the duration before the peak")


class Alternating(DocumentModel):
    """Increments of the depth–duration curve, the largest at the peak, the others right and left of it in turn."""

    kind: Literal["alternating"] = "alternating"
    peak: float = Field(0.5, gt=0, lt=1, description="share of the duration before the peak")


class Chicago(DocumentModel):
    """Holds, for every duration nested about the peak, the depth of that duration (Keifer and Chu 1957)."""

    kind: Literal["chicago"] = "chicago"
    peak: float = Field(0.4, gt=0, lt=1, description="share of the duration before the peak")


class MassCurve(DocumentModel):
    """One of the public 24-hour mass curves (SCS types), read at tenths of an hour."""

    kind: Literal["mass"] = "mass"
    type: Literal["I", "IA", "II", "III"] = "II"


class CurvePoint(DocumentModel):
    time: Share = Field(description="share of the duration")
    depth: Share = Field(description="share of the depth fallen by then")


class Cumulative(DocumentModel):
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
