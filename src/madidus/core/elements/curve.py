"""A control by its head–flow curve: vortex controls and the like, and infiltration.

Between the points of a curve flow is linear; beyond the last point it is held.
"""

import itertools
from collections.abc import Iterator
from typing import Any, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ..numerics.compiled import kernel
from ..quantities import Quantity, said
from .changes import Changes, level, times
from .control import ControlBase, Rows, ScheduleEntry, Unusual, law
from .document import DocumentModel, Level
from .link import Reach
from .node import Flooding

__all__ = ["BY_CURVE", "CurveRow", "FlowCurve", "look_up", "vortex_rows"]

# columns of the parameter row
INVERT = 0


@kernel
def look_up(x, curve, start, which):
    """Flow and its slope at x."""
    low, high = start[which], start[which + 1] - 1
    if x <= curve[0, low]:
        return curve[1, low], 0.0
    if x >= curve[0, high]:
        return curve[1, high], 0.0
    while high - low > 1:
        middle = (low + high) // 2
        if curve[0, middle] <= x:
            low = middle
        else:
            high = middle
    slope = (curve[1, high] - curve[1, low]) / (curve[0, high] - curve[0, low])
    return curve[1, low] + slope * (x - curve[0, low]), slope


@kernel
def curve_flow(level_up, level_down, parameters, curve, start, which):
    """Flow in m3/s by the head above the invert or the tail water, and its derivatives in m2/s; nothing flows back.

    Where a curve falls (the vortex forms) the slope given is 0: the iteration then approaches it from one side.
    """
    tail = max(level_down, parameters[INVERT])
    if level_up <= tail:
        return 0.0, 0.0, 0.0
    flow, slope = look_up(level_up - tail, curve, start, which)
    slope = max(slope, 0.0)
    return flow, slope, -slope if level_down > parameters[INVERT] else 0.0


BY_CURVE = law(curve_flow)


class CurveRow(DocumentModel):
    """A point of a head–flow curve."""

    head: float = Field(ge=0, le=1000, description="m")
    flow: float = Field(ge=0, le=1e4, description="m3/s")


_FLUSH, _KICK = 0.3, 0.6  # of the design head: where a vortex control lets its design flow through first, and throttles


def vortex_rows(head: float, flow: float) -> list[CurveRow]:
    """A general curve of a vortex control by its design head (m) and flow (m3/s), until its maker's table is there.

    It rises as a weir, Q = Qd (h / 0.3 H)^1.5, to the design flow at 0.3 H; falls straight as the vortex forms, to 0.6
    H; and goes on as an opening, Q = Qd (h / H)^0.5, through the design point to twice the design head.
    """
    rising = [(share * head, flow * (share / _FLUSH) ** 1.5) for share in np.linspace(0.0, _FLUSH, 7)]
    throttled = [(share * head, flow * share**0.5) for share in (*np.linspace(_KICK, 1.0, 5), 1.25, 1.5, 2.0)]
    return [CurveRow(head=round(h, 4), flow=float(f"{q:.5g}")) for h, q in (*rising, *throttled)]


def _rated(link: "FlowCurve", factor: float) -> dict[str, Any]:
    return {"rows": [{"head": row.head, "flow": float(f"{row.flow * factor:.6g}")} for row in link.rows]}


class FlowCurve(ControlBase):
    """A control by its head–flow curve, such as a vortex control: head above `invert` or above the tail water,
    whichever is higher. Water does not return through it. Beyond the last row its flow is held.
    """

    WORD: ClassVar[str] = "flow control"
    LEVEL: ClassVar[str | None] = "invert"
    DRAWN: ClassVar[dict[str, str]] = {"curve": "Control "}
    CHANGES: ClassVar[Changes] = {"flow": times("Flow of its curve", _rated), "level": level("Invert", "invert")}

    kind: Literal["curve"] = "curve"
    invert: Level = Field(description="m: the level from which head counts")
    rows: list[CurveRow] = Field(min_length=2, max_length=500)
    general: bool = Field(False, description="a vortex control's general curve, until its maker's table replaces it")

    @classmethod
    def start(cls, reach: Reach) -> dict[str, Any]:
        rows = ((0.0, 0.0), (0.2, 0.004), (0.4, 0.0035), (1.0, 0.005))
        return {"invert": reach.invert, "rows": [{"head": head, "flow": flow} for head, flow in rows]}

    @model_validator(mode="after")
    def _heads_rise(self) -> Self:
        heads = [row.head for row in self.rows]
        if any(b <= a for a, b in itertools.pairwise(heads)):
            raise ValueError("heads of the curve must rise from row to row; sort or correct them")
        if self.rows[0].head != 0 or self.rows[0].flow != 0:
            raise ValueError("the curve must start at head 0 with flow 0; add that row")
        return self

    @property
    def most(self) -> float:
        """The greatest flow of its curve, m3/s: it never passes more."""
        return max(row.flow for row in self.rows)

    def write(self, rows: Rows, flap: bool) -> None:
        points = np.array([[row.head for row in self.rows], [row.flow for row in self.rows]])
        rows.row(BY_CURVE, flap, self.invert, curve=rows.curve(points))

    def unusual(self, node: Flooding) -> Iterator[Unusual]:
        yield from super().unusual(node)
        if self.general:
            yield Unusual(
                "curve-general", "rows", "its curve is the general one of vortex controls",
                "paste its maker's table: the flow below the design head may be another",
            )  # fmt: skip
            return
        for a, b in itertools.pairwise(self.rows):
            if b.flow < a.flow:
                yield Unusual(
                    "curve-falls",
                    "rows",
                    said("its flow falls from ", Quantity(a.head, "m"), " to ", Quantity(b.head, "m"), " of head"),
                    "right for a vortex control; else correct the curve",
                )
                return

    def schedule_entry(self) -> ScheduleEntry:
        most = Quantity(self.most * 1000.0, "L/s", 1)
        return ScheduleEntry(self.invert, said(most, " at most", ", general curve" if self.general else ""), "")
