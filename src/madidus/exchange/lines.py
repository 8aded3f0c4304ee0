"""Lines and words drawn under the network: GeoJSON and DXF, as one GeoJSON in the project's grid."""

import json
import math
from collections.abc import Iterator
from typing import Any

import pyproj

from ..core.errors import ModelError
from .dxf import read_drawing

__all__ = ["lines_of_dxf", "lines_of_geojson", "turn_into"]

_MOST_POINTS = 2_000_000
_LINES = {"LineString": 1, "MultiLineString": 2, "Polygon": 2, "MultiPolygon": 3}
_DEGREES = "EPSG:4326"


def _collection(features: list[dict[str, Any]]) -> bytes:
    return json.dumps({"type": "FeatureCollection", "features": features}, separators=(",", ":")).encode()


def _feature(kind: str, coordinates: Any, layer: str, text: str = "") -> dict[str, Any]:
    properties = {"layer": layer, **({"text": text} if text else {})}
    return {"type": "Feature", "geometry": {"type": kind, "coordinates": coordinates}, "properties": properties}


def lines_of_dxf(content: bytes) -> bytes:
    """Lines and words of a drawing, blocks taken apart; millimetres suffice on a plan.

    Raises
    ------
    ModelError
        When the drawing cannot be read or holds neither.
    """
    drawing = read_drawing(content, explode=True)
    features = [
        _feature("LineString", [(round(x, 3), round(y, 3)) for x, y in line.points], line.layer)
        for line in drawing.lines
    ] + [_feature("Point", (round(w.x, 3), round(w.y, 3)), w.layer, w.text) for w in drawing.words]
    if not features:
        raise ModelError(
            "file", "DXF", "holds neither lines nor words in model space", "check that it is the right drawing"
        )
    return _collection(features)


def lines_of_geojson(content: bytes, grid: str | None) -> bytes:
    """Lines, outlines and named points of a feature collection.

    Standard GeoJSON is in degrees: with a named grid, coordinates that fit degrees are turned into it. What bears the
    foreign member `grid`, as ours does, is in the project's grid already.

    Raises
    ------
    ModelError
        When it is no GeoJSON, or holds nothing to draw.
    """
    try:
        found = json.loads(content)
        features = found["features"] if found.get("type") == "FeatureCollection" else [found]
        turn = turn_into(found | {"features": features}, grid)
        drawn = [part for feature in features for part in _drawn(feature, turn)]
    except (ValueError, KeyError, TypeError, AttributeError, RecursionError, IndexError) as error:
        raise ModelError(
            "file", "GeoJSON", f"cannot be read: {error}"[:300], "write it again as GeoJSON in UTF-8"
        ) from error
    if not drawn:
        raise ModelError("file", "GeoJSON", "holds nothing that can be drawn", "choose a file with lines or outlines")
    return _collection(drawn)


def _points(coordinates: Any) -> Iterator[tuple[float, float]]:
    if isinstance(coordinates[0], int | float):
        yield float(coordinates[0]), float(coordinates[1])
    else:
        for part in coordinates:
            yield from _points(part)


def turn_into(found: dict[str, Any], grid: str | None) -> pyproj.Transformer | None:
    """What turns a collection in degrees into a named grid; None where it stays as it is.

    Raises
    ------
    ValueError
        When a coordinate is no number, or there are too many.
    """
    shapes = [f["geometry"]["coordinates"] for f in found["features"] if f.get("geometry")]
    count = 0
    degrees = "grid" not in found
    for shape in shapes:
        for x, y in _points(shape):
            count += 1
            if not (math.isfinite(x) and math.isfinite(y) and abs(x) <= 1e8 and abs(y) <= 1e8):
                raise ValueError("a coordinate is no number within 1e8")
            degrees = degrees and abs(x) <= 180.0 and abs(y) <= 90.0
    if count > _MOST_POINTS:
        raise ValueError(f"more than {_MOST_POINTS:,} points")
    if not (degrees and grid):
        return None
    return pyproj.Transformer.from_crs(_DEGREES, grid, always_xy=True)


def _drawn(feature: Any, turn: pyproj.Transformer | None) -> Iterator[dict[str, Any]]:
    geometry, properties = feature.get("geometry") or {}, feature.get("properties") or {}
    kind, coordinates = geometry.get("type"), geometry.get("coordinates") or []
    layer = str(properties.get("layer", properties.get("kind", "")))[:80]
    text = str(properties.get("name") or properties.get("text") or "")[:200]

    def placed(points: Any) -> list[tuple[float, float]]:
        flat = list(_points(points))
        xs, ys = zip(*flat, strict=True)
        if turn is not None:
            xs, ys = turn.transform(xs, ys)
        return [(round(x, 3), round(y, 3)) for x, y in zip(xs, ys, strict=True) if math.isfinite(x + y)]

    if kind == "Point" and text:
        yield _feature("Point", placed(coordinates)[0], layer, text)
    depth = _LINES.get(kind or "", 0)
    rings: list[Any] = [coordinates] if depth == 1 else []
    if depth == 2:
        rings = list(coordinates)
    elif depth == 3:
        rings = [ring for polygon in coordinates for ring in polygon]
    for ring in rings:
        points = placed(ring)
        if len(points) > 1:
            yield _feature("LineString", points, layer, text)
            text = ""  # one label is enough for all parts
