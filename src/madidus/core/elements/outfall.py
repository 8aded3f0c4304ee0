"""An outfall."""

from typing import Any, ClassVar, Literal

from pydantic import Field

from .document import Level
from .node import Placed, Spot
from .tail_water import Free, TailWater

__all__ = ["Outfall"]


class Outfall(Placed):
    """Where water leaves: the tail water decides what it meets there."""

    DRAWN: ClassVar[dict[str, str]] = {"outfall": "O"}

    kind: Literal["outfall"] = "outfall"
    invert: Level
    ground: Level | None = None
    tail_water: TailWater = Field(default_factory=Free)
    flap: bool = Field(False, description="a flap lets nothing back in")

    @classmethod
    def start(cls, spot: Spot, drawn: str) -> dict[str, Any]:
        return {**super().start(spot, drawn), "ground": spot.ground}
