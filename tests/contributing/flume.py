"""A flume: a throat with upright walls, in which flow is critical while tail water stays low.

Q = (2/3)^1.5 √g B H^1.5, B the width of the throat and H the head over its sill (ISO 4359); drowned as a weir is.
"""

from typing import Any, ClassVar, Literal

from pydantic import Field

from ..constants import GRAVITY
from ..numerics.compiled import kernel
from ..quantities import Quantity, said
from .changes import Changes, level, size
from .control import ControlBase, Rows, ScheduleEntry, law
from .document import Level
from .link import Reach
from .weir import over_crest

__all__ = ["Flume"]

# columns of the parameter row
SILL, WIDTH = 0, 1
_CRITICAL = (2.0 / 3.0) ** 1.5 * GRAVITY**0.5  # m½/s


@kernel
def flume_flow(level_up, level_down, parameters, _curve, _start, _which):
    """Flow in m3/s and its derivatives by both levels in m2/s; negative when the downstream level is higher."""
    sill, throat = parameters[SILL], _CRITICAL * parameters[WIDTH]
    if level_down > level_up:
        flow, d_up, d_down = over_crest(level_down, level_up, sill, throat, 0.0)
        return -flow, -d_down, -d_up
    return over_crest(level_up, level_down, sill, throat, 0.0)


FLUME = law(flume_flow)


class Flume(ControlBase):
    """A throat with upright walls over a level sill."""

    WORD: ClassVar[str] = "flume"
    LEVEL: ClassVar[str | None] = "sill"
    DRAWN: ClassVar[dict[str, str]] = {"flume": "Flume "}
    CHANGES: ClassVar[Changes] = {"size": size("Throat", "width"), "level": level("Sill", "sill")}

    kind: Literal["flume"] = "flume"
    sill: Level
    width: float = Field(gt=0.01, le=50, description="m of the throat")

    @classmethod
    def start(cls, reach: Reach) -> dict[str, Any]:
        return {"sill": reach.invert, "width": 0.5}

    def write(self, rows: Rows, flap: bool) -> None:
        rows.row(FLUME, flap, self.sill, self.width)

    def schedule_entry(self) -> ScheduleEntry:
        return ScheduleEntry(self.sill, said(Quantity(self.width, "m"), " wide"), "critical")
