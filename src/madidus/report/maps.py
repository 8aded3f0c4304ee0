"""Results on maps: every element with its peaks, governing storms and states by return period, styled by state.

GeoJSON (RFC 7946, or the project's grid with a foreign member where that is a local one), GeoPackage (OGC 12-128),
KML 2.3 (OGC 12-007), and a style for all of them as SLD 1.0 (OGC 02-070).
"""

import json
import re
import tempfile
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from xml.etree.ElementTree import Element, SubElement, indent, tostring

import numpy as np
import pyogrio.raw
import pyproj
import shapely

from ..core.errors import ModelError
from .drawing.symbols import STATES
from .reported import Reported

__all__ = ["Feature", "features_of", "results_geojson", "results_geopackage", "results_kml", "results_style"]

_WORST = ("flooded", "flood risk", "surcharged", "ok", "not judged")
_COLOURS = {"flooded": "9E2A3B", "flood risk": "C98A1B", "surcharged": "7D540C", "ok": "25727D", "not judged": "777777"}
_KML = "http://www.opengis.net/kml/2.2"  # the standard's own name of itself; nothing is fetched
_SLD = "http://www.opengis.net/sld"
_OGC = "http://www.opengis.net/ogc"


_LOCAL = 'LOCAL_CS["local, metres east and north",UNIT["metre",1]]'
_SHAPES: dict[str, Callable[[Any], Any]] = {
    "Point": lambda points: shapely.Point(points[0]), "LineString": shapely.LineString, "Polygon": shapely.Polygon,
}  # fmt: skip


@dataclass(frozen=True)
class Feature:
    """An element with what is told of it. group : nodes, links or catchments. points : m in the project's grid.

    state : the worst of all return periods. fields : figures in SI, texts; of each return period under its own names.
    """

    group: str
    id: str
    name: str
    kind: str
    points: list[tuple[float, float]]
    state: str
    fields: dict[str, float | str | None] = field(default_factory=dict)


def _slug(row: str) -> str:
    return re.sub(r"\W+", "_", row.replace("%", "pc")).strip("_").lower()


def features_of(of: Reported) -> list[Feature]:
    """Nodes, links and catchments that lie on the plan, with their results."""
    network = of.plan.network
    labels = {s.key: s.label for s in of.plan.storms}
    told: dict[str, dict[str, float | str | None]] = {id_: {} for id_ in (*network.nodes, *network.links)}
    states: dict[str, list[str]] = {id_: [] for id_ in told}
    for row in of.rows:
        found, slug = of.elements(row), _slug(row)
        if found is None:
            continue
        for id_, node in found.nodes.items():
            states[id_].append(node.state)
            told[id_] |= {
                f"state_{slug}": node.state, f"level_{slug}_m": node.level, f"below_cover_{slug}_m": node.left,
                f"flooded_{slug}_m3": node.flooded, f"storm_{slug}": labels[node.storm],
            }  # fmt: skip
        for id_, link in found.links.items():
            states[id_].append(link.state)
            told[id_] |= {
                f"state_{slug}": link.state, f"flow_{slug}_m3s": link.flow, f"speed_{slug}_ms": link.speed,
                f"to_soffit_{slug}_m": link.clearance, f"storm_{slug}": labels[link.storm],
            }  # fmt: skip
        for id_, store in found.stores.items():
            told[id_] |= {f"held_{slug}_m3": store.volume, f"filled_{slug}": store.share}
        for id_, out in found.outfalls.items():
            states[id_].append("ok")
            told[id_] |= {
                f"flow_{slug}_m3s": out.flow, f"volume_{slug}_m3": out.volume, f"storm_{slug}": labels[out.storm],
            }  # fmt: skip
    wanted = {*of.nodes, *of.links}
    features = []
    for id_, one in network.nodes.items():
        if id_ in wanted:
            own = {"invert_m": one.invert, "cover_m": getattr(one, "cover", None), **told[id_]}
            features.append(Feature("nodes", id_, one.name, one.word, [(one.x, one.y)], _worst(states[id_]), own))
    for id_, other in network.links.items():
        if id_ in wanted:
            size = str(other.size()) if hasattr(other, "size") else ""
            own = {"size": size, **told[id_]}
            features.append(
                Feature("links", id_, other.name, other.word, network.course(other), _worst(states[id_]), own)
            )
    for id_, ground in network.catchments.items():
        if len(ground.polygon) > 2:
            ring = [*ground.polygon, ground.polygon[0]]
            features.append(Feature("catchments", id_, ground.name, "catchment", ring, "ok",
                                    {"area_m2": ground.area, "impervious": ground.impervious}))  # fmt: skip
    return features


def _worst(states: list[str]) -> str:
    return next((state for state in _WORST if state in states), "not judged")


def _turned(of: Reported, points: list[tuple[float, float]], turn: pyproj.Transformer | None) -> list[list[float]]:
    if turn is None:
        return [[x, y] for x, y in points]
    return [[float(c) for c in turn.transform(x, y)] for x, y in points]


def _about(of: Reported) -> dict[str, str]:
    return {"project": of.project.name, "option": of.project.option.name, "inputs": of.fingerprint,
            "incomplete": of.missing}  # fmt: skip


def results_geojson(of: Reported) -> bytes:
    """A feature collection; in degrees where the project's grid is named, else in its own metres."""
    grid = of.project.grid
    turn = pyproj.Transformer.from_crs(grid, "EPSG:4326", always_xy=True) if grid else None
    features = []
    for one in features_of(of):
        at = _turned(of, one.points, turn)
        shape = {"nodes": ("Point", at[0]), "links": ("LineString", at), "catchments": ("Polygon", [at])}[one.group]
        features.append({
            "type": "Feature", "id": one.id, "geometry": {"type": shape[0], "coordinates": shape[1]},
            "properties": {
                "group": one.group, "id": one.id, "name": one.name, "kind": one.kind, "state": one.state, **one.fields,
            },
        })  # fmt: skip
    collection: dict[str, Any] = {
        "type": "FeatureCollection",
        "name": of.project.name,
        **_about(of),
        "features": features,
    }
    if turn is None:
        collection["grid"] = "local, metres east and north"
    return json.dumps(collection, ensure_ascii=False, indent=1).encode()


def results_geopackage(of: Reported) -> bytes:
    """Layers of nodes, links and catchments with their results as columns, in the project's grid."""
    features = features_of(of)
    if not features:
        raise ModelError("project", "network", "has nothing that lies on the plan", "draw or import a network first")
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "results.gpkg"
        for group, kind in (("nodes", "Point"), ("links", "LineString"), ("catchments", "Polygon")):
            own = [one for one in features if one.group == group]
            if own:
                _write_layer(path, group, kind, own, of)
        return path.read_bytes()


def _write_layer(path: Path, group: str, kind: str, features: list[Feature], of: Reported) -> None:
    make = _SHAPES[kind]
    columns: dict[str, list[Any]] = {name: [] for name in ("id", "name", "kind", "state")}
    for one in features:
        columns |= {name: [] for name in one.fields if name not in columns}
    for one in features:
        row = {"id": one.id, "name": one.name, "kind": one.kind, "state": one.state, **one.fields}
        for name, values in columns.items():
            values.append(row.get(name))
    data = [_column(values) for values in columns.values()]
    pyogrio.raw.write(
        path, shapely.to_wkb([make(one.points) for one in features]), data,
        np.array(list(columns), dtype=object), layer=group, driver="GPKG", geometry_type=kind,
        crs=of.project.grid or _LOCAL,
        append=path.exists(), layer_metadata=_about(of),
    )  # fmt: skip


def _column(values: list[Any]) -> np.ndarray:
    if any(isinstance(value, str) for value in values):
        return np.array(["" if value is None else str(value) for value in values], dtype=object)
    return np.array([np.nan if value is None else float(value) for value in values])


def results_style() -> bytes:
    """Rules by the attribute `state`, for points and lines."""
    root = Element("StyledLayerDescriptor", {"version": "1.0.0", "xmlns": _SLD, "xmlns:ogc": _OGC})
    for layer, kind in (("nodes", "Point"), ("links", "Line"), ("catchments", "Polygon")):
        named = SubElement(root, "NamedLayer")
        SubElement(named, "Name").text = layer
        style = SubElement(SubElement(named, "UserStyle"), "FeatureTypeStyle")
        for state, colour in _COLOURS.items():
            rule = SubElement(style, "Rule")
            SubElement(rule, "Title").text = STATES[state]
            equal = SubElement(SubElement(rule, "ogc:Filter"), "ogc:PropertyIsEqualTo")
            SubElement(equal, "ogc:PropertyName").text = "state"
            SubElement(equal, "ogc:Literal").text = state
            _symbol(rule, kind, colour, state)
    indent(root)
    return bytes(tostring(root, encoding="utf-8", xml_declaration=True))


def _symbol(rule: Element, kind: str, colour: str, state: str) -> None:
    def css(parent: Element, name: str, value: str) -> None:
        SubElement(parent, "CssParameter", {"name": name}).text = value

    if kind == "Point":
        graphic = SubElement(SubElement(rule, "PointSymbolizer"), "Graphic")
        mark = SubElement(graphic, "Mark")
        SubElement(mark, "WellKnownName").text = "star" if state == "flooded" else "circle"
        css(SubElement(mark, "Fill"), "fill", f"#{colour}")
        SubElement(graphic, "Size").text = "12" if state == "flooded" else "8"
    elif kind == "Line":
        stroke = SubElement(SubElement(rule, "LineSymbolizer"), "Stroke")
        css(stroke, "stroke", f"#{colour}")
        css(stroke, "stroke-width", "3" if state == "surcharged" else "2")
        if state == "surcharged":
            css(stroke, "stroke-dasharray", "8 4")
    else:
        stroke = SubElement(SubElement(rule, "PolygonSymbolizer"), "Stroke")
        css(stroke, "stroke", "#777777")


def results_kml(of: Reported) -> bytes:
    """Placemarks in degrees, coloured by state, with every figure in their balloons and a legend.

    Raises
    ------
    ModelError
        When the project's grid is a local one: nobody knows where on Earth it lies.
    """
    if of.project.grid is None:
        raise ModelError(
            "project", "grid", "is a plain local one, so that nothing has a place on Earth",
            "name the coordinate system on the Network stage, under Backgrounds",
        )  # fmt: skip
    turn = pyproj.Transformer.from_crs(of.project.grid, "EPSG:4326", always_xy=True)
    root = Element("kml", {"xmlns": _KML})
    document = SubElement(root, "Document")
    SubElement(document, "name").text = of.project.name
    said = "; ".join(f"{name}: {value}" for name, value in _about(of).items() if value)
    legend = "".join(
        f'<tr><td style="background:#{colour}">&#160;&#160;&#160;</td><td>{STATES[state]}</td></tr>'
        for state, colour in _COLOURS.items()
    )
    SubElement(document, "description").text = f"<p>{_escaped(said)}</p><table>{legend}</table>"
    for state, colour in _COLOURS.items():
        _kml_style(document, state, colour)
    folders = {}
    for title in ("nodes", "links", "catchments"):
        folders[title] = SubElement(document, "Folder")
        SubElement(folders[title], "name").text = title.capitalize()
    for one in features_of(of):
        mark = SubElement(folders[one.group], "Placemark", {"id": f"m{one.id}"})
        SubElement(mark, "name").text = one.name
        SubElement(mark, "styleUrl").text = f"#{_slug(one.state)}"
        data = SubElement(mark, "ExtendedData")
        for name, value in {"kind": one.kind, "state": one.state, **one.fields}.items():
            if value is not None:
                SubElement(SubElement(data, "Data", {"name": name}), "value").text = (
                    f"{value:.6g}" if isinstance(value, float) else str(value))  # fmt: skip
        at = " ".join(f"{lon:.8f},{lat:.8f}" for lon, lat in _turned(of, one.points, turn))
        if one.group == "nodes":
            SubElement(SubElement(mark, "Point"), "coordinates").text = at
        elif one.group == "links":
            SubElement(SubElement(mark, "LineString"), "coordinates").text = at
        else:
            ring = SubElement(SubElement(SubElement(mark, "Polygon"), "outerBoundaryIs"), "LinearRing")
            SubElement(ring, "coordinates").text = at
    indent(root)
    return bytes(tostring(root, encoding="utf-8", xml_declaration=True))


def _kml_style(document: Element, state: str, colour: str) -> None:
    # KML has colours as opacity, blue, green, red
    told = f"ff{colour[4:6]}{colour[2:4]}{colour[0:2]}".lower()
    style = SubElement(document, "Style", {"id": _slug(state)})
    icon = SubElement(style, "IconStyle")
    SubElement(icon, "color").text = told
    SubElement(icon, "scale").text = "1.2" if state == "flooded" else "0.8"
    line = SubElement(style, "LineStyle")
    SubElement(line, "color").text = told
    SubElement(line, "width").text = "4" if state == "surcharged" else "2.5"
    SubElement(SubElement(style, "PolyStyle"), "fill").text = "0"


def _escaped(text: str) -> str:
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
