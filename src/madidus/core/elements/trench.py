"""A filter trench."""

from typing import Any, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ..quantities import Quantity, Said, said
from .conduit import ConduitBase
from .geometry import SectionTable, trench_table
from .infiltration import CURVE_DEPTHS, Infiltration, infiltrating_wall
from .link import Reach
from .sections import Circular, size_of

__all__ = ["Trench"]


class Trench(ConduitBase):
    """A filter trench: stone that stores, with a perforated pipe on its floor that conveys when there is one."""

    TABLE: ClassVar[set[str]] = {"width", "height", "porosity", "stone_size", "pipe", "roughness"}
    DRAWN: ClassVar[dict[str, str]] = {"trench": "F"}

    kind: Literal["trench"] = "trench"
    width: float = Field(gt=0, le=100, description="m")
    height: float = Field(gt=0, le=20, description="m of stone above the floor")
    porosity: float = Field(gt=0, le=1, description="share of voids")
    stone_size: float = Field(0.03, ge=0.002, le=0.5, description="m, median")
    pipe: Circular | None = None
    roughness: float = Field(0.013, gt=0, le=1, description="Manning's n of the pipe, s/m^(1/3)")
    infiltration: Infiltration | None = None

    @classmethod
    def start(cls, reach: Reach) -> dict[str, Any]:
        size = {"width": 0.6, "height": 1.0, "porosity": 0.35, "pipe": {"shape": "circular", "diameter": 0.15}}
        return {**super().start(reach), **size}

    def free(self) -> None:
        return None

    def table(self) -> SectionTable:
        return trench_table(self.width, self.height, self.porosity, self.stone_size, self.pipe, self.roughness)

    def infiltrated(self, length: float) -> np.ndarray | None:
        if self.infiltration is None:
            return None
        depths = np.linspace(0.0, self.height, CURVE_DEPTHS)
        base, sides = np.full(CURVE_DEPTHS, self.width), 2.0 * depths
        return infiltrating_wall(depths, base * length, sides * length, self.infiltration)

    def size(self) -> Said:
        width, height = (Quantity(metres * 1000.0, "mm", 0, bare=True) for metres in (self.width, self.height))
        pipe = (", ", size_of(self.pipe)) if self.pipe else ()
        return said("stone ", width, " × ", height, *pipe)

    @model_validator(mode="after")
    def _pipe_fits(self) -> Self:
        if self.pipe and self.pipe.diameter > min(self.width, self.height):
            raise ValueError("the pipe is larger than the trench; choose a smaller diameter or a larger trench")
        return self
