"""KML 2.3 (OGC) of a network in a named coordinate system, for globes and map viewers; written only."""

from typing import Any
from xml.etree.ElementTree import Element, SubElement, indent, tostring

import pyproj

from ..core.errors import ModelError
from ..core.model.network import Network
from .fields import flat

__all__ = ["write_kml"]

_NAMESPACE = "http://www.opengis.net/kml/2.2"  # the standard's own name of itself; nothing is fetched


def write_kml(network: Network, name: str, grid: str | None) -> bytes:
    """Nodes as points, links as lines, catchments as polygons, in degrees (WGS 84), with their fields as data.

    Raises
    ------
    ModelError
        When the project's grid is a local one: nobody knows where on Earth it lies.
    """
    if grid is None:
        raise ModelError(
            "project", "grid", "is a plain local one, so that nothing has a place on Earth",
            "name the coordinate system on the Network stage, under Backgrounds",
        )  # fmt: skip
    turn = pyproj.Transformer.from_crs(grid, "EPSG:4326", always_xy=True)

    def placed(points: list[tuple[float, float]]) -> str:
        degrees = [turn.transform(x, y) for x, y in points]
        return " ".join(f"{lon:.8f},{lat:.8f}" for lon, lat in degrees)

    root = Element("kml", {"xmlns": _NAMESPACE})
    document = SubElement(root, "Document")
    SubElement(document, "name").text = name
    folders = {}
    for title in ("Nodes", "Links", "Catchments"):
        folders[title] = SubElement(document, "Folder")
        SubElement(folders[title], "name").text = title

    def put(folder: str, id_: str, element: Any) -> Element:
        mark = SubElement(folders[folder], "Placemark", {"id": f"m{id_}"})
        SubElement(mark, "name").text = element.name
        data = SubElement(mark, "ExtendedData")
        fields = flat(element.model_dump(mode="json", exclude={"x", "y", "polygon", "bends", "name"}))
        for field, value in fields.items():
            SubElement(SubElement(data, "Data", {"name": field}), "value").text = str(value)
        return mark

    for id_, node in network.nodes.items():
        point = SubElement(put("Nodes", id_, node), "Point")
        SubElement(point, "coordinates").text = placed([(node.x, node.y)])
    for id_, link in network.links.items():
        line = SubElement(put("Links", id_, link), "LineString")
        SubElement(line, "coordinates").text = placed(network.course(link))
    for id_, catchment in network.catchments.items():
        mark = put("Catchments", id_, catchment)
        if len(catchment.polygon) > 2:
            boundary = SubElement(SubElement(mark, "Polygon"), "outerBoundaryIs")
            ring = SubElement(boundary, "LinearRing")
            SubElement(ring, "coordinates").text = placed([*catchment.polygon, catchment.polygon[0]])
    indent(root)
    return bytes(tostring(root, encoding="utf-8", xml_declaration=True))
