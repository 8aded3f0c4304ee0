"""A channel."""

import itertools
from typing import Any, ClassVar, Literal, Self

from pydantic import Field, model_validator

from ..document import DocumentModel, Level
from .conduit import ConduitBase
from .infiltration import Infiltration
from .link import Reach
from .sections import OpenSection

__all__ = ["BedPoint", "Channel"]


class BedPoint(DocumentModel):
    """A level of the bed between both ends."""

    chainage: float = Field(gt=0, le=100_000, description="m from the upstream end")
    level: Level


class Channel(ConduitBase):
    """An open conduit: ditch, swale, street as a path of floods. Above its banks the walls go on upright."""

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

    @model_validator(mode="after")
    def _bed_runs_down_its_length(self) -> Self:
        along = [0.0, *(point.chainage for point in self.bed), self.length]
        if any(b <= a for a, b in itertools.pairwise(along)):
            raise ValueError("chainages of the bed must rise and stay below the length; sort or correct them")
        return self
