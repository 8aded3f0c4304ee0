"""Courses of conduits on the plan, and levels along them."""

import numpy as np
from shapely import LineString, Polygon

__all__ = ["Course", "along", "drawn_area", "drawn_length", "follows"]

Course = list[tuple[float, float]]


def follows(kept: float, drawn: float) -> bool:
    """Whether a kept length or area follows its drawing; a typed one that differs overrules."""
    return abs(kept - drawn) <= max(0.005 * drawn, 0.06)


def drawn_length(course: Course) -> float:
    """Length on the plan, m."""
    return float(LineString(course).length)


def drawn_area(ring: Course) -> float:
    """Area of an outline on the plan, m2; 0 where there is none."""
    return float(Polygon(ring).area) if len(ring) > 2 else 0.0


def along(course: Course, share: float) -> tuple[int, tuple[float, float]]:
    """The stretch between two corners on which a share of the length falls, and the place, m."""
    corners = np.array(course)
    chainage = np.append(0.0, np.cumsum(np.hypot(*np.diff(corners, axis=0).T)))
    at = share * chainage[-1]
    stretch = int(np.clip(np.searchsorted(chainage, at) - 1, 0, len(course) - 2))
    x, y = (float(np.interp(at, chainage, corners[:, axis])) for axis in (0, 1))
    return stretch, (round(x, 2), round(y, 2))
