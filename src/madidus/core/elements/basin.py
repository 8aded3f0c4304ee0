"""A pond over a base outline."""

import math
from typing import Any, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from .node import Spot
from .store import Store

__all__ = ["Basin"]


class Basin(Store):
    """A pond over a base outline whose sides rise at one slope: every edge moves outward by slope × height."""

    DRAWN: ClassVar[dict[str, str]] = {"basin": "P"}

    kind: Literal["basin"] = "basin"
    base: list[tuple[float, float]] = Field(min_length=3, max_length=1000, description="corners of the base, m")
    side_slope: float = Field(3.0, ge=0, le=50, description="horizontal per vertical")

    @classmethod
    def start(cls, spot: Spot, drawn: str) -> dict[str, Any]:
        corners = ((-8, -5), (8, -5), (8, 5), (-8, 5))
        base = [(round(spot.x + east, 2), round(spot.y + north, 2)) for east, north in corners]
        return {**super().start(spot, drawn), "base": base}

    @model_validator(mode="after")
    def _has_area(self) -> Self:
        if self.outline[0] < 0.05:
            raise ValueError("the base has no area; draw its corners in order, without crossing edges")
        return self

    @property
    def outline(self) -> tuple[float, float, float]:
        """Area (m2) and perimeter (m) of the base, and the sum over corners of tan(half the turn), for mitred offsets.

        An edge moved outward by d gives area + perimeter d + corners d².
        """
        points = self.base if _signed_area(self.base) > 0 else self.base[::-1]
        perimeter, corners = 0.0, 0.0
        for k, (x, y) in enumerate(points):
            (x0, y0), (x1, y1) = points[k - 1], points[(k + 1) % len(points)]
            ax, ay, bx, by = x - x0, y - y0, x1 - x, y1 - y
            perimeter += math.hypot(bx, by)
            corners += math.tan(0.5 * math.atan2(ax * by - ay * bx, ax * bx + ay * by))
        return abs(_signed_area(points)), perimeter, corners

    def areas(self) -> tuple[np.ndarray, np.ndarray]:
        area, perimeter, corners = self.outline
        depths = np.linspace(0.0, self.cover - self.invert, 41)
        outward = self.side_slope * depths
        return depths, area + perimeter * outward + corners * outward**2

    def around(self, depths: np.ndarray, area: np.ndarray) -> np.ndarray:
        _, perimeter, corners = self.outline
        return np.asarray(perimeter + 2.0 * corners * self.side_slope * depths)


def _signed_area(points: list[tuple[float, float]]) -> float:
    return 0.5 * sum(
        x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in zip(points, [*points[1:], points[0]], strict=True)
    )  # fmt: skip
