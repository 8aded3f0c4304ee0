"""A channel."""

import itertools
from typing import Any, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ..quantities import Said
from .conduit import ConduitBase
from .document import DocumentModel, Level
from .geometry import Geometry, SectionTable, geometry, section_table
from .infiltration import CURVE_DEPTHS, Infiltration, infiltrating_wall
from .link import Reach
from .sections import OpenSection, size_of

__all__ = ["BedPoint", "Channel"]


class BedPoint(DocumentModel):
    """A level of the bed between both ends."""

    chainage: float = Field(gt=0, le=100_000, description="m from the upstream end")
    level: Level


class Channel(ConduitBase):
    """An open conduit: ditch, swale, street as a path of floods. Above its banks the walls go on upright."""

    TABLE: ClassVar[set[str]] = {"section"}
    DRAWN: ClassVar[dict[str, str]] = {"channel": "C"}

    kind: Literal["channel"] = "channel"
    section: OpenSection
    roughness: float = Field(0.03, gt=0, le=1, description="Manning's n, s/m^(1/3)")
    infiltration: Infiltration | None = None
    bed: list[BedPoint] = Field(default_factory=list, max_length=2000, description="levels between both ends")

    @classmethod
    def start(cls, reach: Reach) -> dict[str, Any]:
        section = {"shape": "trapezoidal", "base_width": 0.5, "left_slope": 2.0, "right_slope": 2.0, "height": 0.5}
        return {**super().start(reach), "section": section}

    @property
    def height(self) -> float:
        return self.section.height

    def _invert_points(self) -> list[tuple[float, float]]:
        first, last = super()._invert_points()
        return [first, *((point.chainage, point.level) for point in self.bed), last]

    def free(self) -> Geometry:
        return geometry(self.section, is_open=True)

    def table(self) -> SectionTable:
        return section_table(self.free(), is_open=True)

    def infiltrated(self, length: float) -> np.ndarray | None:
        if self.infiltration is None:
            return None
        shape = self.free()
        depths = np.linspace(0.0, shape.height, CURVE_DEPTHS)
        base = np.full(CURVE_DEPTHS, float(shape.width_at(0.0)))
        sides = shape.perimeter_at(depths) - base
        return infiltrating_wall(depths, base * length, sides * length, self.infiltration)

    def size(self) -> Said:
        return size_of(self.section)

    @model_validator(mode="after")
    def _bed_runs_down_its_length(self) -> Self:
        along = [0.0, *(point.chainage for point in self.bed), self.length]
        if any(b <= a for a, b in itertools.pairwise(along)):
            raise ValueError("chainages of the bed must rise and stay below the length; sort or correct them")
        return self
