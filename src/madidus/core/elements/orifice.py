"""Orifices. In a wall: partly full, full or submerged, flowing either way.

Q = Cd A(y) sqrt(2 g H): y the depth over the orifice's invert up to its height, A the opened area, H the head above the
centre of the flowing opening or above the tail water, whichever is higher. For a full, free orifice this is the
textbook law with the head to the centre; for a partly full rectangular one it is a weir with C = Cd sqrt(g).
"""

from typing import Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..constants import BROAD_CREST, GRAVITY, SMOOTHING
from ..numerics.compiled import kernel
from ..quantities import said
from .changes import Adjustable, Changes, level
from .control import ControlBase, Rows, ScheduleEntry, law
from .document import Level
from .floor_opening import FLOOR_OPENING
from .link import Reach
from .sections import Opening, size_of

__all__ = ["ORIFICE", "Orifice", "orifice_flow"]

# columns of the parameter row
INVERT, HEIGHT, WIDTH, COEFFICIENT = 0, 1, 2, 3  # width 0: circular


@kernel
def orifice_flow(level_up, level_down, parameters, _curve, _start, _which):
    """Flow in m3/s and its derivatives by both levels in m2/s; negative when the downstream level is higher."""
    if level_down > level_up:
        flow, d_up, d_down = _forward(level_down, level_up, parameters)
        return -flow, -d_down, -d_up
    return _forward(level_up, level_down, parameters)


@kernel
def _forward(high, low, parameters):
    invert, height, width = parameters[INVERT], parameters[HEIGHT], parameters[WIDTH]
    y = high - invert
    if y <= 0.0:
        return 0.0, 0.0, 0.0
    opened = min(y, height)
    if width > 0.0:
        area, breadth = width * opened, width
    else:
        angle = 2.0 * np.arccos(1.0 - 2.0 * opened / height)
        area = height * height / 8.0 * (angle - np.sin(angle))
        breadth = 2.0 * np.sqrt(opened * (height - opened))
    if y >= height:
        breadth = 0.0
    centre = invert + 0.5 * opened
    tail = max(centre, low)
    head = max(high - tail, 0.0)
    root = np.sqrt(head + SMOOTHING)
    speed = parameters[COEFFICIENT] * np.sqrt(2.0 * GRAVITY)
    by_head = speed * area * (1.0 / root - 0.5 * head / root**3)
    by_area = speed * breadth * head / root
    flow = speed * area * head / root
    if low > centre:
        return flow, by_area + by_head, -by_head
    centre_rise = 0.5 if y < height else 0.0
    return flow, by_area + by_head * (1.0 - centre_rise), 0.0


ORIFICE = law(orifice_flow)


def _opened(link: "Orifice", size: float) -> dict[str, Any]:
    field = "diameter" if link.section.shape == "circular" else "height"
    return {"section": {**link.section.model_dump(), field: round(size, 4)}}


class Orifice(ControlBase):
    """An opening in a wall, or in a floor: circular, or rectangular where a width is given."""

    WORD: ClassVar[str] = "orifice"
    LEVEL: ClassVar[str | None] = "invert"
    DRAWN: ClassVar[dict[str, str]] = {"orifice": "Orifice "}
    OUTLET: ClassVar[bool] = True
    CHANGES: ClassVar[Changes] = {
        "size": Adjustable("Size", lambda link: link.section.height, _opened, blocks=True),
        "level": level("Invert", "invert"),
    }

    kind: Literal["orifice"] = "orifice"
    position: Literal["side", "bottom"] = "side"
    invert: Level = Field(description="m: the invert of the opening")
    section: Opening
    discharge_coefficient: float = Field(0.6, gt=0, le=1.5)

    @classmethod
    def start(cls, reach: Reach) -> dict[str, Any]:
        return {"invert": reach.invert, "section": {"shape": "circular", "diameter": 0.1}}

    def write(self, rows: Rows, flap: bool) -> None:
        section = self.section
        width = section.width if section.shape == "rectangular" else 0.0
        if self.position == "side":
            rows.row(ORIFICE, flap, self.invert, section.height, width, self.discharge_coefficient)
            return
        area = width * section.height if width else np.pi / 4.0 * section.height**2
        perimeter = 2.0 * (width + section.height) if width else np.pi * section.height
        rows.row(FLOOR_OPENING, flap, self.invert, BROAD_CREST * perimeter, self.discharge_coefficient * area)

    def schedule_entry(self) -> ScheduleEntry:
        return ScheduleEntry(self.invert, said(f"{self.position} ", size_of(self.section)), self.discharge_coefficient)
