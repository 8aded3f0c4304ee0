"""Writing LandXML 1.2: structures, pipes and parcels, and beside each what LandXML cannot say of it."""

import json
import math
from collections.abc import Mapping
from datetime import datetime
from typing import Any
from xml.etree.ElementTree import Element, SubElement, indent, tostring

from ..core.elements import Manhole, Outfall, Pipe
from ..core.elements.sections import Circular, Egg, Rectangular
from ..core.model.network import Network
from .incoming import Group
from .landxml import OURS

__all__ = ["write_landxml"]

_NAMESPACE = "http://www.landxml.org/schema/LandXML-1.2"  # the standard's own name of itself; nothing is fetched
_MM = 1e-3


def write_landxml(network: Network, name: str, written: datetime, grid: str | None = None) -> bytes:
    """The network as a LandXML document in metres, diameters in millimetres. grid : EPSG code of its coordinates."""
    at = {"date": f"{written:%Y-%m-%d}", "time": f"{written:%H:%M:%S}"}
    root = Element("LandXML", {"xmlns": _NAMESPACE, "version": "1.2", **at})
    units = {
        "areaUnit": "squareMeter", "linearUnit": "meter", "volumeUnit": "cubicMeter",
        "temperatureUnit": "celsius", "pressureUnit": "milliBars", "diameterUnit": "millimeter",
    }  # fmt: skip
    SubElement(SubElement(root, "Units"), "Metric", units)
    if grid:
        SubElement(root, "CoordinateSystem", {"epsgCode": grid.removeprefix("EPSG:")})
    SubElement(root, "Project", {"name": name})
    SubElement(root, "Application", {"name": "Madidus"})
    if network.catchments:
        parcels = SubElement(root, "Parcels")
        for id_, catchment in network.catchments.items():
            parcel = SubElement(parcels, "Parcel", {"name": catchment.name, "area": repr(catchment.area)})
            ring = catchment.polygon
            if ring:
                course = SubElement(parcel, "CoordGeom")
                for (x0, y0), (x1, y1) in zip(ring, [*ring[1:], ring[0]], strict=True):
                    line = SubElement(course, "Line")
                    SubElement(line, "Start").text = f"{y0!r} {x0!r}"
                    SubElement(line, "End").text = f"{y1!r} {x1!r}"
            _ours(parcel, id_, "catchments", catchment)
    names = {**_distinct(network.nodes), **_distinct(network.links)}
    inverts: dict[str, list[dict[str, str]]] = {}
    for id_, link in network.links.items():
        if isinstance(link, Pipe):
            for node_, way, level in (
                (link.upstream, "out", link.upstream_invert), (link.downstream, "in", link.downstream_invert)
            ):  # fmt: skip
                invert = {"elev": repr(level), "flowDir": way, "refPipe": names[id_]}
                inverts.setdefault(node_, []).append(invert)
    within = SubElement(
        SubElement(root, "PipeNetworks"), "PipeNetwork", {"name": name, "pipeNetType": "storm"}
    )  # fmt: skip
    structures = SubElement(within, "Structs")
    for id_, node in network.nodes.items():
        levels = {"elevSump": repr(node.invert)}
        rim = node.ground if isinstance(node, Outfall) else node.cover
        if rim is not None:
            levels["elevRim"] = repr(rim)
        structure = SubElement(structures, "Struct", {"name": names[id_], **levels})
        SubElement(structure, "Center").text = f"{node.y!r} {node.x!r}"
        _shape_of(structure, node)
        for invert in inverts.get(id_, []):
            SubElement(structure, "Invert", invert)
        _ours(structure, id_, "nodes", node)
    pipes = SubElement(within, "Pipes")
    for id_, link in network.links.items():
        ends = {"refStart": names[link.upstream], "refEnd": names[link.downstream]}
        if isinstance(link, Pipe):
            form = {"length": repr(link.length), "slope": repr(link.gradient)}
            pipe_ = SubElement(pipes, "Pipe", {"name": names[id_], **ends, **form})
            _section(pipe_, link)
            _ours(pipe_, id_, "links", link)
        else:
            _ours(within, id_, "links", link)
    indent(root)
    return bytes(tostring(root, encoding="utf-8", xml_declaration=True))


def _distinct(elements: Mapping[str, Any]) -> dict[str, str]:
    """A name of its own for every element, because LandXML refers by name."""
    seen: set[str] = set()
    names: dict[str, str] = {}
    for id_, element in elements.items():
        names[id_] = element.name if element.name not in seen else f"{element.name} ({id_[:8]})"
        seen.add(names[id_])
    return names


def _shape_of(structure: Element, node: Any) -> None:
    if isinstance(node, Outfall):
        SubElement(structure, "OutletStruct")
    elif isinstance(node, Manhole):
        SubElement(structure, "CircStruct", {"diameter": repr(math.sqrt(4.0 * node.area / math.pi) / _MM)})
    else:
        SubElement(structure, "Connection")


def _section(pipe: Element, link: Pipe) -> None:
    section, rough = link.section, {"mannings": repr(link.roughness)}
    if link.material is not None:
        rough["material"] = link.material
    if isinstance(section, Circular):
        SubElement(pipe, "CircPipe", {"diameter": repr(section.diameter / _MM), **rough})
    elif isinstance(section, Egg):
        SubElement(pipe, "EggPipe", {"height": repr(section.height / _MM), "width": repr(section.width / _MM), **rough})
    else:
        width = section.width if isinstance(section, Rectangular) else section.height
        SubElement(pipe, "RectPipe", {"height": repr(section.height / _MM), "width": repr(width / _MM), **rough})


def _ours(parent: Element, id_: str, group: Group, element: Any) -> None:
    feature = SubElement(parent, "Feature", {"code": OURS})
    value = {"id": id_, "group": group, **element.model_dump(mode="json")}
    SubElement(feature, "Property", {"label": "element", "value": json.dumps(value, ensure_ascii=False)})
