"""A pipe."""

from typing import Any, ClassVar, Literal, Self

from pydantic import Field, model_validator

from ..quantities import Said, said
from .conduit import ConduitBase
from .document import Name
from .geometry import Geometry, SectionTable, geometry, section_table
from .link import Reach
from .sections import Circular, ClosedSection, size_of

__all__ = ["Pipe"]

_MOST_SILT = 0.8  # of the height


class Pipe(ConduitBase):
    """A closed conduit."""

    TABLE: ClassVar[set[str]] = {"section", "barrels", "silt"}
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

    @property
    def count(self) -> int:
        return self.barrels

    @property
    def sediment(self) -> float:
        return self.silt

    def free(self) -> Geometry:
        shape = geometry(self.section)
        return shape.above(self.silt) if self.silt else shape

    def table(self) -> SectionTable:
        return section_table(self.free(), barrels=self.barrels)

    def with_diameter(self, diameter: float) -> "Pipe | None":
        """The pipe if it were round and of another size in m; None where its silt would leave no room."""
        if self.silt > _MOST_SILT * diameter:
            return None
        return self.model_copy(update={"section": Circular(diameter=diameter)})

    def size(self) -> Said:
        return said(f"{self.barrels} × " if self.barrels > 1 else "", size_of(self.section))

    @model_validator(mode="after")
    def _silt_leaves_room(self) -> Self:
        if self.silt > _MOST_SILT * self.section.height:
            raise ValueError("silt fills more than 0.8 of the section; lower it, or remove the pipe")
        return self
