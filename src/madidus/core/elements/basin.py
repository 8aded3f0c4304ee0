"""A pond by an outline: of its base or of its rim."""

from functools import lru_cache
from typing import Any, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from .changes import Adjustable, Changes, bank, times
from .document import DocumentModel, Level
from .node import Spot
from .offset import area_of, offset, perimeter_of, turned
from .store import Store

__all__ = ["Bank", "Basin", "Ramp", "Shelf", "SideSlope"]

_ROWS = 41  # of a table of areas
_JUMP = 5e-4  # m above and below a shelf, over which the area changes
_LEAST = 0.05  # m2
_MARK = 64  # steps in which it is told where sides meet

_Corners = list[tuple[float, float]]


class SideSlope(DocumentModel):
    """A side whose slope is another than that of the rest."""

    side: int = Field(ge=1, le=1000, description="from its corner of this number, in the outline's order, to the next")
    slope: float = Field(ge=0, le=50, description="horizontal per vertical")


class Shelf(DocumentModel):
    """A level shelf all round, where reeds stand and nobody falls in."""

    height: float = Field(gt=0, le=100, description="m above the base")
    width: float = Field(gt=0, le=100, description="m")


class Ramp(DocumentModel):
    """A way down for those who maintain it, from the rim to the base, straight into the pond."""

    side: int = Field(ge=1, le=1000, description="the side that it begins at")
    width: float = Field(gt=0, le=100, description="m")
    slope: float = Field(gt=0, le=100, description="length per fall: 10 is 1 in 10")


class Bank(DocumentModel):
    """A bank that is built round a pond up to its `cover`, wherever the ground there is lower."""

    crest_width: float = Field(1.0, ge=0, le=100, description="m")
    outer_slope: float = Field(3.0, ge=0, le=50, description="horizontal per vertical")


def _scaled(node: "Basin", factor: float) -> dict[str, Any]:
    """The outline about its middle, as large by `factor`."""
    points = np.array(node.outline)
    middle = points.mean(axis=0)
    return {
        node.drawn: [(round(float(x), 3), round(float(y), 3)) for x, y in middle + (points - middle) * np.sqrt(factor)]
    }


class Basin(Store):
    """A pond over an outline of its base, or within an outline of its rim, whose sides rise at even slopes.

    Every side moves outward by its slope × height, with mitred corners; a shelf moves all sides on by its width. A ramp
    takes its width × (its slope − the side's) × the height left above it from the area, its sides upright.

    Where the ground on the rim is lower than the bank, the pond spills there: its volume and freeboard count to the
    lower of both, unless a bank is built.
    """

    DRAWN: ClassVar[dict[str, str]] = {"basin": "P"}
    CHANGES: ClassVar[Changes] = {
        "area": times("Area", _scaled),
        "depth": bank(),
        "slope": Adjustable(
            "Side slope", lambda node: node.side_slope, lambda _, s: {"side_slope": round(s, 3)}, 0.5, 2.0
        ),
    }

    kind: Literal["basin"] = "basin"
    base: _Corners = Field(default_factory=list, max_length=1000, description="corners of the base, m; or of the rim")
    rim: _Corners = Field(default_factory=list, max_length=1000, description="corners at the bank, m; or of the base")
    side_slope: float = Field(3.0, ge=0, le=50, description="horizontal per vertical")
    side_slopes: list[SideSlope] = Field(default_factory=list, max_length=1000, description="of sides that differ")
    shelf: Shelf | None = None
    ramp: Ramp | None = None
    rim_ground: Level | None = Field(
        None, description="m: the lowest ground on the rim, which a terrain tells; none: not known, the bank counts"
    )
    bank: Bank | None = None

    @classmethod
    def start(cls, spot: Spot, drawn: str) -> dict[str, Any]:
        corners = ((-8, -5), (8, -5), (8, 5), (-8, 5))
        base = [(round(spot.x + east, 2), round(spot.y + north, 2)) for east, north in corners]
        return {**super().start(spot, drawn), "base": base}

    @model_validator(mode="after")
    def _has_area(self) -> Self:
        if bool(self.base) == bool(self.rim):
            raise ValueError("base, rim: draw one of them, and leave the other empty")
        name = self.drawn
        if len(self.outline) < 3 or abs(area_of(np.array(self.outline))) < _LEAST:
            raise ValueError(f"the {name} has no area; draw its corners in order, without crossing edges")
        count = len(self.outline)
        for side in (*(one.side for one in self.side_slopes), self.ramp.side if self.ramp else 1):
            if side > count:
                raise ValueError(f"side slopes: the {name} has {count} sides, and there is no side {side}")
        if self.shelf and self.shelf.height >= self.depth:
            raise ValueError("shelf, height: lies above the bank; lower it, or leave the shelf out")
        if self.depth > 0.0:
            self._is_whole()
        return self

    def _is_whole(self) -> None:
        """Sides that move inward must not meet on the way, nor a ramp take all of the base."""
        on_the_way = np.linspace(0.0, self.depth, _MARK)[:: -1 if self.rim else 1]
        for depth in on_the_way if len(self.ring(float(on_the_way[-1]))) == 0 else []:
            if len(self.ring(float(depth))) == 0:
                way = f"{self.depth - depth:.2f} m below its rim" if self.rim else f"{depth:.2f} m above its base"
                raise ValueError(
                    f"side slope: its sides meet {way}; let them be steeper, the pond shallower or its outline larger"
                )
        if self.ramp is not None and self._area_at(0.0) < _LEAST:
            raise ValueError("ramp: takes all of the base; let it be steeper or narrower, or the base larger")

    @property
    def depth(self) -> float:
        """From the base to the bank, m."""
        return self.cover - self.invert

    @property
    def drawn(self) -> Literal["base", "rim"]:
        """Which outline is drawn."""
        return "base" if self.base else "rim"

    @property
    def outline(self) -> _Corners:
        """The corners that are drawn, of the base or of the rim."""
        return self.base or self.rim

    def slopes(self) -> np.ndarray:
        """Of every side, in the order of the outline counter-clockwise; horizontal per vertical."""
        found = np.full(len(self.outline), self.side_slope)
        for one in self.side_slopes:
            found[one.side - 1] = one.slope
        return found if area_of(np.array(self.outline)) > 0.0 else np.roll(found[::-1], -1)

    def ring(self, depth: float) -> np.ndarray:
        """Corners of the water's edge at a depth, as if there were no ramp; float64[corner, 2], empty where the sides
        have met.
        """
        shelf = self.shelf
        if self.base:
            out = self.slopes() * depth + (shelf.width if shelf and depth > shelf.height else 0.0)
        else:
            out = -self.slopes() * (self.depth - depth) - (shelf.width if shelf and depth <= shelf.height else 0.0)
        return offset(turned(self.outline), out)

    def _area_at(self, depth: float) -> float:
        area = area_of(self.ring(depth))
        if self.ramp is not None:
            slope = next((one.slope for one in self.side_slopes if one.side == self.ramp.side), self.side_slope)
            area -= self.ramp.width * max(self.ramp.slope - slope, 0.0) * (self.depth - depth)
        return area

    def depths(self) -> np.ndarray:
        """Depths at which its areas are told, m."""
        found = np.linspace(0.0, self.depth, _ROWS)
        if self.shelf is not None:
            found = np.append(found, [self.shelf.height - _JUMP, self.shelf.height + _JUMP])
        return np.unique(np.clip(found, 0.0, self.depth))

    @property
    def spill_level(self) -> float:
        if self.rim_ground is None or self.bank is not None:
            return self.cover
        return min(self.rim_ground, self.cover)

    def areas(self) -> tuple[np.ndarray, np.ndarray]:
        depths, areas = _areas(self.model_dump_json(include=_SHAPE))
        top = max(self.spill_level - self.invert, 0.0)
        if top >= self.depth:
            return depths, areas
        below = depths < top - 1e-9
        return np.append(depths[below], top), np.append(areas[below], np.interp(top, depths, areas))

    def around(self, depths: np.ndarray, area: np.ndarray) -> np.ndarray:
        return np.array([perimeter_of(self.ring(float(depth))) for depth in depths])


_SHAPE = {"cover", "invert", "base", "rim", "side_slope", "side_slopes", "shelf", "ramp"}


@lru_cache(maxsize=256)
def _areas(shape: str) -> tuple[np.ndarray, np.ndarray]:
    """Depths and areas of a pond of this shape; read only. An outline is moved dozens of times for them."""
    basin = Basin.model_validate_json(f'{{"name": "pond", {shape[1:]}')
    depths = basin.depths()
    return depths, np.array([basin._area_at(float(depth)) for depth in depths])
