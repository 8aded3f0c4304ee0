"""An outfall."""

from typing import Literal

from pydantic import Field

from ..document import Level
from .node import Placed
from .tail_water import Free, TailWater

__all__ = ["Outfall"]


class Outfall(Placed):
    """Where water leaves: the tail water decides what it meets there."""

    kind: Literal["outfall"] = "outfall"
    invert: Level
    ground: Level | None = None
    tail_water: TailWater = Field(default_factory=Free)
    flap: bool = Field(False, description="a flap lets nothing back in")
