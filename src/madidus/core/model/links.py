"""Links: conduits that hold water, and controls whose flow follows from the levels at both ends."""

import itertools
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from .base import DocumentModel, ElementId, Level, Name
from .nodes import Infiltration
from .sections import Circular, ClosedSection, Opening, OpenSection

__all__ = [
    "Channel", "Conduit", "Control", "FlowCurve", "Link", "Orifice", "Pipe", "Pump", "PumpUnit", "Riser", "RisingMain",
    "Trench", "Weir",
]  # fmt: skip


class _Link(DocumentModel):
    name: Name
    upstream: ElementId
    downstream: ElementId
    flap: bool = Field(False, description="a flap lets nothing flow from downstream to upstream")


class _Conduit(_Link):
    """What pipes, channels and trenches share: one section and one gradient."""

    length: float = Field(gt=0, le=100_000, description="m; overrules the drawn length")
    bends: list[tuple[float, float]] = Field(
        default_factory=list, max_length=1000, description="corners of the course on the plan, from upstream, m"
    )
    upstream_invert: Level
    downstream_invert: Level
    entry_loss: float = Field(0.0, ge=0, le=100, description="K of velocity heads at the upstream end")
    exit_loss: float | None = Field(
        None, ge=0, le=100, description="K of velocity heads at the downstream end; none: 1 into still water, else 0"
    )
    bend_loss: float = Field(0.0, ge=0, le=100, description="K of velocity heads along the conduit")

    @property
    def gradient(self) -> float:
        return (self.upstream_invert - self.downstream_invert) / self.length


class Pipe(_Conduit):
    """A closed conduit."""

    kind: Literal["pipe"] = "pipe"
    section: ClosedSection
    roughness: float = Field(0.013, gt=0, le=1, description="Manning's n, s/m^(1/3)")
    material: Name | None = Field(None, description="as in the list of parts; the roughness is the pipe's own")
    barrels: int = Field(1, ge=1, le=20)
    silt: float = Field(0.0, ge=0, le=20, description="m of sediment on the invert")

    @property
    def height(self) -> float:
        return self.section.height

    @model_validator(mode="after")
    def _silt_leaves_room(self) -> Self:
        if self.silt > 0.8 * self.section.height:
            raise ValueError("silt fills more than 0.8 of the section; lower it, or remove the pipe")
        return self


class BedPoint(DocumentModel):
    chainage: float = Field(gt=0, le=100_000, description="m from the upstream end")
    level: Level


class Channel(_Conduit):
    """An open conduit: ditch, swale, street as a path of floods. Above its banks the walls go on upright."""

    kind: Literal["channel"] = "channel"
    section: OpenSection
    roughness: float = Field(0.03, gt=0, le=1, description="Manning's n, s/m^(1/3)")
    infiltration: Infiltration | None = None
    bed: list[BedPoint] = Field(default_factory=list, max_length=2000, description="levels between both ends")

    @property
    def height(self) -> float:
        return self.section.height

    @model_validator(mode="after")
    def _bed_runs_down_its_length(self) -> Self:
        along = [0.0, *(point.chainage for point in self.bed), self.length]
        if any(b <= a for a, b in itertools.pairwise(along)):
            raise ValueError("chainages of the bed must rise and stay below the length; sort or correct them")
        return self


class Trench(_Conduit):
    """A filter trench: stone that stores, with a perforated pipe on its floor that conveys when there is one."""

    kind: Literal["trench"] = "trench"
    width: float = Field(gt=0, le=100, description="m")
    height: float = Field(gt=0, le=20, description="m of stone above the floor")
    porosity: float = Field(gt=0, le=1, description="share of voids")
    stone_size: float = Field(0.03, ge=0.002, le=0.5, description="m, median")
    pipe: Circular | None = None
    roughness: float = Field(0.013, gt=0, le=1, description="Manning's n of the pipe, s/m^(1/3)")
    infiltration: Infiltration | None = None

    @model_validator(mode="after")
    def _pipe_fits(self) -> Self:
        if self.pipe and self.pipe.diameter > min(self.width, self.height):
            raise ValueError("the pipe is larger than the trench; choose a smaller diameter or a larger trench")
        return self


class Orifice(_Link):
    """An opening in a wall, or in a floor: circular, or rectangular where a width is given."""

    kind: Literal["orifice"] = "orifice"
    position: Literal["side", "bottom"] = "side"
    invert: Level = Field(description="m: the lowest edge of the opening")
    section: Opening
    discharge_coefficient: float = Field(0.6, gt=0, le=1.5)


class Weir(_Link):
    """Q = C L H^1.5 over the crest and 0.8 C z H^2.5 over its sloping sides; a V-notch has no crest length."""

    kind: Literal["weir"] = "weir"
    form: Literal["sharp", "broad", "v_notch", "trapezoidal"] = "sharp"
    crest: Level
    length: float = Field(ge=0, le=10_000, description="m")
    coefficient: float = Field(1.8, gt=0, le=3, description="C, m^0.5/s")
    side_slope: float = Field(0.0, ge=0, le=50, description="horizontal per vertical, of each side")

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


class Riser(_Link):
    """A ring open at the top: a weir around its rim, an orifice when it drowns."""

    kind: Literal["riser"] = "riser"
    crest: Level
    diameter: float = Field(gt=0.01, le=20, description="m")
    coefficient: float = Field(1.7, gt=0, le=3, description="C of the rim, m^0.5/s")
    discharge_coefficient: float = Field(0.6, gt=0, le=1.5, description="of the drowned ring")


class CurveRow(DocumentModel):
    head: float = Field(ge=0, le=1000, description="m")
    flow: float = Field(ge=0, le=1e4, description="m3/s")


class FlowCurve(_Link):
    """A control by its head–flow curve, such as a vortex control: head above `invert` or above the tail water,
    whichever is higher. Water does not return through it. Beyond the last row its flow is held.
    """

    kind: Literal["curve"] = "curve"
    invert: Level = Field(description="m: the level from which head counts")
    rows: list[CurveRow] = Field(min_length=2, max_length=500)

    @model_validator(mode="after")
    def _heads_rise(self) -> Self:
        heads = [row.head for row in self.rows]
        if any(b <= a for a, b in itertools.pairwise(heads)):
            raise ValueError("heads of the curve must rise from row to row; sort or correct them")
        if self.rows[0].head != 0 or self.rows[0].flow != 0:
            raise ValueError("the curve must start at head 0 with flow 0; add that row")
        return self


class PumpRow(DocumentModel):
    flow: float = Field(ge=0, le=1e4, description="m3/s")
    head: float = Field(ge=0, le=1000, description="m")


class PumpUnit(DocumentModel):
    """One pump: starts at `on`, stops at `off`."""

    on: Level
    off: Level
    curve: list[PumpRow] = Field(min_length=2, max_length=100)

    @model_validator(mode="after")
    def _makes_sense(self) -> Self:
        if self.on <= self.off:
            raise ValueError("starts at or below the level at which it stops; raise its on level")
        flows, heads = [row.flow for row in self.curve], [row.head for row in self.curve]
        if any(b <= a for a, b in itertools.pairwise(flows)):
            raise ValueError("flows of the pump curve must rise from row to row; sort or correct them")
        if any(b >= a for a, b in itertools.pairwise(heads)):
            raise ValueError("the head of a pump falls as its flow grows; correct the pump curve")
        return self


class RisingMain(DocumentModel):
    """A full main: Hazen–Williams h = 10.67 L Q^1.852 / (C^1.852 D^4.8704), or Darcy–Weisbach with Colebrook–White."""

    length: float = Field(gt=0, le=100_000, description="m")
    diameter: float = Field(gt=0.01, le=5, description="m")
    law: Literal["hazen_williams", "darcy_weisbach"] = "hazen_williams"
    hazen_williams: float = Field(130.0, ge=20, le=200, description="C")
    sand_roughness: float = Field(1e-4, ge=0, le=0.05, description="m, for Darcy–Weisbach")
    minor_loss: float = Field(0.0, ge=0, le=1000, description="sum of K, the exit included")
    discharge_level: Level | None = Field(None, description="m where it pours out; none: the level at its end")


class Pump(_Link):
    """Pumps side by side on one main, each with its own levels. Water does not return."""

    kind: Literal["pump"] = "pump"
    units: list[PumpUnit] = Field(min_length=1, max_length=4)
    main: RisingMain | None = None


Conduit = Pipe | Channel | Trench
Control = Orifice | Weir | Riser | FlowCurve | Pump
Link = Annotated[
    Pipe | Channel | Trench | Orifice | Weir | Riser | FlowCurve | Pump, Field(discriminator="kind")
]  # fmt: skip
