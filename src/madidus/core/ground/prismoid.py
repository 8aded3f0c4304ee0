"""A pond or a tank by its dimensions: any one of area, side slope, depth and volume from the others.

An outline moved outward by d, with mitred corners, has the area A + P d + C d²: A its area, P its perimeter, C the sum
over its corners of tan(half the turn), 4 for a rectangle. With sides of a slope s (horizontal per vertical) a store of
depth D over it holds V = A D + P s D²/2 + C s² D³/3, the prismoid's volume exactly.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal

from scipy.optimize import brentq

from ..errors import ModelError
from ..quantities import Quantity, said

__all__ = ["Prismoid", "Unknown", "rectangle", "solved"]

Unknown = Literal["area", "slope", "depth", "volume"]

_STEEPEST, _FLATTEST, _DEEPEST = 0.0, 50.0, 100.0
_LARGEST = 1e4  # times its outline, that a store may be scaled
_ROWS = 21  # of the table of a store with sloping sides


@dataclass(frozen=True)
class Prismoid:
    """area : m2, perimeter : m, corners : of its outline at the base or at the top. slope : horizontal per vertical;
    depth : m. scale : by which the outline is larger than the one that was given.
    """

    at: Literal["base", "top"]
    area: float
    perimeter: float
    corners: float
    slope: float
    depth: float
    scale: float = 1.0

    def area_at(self, height: float) -> float:
        """Area at a height above the base, m2."""
        out = self.slope * (height if self.at == "base" else height - self.depth)
        return self.scale**2 * self.area + self.scale * self.perimeter * out + self.corners * out**2

    @property
    def volume(self) -> float:
        """m3 to the top."""
        out = self.slope * (self.depth if self.at == "base" else -self.depth)
        area, perimeter = self.scale**2 * self.area, self.scale * self.perimeter
        return self.depth * (area + perimeter * out / 2.0 + self.corners * out**2 / 3.0)

    @property
    def meets(self) -> float:
        """m to which an outline at the top may move inward before its sides meet: there the area is least."""
        if self.at == "base":
            return math.inf
        return self.scale * _inward(self.area, self.perimeter, self.corners)

    def table(self) -> list[tuple[float, float]]:
        """Depth (m) and area (m2) from the base up."""
        count = 2 if self.slope == 0.0 else _ROWS
        heights = [self.depth * k / (count - 1) for k in range(count)]
        return [(round(height, 4), round(max(self.area_at(height), 1e-3), 4)) for height in heights]


def _inward(area: float, perimeter: float, corners: float) -> float:
    """The least root of A − P d + C d², m; where the ring only narrows to a line, where its area is least."""
    if corners <= 0.0:
        return area / perimeter
    inner = perimeter**2 - 4.0 * area * corners
    return (perimeter - math.sqrt(max(inner, 0.0))) / (2.0 * corners)


def rectangle(at: Literal["base", "top"], length: float, width: float, slope: float, depth: float) -> Prismoid:
    """A store over a rectangle, m."""
    return Prismoid(at, length * width, 2.0 * (length + width), 4.0, slope, depth)


def solved(given: Prismoid, volume: float, unknown: Unknown) -> Prismoid:
    """The store with its unknown solved so that it holds a volume, m3; an unknown volume is that of the others.

    Raises
    ------
    ModelError
        When no value does, or its sides meet above its base.
    """
    if unknown == "volume":
        if given.slope * given.depth >= given.meets:
            raise _meet(given)
        return given
    if unknown == "area":
        least = given.slope * given.depth / (given.meets / given.scale) if given.at == "top" else 1e-6
        return _between(volume, least, _LARGEST, lambda x: replace(given, scale=x), "area")
    if unknown == "depth":
        deepest = min(_DEEPEST, given.meets / given.slope if given.slope > 0.0 else _DEEPEST)
        return _between(volume, 1e-6, deepest, lambda x: replace(given, depth=x), "depth")
    flattest = min(_FLATTEST, given.meets / given.depth)
    return _between(volume, _STEEPEST, flattest, lambda x: replace(given, slope=x), "slope")


def _meet(given: Prismoid) -> ModelError:
    deepest = given.meets / given.slope
    return ModelError(
        "store", "slope", said("its sides meet ", Quantity(deepest, "m", 2), " below its top, above its base"),
        "let them be steeper, the store shallower, or its top larger",
    )  # fmt: skip


def _between(volume: float, low: float, high: float, made: Callable[[float], Prismoid], what: str) -> Prismoid:
    """The store whose volume is the wanted one, as one figure goes from low to high."""
    least, most = sorted((made(low).volume, made(high).volume))
    if not least - 1e-9 <= volume <= most + 1e-9:
        raise ModelError(
            "store", "volume",
            said(
                f"no {what} makes it ", Quantity(volume, "m³", 1), ": with the other figures it holds ",
                Quantity(least, "m³", 1), " to ", Quantity(most, "m³", 1),
            ),
            "change another figure",
        )  # fmt: skip
    if least < volume < most:
        return made(float(brentq(lambda x: made(x).volume - volume, low, high, xtol=1e-10)))
    return min(made(low), made(high), key=lambda end: abs(end.volume - volume))
