"""Stone that stores water: porous paving, a soakaway, a crate."""

from typing import Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from .changes import Adjustable, Changes, times
from .node import Spot
from .store import Store

__all__ = ["Stone"]

_LEAST_AREA = 0.01  # m2
_JUMP = 5e-4  # m above and below the top of level stone, over which the area changes to that of the cover layer


class Stone(Store):
    """Stone over a base that may slope along its length, under level water: porous paving, a soakaway, a crate.

    `cover` is the lowest level of the surface. Between it and the stone lies a cover layer (blocks and bedding,
    asphalt, soil), parallel to the stone, which holds water only in voids of its own.
    """

    DRAWN: ClassVar[dict[str, str]] = {"stone": "S"}
    CHANGES: ClassVar[Changes] = {
        "area": times("Area", lambda node, factor: {"width": round(node.width * factor, 3)}),
        "depth": Adjustable(
            "Depth, base kept", lambda node: node.stone_depth,
            lambda node, d: {"stone_depth": round(d, 4), "cover": round(node.cover + d - node.stone_depth, 4)},
            0.5, 2.0,
        ),
    }  # fmt: skip

    kind: Literal["stone"] = "stone"
    length: float = Field(gt=0, le=10_000, description="m along the slope of the base")
    width: float = Field(gt=0, le=10_000, description="m")
    stone_depth: float = Field(gt=0, le=50, description="m, measured upright")
    base_slope: float = Field(0.0, ge=0, le=0.5, description="rise per length; the stone's top is parallel")
    porosity: float = Field(gt=0, le=1, description="share of voids; 1 is an empty box")
    cover_porosity: float = Field(
        0.0, ge=0, le=1, description="share of voids of what lies between the stone and the surface"
    )

    @classmethod
    def start(cls, spot: Spot, drawn: str) -> dict[str, Any]:
        deep = min(round(spot.ground - spot.invert, 3), 0.5)
        size = {"length": 10.0, "width": 5.0, "stone_depth": deep, "base_slope": 0.01, "porosity": 0.35}
        return {**super().start(spot, drawn), **size}

    @property
    def cover_layer(self) -> float:
        """Depth of what lies on the stone, m."""
        return max(self.cover - self.invert - self.stone_depth, 0.0)

    def voids(self) -> float:
        """Of all of the stone, m3, those included that lie above its lowest surface."""
        return self.length * self.width * self.stone_depth * self.porosity

    def areas(self) -> tuple[np.ndarray, np.ndarray]:
        top, rise = self.cover - self.invert, self.base_slope * self.length
        marks = [0.0, rise, self.stone_depth, self.stone_depth + rise]
        if rise == 0.0:  # the area jumps where the stone ends
            marks = [0.0, self.stone_depth - _JUMP, self.stone_depth + _JUMP]
        depths = np.unique(np.clip(marks, 0.0, top))
        depths = np.append(depths[depths < top - 1e-9], top)
        return depths, np.maximum(self._voids(depths), _LEAST_AREA)

    def _voids(self, depth: np.ndarray) -> np.ndarray:
        """Voids per m of level: those of the stone where level water stands in it, those of the layer over it."""
        if self.base_slope == 0.0:
            wet, over = np.full_like(depth, self.length), np.where(depth > self.stone_depth, self.length, 0.0)
        else:
            wet = np.minimum(depth / self.base_slope, self.length)
            over = np.clip((depth - self.stone_depth) / self.base_slope, 0.0, self.length)
        return np.asarray(self.width * (self.porosity * (wet - over) + self.cover_porosity * over))

    def wetted(self, depths: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Of the base what is wet of it; the sides of a level rectangle, none of the cover layer's."""
        wet = (
            np.minimum(depths / self.base_slope, self.length) if self.base_slope else np.full_like(depths, self.length)
        )
        deep = np.minimum(depths, self.stone_depth)
        mean = np.minimum(depths - 0.5 * self.base_slope * wet, deep)  # over the wet part of the base
        far = np.minimum(np.maximum(depths - self.base_slope * self.length, 0.0), deep)
        return wet * self.width, 2.0 * wet * mean + self.width * (deep + far)
