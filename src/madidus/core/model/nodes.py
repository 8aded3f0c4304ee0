"""Nodes: where links join, where water stands, where it enters and where it leaves."""

import itertools
import math
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from .base import DocumentModel, ElementId, Level, Name, Positive

__all__ = [
    "AngleLoss", "Basin", "Constant", "FixedLevel", "FixedLoss", "Free", "Hydrograph", "Infiltration", "Inflow",
    "Inlet", "Junction", "LevelSeries", "Manhole", "Node", "NormalDepth", "Outfall", "Pattern", "Stone", "Storage",
    "Store", "TailWater",
]  # fmt: skip


class Constant(DocumentModel):
    kind: Literal["constant"] = "constant"
    flow: float = Field(ge=0, le=1e4, description="m3/s, without end")


class FlowRow(DocumentModel):
    time: float = Field(ge=0, le=1e8, description="s from the start of the storm")
    flow: float = Field(ge=0, le=1e4, description="m3/s")


def _times_rise(times: list[float]) -> None:
    if any(b < a for a, b in itertools.pairwise(times)):
        raise ValueError("times must not fall from row to row; sort or correct them")


class Hydrograph(DocumentModel):
    """Flow joined by straight lines; nothing before the first row nor after the last."""

    kind: Literal["hydrograph"] = "hydrograph"
    rows: list[FlowRow] = Field(min_length=2, max_length=20_000)

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        _times_rise([row.time for row in self.rows])
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


class FixedLoss(DocumentModel):
    kind: Literal["fixed"] = "fixed"
    coefficient: float = Field(ge=0, le=20, description="K of velocity heads in the outgoing pipe")


class AngleLoss(DocumentModel):
    """By the angle between incoming and outgoing pipe and the ratio of manhole to outgoing pipe (HEC-22, K0)."""

    kind: Literal["angle"] = "angle"


HeadLoss = Annotated[FixedLoss | AngleLoss, Field(discriminator="kind")]


class _Placed(DocumentModel):
    name: Name
    x: float = Field(0.0, ge=-1e7, le=1e7, description="m east in the project's grid")
    y: float = Field(0.0, ge=-1e8, le=1e8, description="m north in the project's grid")


class _Flooding(_Placed):
    inflows: list[Inflow] = Field(default_factory=list, max_length=20, description="besides runoff")
    flooding: Literal["stored", "lost"] = Field(
        "stored", description="water above cover stands on the ponded area and returns, or leaves for good"
    )
    ponded_area: float = Field(50.0, ge=0.05, le=1e6, description="m2 on which water above the cover stands")
    ponded_side_slope: float = Field(
        50.0, ge=0, le=1000, description="horizontal per vertical: water above cover widens as a cone; 0 is upright"
    )


class _Shaft(_Flooding):
    cover: Level
    invert: Level
    head_loss: HeadLoss | None = Field(None, description="of water that passes, besides the pipes' own losses")


class Manhole(_Shaft):
    """A shaft from invert to cover. `diameter` overrules the plan area."""

    kind: Literal["manhole"] = "manhole"
    plan_area: float = Field(1.131, ge=0.05, le=10_000, description="m2; 1.131 is a 1200 mm ring")
    diameter: float | None = Field(None, ge=0.25, le=100, description="m")
    benched: bool | None = Field(
        None,
        description="a channel in the floor carries the stream straight through; without, the water comes to rest; "
        "none: benched unless an exit loss of 1 or more takes the whole velocity head of what arrives",
    )
    sealed: bool = Field(False, description="bolted cover: water rises above it under pressure and does not spill")

    @property
    def area(self) -> float:
        return self.plan_area if self.diameter is None else math.pi / 4 * self.diameter**2


class Junction(_Shaft):
    """Pipes joined without a shaft worth storing in."""

    kind: Literal["junction"] = "junction"
    plan_area: float = Field(0.3, ge=0.05, le=10_000, description="m2")

    @property
    def area(self) -> float:
        return self.plan_area


class Inlet(_Shaft):
    """A gully or grating over a shaft: takes surface water up to its capacity, the rest runs on to `bypass`."""

    kind: Literal["inlet"] = "inlet"
    plan_area: float = Field(0.3, ge=0.05, le=10_000, description="m2")
    capacity: Positive = Field(description="m3/s, the most that enters from the surface")
    bypass: ElementId | None = Field(None, description="the node that receives the rest; none: it is lost")

    @property
    def area(self) -> float:
        return self.plan_area


class Infiltration(DocumentModel):
    """Outflow into the ground through the wetted base and sides at the measured rate over the safety factor."""

    rate: float = Field(gt=0, le=1, description="m/s, measured")
    safety_factor: float = Field(2.0, ge=1, le=100)
    through: Literal["base", "sides", "both"] = "both"


class Store(_Flooding):
    """What ponds, tanks, basins and stone-filled stores share."""

    invert: Level
    cover: Level = Field(description="m above datum: the bank of a pond, the cover of a tank")
    initial_depth: float = Field(0.0, ge=0, le=100, description="m of standing water before the storm")
    infiltration: Infiltration | None = None


class StorageRow(DocumentModel):
    depth: float = Field(ge=0, le=100, description="m above the invert")
    area: float = Field(gt=0, le=1e8, description="m2 of water surface")


class Storage(Store):
    """A pond or a tank: a depth–area table up to its bank or roof."""

    kind: Literal["storage"] = "storage"
    form: Literal["pond", "tank"] = "pond"
    table: list[StorageRow] = Field(min_length=1, max_length=200)

    @model_validator(mode="after")
    def _depths_rise(self) -> Self:
        depths = [row.depth for row in self.table]
        if depths[0] != 0 or any(b <= a for a, b in itertools.pairwise(depths)):
            raise ValueError("depths of the table must start at 0 and rise from row to row; sort or correct them")
        return self


class Basin(Store):
    """A pond over a base outline whose sides rise at one slope: every edge moves outward by slope × height."""

    kind: Literal["basin"] = "basin"
    base: list[tuple[float, float]] = Field(min_length=3, max_length=1000, description="corners of the base, m")
    side_slope: float = Field(3.0, ge=0, le=50, description="horizontal per vertical")

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


def _signed_area(points: list[tuple[float, float]]) -> float:
    return 0.5 * sum(
        x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in zip(points, [*points[1:], points[0]], strict=True)
    )  # fmt: skip


class Stone(Store):
    """Stone over a base that may slope along its length, under level water: porous paving, a soakaway, a crate.

    `cover` is the lowest edge of the surface. Between it and the stone lies a cover layer (blocks and bedding, asphalt,
    soil), parallel to the stone, which holds water only in voids of its own.
    """

    kind: Literal["stone"] = "stone"
    length: float = Field(gt=0, le=10_000, description="m along the slope of the base")
    width: float = Field(gt=0, le=10_000, description="m")
    stone_depth: float = Field(gt=0, le=50, description="m, measured upright")
    base_slope: float = Field(0.0, ge=0, le=0.5, description="rise per length; the stone's top is parallel")
    porosity: float = Field(gt=0, le=1, description="share of voids; 1 is an empty box")
    cover_porosity: float = Field(
        0.0, ge=0, le=1, description="share of voids of what lies between the stone and the surface"
    )

    @property
    def cover_layer(self) -> float:
        """Depth of what lies on the stone, m."""
        return max(self.cover - self.invert - self.stone_depth, 0.0)


class Free(DocumentModel):
    kind: Literal["free"] = "free"


class NormalDepth(DocumentModel):
    kind: Literal["normal"] = "normal"


class FixedLevel(DocumentModel):
    kind: Literal["fixed"] = "fixed"
    level: Level


class LevelRow(DocumentModel):
    time: float = Field(ge=0, le=1e8, description="s from the start of the storm")
    level: Level


class LevelSeries(DocumentModel):
    """A tide or another water: levels joined by straight lines, the first and last held."""

    kind: Literal["series"] = "series"
    rows: list[LevelRow] = Field(min_length=2, max_length=20_000)

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        _times_rise([row.time for row in self.rows])
        return self


TailWater = Annotated[Free | NormalDepth | FixedLevel | LevelSeries, Field(discriminator="kind")]


class Outfall(_Placed):
    """Where water leaves: the tail water decides what it meets there."""

    kind: Literal["outfall"] = "outfall"
    invert: Level
    ground: Level | None = None
    tail_water: TailWater = Field(default_factory=Free)
    flap: bool = Field(False, description="a flap lets nothing back in")


Node = Annotated[Manhole | Junction | Inlet | Storage | Basin | Stone | Outfall, Field(discriminator="kind")]
