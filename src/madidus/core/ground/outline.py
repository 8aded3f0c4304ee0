"""A catchment outlined on the plan: cut by its neighbours, with its area and the node that would receive it."""

from dataclasses import dataclass

import numpy as np
import shapely

from ..errors import ModelError
from ..model.network import Network
from .receiver import receiver
from .terrain import GroundLevel

__all__ = ["Outlined", "outlined"]

_SMALLEST = 0.05  # m2


@dataclass
class Outlined:
    """polygon : corners, m. area : m2. node : id of the proposed receiver. remarks : what was done."""

    polygon: list[tuple[float, float]]
    area: float
    node: str | None
    remarks: list[str]


def outlined(network: Network, ring: list[tuple[float, float]], ground: GroundLevel) -> Outlined:
    """What a drawn ring leaves of the ground that other catchments hold already, and where it drains to.

    Raises
    ------
    ModelError
        When the ring crosses itself, has no area, or lies within other catchments.
    """
    drawn = shapely.Polygon(ring)
    if not drawn.is_valid:
        raise ModelError("catchment", "outline", "crosses itself", "draw its corners in order, around the ground")
    taken = {
        c.name: shapely.make_valid(shapely.Polygon(c.polygon))
        for c in network.catchments.values()
        if len(c.polygon) > 2
    }  # fmt: skip
    cutting = {
        name: other for name, other in taken.items() if shapely.area(shapely.intersection(drawn, other)) > _SMALLEST
    }
    left = shapely.difference(drawn, shapely.union_all(list(cutting.values()))) if cutting else drawn
    pieces = [piece for piece in shapely.get_parts(left) if isinstance(piece, shapely.Polygon)]
    largest = max(pieces, key=shapely.area, default=shapely.Polygon())
    if largest.area < _SMALLEST:
        held = " and ".join(sorted(cutting))
        why = f"lies within {held}" if held else "has no area"
        raise ModelError("catchment", "outline", why, "draw it around ground of its own")
    remarks = [f"{', '.join(sorted(cutting))} keep{'s' if len(cutting) == 1 else ''} what is theirs"] if cutting else []
    if len(pieces) > 1:
        remarks.append(f"{len(pieces) - 1} smaller piece{'s' if len(pieces) > 2 else ''} cut off, left out")
    shell = _one_ring(largest)
    node = receiver(network, largest, ground)
    remarks.append(f"drains to {network.nodes[node].name}" if node else "no node to drain to yet")
    return Outlined(
        polygon=[(round(x, 2), round(y, 2)) for x, y in shell],
        area=round(float(largest.area), 2), node=node, remarks=remarks,
    )  # fmt: skip


def _one_ring(polygon: shapely.Polygon) -> list[tuple[float, float]]:
    """Corners of the outside, with a slit to each hole: a catchment around another one has one outline."""
    ring = [(float(x), float(y)) for x, y in polygon.exterior.coords[:-1]]
    for hole in polygon.interiors:
        inner = [(float(x), float(y)) for x, y in hole.coords[:-1]]
        away = np.hypot(
            *(np.array(ring)[:, None, :] - np.array(inner)[None, :, :]).transpose(2, 0, 1)
        )  # corner of the outside by corner of the hole
        i, j = np.unravel_index(int(away.argmin()), away.shape)
        ring = [*ring[: i + 1], *inner[j:], *inner[: j + 1], *ring[i:]]
    return ring
