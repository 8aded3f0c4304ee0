"""Controls as rows of parameters, and curves: pumps side by side on one main, vortex controls, infiltration."""

import itertools
from dataclasses import dataclass, field

import numpy as np
from scipy.optimize import brentq

from ..model.links import Control, FlowCurve, Orifice, Pump, PumpUnit, Riser, RisingMain, Weir
from .constants import GRAVITY
from .controls import BY_CURVE, FLOOR_OPENING, ORIFICE, PARAMETERS, PUMP, WEIR
from .sections import geometry

__all__ = ["ControlRows", "main_loss", "pump_curve"]

_VISCOSITY = 1.3e-6  # m2/s, water at 10 °C
_POINTS = 80  # of a pump curve


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


def _together(units: list[PumpUnit], head: float) -> float:
    """Flow of pumps side by side at one head; each holds its last flow below its curve."""
    total = 0.0
    for unit in units:
        heads = [row.head for row in reversed(unit.curve)]
        flows = [row.flow for row in reversed(unit.curve)]
        total += float(np.interp(head, heads, flows)) if head < heads[-1] else unit.curve[0].flow
    return total


def pump_curve(units: list[PumpUnit], main: RisingMain | None) -> np.ndarray:
    """Static lift and flow of pumps side by side on one main, float64[2, point], by the meeting of both curves."""
    shut = max((unit.curve[0].head for unit in units), default=0.0)
    if not units:
        return np.array([[0.0, 1.0], [0.0, 0.0]])
    lowest = min(unit.curve[-1].head for unit in units)
    if main:
        lowest = min(lowest, lowest - main_loss(main, sum(unit.curve[-1].flow for unit in units)))
    lifts = np.unique(np.concatenate([np.linspace(lowest, shut, _POINTS), [r.head for u in units for r in u.curve]]))
    lifts = lifts[lifts >= lowest]
    flows = []
    for lift in lifts:
        if main is None:
            flows.append(_together(units, lift))
        elif _together(units, lift) <= 0.0:
            flows.append(0.0)
        else:
            head = brentq(lambda h, lift=lift: lift + main_loss(main, _together(units, h)) - h, lift, shut + 1.0)
            flows.append(_together(units, head))
    return np.array([lifts, flows])


@dataclass
class ControlRows:
    """Rows of `Grid.control`, `parameters`, `switch` and `curve` as they are gathered, face by face."""

    kinds: list[tuple[int, int, int]] = field(default_factory=list)
    parameters: list[tuple[float, ...]] = field(default_factory=list)
    curves: list[np.ndarray] = field(default_factory=list)
    switches: list[tuple[float, float]] = field(default_factory=list)
    switch_index: list[tuple[int, int]] = field(default_factory=list)

    def _row(self, kind: int, flap: bool, *parameters: float, curve: int = 0) -> None:
        self.kinds.append((kind, int(flap), curve))
        self.parameters.append((*parameters, *[0.0] * (PARAMETERS - len(parameters))))

    def add(self, control: Control, flap: bool) -> None:
        """Append a control that may have a flap (its own, or its outfall's)."""
        if isinstance(control, Orifice):
            if control.position == "side":
                width = control.section.width if control.section.shape == "rectangular" else 0.0
                self._row(
                    ORIFICE, flap, control.invert, control.section.height, width, control.discharge_coefficient
                )  # fmt: skip
            else:
                shape = geometry(control.section)
                area, rim = float(shape.area_at(shape.height)), float(shape.perimeter_at(shape.height))
                self._row(FLOOR_OPENING, flap, control.invert, 1.7 * rim, control.discharge_coefficient * area)
        elif isinstance(control, Riser):
            rim, area = np.pi * control.diameter, np.pi / 4.0 * control.diameter**2
            self._row(
                FLOOR_OPENING, flap, control.crest, control.coefficient * rim, control.discharge_coefficient * area
            )
        elif isinstance(control, Weir):
            self._row(WEIR, flap, control.crest, control.length, control.coefficient, control.side_slope)
        elif isinstance(control, FlowCurve):
            points = np.array([[row.head for row in control.rows], [row.flow for row in control.rows]])
            self.add_curve(points, control.invert, flap)
        else:
            self._add_pump(control)

    def add_curve(self, points: np.ndarray, invert: float, flap: bool = False) -> None:
        """Append a control by a curve of head above `invert` and flow."""
        self.curves.append(points)
        self._row(BY_CURVE, flap, invert, curve=len(self.curves) - 1)

    def _add_pump(self, pump: Pump) -> None:
        level = pump.main.discharge_level if pump.main else None
        self._row(PUMP, False, np.nan if level is None else level, curve=len(self.curves))
        count = len(pump.units)
        for running in range(2**count):
            units = [unit for bit, unit in enumerate(pump.units) if running >> bit & 1]
            self.curves.append(pump_curve(units, pump.main))
        for bit, unit in enumerate(pump.units):
            self.switches.append((unit.on, unit.off))
            self.switch_index.append((len(self.kinds) - 1, bit))

    def add_rim(self, level: float, length: float) -> None:
        """Append the rim of a shaft, or of a pond's bank, as a broad crest over which a flood is lost."""
        self._row(WEIR, False, level, length, 1.7)

    def arrays(self) -> dict[str, np.ndarray]:
        curves = self.curves or [np.zeros((2, 2))]
        starts = list(itertools.accumulate((c.shape[1] for c in curves), initial=0))
        return {
            "control": np.ascontiguousarray(np.array(self.kinds, dtype=np.int32).reshape(-1, 3).T),
            "parameters": np.array(self.parameters, dtype=np.float64).reshape(-1, PARAMETERS),
            "switch": np.array(self.switches, dtype=np.float64).reshape(-1, 2),
            "switch_index": np.array(self.switch_index, dtype=np.int32).reshape(-1, 2),
            "curve": np.ascontiguousarray(np.concatenate(curves, axis=1)),
            "curve_start": np.array(starts, dtype=np.int32),
        }
