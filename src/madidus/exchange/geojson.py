"""GeoJSON (RFC 7946) in the project's own grid: points are nodes, lines are links, polygons are catchments.

Every field of an element stands in its properties, so that a file written here comes back whole. Coordinates are metres
east and north in the project's grid, not degrees: the foreign member `grid` says so.
"""

import itertools
import json
import math
from typing import Any

from scipy.spatial import KDTree

from ..core.errors import ModelError
from ..core.model.network import Network
from .incoming import GROUPS, KNOWN, Fields, Group, Incoming
from .lines import turn_into

__all__ = ["read_geojson", "write_geojson"]

_AT_AN_END = 0.05  # m from a node to the end of a line that begins or ends there
_GROUP_OF: dict[str, Group] = {"Point": "nodes", "LineString": "links", "Polygon": "catchments"}
_CONDUITS = ("pipe", "channel", "trench")
_KIND_OF = {"nodes": "manhole", "links": "pipe"}


def _line(points: list[tuple[float, float]]) -> float:
    return sum(math.dist(a, b) for a, b in itertools.pairwise(points))


def write_geojson(network: Network, name: str) -> str:
    """The network as a feature collection."""
    features: list[dict[str, Any]] = []

    def put(group: Group, id_: str, element: Any, geometry: str | None, coordinates: Any) -> None:
        properties = {
            "group": group,
            "id": id_,
            **element.model_dump(mode="json", exclude={"x", "y", "polygon", "bends"}),
        }
        shape = {"type": geometry, "coordinates": coordinates} if geometry else None
        features.append({"type": "Feature", "id": id_, "geometry": shape, "properties": properties})

    for id_, node in network.nodes.items():
        put("nodes", id_, node, "Point", [node.x, node.y])
    for id_, link in network.links.items():
        put("links", id_, link, "LineString", [[x, y] for x, y in network.course(link)])
    for id_, catchment in network.catchments.items():
        ring = [[x, y] for x, y in catchment.polygon]
        put("catchments", id_, catchment, "Polygon" if ring else None, [[*ring, ring[0]]] if ring else None)
    collection = {
        "type": "FeatureCollection", "name": name, "grid": "local, metres east and north", "features": features,
    }  # fmt: skip
    return json.dumps(collection, ensure_ascii=False, indent=1)


def read_geojson(content: bytes, grid: str | None = None) -> Incoming:
    """Elements of a feature collection.

    grid : the project's coordinate system. Where it is named, a file in degrees, as the standard has it, is turned into
    it; ours bear the foreign member `grid` and stand as they are.

    A line without `upstream` and `downstream` joins the nodes of the file at its ends; its length follows from its
    course unless it has one. A property `diameter` of a line is that of a circular pipe.

    Raises
    ------
    ModelError
        When the file is not GeoJSON.
    """
    try:
        found = json.loads(content)
    except (ValueError, RecursionError) as error:
        raise ModelError("file", "GeoJSON", f"cannot be read: {error}", "write it again as GeoJSON in UTF-8") from error
    if not isinstance(found, dict) or not isinstance(found.get("features"), list):
        raise ModelError("file", "GeoJSON", "is no feature collection", "choose a file that holds features")
    try:
        _into_grid(found, grid)
    except (ValueError, KeyError, TypeError, AttributeError, IndexError, RecursionError) as error:
        raise ModelError(
            "file", "GeoJSON", f"has coordinates that cannot be read: {error}"[:200], "mend them"
        ) from error
    incoming = Incoming()
    lines: list[tuple[str, Fields, list[tuple[float, float]]]] = []
    for number, feature in enumerate(found["features"], start=1):
        try:
            group, key, fields, points = _feature(feature, number, incoming)
        except (KeyError, TypeError, ValueError, IndexError, AttributeError) as error:
            what = str(error) if isinstance(error, ValueError) else "is not understood"
            incoming.leave_out(f"feature {number}", f"{what}; it is left out", *_names(feature))
            continue
        if group == "links" and not ("upstream" in fields and "downstream" in fields):
            lines.append((key, fields, points))
        else:
            incoming.add(group, key, fields)
    _join(incoming, lines)
    return incoming


def _names(feature: Any) -> list[str]:
    properties = feature.get("properties") if isinstance(feature, dict) else None
    return [str(properties["name"])] if isinstance(properties, dict) and "name" in properties else []


def _has_numbers(feature: dict[str, Any]) -> bool:
    def fine(coordinates: Any) -> bool:
        if not isinstance(coordinates, list) or not coordinates:
            return False
        if isinstance(coordinates[0], list):
            return all(map(fine, coordinates))
        return len(coordinates) > 1 and all(isinstance(c, int | float) for c in coordinates)

    geometry = feature.get("geometry")
    return isinstance(geometry, dict) and fine(geometry.get("coordinates"))


def _into_grid(found: dict[str, Any], grid: str | None) -> None:
    """Turn every coordinate of a collection in degrees into the project's grid, in place."""
    # a feature that is broken is left out, and remarked on, where it is read
    whole = [f for f in found["features"] if isinstance(f, dict) and _has_numbers(f)]
    turn = turn_into({**found, "features": whole}, grid) if grid else None
    if turn is None:
        return

    def turned(coordinates: Any) -> Any:
        if isinstance(coordinates[0], int | float):
            return list(turn.transform(coordinates[0], coordinates[1]))
        return [turned(part) for part in coordinates]

    for feature in whole:
        if feature.get("geometry"):
            feature["geometry"]["coordinates"] = turned(feature["geometry"]["coordinates"])


def _feature(feature: Any, number: int, incoming: Incoming) -> tuple[Group, str, Fields, list[tuple[float, float]]]:
    properties, geometry = dict(feature.get("properties") or {}), feature.get("geometry")
    kind = geometry["type"] if geometry else None
    own = "group" in properties
    group = properties.pop("group", None) or _GROUP_OF.get(kind or "")
    if group not in GROUPS:
        raise ValueError(f"has geometry {kind}, which is no element of a network")
    key = str(properties.get("id") or feature.get("id") or properties.get("name") or f"feature {number}")
    fields: Fields = {}
    if group in _KIND_OF:
        fields["kind"] = str(properties.pop("kind", None) or _KIND_OF[group])
    if fields.get("kind") == "pipe" and "section" not in properties and "diameter" in properties:
        properties["section"] = {"shape": "circular", "diameter": properties.pop("diameter")}
    known = KNOWN[group].get(fields.get("kind", ""), frozenset())
    for name, value in properties.items():
        if name not in known:
            incoming.dropped[f"property {name} of {group}"] += 1
        elif value is not None or own:  # elsewhere null means that nobody knows
            # readers that know no nested values hand them back as text
            fields[name] = json.loads(value) if isinstance(value, str) and value[:1] in ("{", "[") else value
    coordinates = geometry["coordinates"] if geometry else []
    rings = coordinates[0] if kind == "Polygon" else coordinates if kind == "LineString" else []
    points = [(float(p[0]), float(p[1])) for p in rings]
    if group == "nodes":
        fields["x"], fields["y"] = float(coordinates[0]), float(coordinates[1])
    elif group == "catchments" and points:
        fields["polygon"] = points[:-1] if points[0] == points[-1] else points
    elif fields.get("kind") in _CONDUITS and points:
        fields.setdefault("length", _line(points))
        fields["bends"] = points[1:-1]
    return group, key, fields, points


def _join(incoming: Incoming, lines: list[tuple[str, Fields, list[tuple[float, float]]]]) -> None:
    """Give lines without ends the nodes that stand there."""
    keys = list(incoming.nodes)
    tree = KDTree([(incoming.nodes[key]["x"], incoming.nodes[key]["y"]) for key in keys]) if keys else None
    for key, fields, points in lines:
        for end, at in (("upstream", points[:1]), ("downstream", points[-1:])):
            if end in fields or not at or tree is None:
                continue
            distance, nearest = tree.query(at[0])
            if distance <= _AT_AN_END:
                fields[end] = keys[int(nearest)]
        if "upstream" in fields and "downstream" in fields:
            incoming.add("links", key, fields)
        else:
            incoming.leave_out(f"line {key}", "ends where no node stands; it is left out", str(fields.get("name", key)))
