"""Weir with a level crest and sloping sides, free or submerged, flowing either way.

Q = C L H^1.5 + 0.8 C z H^2.5, z the slope of each side: a V-notch has L = 0 (8/15 to 2/3 is 0.8);
submerged by the factor s^0.385, s = 1 − (tail/head)^1.5 (Villemonte, 1947), made linear where s is small so that
flow starts from rest with a finite slope.
"""

from collections.abc import Iterator
from typing import Any, ClassVar, Literal, Self

from pydantic import Field, model_validator

from ..numerics.compiled import kernel
from ..quantities import Quantity, said
from .changes import Changes, level, size
from .control import ControlBase, Rows, ScheduleEntry, Unusual, law
from .document import Level
from .link import Reach
from .node import Flooding

__all__ = ["WEIR", "Weir", "over_crest", "unusual_coefficient"]

_LEAST_C, _MOST_C = 1.0, 2.3  # m½/s, of weirs and rims: 1.3 to 1.9, more where a profile draws the jet down

# columns of the parameter row
CREST, LENGTH, COEFFICIENT, SIDE = 0, 1, 2, 3


@kernel
def weir_flow(level_up, level_down, parameters, _curve, _start, _which):
    """Flow in m3/s and its derivatives by both levels in m2/s; negative when the downstream level is higher."""
    level = parameters[CREST]
    crest = parameters[COEFFICIENT] * parameters[LENGTH]
    sides = 0.8 * parameters[COEFFICIENT] * parameters[SIDE]
    if level_down > level_up:
        flow, d_up, d_down = over_crest(level_down, level_up, level, crest, sides)
        return -flow, -d_down, -d_up
    return over_crest(level_up, level_down, level, crest, sides)


@kernel
def over_crest(high, low, level, crest, sides):
    """Flow over a crest at `level` from the higher side: crest H^1.5 + sides H^2.5, submerged by the lower one."""
    head = high - level
    if head <= 0.0:
        return 0.0, 0.0, 0.0
    root = head**0.5
    flow, slope = (crest + sides * head) * head * root, (1.5 * crest + 2.5 * sides * head) * root
    tail = low - level
    if tail <= 0.0:
        return flow, slope, 0.0
    ratio = tail / head
    share = 1.0 - ratio * ratio**0.5
    least = min(0.5, 0.0075 / head)
    if share > least:
        factor = share**0.385
        by_share = 0.385 * factor / share
    else:
        by_share = least ** (0.385 - 1.0)
        factor = share * by_share
    share_by_tail = -1.5 * ratio**0.5 / head
    d_down = flow * by_share * share_by_tail
    return flow * factor, slope * factor - d_down * ratio, d_down


WEIR = law(weir_flow)


def unusual_coefficient(coefficient: float) -> Iterator[Unusual]:
    """A weir's coefficient that no weir has: often one in other units."""
    if not _LEAST_C <= coefficient <= _MOST_C:
        yield Unusual(
            "weir-coefficient", "coefficient",
            said("C is ", Quantity(coefficient, "m½/s")),
            said(
                "weirs give ", Quantity(1.2, "m½/s", 1), " to ", Quantity(2.2, "m½/s", 1),
                ": see in which units it was given",
            ),
        )  # fmt: skip


class Weir(ControlBase):
    """Q = C L H^1.5 over the crest and 0.8 C z H^2.5 over its sloping sides; a V-notch has no crest length."""

    WORD: ClassVar[str] = "weir"
    LEVEL: ClassVar[str | None] = "crest"
    DRAWN: ClassVar[dict[str, str]] = {"weir": "Weir "}
    CHANGES: ClassVar[Changes] = {"length": size("Crest length", "length"), "level": level("Crest", "crest")}

    kind: Literal["weir"] = "weir"
    form: Literal["sharp", "broad", "v_notch", "trapezoidal"] = "sharp"
    crest: Level
    length: float = Field(ge=0, le=10_000, description="m")
    coefficient: float = Field(1.8, gt=0, le=3, description="m0.5/s, C")
    side_slope: float = Field(0.0, ge=0, le=50, description="horizontal per vertical, of each side")

    @classmethod
    def start(cls, reach: Reach) -> dict[str, Any]:
        return {"crest": reach.height(0.7), "length": 1.0}

    @model_validator(mode="after")
    def _form_has_its_dimensions(self) -> Self:
        if self.form != "v_notch" and self.length <= 0.0:
            raise ValueError("a crest length of 0 m passes nothing; type its length")
        if self.form == "v_notch" and self.length > 0.0:
            raise ValueError("a V-notch has no crest length; set it to 0 or choose a trapezoidal weir")
        if self.form in ("v_notch", "trapezoidal") and self.side_slope <= 0.0:
            raise ValueError("has upright sides; type the slope of its sides, or choose a sharp weir")
        if self.form in ("sharp", "broad") and self.side_slope > 0.0:
            raise ValueError("sloping sides belong to a trapezoidal weir or a V-notch; choose one, or set them to 0")
        return self

    def write(self, rows: Rows, flap: bool) -> None:
        rows.row(WEIR, flap, self.crest, self.length, self.coefficient, self.side_slope)

    def unusual(self, node: Flooding) -> Iterator[Unusual]:
        yield from unusual_coefficient(self.coefficient)
        yield from super().unusual(node)

    def schedule_entry(self) -> ScheduleEntry:
        crest = (" ", Quantity(self.length, "m")) if self.length else ()
        sides = f", side slope {self.side_slope:g}" if self.side_slope else ""
        size = said(self.form.replace("_", "-"), *crest, sides)
        return ScheduleEntry(self.crest, size, said(Quantity(self.coefficient, "m½/s")))
