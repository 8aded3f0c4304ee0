"""Cross-sections: geometry of any shape from its width over depth, and the tables that the solver reads.

Area is piecewise linear in depth in the tables, so that volume and its derivative agree exactly. Between 0.97 of the
height and the crown conveyance falls in a straight line to its full-bore value.
"""

import math
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from pydantic import TypeAdapter
from scipy.optimize import brentq

from ..constants import GRAVITY, INTERVALS
from .sections import Arch, Circular, Egg, Irregular, Rectangular, Section, Trapezoidal, WidthTable

Depths = float | np.ndarray

__all__ = [
    "OPEN_TOP", "Crown", "Geometry", "SectionTable", "critical_depth", "egg_width", "geometry",
    "normal_depth", "section_table", "trench_table", "uniform_flow",
]  # fmt: skip

OPEN_TOP = 1.5  # of the bank height, up to which the tables of open sections go, between upright walls
_KNOTS = 2000  # for curved outlines; areas err by 1e-7


class Geometry(NamedTuple):
    """A section by knots over depth, between which its width is linear; a depth given twice is a jump.

    depth, width, area, perimeter : float64[knot], m, m, m2, m. An open section has no roof.
    """

    depth: np.ndarray
    width: np.ndarray
    area: np.ndarray
    perimeter: np.ndarray

    @property
    def height(self) -> float:
        return float(self.depth[-1])

    def _place(self, y: Depths) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Knot at or below each depth, how far above it (m), and the share of the way to the next one."""
        y = np.clip(y, 0.0, self.height)
        i = np.clip(np.searchsorted(self.depth, y, side="right") - 1, 0, len(self.depth) - 1)
        x = y - self.depth[i]
        span = self.depth[np.minimum(i + 1, len(self.depth) - 1)] - self.depth[i]
        return i, x, np.divide(x, span, out=np.zeros_like(x), where=span > 0.0)

    def _between(self, values: np.ndarray, y: Depths) -> np.ndarray:
        i, _, share = self._place(y)
        return np.asarray(values[i] + share * (values[np.minimum(i + 1, len(values) - 1)] - values[i]))

    def width_at(self, y: Depths) -> np.ndarray:
        """Width of the water surface, m."""
        return self._between(self.width, y)

    def area_at(self, y: Depths) -> np.ndarray:
        """Wetted area, m2."""
        i, x, _ = self._place(y)
        return np.asarray(self.area[i] + 0.5 * (self.width[i] + self.width_at(y)) * x)

    def perimeter_at(self, y: Depths) -> np.ndarray:
        """Wetted perimeter, m."""
        return self._between(self.perimeter, y)

    def radius_at(self, y: Depths) -> np.ndarray:
        """Hydraulic radius: area over wetted perimeter, m."""
        area, perimeter = self.area_at(y), self.perimeter_at(y)
        return np.asarray(np.divide(area, perimeter, out=np.zeros_like(area), where=perimeter > 0.0))

    def uniform_flow_at(self, y: Depths, roughness: float, gradient: float) -> np.ndarray:
        """Flow without pressure, m3/s: A R^(2/3) S^(1/2) / n (Manning); 0 where the conduit does not fall."""
        return np.asarray(self.area_at(y) * self.radius_at(y) ** (2 / 3) * max(gradient, 0.0) ** 0.5 / roughness)

    def full_flow(self, roughness: float, gradient: float) -> float:
        """Uniform flow of the full section, m3/s: `uniform_flow_at` its height."""
        area, radius = float(self.area[-1]), float(self.area[-1] / self.perimeter[-1])
        return area * math.pow(radius, 2 / 3) * math.sqrt(max(gradient, 0.0)) / roughness

    def above(self, silt: float) -> "Geometry":
        """What is left over sediment of this depth, m, whose flat top is the new bed."""
        bed, wall, keep = self.width_at(silt), self.perimeter_at(silt), self.depth > silt
        return Geometry(
            np.append(0.0, self.depth[keep] - silt), np.append(bed, self.width[keep]),
            np.append(0.0, self.area[keep] - self.area_at(silt)), np.append(bed, self.perimeter[keep] - wall + bed),
        )  # fmt: skip


def _close(depth: np.ndarray, width: np.ndarray, perimeter: np.ndarray) -> Geometry:
    area = np.append(0.0, np.cumsum(0.5 * (width[1:] + width[:-1]) * np.diff(depth)))
    return Geometry(depth, width, area, perimeter)


def _from_widths(depth: np.ndarray, width: np.ndarray, roof: bool) -> Geometry:
    """A symmetrical outline, its flat bed and (where it has one) flat roof included in the perimeter."""
    walls = 2.0 * np.hypot(np.diff(depth), 0.5 * np.diff(width))
    perimeter = width[0] + np.concatenate([[0.0], np.cumsum(walls)])
    if roof and width[-1] > 0.0:
        depth, width = np.append(depth, depth[-1]), np.append(width, 0.0)
        perimeter = np.append(perimeter, perimeter[-1] + width[-2])
    return _close(depth, width, perimeter)


def egg_width(y: np.ndarray, width: float) -> np.ndarray:
    """Width in m of the old egg (`model.sections.Egg`) of a greatest width, at depths y in m."""
    foot = np.sqrt(np.maximum((0.25 * width) ** 2 - (y - 0.25 * width) ** 2, 0.0))
    side = np.sqrt(np.maximum((1.5 * width) ** 2 - (y - width) ** 2, 0.0)) - width
    head = np.sqrt(np.maximum((0.5 * width) ** 2 - (y - width) ** 2, 0.0))
    return 2.0 * np.where(y < 0.1 * width, foot, np.where(y < width, side, head))


def _from_stations(section: Irregular) -> Geometry:
    x = np.array([s.offset for s in section.stations])
    z = np.array([s.elevation for s in section.stations]) - min(s.elevation for s in section.stations)
    low, high = np.minimum(z[:-1], z[1:]), np.maximum(z[:-1], z[1:])
    span, length, level = np.diff(x), np.hypot(np.diff(x), np.diff(z)), high <= low
    knots = np.unique(np.append(z[z < section.height], section.height))
    depth, width, perimeter = [], [], []
    for y in knots:
        for flats in (low < y, low <= y):  # without the flat parts at this very level, then with them
            share = np.where(level, flats, np.clip((y - low) / np.where(level, 1.0, high - low), 0.0, 1.0))
            depth.append(y)
            width.append(float((span * share).sum()))
            perimeter.append(float((length * share).sum()))
    return _close(np.array(depth[1:]), np.array(width[1:]), np.array(perimeter[1:]))


_SECTION: TypeAdapter[Section] = TypeAdapter(Section)


def geometry(section: Section, *, is_open: bool = False) -> Geometry:
    """Knots of a section; an open one has no roof."""
    return _geometry(section.model_dump_json(), is_open)


@lru_cache(maxsize=512)
def _geometry(key: str, is_open: bool) -> Geometry:
    section = _SECTION.validate_json(key)
    turn = 0.5 * (1.0 - np.cos(np.linspace(0.0, np.pi, _KNOTS + 1)))
    if isinstance(section, Circular):
        d = section.diameter
        return _from_widths(turn * d, 2.0 * d * np.sqrt(np.maximum(turn * (1.0 - turn), 0.0)), roof=False)
    if isinstance(section, Egg):
        w = section.width
        depth = np.concatenate([turn[:-1] * 0.2 * w, turn * (section.height - 0.2 * w) + 0.2 * w])
        return _from_widths(depth, egg_width(depth, w), roof=False)
    if isinstance(section, Arch):
        spring = section.height - section.rise
        roof = np.sin(np.linspace(0.0, 0.5 * np.pi, _KNOTS + 1))
        depth = spring + section.rise * roof
        width = section.width * np.sqrt(np.maximum(1.0 - roof**2, 0.0))
        if spring > 0.0:
            depth, width = np.append(0.0, depth), np.append(section.width, width)
        return _from_widths(depth, width, roof=False)
    if isinstance(section, Rectangular):
        return _from_widths(np.array([0.0, section.height]), np.full(2, section.width), roof=not is_open)
    if isinstance(section, WidthTable):
        rows = section.rows
        return _from_widths(np.array([r.depth for r in rows]), np.array([r.width for r in rows]), roof=not is_open)
    if isinstance(section, Trapezoidal):
        h, b = section.height, section.base_width
        walls = np.hypot(1.0, section.left_slope) + np.hypot(1.0, section.right_slope)
        width = np.array([b, b + (section.left_slope + section.right_slope) * h])
        return _close(np.array([0.0, h]), width, np.array([b, b + walls * h]))
    return _from_stations(section)


def uniform_flow(section: Section, roughness: float, gradient: float, depth: float, *, is_open: bool = False) -> float:
    """Uniform flow at a depth, m3/s; 0 where the conduit does not fall."""
    return float(geometry(section, is_open=is_open).uniform_flow_at(depth, roughness, gradient))


def normal_depth(section: Section, roughness: float, gradient: float, flow: float, *, is_open: bool = False) -> float:
    """Depth of uniform flow, m: the lower of two where two exist; the full height where none does."""
    depths = np.linspace(0.0, section.height, 401)
    shape = geometry(section, is_open=is_open)
    flows = shape.uniform_flow_at(depths, roughness, gradient)
    above = np.nonzero(flows >= flow)[0]
    if flow <= 0.0:
        return 0.0
    if len(above) == 0:
        return section.height
    upper = int(above[0])
    return float(
        brentq(
            lambda y: uniform_flow(section, roughness, gradient, y, is_open=is_open) - flow,
            depths[upper - 1], depths[upper],
        )
    )  # fmt: skip


def critical_depth(section: Section, flow: float, *, is_open: bool = False) -> float:
    """Depth at which Q² B = g A³, m; the full height where the section runs full first."""
    if flow <= 0.0:
        return 0.0
    shape = geometry(section, is_open=is_open)

    def excess(y: float) -> float:
        return float(flow**2 * shape.width_at(y) - GRAVITY * shape.area_at(y) ** 3)

    top = section.height * (1.0 - 1e-9)
    return float(brentq(excess, 1e-9, top)) if excess(top) < 0.0 else section.height


class SectionTable(NamedTuple):
    """What the solver reads of one section, at `INTERVALS` + 1 depths.

    storage and area differ where stone takes room: water stands in all voids, but flows in the pipe.
    """

    height: float  # m, of the table
    is_open: bool
    storage: np.ndarray  # float64[INTERVALS + 1], m2
    area: np.ndarray  # float64[INTERVALS + 1], m2
    radius43: np.ndarray  # float64[INTERVALS + 1], m^(4/3), effective hydraulic radius to the power 4/3
    mean_depth: np.ndarray  # float64[INTERVALS + 1], m, area over top width


def section_table(shape: Geometry, *, is_open: bool = False, barrels: int = 1) -> SectionTable:
    """Tabulate a section for the solver. An open one goes on between upright walls to `OPEN_TOP` of its height."""
    height = shape.height * (OPEN_TOP if is_open else 1.0)
    depths = np.linspace(0.0, height, INTERVALS + 1)
    over = np.maximum(depths - shape.height, 0.0)
    areas = shape.area_at(depths) + over * shape.width_at(shape.height)
    perimeters = shape.perimeter_at(depths) + 2.0 * over
    widths = shape.width_at(depths)
    radii = np.divide(areas, perimeters, out=np.zeros_like(areas), where=perimeters > 0.0)
    if not is_open:
        conveyance = areas * radii ** (2 / 3)
        # uniform flow near the crown is double-valued; its last, vertical part is made a straight line
        top = int(0.97 * INTERVALS)
        if conveyance[top] > conveyance[-1]:
            conveyance[top:] = np.linspace(conveyance[top], conveyance[-1], INTERVALS + 1 - top)
        radii[1:] = (conveyance[1:] / areas[1:]) ** 1.5
    mean_depth = areas / np.maximum(widths, 1e-3 * widths.max())
    return SectionTable(height, is_open, barrels * areas, barrels * areas, radii ** (4 / 3), mean_depth)


def trench_table(
    width: float, height: float, porosity: float, stone_size: float, pipe: Circular | None, roughness: float
) -> SectionTable:
    """A stone-filled trench: all voids store; flow passes the pipe (Manning) and the stone.

    Through coarse stone V = 5.24 m^0.5 i^0.5 in the voids (after Wilkins, 1956, m the stone's hydraulic mean radius,
    a tenth of its size), so that both conveyances add. Above the stone, upright walls.
    """
    table_height = OPEN_TOP * height
    depths = np.linspace(0.0, table_height, INTERVALS + 1)
    within, over = np.minimum(depths, height), np.maximum(depths - height, 0.0)
    in_pipe, conveyance = np.zeros_like(depths), np.zeros_like(depths)
    if pipe is not None:
        shape = geometry(pipe)
        in_pipe = shape.area_at(depths)
        conveyance = in_pipe * shape.radius_at(depths) ** (2 / 3) / roughness
    voids = porosity * (width * within - in_pipe)
    conveyance = conveyance + voids * 5.24 * (0.1 * stone_size) ** 0.5
    conveyance += over * width / roughness * np.maximum(over, 0.0) ** (2 / 3)
    flowing = in_pipe + voids + over * width
    radii = np.divide(conveyance * roughness, flowing, out=np.zeros_like(depths), where=flowing > 0.0) ** 1.5
    storage = voids + in_pipe + over * width
    return SectionTable(table_height, True, storage, flowing, radii ** (4 / 3), flowing / width)


class Crown:
    """How the crown of a section closes: smoothly instead of through a slot. An open section never closes."""

    def __init__(self, table: SectionTable):
        self._height, self._is_open = table.height, table.is_open
        if table.is_open:
            return
        self._depths = np.linspace(0.0, table.height, 2001)[1:-1]
        marks = np.linspace(0.0, table.height, len(table.storage))
        areas = np.interp(self._depths, marks, table.storage)
        index = np.minimum((self._depths / table.height * (len(marks) - 1)).astype(int), len(marks) - 2)
        self._left = table.storage[-1] - areas
        self._fold = self._left / np.maximum(np.diff(table.storage)[index] / marks[1], 1e-12)

    def closing(self, half_drop: float) -> tuple[float, float, float]:
        """Depth at which a cell begins to close (m), the area still open there (m2), the e-folding depth (m).

        The longer the bed drops within the cell, the longer the closing. half_drop : of the bed over half the cell.
        """
        if self._is_open:
            return np.inf, 0.0, 1.0
        wanted = min(max(0.25 * half_drop / self._height, 0.07), 0.6) * self._height
        # the closing starts at the highest depth whose own fold is still as long as wanted
        enough = np.nonzero(self._fold >= wanted)[0]
        i = int(enough[-1]) if len(enough) else 0
        return float(self._depths[i]), float(self._left[i]), float(self._fold[i])
