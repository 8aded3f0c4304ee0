"""Pumps side by side on one main."""

import itertools
from collections.abc import Iterator
from typing import Any, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator
from scipy.optimize import brentq

from ..constants import GRAVITY
from ..numerics.compiled import kernel
from ..quantities import Quantity, said
from .control import ControlBase, Rows, ScheduleEntry, Unusual, law
from .curve import look_up
from .document import DocumentModel, Level
from .link import Reach
from .node import Flooding

__all__ = ["Pump", "PumpRow", "PumpUnit", "RisingMain", "main_loss", "pump_curve", "static_lift"]

DISCHARGE = 0  # column of the parameter row: level into which a main pours, at least
_VISCOSITY = 1.3e-6  # m2/s, water at 10 °C
_POINTS = 80  # of a pump curve
_WATER_WEIGHT = 1000.0 * GRAVITY  # N/m3
_AGAINST_SHUT = 0.5  # of its greatest power, that a pump draws while it lifts nothing


@kernel
def static_lift(level_up, level_down, parameters):
    """How high water is lifted, m: to where the main pours out, or to the level at its end where that is higher."""
    tail = parameters[DISCHARGE]
    return (level_down if level_down > tail or np.isnan(tail) else tail) - level_up


@kernel
def lift_flow(level_up, level_down, parameters, curve, start, which):
    """Flow of pumps on their main by the static lift; the curve is that of the pumps which run."""
    submerged = not level_down <= parameters[DISCHARGE]
    flow, slope = look_up(static_lift(level_up, level_down, parameters), curve, start, which)
    return flow, -slope, slope if submerged else 0.0


PUMP = law(lift_flow)


class PumpRow(DocumentModel):
    """A point of a pump curve."""

    flow: float = Field(ge=0, le=1e4, description="m3/s")
    head: float = Field(ge=0, le=1000, description="m")


class PumpUnit(DocumentModel):
    """One pump: starts at `on`, stops at `off`. A stand-by pump serves only where another one of its station fails."""

    on: Level
    off: Level
    curve: list[PumpRow] = Field(min_length=2, max_length=100)
    standby: bool = False
    efficiency: float | None = Field(
        None, ge=0.05, le=1, description="of pump and motor, water power over electric power; none: no energy is told"
    )

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


def main_loss(main: RisingMain, flow: float) -> float:
    """Head lost in a full main, m: friction and minor losses."""
    if flow <= 0.0:
        return 0.0
    area = np.pi / 4.0 * main.diameter**2
    velocity_head = (flow / area) ** 2 / (2.0 * GRAVITY)
    minor = main.minor_loss * velocity_head
    if main.law == "hazen_williams":
        friction = 10.67 * main.length * flow**1.852 / (main.hazen_williams**1.852 * main.diameter**4.8704)
        return float(friction + minor)
    reynolds = flow / area * main.diameter / _VISCOSITY
    if reynolds < 2000.0:
        factor = 64.0 / reynolds
    else:  # Colebrook–White, from Swamee and Jain's first guess
        factor = 0.25 / np.log10(main.sand_roughness / (3.7 * main.diameter) + 5.74 / reynolds**0.9) ** 2
        for _ in range(20):
            root = np.sqrt(factor)
            inner = main.sand_roughness / (3.7 * main.diameter) + 2.51 / (reynolds * root)
            factor = 1.0 / (2.0 * np.log10(inner)) ** 2
    return float(factor * main.length / main.diameter * velocity_head + minor)


def _passes(unit: PumpUnit, head: float) -> float:
    """Flow of a pump at a head; it holds its last flow below its curve."""
    heads = [row.head for row in reversed(unit.curve)]
    flows = [row.flow for row in reversed(unit.curve)]
    return float(np.interp(head, heads, flows)) if head < heads[-1] else unit.curve[0].flow


def _together(units: list[PumpUnit], head: float) -> float:
    """Flow of pumps side by side at one head."""
    return sum((_passes(unit, head) for unit in units), 0.0)


def _power(units: list[PumpUnit], head: float) -> float:
    """Electric power of pumps side by side at one head, W; not a number where an efficiency is not given.

    A pump that turns against more than its shut-off head lifts nothing, and draws about half of its greatest power, as
    radial pumps do (40 to 60 %).
    """
    return sum((_power_of(unit, head) for unit in units), 0.0)


def _power_of(unit: PumpUnit, head: float) -> float:
    flow, efficiency = _passes(unit, head), unit.efficiency or np.nan
    if flow > 0.0:
        return _WATER_WEIGHT * flow * max(head, 0.0) / efficiency
    return _AGAINST_SHUT * max(_WATER_WEIGHT * row.flow * row.head / efficiency for row in unit.curve)


def pump_curve(units: list[PumpUnit], main: RisingMain | None) -> np.ndarray:
    """Static lift (m), flow (m3/s) and electric power (W) of pumps side by side on one main, float64[3, point].

    By the meeting of their curve with that of the main.
    """
    shut = max((unit.curve[0].head for unit in units), default=0.0)
    if not units:
        return np.array([[0.0, 1.0], [0.0, 0.0], [0.0, 0.0]])
    lowest = min(unit.curve[-1].head for unit in units)
    if main:
        lowest = min(lowest, lowest - main_loss(main, sum(unit.curve[-1].flow for unit in units)))
    lifts = np.unique(np.concatenate([np.linspace(lowest, shut, _POINTS), [r.head for u in units for r in u.curve]]))
    lifts = lifts[lifts >= lowest]
    heads = lifts.copy()
    if main is not None:
        for k, lift in enumerate(lifts):
            if _together(units, lift) > 0.0:
                heads[k] = brentq(
                    lambda h, lift=lift: lift + main_loss(main, _together(units, h)) - h, lift, shut + 1.0
                )
    return np.array([lifts, [_together(units, head) for head in heads], [_power(units, head) for head in heads]])


class Pump(ControlBase):
    """Pumps side by side on one main, each with its own levels. Water does not return."""

    WORD: ClassVar[str] = "pump"
    LEVEL: ClassVar[str | None] = None
    DRAWN: ClassVar[dict[str, str]] = {"pump": "Pump "}

    kind: Literal["pump"] = "pump"
    units: list[PumpUnit] = Field(min_length=1, max_length=4)
    main: RisingMain | None = None
    one_out: bool = Field(False, description="every storm is run again with each of its duty pumps out of service")

    @model_validator(mode="after")
    def _has_duty(self) -> Self:
        if all(unit.standby for unit in self.units):
            raise ValueError("all its pumps stand by, and none would ever run; let one be on duty")
        return self

    @classmethod
    def start(cls, reach: Reach) -> dict[str, Any]:
        curve = [{"flow": flow, "head": head} for flow, head in ((0.0, 10.0), (0.01, 8.0), (0.02, 3.0))]
        return {"units": [{"on": reach.height(0.6), "off": reach.height(0.2), "curve": curve}]}

    def pours_at(self, invert: float, tail: float | None) -> float:
        """Level into which it lifts, m. invert : of the node below; tail : its lowest water, where that is given."""
        if self.main is not None and self.main.discharge_level is not None:
            return self.main.discharge_level
        return invert if tail is None else max(invert, tail)

    @property
    def shut_off_head(self) -> float:
        """The most that any of its pumps lifts, m: at no flow."""
        return max(unit.curve[0].head for unit in self.units)

    @property
    def acts_from(self) -> float:
        return min(unit.off for unit in self.units)

    def write(self, rows: Rows, flap: bool) -> None:
        level = self.main.discharge_level if self.main else None
        running = [
            pump_curve([unit for bit, unit in enumerate(self.units) if which >> bit & 1], self.main)
            for which in range(2 ** len(self.units))
        ]
        flows = [rows.curve(points[:2]) for points in running]
        rows.row(PUMP, False, np.nan if level is None else level, curve=flows[0])
        if all(unit.efficiency for unit in self.units):
            powers = [rows.curve(points[::2]) for points in running]
            rows.power(powers[0])
        for bit, unit in enumerate(self.units):
            rows.switch(unit.on, unit.off, bit)

    @property
    def draws_from(self) -> float:
        return min(unit.off for unit in self.units)

    def unusual(self, node: Flooding) -> Iterator[Unusual]:
        for k, unit in enumerate(self.units, start=1):
            if unit.on > node.cover:
                yield Unusual("pump-levels", "units", f"pump {k} starts above the cover", "lower its on level")
            if unit.off < node.invert:
                yield Unusual(
                    "pump-levels", "units", f"pump {k} stops below the floor, and would never", "raise its off level"
                )

    def schedule_entry(self) -> ScheduleEntry:
        first = self.units[0]
        return ScheduleEntry(first.on, said(f"{len(self.units)} pumps, off at ", Quantity(first.off, "m", 2)), "")
