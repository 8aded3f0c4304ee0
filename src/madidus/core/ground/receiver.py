"""Which node would receive the water of a piece of ground."""

import numpy as np
import shapely

from ..elements import Outfall, Store
from ..model.network import Network
from .terrain import GroundLevel

__all__ = ["nearest", "receiver"]

_LEVEL = 0.05  # m by which a cover may lie above the ground that drains to it
_STRIDE, _STRIDES = 5.0, 400  # m of a step down the ground, and the most of them
_FALL = 1e-3  # m in a stride, less than which is level
_WAYS = [(np.cos(a), np.sin(a)) for a in np.arange(16) * np.pi / 8]


def _shafts(network: Network) -> dict[str, tuple[float, float, float]]:
    """Where runoff may enter: x, y, cover of nodes that are neither stores nor outfalls, m."""
    return {
        id_: (node.x, node.y, node.cover)
        for id_, node in network.nodes.items()
        if not isinstance(node, Outfall | Store)
    }


def nearest(network: Network, outline: shapely.Polygon) -> str | None:
    """The shaft nearest to an outline; None where there is none."""
    shafts = _shafts(network)
    return min(shafts, key=lambda id_: _away(outline, shafts[id_])) if shafts else None


def _away(outline: shapely.Polygon, shaft: tuple[float, float, float]) -> float:
    return float(shapely.distance(outline, shapely.Point(shaft[:2])))


def receiver(network: Network, outline: shapely.Polygon, ground: GroundLevel) -> str | None:
    """The lowest shaft within an outline; or the one that its water comes by on its way down the ground; or else the
    nearest one downhill of its middle.
    """
    shafts = _shafts(network)
    if not shafts:
        return None
    away = {id_: _away(outline, shaft) for id_, shaft in shafts.items()}
    inside = [id_ for id_ in shafts if away[id_] == 0.0]
    if inside:
        return min(inside, key=lambda id_: shafts[id_][2])
    middle = outline.representative_point()
    met = _downhill(shafts, middle.x, middle.y, ground)
    if met is not None:
        return met
    level = ground(middle.x, middle.y)
    downhill = [id_ for id_ in shafts if level is None or shafts[id_][2] <= level + _LEVEL]
    return min(downhill or shafts, key=lambda id_: (away[id_], shafts[id_][2]))


def _downhill(
    shafts: dict[str, tuple[float, float, float]], x: float, y: float, ground: GroundLevel
) -> str | None:  # fmt: skip
    """The first shaft that water from a place comes by, each stride the steepest way down; None where it meets none
    before a hollow, or the end of what is known.
    """
    ids, places = list(shafts), np.array([shaft[:2] for shaft in shafts.values()])
    level = ground(x, y)
    for _ in range(_STRIDES):
        off = np.hypot(places[:, 0] - x, places[:, 1] - y)
        if off.min() <= _STRIDE:
            return ids[int(off.argmin())]
        steps = [(x + _STRIDE * dx, y + _STRIDE * dy) for dx, dy in _WAYS]
        lower = [(found, at) for at in steps if (found := ground(*at)) is not None]
        if level is None or not lower or min(lower)[0] > level - _FALL:
            return None
        level, (x, y) = min(lower)
    return None
