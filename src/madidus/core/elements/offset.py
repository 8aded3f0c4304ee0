"""Outlines moved outward or inward, every side by its own distance, with mitred corners: sides stay straight.

A side that becomes too short to be there goes out, and its neighbours meet; where sides meet from across, nothing is
left of the outline, or it crosses itself: the caller is told.
"""

from collections.abc import Sequence

import numpy as np
import shapely

__all__ = ["area_of", "figures_of", "offset", "perimeter_of", "turned"]

_STRAIGHT = 1e-9  # sine of a turn, under which two sides lie in one line
_SHORT = 1e-9  # m


def turned(points: Sequence[tuple[float, float]]) -> np.ndarray:
    """Corners as float64[corner, 2], counter-clockwise."""
    corners = np.array(points, dtype=float)
    return corners if area_of(corners) > 0.0 else corners[::-1]


def area_of(corners: np.ndarray) -> float:
    """Of an outline, m2; negative clockwise."""
    if len(corners) < 3:
        return 0.0
    x, y = corners[:, 0], corners[:, 1]
    return float(0.5 * (x * np.roll(y, -1) - np.roll(x, -1) * y).sum())


def perimeter_of(corners: np.ndarray) -> float:
    """Of an outline, m."""
    return float(np.hypot(*(np.roll(corners, -1, axis=0) - corners).T).sum()) if len(corners) else 0.0


def figures_of(corners: np.ndarray) -> tuple[float, float, float]:
    """Area (m2), perimeter (m), and the sum over corners of tan(half the turn).

    All sides moved outward by d give area + perimeter d + corners d².
    """
    along = np.roll(corners, -1, axis=0) - corners
    before = np.roll(along, 1, axis=0)
    cross = before[:, 0] * along[:, 1] - before[:, 1] * along[:, 0]
    turns = np.arctan2(cross, (before * along).sum(axis=1))
    return area_of(corners), perimeter_of(corners), float(np.tan(0.5 * turns).sum())


def offset(corners: np.ndarray, out: np.ndarray) -> np.ndarray:
    """An outline with each side moved outward by its own distance, negative inward; float64[corner, 2].

    corners : counter-clockwise; out : m, of the side that begins at each corner. Empty where nothing is left.
    """
    along = np.roll(corners, -1, axis=0) - corners
    length = np.hypot(along[:, 0], along[:, 1])
    there = length > _SHORT
    corners, along, out = corners[there], along[there] / length[there, None], out[there]
    normal = np.column_stack([along[:, 1], -along[:, 0]])
    at = (normal * corners).sum(axis=1) + out
    sides = np.arange(len(corners))
    while len(sides) >= 3:
        moved = _corners(corners, normal, at, sides)
        run = ((np.roll(moved, -1, axis=0) - moved) * along[sides]).sum(axis=1)
        if run.min() >= -_SHORT:
            return moved if shapely.Polygon(moved).is_valid and area_of(moved) > 0.0 else np.zeros((0, 2))
        sides = np.delete(sides, int(run.argmin()))
    return np.zeros((0, 2))


def _corners(corners: np.ndarray, normal: np.ndarray, at: np.ndarray, sides: np.ndarray) -> np.ndarray:
    """Where each side that is left meets the one before it."""
    own, before = normal[sides], normal[np.roll(sides, 1)]
    here, there = at[sides], at[np.roll(sides, 1)]
    turn = before[:, 0] * own[:, 1] - before[:, 1] * own[:, 0]
    bent = np.abs(turn) > _STRAIGHT
    safe = np.where(bent, turn, 1.0)
    x = (there * own[:, 1] - here * before[:, 1]) / safe
    y = (here * before[:, 0] - there * own[:, 0]) / safe
    # in one line: the corner moves straight out
    straight = corners[sides] + own * (here - (own * corners[sides]).sum(axis=1))[:, None]
    return np.where(bent[:, None], np.column_stack([x, y]), straight)
