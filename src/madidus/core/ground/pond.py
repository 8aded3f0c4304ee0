"""Ponds in the ground: their edges on the plan, the lowest ground on their rims, what is dug and what is filled."""

from dataclasses import dataclass

import numpy as np
import shapely

from ..elements import Basin
from ..elements.offset import area_of
from ..model.network import Network
from .terrain import GroundLevel

__all__ = ["Earthworks", "Lowest", "PondEdges", "earthworks", "edges", "lowest_on_rim", "with_rim_ground"]

_ALONG = 0.5  # m between looks at the ground along the rim
_LOOKS = 16_000  # places within the rim at which the ground is looked at, about
_LEVELS = 61  # of the pond, by which its surface is told there


@dataclass(frozen=True)
class PondEdges:
    """Corners on the plan of base and rim, and of a shelf's inner and outer edge, empty without one."""

    base: list[tuple[float, float]]
    rim: list[tuple[float, float]]
    shelf: list[list[tuple[float, float]]]


@dataclass(frozen=True)
class Lowest:
    """The lowest ground on a rim: where, m, and its level, m."""

    x: float
    y: float
    level: float


@dataclass(frozen=True)
class Earthworks:
    """m3 within the rim: cut above the pond's own surface, fill below it. bank : m3 outside it, of the crest and the
    outer slope of a bank that is built; 0 where none is.

    known : share of the area within the rim of which the ground is known.
    """

    cut: float
    fill: float
    bank: float
    known: float


def _corners(ring: np.ndarray) -> list[tuple[float, float]]:
    return [(float(x), float(y)) for x, y in ring]


def edges(pond: Basin) -> PondEdges:
    """What a plan draws of a pond."""
    shelf: list[list[tuple[float, float]]] = []
    if pond.shelf is not None:
        inner, outer = pond.ring(pond.shelf.height), pond.ring(pond.shelf.height + 1e-6)
        shelf = [_corners(inner), _corners(outer)]
    return PondEdges(_corners(pond.ring(0.0)), _corners(pond.ring(pond.depth)), shelf)


def _along_rim(pond: Basin) -> np.ndarray:
    """Places along the rim, half a metre apart and at its corners, in their order; float64[place, 2]."""
    rim = shapely.LinearRing(pond.ring(pond.depth))
    corners = [rim.project(shapely.Point(corner)) for corner in rim.coords[:-1]]
    along = np.unique(np.concatenate([np.arange(0.0, rim.length, _ALONG), corners]))
    return np.asarray(shapely.get_coordinates(shapely.line_interpolate_point(rim, along)))


def lowest_on_rim(pond: Basin, ground: GroundLevel) -> Lowest | None:
    """The lowest ground under the rim, by looks every half metre and at its corners; None where it is not known."""
    found: Lowest | None = None
    for x, y in _along_rim(pond):
        level = ground(float(x), float(y))
        if level is not None and (found is None or level < found.level):
            found = Lowest(float(x), float(y), level)
    return found


def earthworks(pond: Basin, ground: GroundLevel) -> Earthworks:
    """What is dug and filled within the rim, from a grid of looks at the ground.

    The pond's surface at a place is told by the lowest of its levels whose edge goes round it. A ramp is left out.
    """
    rim = shapely.Polygon(pond.ring(pond.depth))
    west, south, east, north = rim.bounds
    cell = max(float(np.sqrt(rim.area / _LOOKS)), 0.05)
    x, y = np.meshgrid(np.arange(west + cell / 2, east, cell), np.arange(south + cell / 2, north, cell))
    x, y = x.ravel(), y.ravel()
    inside = shapely.contains_xy(rim, x, y)
    x, y = x[inside], y[inside]
    if x.size == 0:
        return Earthworks(0.0, 0.0, 0.0, 0.0)
    depths = np.linspace(0.0, pond.depth, _LEVELS)
    surface = np.full(x.size, pond.depth)
    for k in range(_LEVELS - 1, -1, -1):
        within = shapely.contains_xy(shapely.Polygon(pond.ring(float(depths[k]))), x, y)
        # between two edges: half-way between their levels; within the base: the base
        surface[within] = depths[k] - 0.5 * (depths[1] - depths[0]) if k > 0 else 0.0
    # looks that fall beside an edge weigh the sides wrongly: what is dug of level ground is the pond's volume
    area = rim.area / x.size
    whole = float(np.trapezoid([area_of(pond.ring(float(depth))) for depth in depths], depths))
    surface = pond.depth - (pond.depth - surface) * whole / (float((pond.depth - surface).sum()) * area)
    levels = np.array([np.nan if (z := ground(float(a), float(b))) is None else z for a, b in zip(x, y, strict=True)])
    known = np.isfinite(levels)
    over = levels[known] - (pond.invert + surface[known])
    return Earthworks(
        float(np.maximum(over, 0.0).sum() * area), float(np.maximum(-over, 0.0).sum() * area),
        _fill_of_bank(pond, ground), float(known.mean()),
    )  # fmt: skip


def _fill_of_bank(pond: Basin, ground: GroundLevel) -> float:
    """m3 of crest and outer slope: a h + s h²/2 at each place along the rim, h its height over the ground, s the slope.

    What it has more at outward corners, and the fall of the ground away from the rim, are left out.
    """
    if pond.bank is None:
        return 0.0
    places = _along_rim(pond)
    levels = [ground(float(x), float(y)) for x, y in places]
    high = np.array([0.0 if level is None else max(pond.cover - level, 0.0) for level in levels])
    section = pond.bank.crest_width * high + 0.5 * pond.bank.outer_slope * high**2
    run = np.hypot(*(np.roll(places, -1, axis=0) - places).T)
    return float((0.5 * (section + np.roll(section, -1)) * run).sum())


def with_rim_ground(network: Network, ground: GroundLevel) -> Network:
    """The network with the lowest ground on each pond's rim as the ground is now; where it is not known, as it was."""
    nodes = {}
    for id_, node in network.nodes.items():
        if isinstance(node, Basin) and node.depth > 0.0 and (lowest := lowest_on_rim(node, ground)) is not None:
            level = round(lowest.level, 3)
            if level != node.rim_ground:
                nodes[id_] = node.model_copy(update={"rim_ground": level})
    return network.model_copy(update={"nodes": {**network.nodes, **nodes}}) if nodes else network
