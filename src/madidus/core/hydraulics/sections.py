"""Cross-sections: exact geometry, and the tables that the solver reads.

Area is piecewise linear in depth, so that volume and its derivative agree exactly. Between 0.97 of the height and the
crown conveyance falls in a straight line to its full-bore value.
"""

from typing import NamedTuple

import numpy as np
from scipy.optimize import brentq

from ..model.network import Circular, Rectangular
from .constants import GRAVITY, INTERVALS

__all__ = [
    "SectionTable", "area", "critical_depth", "crown_closing", "full_bore_capacity", "hydraulic_radius", "normal_depth",
    "section_table", "top_width", "uniform_flow",
]  # fmt: skip


class SectionTable(NamedTuple):
    """Geometry of one section at `INTERVALS` + 1 depths."""

    height: float  # m
    area: np.ndarray  # float64[INTERVALS + 1], m2
    radius43: np.ndarray  # float64[INTERVALS + 1], m^(4/3), effective hydraulic radius to the power 4/3
    mean_depth: np.ndarray  # float64[INTERVALS + 1], m, area over top width
    integral: np.ndarray  # float64[INTERVALS + 1], m3 per m: area integrated over depth


def area(section: Circular | Rectangular, depth: float) -> float:
    """Wetted area in m2 at a depth in m, from 0 to the section's height."""
    y = min(max(depth, 0.0), section.height)
    if isinstance(section, Rectangular):
        return section.width * y
    angle = 2.0 * np.arccos(1.0 - 2.0 * y / section.diameter)
    return float(section.diameter**2 / 8.0 * (angle - np.sin(angle)))


def hydraulic_radius(section: Circular | Rectangular, depth: float) -> float:
    """Area over wetted perimeter, m. A rectangular section has a roof only when it is full."""
    y = min(max(depth, 0.0), section.height)
    if y == 0.0:
        return 0.0
    if isinstance(section, Rectangular):
        roof = section.width if y >= section.height else 0.0
        return section.width * y / (section.width + 2.0 * y + roof)
    angle = 2.0 * np.arccos(1.0 - 2.0 * y / section.diameter)
    return float(section.diameter / 4.0 * (1.0 - np.sin(angle) / angle))


def top_width(section: Circular | Rectangular, depth: float) -> float:
    """Width of the water surface, m."""
    if isinstance(section, Rectangular):
        return section.width
    y = min(max(depth, 0.0), section.diameter)
    return float(2.0 * np.sqrt(y * (section.diameter - y)))


def uniform_flow(section: Circular | Rectangular, roughness: float, gradient: float, depth: float) -> float:
    """Manning's formula, m3/s: Q = A R^(2/3) S^(1/2) / n."""
    if gradient <= 0.0:
        return 0.0
    return float(area(section, depth) * hydraulic_radius(section, depth) ** (2 / 3) * gradient**0.5 / roughness)


def full_bore_capacity(section: Circular | Rectangular, roughness: float, gradient: float) -> float:
    """Uniform flow of the full pipe without pressure, m3/s; 0 where the pipe does not fall."""
    return uniform_flow(section, roughness, gradient, section.height)


def normal_depth(section: Circular | Rectangular, roughness: float, gradient: float, flow: float) -> float:
    """Depth of uniform flow, m: the lower of two where two exist; the full height where none does."""
    depths = np.linspace(0.0, section.height, 401)
    flows = np.array([uniform_flow(section, roughness, gradient, y) for y in depths])
    above = np.nonzero(flows >= flow)[0]
    if flow <= 0.0:
        return 0.0
    if len(above) == 0:
        return section.height
    upper = int(above[0])
    return float(
        brentq(lambda y: uniform_flow(section, roughness, gradient, y) - flow, depths[upper - 1], depths[upper])
    )


def critical_depth(section: Circular | Rectangular, flow: float) -> float:
    """Depth at which Q² B = g A³, m; the full height where the pipe runs full first."""
    if flow <= 0.0:
        return 0.0

    def excess(y: float) -> float:
        return flow**2 * top_width(section, y) - GRAVITY * area(section, y) ** 3

    top = section.height * (1.0 - 1e-9)
    return float(brentq(excess, 1e-9, top)) if excess(top) < 0.0 else section.height


def section_table(section: Circular | Rectangular) -> SectionTable:
    """Tabulate a section for the solver."""
    depths = np.linspace(0.0, section.height, INTERVALS + 1)
    areas = np.array([area(section, y) for y in depths])
    radii = np.array([hydraulic_radius(section, y) for y in depths])
    conveyance = areas * radii ** (2 / 3)
    # uniform flow near the crown is double-valued; its last, vertical part is made a straight line
    top = int(0.97 * INTERVALS)
    if conveyance[top] > conveyance[-1]:
        conveyance[top:] = np.linspace(conveyance[top], conveyance[-1], INTERVALS + 1 - top)
    radii[1:] = (conveyance[1:] / areas[1:]) ** 1.5
    step = depths[1]
    integral = np.concatenate([[0.0], np.cumsum(0.5 * (areas[1:] + areas[:-1]) * step)])
    widths = np.array([top_width(section, y) for y in depths])
    mean_depth = areas / np.maximum(widths, 1e-3 * widths.max())
    return SectionTable(section.height, areas, radii ** (4 / 3), mean_depth, integral)


def crown_closing(table: SectionTable, rise: float, half_drop: float) -> tuple[float, float, float]:
    """Depth at which the crown of a cell begins to close (m), the area still open there (m2), the e-folding depth (m).

    The crown of a cell closes smoothly instead of through a slot: the longer the bed drops within the cell, the longer
    the closing. rise : of the bed within an adverse cell, else 0. half_drop : of the bed over half the cell.
    """
    height = table.height
    wanted = min(max(0.5 * half_drop / height, 0.15), 0.6) * height
    top = height + rise
    depths = np.linspace(0.0, top, 2001)[1:-1]
    marks = np.linspace(0.0, height, len(table.area))
    full = table.area[-1]
    if rise > 0.0:
        integral = lambda y: np.where(  # noqa: E731
            y > height, table.integral[-1] + full * (y - height), np.interp(np.maximum(y, 0.0), marks, table.integral)
        )
        area_at = lambda y: np.where(y >= height, full, np.interp(np.maximum(y, 0.0), marks, table.area))  # noqa: E731
        areas = (integral(depths) - integral(depths - rise)) / rise
        widths = (area_at(depths) - area_at(depths - rise)) / rise
    else:
        areas = np.interp(depths, marks, table.area)
        index = np.minimum((depths / height * (len(marks) - 1)).astype(int), len(marks) - 2)
        widths = np.diff(table.area)[index] / marks[1]
    fold = (full - areas) / np.maximum(widths, 1e-12)
    # the closing starts at the highest depth whose own fold is still as long as wanted
    enough = np.nonzero(fold >= wanted)[0]
    i = int(enough[-1]) if len(enough) else 0
    return float(depths[i]), float(full - areas[i]), float(fold[i])
