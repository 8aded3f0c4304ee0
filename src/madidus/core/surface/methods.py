"""What a square metre of a catchment gives to its node in a storm, by each method; and where the rest stays."""

import math
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from .losses import curve_number_excess, initial_continuing
from .overland import kinematic_plane, nonlinear_reservoir
from .runoff import Coefficient, Losses, Method, Overland, Runoff, UnitHydrograph
from .time_area import mean_intensity
from .unit_hydrograph import flow_of

__all__ = ["RainBlocks", "RunoffSurface", "UnitRunoff", "lagged_excess", "unit_runoff_of"]

_MM = 1e-3
_PER_HOUR = 1.0 / 3.6e6  # mm/h to m/s
_TAIL = 24 * 3600.0  # s after the rain over which a surface is followed
_TAIL_TIMES = 60
_UNIT_STEP = 0.05  # of the time of concentration: a step of the unit hydrograph
_LEAST_GREEN = 0.01  # share of green ground below which it is no way for the paved ground's water


class RainBlocks(Protocol):
    """Rain that is constant in steps."""

    @property
    def times(self) -> np.ndarray:
        """Ends of the steps, s: float64[n + 1]."""

    @property
    def intensity(self) -> np.ndarray:
        """Between them, mm/h: float64[n]."""

    @property
    def season(self) -> str:
        """Whose coefficients count."""


@dataclass(frozen=True)
class RunoffSurface:
    """What of a catchment decides how a square metre of it runs off. paved : share, creep included; entry : s."""

    method: Method
    paved: float
    entry: float

    def parts(self) -> list[tuple["RunoffSurface", float]]:
        """Kinds of ground that this one is a sum of, each with its share: few kinds make up all catchments."""
        method = self.method
        if isinstance(method, UnitHydrograph):
            return [(RunoffSurface(method, 1.0, 0.0), 1.0)]
        if isinstance(method, Overland):
            if method.paved_over_green > 0.0:
                return [(RunoffSurface(method, self.paved, 0.0), 1.0)]
            return [(RunoffSurface(method, 1.0, 0.0), self.paved), (RunoffSurface(method, 0.0, 0.0), 1.0 - self.paved)]
        paved, green = (RunoffSurface(method, share, self.entry) for share in (1.0, 0.0))
        return [(paved, self.paved), (green, 1.0 - self.paved)]


@dataclass(frozen=True)
class UnitRunoff:
    """Of one square metre: flow (m/s) joined by straight lines between times (s); and m of rain, lost, still on it."""

    times: np.ndarray
    flow: np.ndarray
    rain: float
    lost: float
    kept: float

    @property
    def runoff(self) -> float:
        """Depth that runs off, m."""
        return float(np.trapezoid(self.flow, self.times))


def unit_runoff_of(ground: RunoffSurface, values: Runoff, rain: RainBlocks) -> UnitRunoff:
    """Runoff of one square metre of a catchment. The season 'all year' takes the summer coefficients."""
    method = ground.method
    if isinstance(method, Overland):
        return _overland(method, ground.paved, rain)
    if isinstance(method, UnitHydrograph):
        return _unit_hydrograph(method, rain)
    excess, total = lagged_excess(ground, values, rain)
    times = np.unique(np.round(np.concatenate([rain.times, rain.times + ground.entry]), 6))
    intensity = excess / np.diff(rain.times) * 3600.0
    flow = mean_intensity(rain.times, intensity, ground.entry, times) * _PER_HOUR
    return UnitRunoff(times, flow, total * _MM, (total - float(excess.sum())) * _MM, 0.0)


def lagged_excess(ground: RunoffSurface, values: Runoff, rain: RainBlocks) -> tuple[np.ndarray, float]:
    """What runs off by a time–area diagram, mm of each step of the rain, whatever the time of entry; and mm of rain."""
    method = ground.method
    fallen = rain.intensity * np.diff(rain.times) / 3600.0
    if isinstance(method, Coefficient):
        paved, green = values.coefficients(method, rain.season)
        excess = (paved * ground.paved + green * (1.0 - ground.paved)) * fallen
    else:
        assert isinstance(method, Losses)
        wet = initial_continuing(rain.times, rain.intensity, method.paved_loss, 0.0)
        excess = ground.paved * wet + (1.0 - ground.paved) * method.green.excess(rain.times, rain.intensity)
    return excess, float(fallen.sum())


def _even(times: np.ndarray, longest: float) -> np.ndarray:
    """Even steps over the rain, from 0 s: whole parts of its own steps where those are even, `longest` s at most."""
    own = np.diff(times)
    whole = float(times[-1] - times[0])
    count = len(own) if np.allclose(own, own[0]) else 1
    parts = max(1, math.ceil(whole / count / longest - 1e-9))
    return np.linspace(0.0, whole, count * parts + 1)


def _unit_hydrograph(method: UnitHydrograph, rain: RainBlocks) -> UnitRunoff:
    """Tp is 0.6 of the time of concentration: the limit of short steps, in which no peak hangs on the step."""
    times = rain.times[0] + _even(rain.times, _UNIT_STEP * method.concentration)
    step = float(times[1] - times[0])
    fallen = np.concatenate([[0.0], np.cumsum(rain.intensity * np.diff(rain.times) / 3600.0)])
    gathered = np.interp(times, rain.times, fallen)
    excess = np.diff(curve_number_excess(gathered, method.curve_number, method.abstraction))
    flow = flow_of(excess, 0.6 * method.concentration, step, method.peak_factor, offset=0.5)
    flow = np.append(flow, 0.0)
    times = rain.times[0] + np.arange(len(flow)) * step
    total, ran = float(gathered[-1]) * _MM, float(excess.sum()) * _MM
    there = float(np.trapezoid(flow, times))
    return UnitRunoff(times, flow * (ran / there if there > 0.0 else 0.0), total, total - ran, 0.0)


def _grid(rain: RainBlocks) -> np.ndarray:
    """Times at which a surface is looked at: four in each step of the rain, then farther and farther apart."""
    inner = np.unique(np.concatenate([np.linspace(a, b, 5) for a, b in zip(rain.times, rain.times[1:], strict=False)]))
    first = inner[1] - inner[0]
    return np.concatenate([inner, inner[-1] + np.geomspace(first, _TAIL, _TAIL_TIMES)])


def _surface(
    method: Overland, times: np.ndarray, rate: np.ndarray, roughness: float, store: float, at: np.ndarray
) -> tuple[np.ndarray, float]:
    """Flow in m/s of one square metre at the times `at`, and m of water that is still on it at the last."""
    conveyance = math.sqrt(method.slope) / roughness
    if method.form == "plane":
        found = kinematic_plane(times, rate, method.length, conveyance, store * _MM, at)
        flow, held = found[:, 0] / method.length, float(found[-1, 1])
    else:
        outflow = conveyance / method.length
        depth = nonlinear_reservoir(times, rate, outflow, store * _MM, at)
        flow, held = outflow * np.maximum(depth - store * _MM, 0.0) ** (5.0 / 3.0), float(depth[-1])
    flow[-1] = 0.0
    ran = float((rate * np.diff(times)).sum()) - held
    there = float(np.trapezoid(flow, at))
    # samples joined by straight lines hold a little more or less than ran off: the total is right
    return flow * (max(ran, 0.0) / there if there > 0.0 else 0.0), held


def _overland(method: Overland, paved: float, rain: RainBlocks) -> UnitRunoff:
    at = _grid(rain)
    fallen = float((rain.intensity * np.diff(rain.times)).sum()) * _PER_HOUR
    flow, lost, kept = np.zeros(len(at)), 0.0, 0.0
    onto = np.zeros(len(at))
    if paved > 0.0:
        run, held = _surface(
            method, rain.times, rain.intensity * _PER_HOUR, method.paved_roughness, method.paved_store, at
        )
        led = method.paved_over_green if 1.0 - paved >= _LEAST_GREEN else 0.0
        flow += (1.0 - led) * paved * run
        onto = led * paved / max(1.0 - paved, _LEAST_GREEN) * run
        kept += paved * held
    if paved < 1.0:
        # what comes over from paved ground falls on the green like rain
        place = np.clip(np.searchsorted(rain.times, at[:-1] + 1e-9, side="right") - 1, 0, len(rain.intensity) - 1)
        own = np.where(at[:-1] < rain.times[-1] - 1e-9, rain.intensity[place], 0.0)
        blocks = own + 0.5 * (onto[:-1] + onto[1:]) / _PER_HOUR
        excess = method.green.excess(at, blocks) * _MM
        run, held = _surface(method, at, excess / np.diff(at), method.green_roughness, method.green_store, at)
        flow += (1.0 - paved) * run
        brought = float((blocks * np.diff(at)).sum()) * _PER_HOUR
        lost += (1.0 - paved) * (brought - float(excess.sum()))
        kept += (1.0 - paved) * held
    return UnitRunoff(at, flow, fallen, lost, kept)
