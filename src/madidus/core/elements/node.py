"""What nodes share: a place on the plan and, where water stands in them, what happens above their cover."""

from typing import Any, ClassVar, Literal, NamedTuple

import numpy as np
from pydantic import Field

from .changes import Changes
from .document import DocumentModel, Level, Name
from .inflow import Inflow

__all__ = ["Flooding", "Placed", "Spot"]


class Spot(NamedTuple):
    """Where a new node is drawn: east and north, levels of the ground and of the invert, m."""

    x: float
    y: float
    ground: float
    invert: float


class Placed(DocumentModel):
    """A place on the plan. DRAWN : what it can be drawn as, and what names of new ones begin with. CHANGES : what a
    search may change of it.
    """

    DRAWN: ClassVar[dict[str, str]]
    CHANGES: ClassVar[Changes] = {}

    name: Name
    x: float = Field(0.0, ge=-1e7, le=1e7, description="m east in the project's grid")
    y: float = Field(0.0, ge=-1e8, le=1e8, description="m north in the project's grid")

    @property
    def word(self) -> str:
        """The trade's name of its kind."""
        return str(getattr(self, "kind", ""))

    @classmethod
    def start(cls, spot: Spot, drawn: str) -> dict[str, Any]:
        """Fields of a new one until someone says otherwise. drawn : as what."""
        return {"x": spot.x, "y": spot.y, "invert": spot.invert}


class Flooding(Placed):
    """A node that stores water up to its cover, and floods above it."""

    cover: Level
    invert: Level
    inflows: list[Inflow] = Field(default_factory=list, max_length=20, description="besides runoff")
    flooding: Literal["stored", "lost"] = Field(
        "stored", description="water above cover stands on the ponded area and returns, or leaves for good"
    )
    ponded_area: float = Field(50.0, ge=0.05, le=1e6, description="m2 on which water above the cover stands")
    ponded_side_slope: float = Field(
        50.0, ge=0, le=1000, description="horizontal per vertical: water above cover widens as a cone; 0 is upright"
    )

    @classmethod
    def start(cls, spot: Spot, drawn: str) -> dict[str, Any]:
        return {**super().start(spot, drawn), "cover": spot.ground}

    @property
    def spill_level(self) -> float:
        """Level that its water reaches before it floods, m: its cover, or lower ground."""
        return self.cover

    def areas(self) -> tuple[np.ndarray, np.ndarray]:
        """Depths above the invert (m, from 0 to where it spills) and plan areas of water there (m2)."""
        raise NotImplementedError
