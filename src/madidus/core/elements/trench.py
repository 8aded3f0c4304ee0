"""A filter trench."""

from typing import Any, ClassVar, Literal, Self

from pydantic import Field, model_validator

from .conduit import ConduitBase
from .infiltration import Infiltration
from .link import Reach
from .sections import Circular

__all__ = ["Trench"]


class Trench(ConduitBase):
    """A filter trench: stone that stores, with a perforated pipe on its floor that conveys when there is one."""

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

    @model_validator(mode="after")
    def _pipe_fits(self) -> Self:
        if self.pipe and self.pipe.diameter > min(self.width, self.height):
            raise ValueError("the pipe is larger than the trench; choose a smaller diameter or a larger trench")
        return self
