"""A sluice gate, or a penstock that is partly open: flow under its lip, free or submerged, either way.

Contracted depth y2 = Cc a. Free, by energy: q = y1 y2 sqrt(2 g / (y1 + y2)). Submerged when the depth y3 downstream
exceeds the depth conjugate to y2; then energy y1 + q²/(2 g y1²) = y + q²/(2 g y2²) and momentum y²/2 + q²/(g y2) =
y3²/2 + q²/(g y3), y the depth just below the gate (Henderson, Open Channel Flow, 1966, 6.6). Bed level with the sill on
both sides, approach velocity included. While the water does not touch the gate it passes as over a broad crest: the
lesser of the two is the flow.
"""

from typing import Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..constants import GRAVITY
from ..numerics.compiled import kernel
from ..quantities import Quantity, said
from .changes import Changes, level, size
from .control import ControlBase, Rows, ScheduleEntry, law
from .document import Level
from .link import Reach
from .weir import over_crest

__all__ = ["SluiceGate", "gate_flow", "submerged_from"]

# columns of the parameter row
SILL, WIDTH, JET = 0, 1, 2  # JET: contracted depth, Cc times the opening
_CREST = (2.0 / 3.0) ** 1.5 * GRAVITY**0.5  # m½/s, of a broad crest without loss


@kernel
def submerged_from(y1, y2):
    """Depth downstream at which a jet is submerged: conjugate to y2 at the free flow from y1."""
    froude = 2.0 * y1 * y1 / (y2 * (y1 + y2))  # q²/(g y2³)
    return 0.5 * y2 * (np.sqrt(1.0 + 8.0 * froude) - 1.0)


@kernel
def _under(y1, y3, y2):
    """Flow for each metre of width under the gate, m2/s, and its derivatives by y1 and y3."""
    if y3 <= submerged_from(y1, y2):
        root = np.sqrt(2.0 * GRAVITY / (y1 + y2))
        return y1 * y2 * root, y2 * root * (1.0 - 0.5 * y1 / (y1 + y2)), 0.0
    # (y1 - A k)² = y3² - B k, k = q²/g: the lesser root, written so that it stays exact near equal levels
    a, b = 0.5 * (1.0 / (y2 * y2) - 1.0 / (y1 * y1)), 2.0 * (1.0 / y2 - 1.0 / y3)
    s, rest = 2.0 * a * y1 - b, (y1 - y3) * (y1 + y3)
    k = 2.0 * rest / (s + np.sqrt(max(s * s - 4.0 * a * a * rest, 0.0)))
    q = np.sqrt(GRAVITY * max(k, 1e-12))
    below = y1 - a * k
    by_k = b - 2.0 * a * below
    k_up = -2.0 * below * (1.0 - k / (y1 * y1 * y1)) / by_k
    k_down = (2.0 * y3 - 2.0 * k / (y3 * y3)) / by_k
    slope = 0.5 * GRAVITY / q
    return q, slope * k_up, slope * k_down


@kernel
def _forward(high, low, parameters):
    sill, width, jet = parameters[SILL], parameters[WIDTH], parameters[JET]
    flow, d_up, d_down = over_crest(high, low, sill, _CREST * width, 0.0)
    y1 = high - sill
    if y1 > jet and high > low:
        under, up, down = _under(y1, low - sill, jet)
        if width * under < flow:
            return width * under, width * up, width * down
    return flow, d_up, d_down


@kernel
def gate_flow(level_up, level_down, parameters, _curve, _start, _which):
    """Flow in m3/s and its derivatives by both levels in m2/s; negative when the downstream level is higher."""
    if level_down > level_up:
        flow, d_up, d_down = _forward(level_down, level_up, parameters)
        return -flow, -d_down, -d_up
    return _forward(level_up, level_down, parameters)


GATE = law(gate_flow)


class SluiceGate(ControlBase):
    """A vertical gate over a level sill, open by a height: a sluice gate, a penstock."""

    WORD: ClassVar[str] = "sluice gate"
    LEVEL: ClassVar[str | None] = "sill"
    DRAWN: ClassVar[dict[str, str]] = {"gate": "Gate "}
    CHANGES: ClassVar[Changes] = {"size": size("Opening", "opening"), "level": level("Sill", "sill")}

    kind: Literal["gate"] = "gate"
    sill: Level
    width: float = Field(gt=0.01, le=100, description="m")
    opening: float = Field(gt=0.001, le=20, description="m from the sill to the lip of the gate")
    contraction_coefficient: float = Field(0.61, gt=0.3, le=1, description="Cc, of the jet: its depth over the opening")

    @classmethod
    def start(cls, reach: Reach) -> dict[str, Any]:
        return {"sill": reach.invert, "width": 1.0, "opening": 0.3}

    def write(self, rows: Rows, flap: bool) -> None:
        rows.row(GATE, flap, self.sill, self.width, self.contraction_coefficient * self.opening)

    def schedule_entry(self) -> ScheduleEntry:
        width, opening = (Quantity(metres * 1000.0, "mm", 0, bare=True) for metres in (self.width, self.opening))
        size = said(width, " wide, ", opening, " open")
        return ScheduleEntry(self.sill, size, self.contraction_coefficient)
