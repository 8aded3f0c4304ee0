"""Existing elements of a network, and how one of a file is recognised among them: by id, name, place or ground."""

import math
from typing import Any

import shapely
from scipy.spatial import KDTree

__all__ = ["Book", "Outlines"]


class Book:
    """Existing elements of one group, found by id, by name or by place, each at most once."""

    def __init__(self, elements: dict[str, Any]):
        self.elements, self.free = elements, set(elements)
        self._by_name: dict[str, list[str]] = {}
        for id_, element in elements.items():
            self._by_name.setdefault(element.name.casefold(), []).append(id_)
        placed = [(id_, (e.x, e.y)) for id_, e in elements.items() if hasattr(e, "x")]
        self._ids = [id_ for id_, _ in placed]
        self._tree = KDTree([at for _, at in placed]) if placed else None

    def by_id(self, wanted: str | None) -> str | None:
        """The id itself where an element has it."""
        return wanted if wanted in self.elements else None

    def by_name(self, name: str) -> str | None:
        """The one element of this name.

        Raises
        ------
        LookupError
            When several bear it.
        """
        ids = self._by_name.get(name.strip().casefold(), [])
        if len(ids) > 1:
            raise LookupError
        return ids[0] if ids else None

    def free_name(self, wanted: str) -> str:
        """A name that no element here bears: the wanted one, or that with a number."""
        for n in range(1, len(self._by_name) + 3):
            name = wanted if n == 1 else f"{wanted} {n}"
            if name.casefold() not in self._by_name:
                return name
        raise AssertionError("one of so many is free")

    def by_place(self, fields: dict[str, Any], tolerance: float) -> str | None:
        """The nearest element within the tolerance, m; None where a place is not given or nothing is near."""
        try:
            at = (float(fields["x"]), float(fields["y"]))
        except (KeyError, TypeError, ValueError):
            return None
        if self._tree is None or not all(map(math.isfinite, at)):
            return None
        distance, nearest = self._tree.query(at)
        return self._ids[int(nearest)] if distance <= tolerance else None


class Outlines:
    """Existing outlines, found by the ground that another one shares with them."""

    def __init__(self, rings: dict[str, list[tuple[float, float]]]):
        self._ids = list(rings)
        self._shapes = [shapely.make_valid(shapely.Polygon(ring)) for ring in rings.values()]
        self._tree = shapely.STRtree(self._shapes)

    def over(self, ring: Any, share: float) -> str | None:
        """The outline that shares most with a ring, where that is at least a share of the ground that both cover."""
        try:
            shape = shapely.make_valid(shapely.Polygon(ring))
        except (TypeError, ValueError, shapely.GEOSException):
            return None
        best, found = share, None
        for k in self._tree.query(shape):
            both = shapely.union(shape, self._shapes[k]).area
            common = shapely.intersection(shape, self._shapes[k]).area
            if both > 0.0 and common / both >= best:
                best, found = common / both, self._ids[k]
        return found
