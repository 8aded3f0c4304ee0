"""Times of concentration by the common formulas, in SI, and the rational method for sizing."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from ..quantities import FOOT, INCH

__all__ = [
    "Reach", "airport", "bransby", "channel_velocity", "curve_number_lag", "kirpich", "rational", "shallow_velocity",
    "sheet_flow",
]  # fmt: skip

_INCH = 1e3 * INCH  # mm
_SHALLOW = {"unpaved": 16.1345, "paved": 20.3282}  # ft/s over the root of the slope


def kirpich(length: float, slope: float) -> float:
    """Minutes: 0.0195 L^0.77 S^-0.385, L in m (Kirpich 1940)."""
    return float(0.0195 * length**0.77 * slope**-0.385)


def sheet_flow(length: float, slope: float, roughness: float, rain: float) -> float:
    """Minutes of sheet flow: 0.007 (n L)^0.8 / (P2^0.5 S^0.4) h, in feet and inches (USDA TR-55).

    length : m; rain : 2-year 24-hour depth, mm.
    """
    return float(60.0 * 0.007 * (roughness * length / FOOT) ** 0.8 / ((rain / _INCH) ** 0.5 * slope**0.4))


def shallow_velocity(slope: float, surface: str = "unpaved") -> float:
    """m/s of shallow concentrated flow over an 'unpaved' or 'paved' surface (USDA TR-55)."""
    return _SHALLOW[surface] * math.sqrt(slope) * FOOT


def channel_velocity(area: float, perimeter: float, slope: float, roughness: float) -> float:
    """m/s by Manning's formula. area : m2; perimeter : m."""
    return float((area / perimeter) ** (2.0 / 3.0) * math.sqrt(slope) / roughness)


def curve_number_lag(length: float, slope: float, curve_number: float) -> float:
    """Minutes of lag: L^0.8 (S + 1)^0.7 / (1900 Y^0.5) h, in feet, inches and percent (USDA NEH 630, chapter 15).

    length : m; slope : m/m. The time of concentration is lag / 0.6.
    """
    s = 1000.0 / curve_number - 10.0
    return float(60.0 * (length / FOOT) ** 0.8 * (s + 1.0) ** 0.7 / (1900.0 * math.sqrt(100.0 * slope)))


def airport(length: float, slope: float, coefficient: float) -> float:
    """Minutes: 1.8 (1.1 − C) L^½ / S^⅓, in feet and percent (US FAA, AC 150/5320-5B, 1970). length : m; slope : m/m."""
    return float(1.8 * (1.1 - coefficient) * math.sqrt(length / FOOT) / (100.0 * slope) ** (1.0 / 3.0))


def bransby(length: float, slope: float, area: float) -> float:
    """Minutes: 58.5 L A^-0.1 S^-0.2, in km, km2 and m/km (Bransby Williams 1922). length : m; area : m2."""
    return float(58.5 * length / 1e3 * (area / 1e6) ** -0.1 * (1e3 * slope) ** -0.2)


@dataclass(frozen=True)
class Reach:
    """A node and the pipe below it. surfaces : (coefficient, area in m2). entry, travel : min.

    below : place of the reach that it runs into, None at the end of a line.
    """

    surfaces: Sequence[tuple[float, float]]
    entry: float
    travel: float
    below: int | None


@dataclass(frozen=True)
class DesignFlow:
    """gathered : m2 of all above, each times its coefficient. concentration : min; intensity : mm/h; flow : m3/s."""

    gathered: float
    concentration: float
    intensity: float
    flow: float


def rational(reaches: Sequence[Reach], intensity: Callable[[float], float]) -> list[DesignFlow]:
    """Design flows of a tree: all coefficients × areas above, at the intensity of the longest time that arrives.

    reaches : each after those that run into it. intensity : mm/h by minutes.
    """
    gathered, arriving = [0.0] * len(reaches), [0.0] * len(reaches)
    found = []
    for k, reach in enumerate(reaches):
        gathered[k] += sum(c * area for c, area in reach.surfaces)
        concentration = max(reach.entry, arriving[k])
        i = intensity(concentration) if gathered[k] > 0.0 else 0.0
        found.append(DesignFlow(gathered[k], concentration, i, gathered[k] * i / 3.6e6))
        if reach.below is not None:
            gathered[reach.below] += gathered[k]
            arriving[reach.below] = max(arriving[reach.below], concentration + reach.travel)
    return found
