"""A manhole."""

import math
from typing import ClassVar, Literal

from pydantic import Field

from .shaft import Shaft

__all__ = ["Manhole"]


class Manhole(Shaft):
    """A shaft from invert to cover. `diameter` overrules the plan area."""

    DRAWN: ClassVar[dict[str, str]] = {"manhole": "M"}

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
