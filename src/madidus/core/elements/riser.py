"""A riser: a ring open at the top."""

from collections.abc import Iterator
from typing import Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..constants import BROAD_CREST
from ..quantities import Quantity, said
from .changes import Changes, level, size
from .control import ControlBase, Rows, ScheduleEntry, Unusual
from .document import Level
from .floor_opening import FLOOR_OPENING
from .link import Reach
from .node import Flooding
from .weir import unusual_coefficient

__all__ = ["Riser"]


class Riser(ControlBase):
    """A ring open at the top: a weir around its crest, an orifice when it is submerged."""

    WORD: ClassVar[str] = "riser"
    LEVEL: ClassVar[str | None] = "crest"
    DRAWN: ClassVar[dict[str, str]] = {"riser": "Riser "}
    CHANGES: ClassVar[Changes] = {"size": size("Diameter", "diameter"), "level": level("Crest", "crest")}

    kind: Literal["riser"] = "riser"
    crest: Level
    diameter: float = Field(gt=0.01, le=20, description="m")
    coefficient: float = Field(BROAD_CREST, gt=0, le=3, description="m0.5/s, C of the crest")
    discharge_coefficient: float = Field(0.6, gt=0, le=1.5, description="of the submerged ring")

    @classmethod
    def start(cls, reach: Reach) -> dict[str, Any]:
        return {"crest": reach.height(0.7), "diameter": 0.6}

    def write(self, rows: Rows, flap: bool) -> None:
        perimeter, area = np.pi * self.diameter, np.pi / 4.0 * self.diameter**2
        rows.row(FLOOR_OPENING, flap, self.crest, self.coefficient * perimeter, self.discharge_coefficient * area)

    def unusual(self, node: Flooding) -> Iterator[Unusual]:
        yield from unusual_coefficient(self.coefficient)
        yield from super().unusual(node)

    def schedule_entry(self) -> ScheduleEntry:
        diameter = Quantity(self.diameter * 1000.0, "mm", 0, bare=True)
        return ScheduleEntry(self.crest, said("Ø", diameter), said(Quantity(self.coefficient, "m½/s")))
