"""LandXML 1.2 pipe networks: structures are nodes, pipes are pipes, parcels are catchments.

What LandXML cannot say of an element (losses, controls, tail water) is written beside it as a feature of our own, a
JSON object, so that a file comes back whole. Where its plain attributes have been changed by somebody else since, they
overrule that object.
"""

import itertools
import json
import math
from collections.abc import Callable, Mapping
from datetime import datetime
from typing import Any
from xml.etree.ElementTree import Element, ParseError, SubElement, indent, tostring

from defusedxml.common import DefusedXmlException
from defusedxml.ElementTree import fromstring

from ..core.errors import ModelError
from ..core.model.links import Pipe
from ..core.model.network import Network
from ..core.model.nodes import Manhole, Outfall
from ..core.model.sections import Circular, Egg, Rectangular
from .incoming import Fields, Group, Incoming, Remark, refer_by_key

__all__ = ["STRUCTURES", "read_landxml", "write_landxml"]

_NAMESPACE = "http://www.landxml.org/schema/LandXML-1.2"  # the standard's own name of itself; nothing is fetched
_OURS = "madidus-element"
_MM = 1e-3
_METRES = {
    "millimeter": 1e-3, "centimeter": 1e-2, "decimeter": 0.1, "meter": 1.0, "kilometer": 1e3, "inch": 0.0254,
    "foot": 0.3048, "USSurveyFoot": 1200 / 3937, "mile": 1609.344,
}  # fmt: skip
_SQUARE_METRES = {"squareMeter": 1.0, "hectare": 1e4, "squareFoot": 0.3048**2, "acre": 4046.8564224}
STRUCTURES = {
    "CircStruct": "manhole", "RectStruct": "manhole", "InletStruct": "manhole", "OutletStruct": "outfall",
    "Connection": "junction",
}  # fmt: skip
_CAPTURE = 0.02  # m3/s of an inlet of which nobody says it
_CHANGED = 1e-9  # relative difference from which a plain attribute has been changed since we wrote it


def write_landxml(network: Network, name: str, written: datetime) -> bytes:
    """The network as a LandXML document in metres, diameters in millimetres."""
    at = {"date": f"{written:%Y-%m-%d}", "time": f"{written:%H:%M:%S}"}
    root = Element("LandXML", {"xmlns": _NAMESPACE, "version": "1.2", **at})
    units = {
        "areaUnit": "squareMeter", "linearUnit": "meter", "volumeUnit": "cubicMeter",
        "temperatureUnit": "celsius", "pressureUnit": "milliBars", "diameterUnit": "millimeter",
    }  # fmt: skip
    SubElement(SubElement(root, "Units"), "Metric", units)
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
        if not isinstance(node, Outfall):
            levels["elevRim"] = repr(node.cover)
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
    feature = SubElement(parent, "Feature", {"code": _OURS})
    value = {"id": id_, "group": group, **element.model_dump(mode="json")}
    SubElement(feature, "Property", {"label": "element", "value": json.dumps(value, ensure_ascii=False)})


class _Units:
    def __init__(self, root: Element):
        units = root.find(".//{*}Units")
        found = next(iter(units), None) if units is not None else None
        given = found.attrib if found is not None else {}
        linear = given.get("linearUnit", "meter")
        self.length = self._factor(_METRES, linear, "linearUnit")
        self.diameter = self._factor(_METRES, given.get("diameterUnit", linear), "diameterUnit")
        self.area = self._factor(_SQUARE_METRES, given.get("areaUnit", "squareMeter"), "areaUnit")

    @staticmethod
    def _factor(known: dict[str, float], unit: str, attribute: str) -> float:
        if unit not in known:
            raise ModelError("file", attribute, f"“{unit[:40]}” is not known", f"use one of {', '.join(known)}")
        return known[unit]


def read_landxml(content: bytes, structures: Mapping[str, str] | None = None) -> Incoming:
    """Elements of all pipe networks and parcels of a document, in metres whatever its units.

    structures : kind by type of structure (`STRUCTURES`), where it is another than the usual one.

    Raises
    ------
    ModelError
        When the file is no well-formed LandXML, declares entities, or is in units that are not known.
    """
    try:
        root = fromstring(content, forbid_dtd=True)
    except DefusedXmlException as error:
        raise ModelError("file", "LandXML", "declares a document type or entities", "remove the declaration") from error
    except (ParseError, ValueError, LookupError) as error:
        raise ModelError("file", "LandXML", f"is not well formed: {error}", "write it again as LandXML 1.2") from error
    if not root.tag.endswith("LandXML"):
        raise ModelError("file", "LandXML", f"begins with {root.tag[:60]}", "choose a LandXML file")
    return _Reader(root, {**STRUCTURES, **(structures or {})}).incoming


class _Reader:
    def __init__(self, root: Element, kinds: Mapping[str, str]):
        self.units, self.incoming, self._kinds = _Units(root), Incoming(), kinds
        self._levels: dict[tuple[str, str, str], float] = {}  # invert by structure, pipe and direction
        self._places: dict[str, tuple[float, float]] = {}
        self._sumps: dict[str, float] = {}
        for network in root.iterfind(".//{*}PipeNetwork"):
            for structure in network.iterfind("{*}Structs/{*}Struct"):
                self._take("structure", structure, self._structure)
            for pipe in network.iterfind("{*}Pipes/{*}Pipe"):
                self._take("pipe", pipe, self._pipe)
            for feature in network.iterfind("{*}Feature"):
                ours = self._of_feature(feature)
                if ours:
                    self.incoming.add(ours.pop("group"), f"{ours.get('name')} ({ours.get('id')})", ours)
        for parcel in root.iterfind(".//{*}Parcel"):
            self._take("parcel", parcel, self._parcel)
        for child in root:
            tag = child.tag.rpartition("}")[2]
            if tag not in ("Units", "Project", "Application", "PipeNetworks", "Parcels"):
                self.incoming.dropped[f"section {tag[:40]}"] += 1
        refer_by_key(self.incoming)

    def _take(self, what: str, element: Element, read: Callable[[Element], None]) -> None:
        name = element.get("name", "")
        try:
            if not name:
                raise ValueError("has no name")
            read(element)
        except (KeyError, ValueError, TypeError) as error:
            why = f"lacks {error}" if isinstance(error, KeyError) else str(error)
            self.incoming.remarks.append(Remark(where=f"{what} {name[:80]}", what=f"{why}; it is left out"))

    def _of_feature(self, feature: Element | None) -> Fields:
        """What we wrote beside an element; other people's features are dropped and listed."""
        if feature is None:
            return {}
        property_ = feature.find("{*}Property")
        if feature.get("code") != _OURS or property_ is None:
            self.incoming.dropped[f"feature {feature.get('code', 'without a code')[:40]}"] += 1
            return {}
        try:
            found = json.loads(property_.get("value", ""))
        except ValueError:
            what = "is damaged: of its element the plain attributes alone are read"
            self.incoming.remarks.append(Remark(where=f"feature {_OURS}", what=what))
            return {}
        return found if isinstance(found, dict) else {}

    def _base(self, element: Element, kind: str | None, group: Group) -> Fields:
        """The fields that we wrote ourselves, or the kind alone."""
        ours: Fields = {}
        for feature in element.iterfind("{*}Feature"):
            ours = self._of_feature(feature) or ours
        if ours.pop("group", group) != group:
            raise ValueError("bears the feature of another kind of element")
        return ours or ({} if kind is None else {"kind": kind})

    def _structure(self, element: Element) -> None:
        name = element.attrib["name"]
        center = element.find("{*}Center")
        if center is None or not center.text:
            raise ValueError("has no place: Center is missing")
        y, x = (float(v) * self.units.length for v in center.text.split()[:2])
        tag, shape = next(
            ((t, s) for s in element if (t := s.tag.rpartition("}")[2]) in self._kinds), ("Connection", None)
        )  # fmt: skip
        fields = self._base(element, self._kinds[tag], "nodes")
        said: Fields = {"x": x, "y": y}
        assumed: Fields = {}
        levels = []
        for invert in element.iterfind("{*}Invert"):
            level = float(invert.attrib["elev"]) * self.units.length
            levels.append(level)
            self._levels[name, invert.get("refPipe", ""), invert.get("flowDir", "both")] = level
        if "elevRim" in element.attrib and fields["kind"] != "outfall":
            said["cover"] = float(element.attrib["elevRim"]) * self.units.length
        if "elevSump" in element.attrib or levels:
            sump = [float(element.attrib["elevSump"]) * self.units.length] if "elevSump" in element.attrib else []
            # others give the floor of the chamber above the pipes' inverts; what we wrote stands as it is
            self._sumps[name] = said["invert"] = sump[0] if sump and "id" in fields else min(sump + levels)
        if shape is not None and tag == "CircStruct" and "diameter" in shape.attrib and fields["kind"] == "manhole":
            across = float(shape.attrib["diameter"]) * self.units.diameter
            known = {key: value for key, value in fields.items() if key != "id"}
            if "id" not in fields or not math.isclose(
                Manhole.model_validate(known).area, math.pi / 4 * across**2, rel_tol=_CHANGED
            ):
                said["diameter"] = across
        if shape is not None and tag == "RectStruct" and fields["kind"] == "manhole":
            sides = [float(shape.attrib[side]) * self.units.diameter for side in ("length", "width")]
            said["plan_area"] = sides[0] * sides[1]
        if fields["kind"] == "inlet" and "id" not in fields:
            assumed["capture"] = _CAPTURE
            what = "is an inlet: where it is new, it is given a capture limit of 20 L/s"
            self.incoming.remarks.append(Remark(where=f"structure {name}", what=what))
        elif tag == "InletStruct" and "id" not in fields:
            what = "is an inlet without a capture limit; taken in as a manhole"
            self.incoming.remarks.append(Remark(where=f"structure {name}", what=what))
        self._places[name] = (x, y)
        self.incoming.add("nodes", name, self._overruled(fields, {"name": name, **said}), assumed)

    def _overruled(self, ours: Fields, said: Fields) -> Fields:
        """Our own fields, overruled where the file's plain attributes say something else."""
        for field, value in said.items():
            was = ours.get(field)
            if isinstance(was, int | float) and isinstance(value, float):
                value = was if math.isclose(was, value, rel_tol=_CHANGED, abs_tol=1e-12) else value
            if field == "name" and was is not None and value == f"{was} ({ours['id'][:8]})":
                continue  # made distinct when we wrote it
            ours[field] = value
        return ours

    def _pipe(self, element: Element) -> None:
        name, start, end = (element.attrib[k] for k in ("name", "refStart", "refEnd"))
        fields = self._base(element, "pipe", "links")
        said: Fields = {"name": name}
        if "length" in element.attrib:
            said["length"] = float(element.attrib["length"]) * self.units.length
        elif start in self._places and end in self._places:
            said["length"] = math.dist(self._places[start], self._places[end])
        for field, at, direction in (("upstream_invert", start, "out"), ("downstream_invert", end, "in")):
            level = self._levels.get((at, name, direction), self._levels.get((at, name, "both"), self._sumps.get(at)))
            if level is not None:
                said[field] = level
        self._pipe_section(element, fields, said)
        fields = self._overruled(fields, said)
        fields["upstream"], fields["downstream"] = start, end
        self.incoming.add("links", name, fields)

    def _pipe_section(self, element: Element, fields: Fields, said: Fields) -> None:
        for shape in element:
            tag, of = shape.tag.rpartition("}")[2], shape.attrib
            mm = self.units.diameter
            if tag == "CircPipe":
                section: Fields = {"shape": "circular", "diameter": float(of["diameter"]) * mm}
            elif tag == "RectPipe":
                section = {"shape": "rectangular", "width": float(of["width"]) * mm, "height": float(of["height"]) * mm}
            elif tag == "EggPipe":
                section = {"shape": "egg", "height": float(of["height"]) * mm}
            else:
                if tag in ("ElliPipe", "Channel"):
                    self.incoming.dropped[f"{tag} of a pipe"] += 1
                continue
            was = fields.get("section", {})
            if was.get("shape") == section["shape"]:
                said["section"] = self._overruled(dict(was), section)
            elif not (tag == "RectPipe" and was):  # other shapes are written as a box of their height
                said["section"] = section
            if "mannings" in of:
                said["roughness"] = float(of["mannings"])
            if of.get("material", "").strip():
                said["material"] = of["material"].strip()[:80]

    def _parcel(self, element: Element) -> None:
        fields = self._base(element, None, "catchments")
        ring: list[tuple[float, float]] = []
        for line in element.iterfind("{*}CoordGeom/*"):
            start = line.find("{*}Start")
            if start is not None and start.text:
                y, x = (float(v) * self.units.length for v in start.text.split()[:2])
                ring.append((x, y))
        said: Fields = {"name": element.attrib["name"]}
        if "area" in element.attrib:
            said["area"] = float(element.attrib["area"]) * self.units.area
        elif ring:
            pairs = itertools.pairwise([*ring, ring[0]])
            said["area"] = 0.5 * abs(sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in pairs))
        if ring and [list(p) for p in ring] != fields.get("polygon"):
            said["polygon"] = ring
        self.incoming.add("catchments", element.attrib["name"], self._overruled(fields, said))
