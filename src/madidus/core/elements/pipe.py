"""A pipe."""

from typing import Any, ClassVar, Literal, Self

from pydantic import Field, model_validator

from ..document import Name
from .conduit import ConduitBase
from .link import Reach
from .sections import ClosedSection

__all__ = ["Pipe"]


class Pipe(ConduitBase):
    """A closed conduit."""

    DRAWN: ClassVar[dict[str, str]] = {"pipe": "L"}

    kind: Literal["pipe"] = "pipe"
    section: ClosedSection
    roughness: float = Field(0.013, gt=0, le=1, description="Manning's n, s/m^(1/3)")
    material: Name | None = Field(None, description="as in the list of parts; the roughness is the pipe's own")
    barrels: int = Field(1, ge=1, le=20)
    silt: float = Field(0.0, ge=0, le=20, description="m of sediment on the invert")

    @classmethod
    def start(cls, reach: Reach) -> dict[str, Any]:
        return {**super().start(reach), "section": {"shape": "circular", "diameter": 0.3}}

    @property
    def height(self) -> float:
        return self.section.height

    @model_validator(mode="after")
    def _silt_leaves_room(self) -> Self:
        if self.silt > 0.8 * self.section.height:
            raise ValueError("silt fills more than 0.8 of the section; lower it, or remove the pipe")
        return self
