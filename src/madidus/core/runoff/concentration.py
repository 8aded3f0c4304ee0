"""Times of concentration by the common formulas, in SI, and the rational method for sizing."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

__all__ = ["Reach", "channel_velocity", "curve_number_lag", "kirpich", "rational", "shallow_velocity", "sheet_flow"]

_FOOT, _INCH = 0.3048, 25.4
_SHALLOW = {"unpaved": 16.1345, "paved": 20.3282}  # ft/s over the root of the slope


def kirpich(length: float, slope: float) -> float:
    """Minutes: 0.0195 L^0.77 S^-0.385, L in m (Kirpich 1940)."""
    return float(0.0195 * length**0.77 * slope**-0.385)


def sheet_flow(length: float, slope: float, roughness: float, rain: float) -> float:
    """Minutes of sheet flow: 0.007 (n L)^0.8 / (P2^0.5 S^0.4) h, in feet and inches (USDA TR-55).

    length : m; rain : 2-year 24-hour depth, mm.
    """
    return float(60.0 * 0.007 * (roughness * length / _FOOT) ** 0.8 / ((rain / _INCH) ** 0.5 * slope**0.4))


def shallow_velocity(slope: float, surface: str = "unpaved") -> float:
    """m/s of shallow concentrated flow over an 'unpaved' or 'paved' surface (USDA TR-55)."""
    return _SHALLOW[surface] * math.sqrt(slope) * _FOOT


def channel_velocity(area: float, perimeter: float, slope: float, roughness: float) -> float:
    """m/s by Manning's formula. area : m2; perimeter : m."""
    return float((area / perimeter) ** (2.0 / 3.0) * math.sqrt(slope) / roughness)


def curve_number_lag(length: float, slope: float, curve_number: float) -> float:
    """Minutes of lag: L^0.8 (S + 1)^0.7 / (1900 Y^0.5) h, in feet, inches and percent (USDA NEH 630, chapter 15).

    length : m; slope : m/m. The time of concentration is lag / 0.6.
    """
    s = 1000.0 / curve_number - 10.0
    return float(60.0 * (length / _FOOT) ** 0.8 * (s + 1.0) ** 0.7 / (1900.0 * math.sqrt(100.0 * slope)))


@dataclass(frozen=True)
class Reach:
    """A node of a main line and the pipe below it. surfaces : (coefficient, area in m2). entry, travel : min."""

    surfaces: Sequence[tuple[float, float]]
    entry: float
    travel: float


@dataclass(frozen=True)
class DesignFlow:
    """concentration : min; intensity : mm/h; flow : m3/s."""

    concentration: float
    intensity: float
    flow: float


def rational(line: Sequence[Reach], intensity: Callable[[float], float]) -> list[DesignFlow]:
    """Design flows down a line: all coefficients × areas above, at the intensity of the longest time that arrives.

    intensity : mm/h by minutes.
    """
    gathered, arriving, found = 0.0, 0.0, []
    for reach in line:
        gathered += sum(c * area for c, area in reach.surfaces)
        concentration = max(reach.entry, arriving)
        i = intensity(concentration)
        found.append(DesignFlow(concentration, i, gathered * i / 3.6e6))
        arriving = concentration + reach.travel
    return found
