"""A curve of one's own."""

import itertools
from typing import Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ...elements.document import DocumentModel, Share
from .base import MOST, Depths, ShapeBase

__all__ = ["Cumulative", "CurvePoint"]


class CurvePoint(DocumentModel):
    """A point of the curve."""

    time: Share = Field(description="share of the duration")
    depth: Share = Field(description="share of the depth fallen by then")


class Cumulative(ShapeBase):
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

    def fallen(self, x: np.ndarray, duration: float, depths: Depths) -> np.ndarray:
        """Straight between the points."""
        return np.asarray(np.interp(x, [p.time for p in self.points], [p.depth for p in self.points]))

    def cut(self, duration: float, longest: float, depths: Depths) -> tuple[np.ndarray, np.ndarray]:
        """At its own points, between which it is straight, and finer where they lie far apart."""
        points = np.array([p.time for p in self.points])
        parts = np.ceil(np.diff(points) * duration / longest - 1e-9).clip(1, MOST // len(points) + 1).astype(int)
        spans = [np.linspace(a, b, n, endpoint=False) for a, b, n in zip(points, points[1:], parts, strict=False)]
        edges = np.append(np.concatenate(spans), 1.0)
        return edges, np.diff(self.fallen(edges, duration, depths))
