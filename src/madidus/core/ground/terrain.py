"""The ground: a grid of levels, its contours and shade, or what the covers of a network tell of it."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import shapely
from contourpy import contour_generator
from scipy import ndimage
from scipy.spatial import KDTree

from ..elements import Outfall
from ..model.network import Network

__all__ = ["GroundLevel", "Lie", "Surface", "Terrain", "between_covers", "surface"]

GroundLevel = Callable[[float, float], float | None]
"""Level of the ground at a place, m; None where nobody knows it."""

_NEIGHBOURS = 4
_MOST_LINES = 60
_FLOOD, _FLOOD_REACH = 0.2, 100.0  # m of depth by which the spread of a flood is reckoned, and how far it is followed


@dataclass(frozen=True)
class Lie:
    """Levels of the ground within an outline, m; mean slope, m/m; area of the surface itself, m2."""

    lowest: float
    highest: float
    slope: float
    area: float


@dataclass(frozen=True)
class Terrain:
    """levels : (rows, columns) m at the middles of square cells, row 0 in the north, NaN where unknown.

    west, south : outer corner of the grid, m. cell : side of a cell, m.
    """

    levels: np.ndarray
    west: float
    south: float
    cell: float

    @property
    def extent(self) -> tuple[float, float, float, float]:
        """West, south, east, north, m."""
        rows, columns = self.levels.shape
        return self.west, self.south, self.west + columns * self.cell, self.south + rows * self.cell

    def level(self, x: float, y: float) -> float | None:
        """Bilinear between the middles of cells; nearest within half a cell of the edge; None outside or unknown."""
        rows, columns = self.levels.shape
        column, row = (x - self.west) / self.cell - 0.5, rows - (y - self.south) / self.cell - 0.5
        if not (-0.5 <= column <= columns - 0.5 and -0.5 <= row <= rows - 0.5):
            return None
        column, row = min(max(column, 0.0), columns - 1.0), min(max(row, 0.0), rows - 1.0)
        j, i = min(int(column), max(columns - 2, 0)), min(int(row), max(rows - 2, 0))
        block = self.levels[i : i + 2, j : j + 2].astype(float)
        across = np.array([1.0 - (column - j), column - j])[: block.shape[1]]
        down = np.array([1.0 - (row - i), row - i])[: block.shape[0]]
        weights = np.outer(down, across)
        known = np.isfinite(block) & (weights > 0.0)
        if not known.any():
            return None
        # beside a gap the known corners decide
        return float((block[known] * weights[known]).sum() / weights[known].sum())

    def under(self, ring: list[tuple[float, float]]) -> "Lie | None":
        """How the ground lies within an outline (m); None where the terrain knows less than half of it."""
        rows, columns = self.levels.shape
        if min(rows, columns) < 2:
            return None
        x = self.west + (np.arange(columns) + 0.5) * self.cell
        y = self.south + (rows - np.arange(rows) - 0.5) * self.cell
        outline = shapely.Polygon(ring)
        w, s, e, n = outline.bounds
        j, i = np.nonzero((x >= w) & (x <= e))[0], np.nonzero((y >= s) & (y <= n))[0]
        if not (i.size and j.size):
            return None
        # a cell more on each side, for the differences
        i0, i1, j0, j1 = max(i[0] - 1, 0), min(i[-1] + 2, rows), max(j[0] - 1, 0), min(j[-1] + 2, columns)
        part = self.levels[i0:i1, j0:j1].astype(float)
        inside = shapely.contains_xy(outline, *np.meshgrid(x[j0:j1], y[i0:i1]))
        if min(part.shape) < 2 or not inside.any():
            return None
        down, across = np.gradient(part, self.cell)
        steep = np.hypot(down, across)
        known = inside & np.isfinite(steep)
        if known.sum() < 0.5 * inside.sum():
            return None
        return Lie(
            lowest=float(part[known].min()), highest=float(part[known].max()), slope=float(steep[known].mean()),
            area=float(outline.area * np.sqrt(1.0 + steep[known] ** 2).mean()),
        )  # fmt: skip

    def cone(self, x: float, y: float, area: float) -> float | None:
        """How a flood at a place widens as it rises: the cone (horizontal per vertical) round a circle of `area` m2
        that covers as much ground as hangs together at most `_FLOOD` m above it. None where the ground is not known.
        """
        rows, columns = self.levels.shape
        column, row = int((x - self.west) / self.cell), rows - 1 - int((y - self.south) / self.cell)
        ground = self.level(x, y)
        if ground is None or not (0 <= column < columns and 0 <= row < rows):
            return None
        reach = max(2, int(_FLOOD_REACH / self.cell))
        top, left = max(row - reach, 0), max(column - reach, 0)
        part = self.levels[top : row + reach + 1, left : column + reach + 1]
        wet = part <= ground + _FLOOD
        wet[row - top, column - left] = True
        together, _ = ndimage.label(wet, np.ones((3, 3)))
        flooded = float((together == together[row - top, column - left]).sum()) * self.cell**2
        return float(max(np.sqrt(flooded / np.pi) - np.sqrt(area / np.pi), 0.0) / _FLOOD)

    def coarser(self, most: int) -> "Terrain":
        """The same ground with no more than about `most` cells along either side: means of blocks."""
        rows, columns = self.levels.shape
        step = -(-max(rows, columns) // most)
        if step <= 1:
            return self
        padded = np.full((-(-rows // step) * step, -(-columns // step) * step), np.nan, dtype=np.float32)
        padded[-rows:, :columns] = self.levels
        blocks = padded.reshape(padded.shape[0] // step, step, padded.shape[1] // step, step)
        known = np.isfinite(blocks)
        count = known.sum(axis=(1, 3))
        total = np.where(known, blocks, 0.0).sum(axis=(1, 3), dtype=float)
        means = np.where(count > 0, total / np.maximum(count, 1), np.nan)
        return Terrain(means.astype(np.float32), self.west, self.south, self.cell * step)

    def contours(self, interval: float | None = None) -> tuple[float, list[tuple[float, np.ndarray]]]:
        """Interval (m), and lines of equal level as (level, points (n, 2) in m). Without one, the best readable."""
        low, high = float(np.nanmin(self.levels)), float(np.nanmax(self.levels))
        step = interval or next(
            (s for s in (0.1, 0.25, 0.5, 1.0, 2.0, 5.0, 10.0, 25.0, 50.0) if (high - low) / s <= _MOST_LINES / 3), 100.0
        )
        west, south, east, north = self.extent
        half = 0.5 * self.cell
        rows, columns = self.levels.shape
        if rows < 2 or columns < 2:
            return step, []
        lines = contour_generator(
            np.linspace(west + half, east - half, columns),
            np.linspace(north - half, south + half, rows),
            np.ma.masked_invalid(self.levels),
        )
        wanted = np.arange(np.ceil(low / step), np.floor(high / step) + 1) * step
        return step, [(float(z), np.asarray(points)) for z in wanted[: 20 * _MOST_LINES] for points in lines.lines(z)]

    def shade(self, exaggeration: float = 2.0) -> np.ndarray:
        """Light from the north-west at 45° on the ground, 0 to 1, (rows, columns); 1 where unknown.

        Lambert's cosine law on the surface normal of central differences.
        """
        if min(self.levels.shape) < 2:
            return np.ones(self.levels.shape)
        known = np.isfinite(self.levels)
        filled = np.where(known, self.levels, np.nanmean(self.levels))
        down, across = np.gradient(filled * exaggeration, self.cell)
        # the normal is (-dz/dx, -dz/dy, 1), the light comes from (-1/2, 1/2, 1/sqrt 2), and rows run south
        shade = (0.5 * (across + down) + np.sqrt(0.5)) / np.sqrt(1.0 + across**2 + down**2)
        return np.where(known, np.clip(shade, 0.0, 1.0), 1.0)


@dataclass(frozen=True)
class Surface:
    """The ground round a network at the corners of square meshes: levels in rows from the south, m; None unknown."""

    west: float
    south: float
    cell: float
    levels: list[list[float | None]]


def surface(network: Network, ground: GroundLevel, cells: int = 40) -> Surface:
    """The ground within and a tenth beyond a network, in about `cells` meshes along the longer side."""
    placed = np.array([(node.x, node.y) for node in network.nodes.values()], dtype=float).reshape(-1, 2)
    if not len(placed):
        return Surface(0.0, 0.0, 1.0, [])
    (west, south), (east, north) = placed.min(axis=0), placed.max(axis=0)
    room = 0.1 * max(east - west, north - south, 10.0)
    cell = float(max(east - west, north - south) + 2 * room) / cells
    across, up = (int(np.ceil((span + 2 * room) / cell)) + 1 for span in (east - west, north - south))
    levels = [[ground(west - room + j * cell, south - room + i * cell) for j in range(across)] for i in range(up)]
    return Surface(float(west - room), float(south - room), cell, levels)


def between_covers(network: Network) -> GroundLevel:
    """GroundLevel between the covers of a network: means of the nearest ones, weighed by the inverse of distance."""
    placed = [node for node in network.nodes.values() if not isinstance(node, Outfall)]
    if not placed:
        return lambda _x, _y: None
    tree = KDTree([(node.x, node.y) for node in placed])
    covers = np.array([node.cover for node in placed])
    count = min(_NEIGHBOURS, len(placed))

    def level(x: float, y: float) -> float | None:
        away, nearest = (np.atleast_1d(v) for v in tree.query((x, y), k=count))
        weights = 1.0 / np.maximum(away, 0.01)
        return float((covers[nearest] * weights).sum() / weights.sum())

    return level
