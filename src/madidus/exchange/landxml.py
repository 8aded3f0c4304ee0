"""LandXML 1.2 pipe networks: structures are nodes, pipes are pipes, parcels are catchments.

What LandXML cannot say of an element (losses, controls, tail water) is written beside it as a feature of our own, a
JSON object, so that a file comes back whole. Where its plain attributes have been changed by somebody else since, they
overrule that object.
"""

import itertools
import json
import math
from collections import Counter
from collections.abc import Callable, Mapping
from xml.etree.ElementTree import Element, ParseError

from defusedxml.common import DefusedXmlException
from defusedxml.ElementTree import fromstring
from pydantic import BaseModel

from ..core.elements import DRAWN_LINKS, USUAL_CAPACITY, Manhole
from ..core.errors import ModelError
from .incoming import GROUPS, Fields, Group, Incoming, Remark, refer_by_key
from .landxml_places import Places
from .landxml_sections import SHAPES, other_laws, section_of, unused

__all__ = ["NETWORKS", "OURS", "STRUCTURES", "PipeNetworkLook", "look_at_landxml", "parts_of", "read_landxml"]

OURS = "madidus-element"
"""Code of the feature that holds what LandXML cannot say."""
STRUCTURES = {
    "CircStruct": "manhole", "RectStruct": "manhole", "InletStruct": "manhole", "OutletStruct": "outfall",
    "Connection": "junction",
}  # fmt: skip
"""Kind of node by type of structure, unless the matching says otherwise."""
NETWORKS = {"storm": "storm", "sanitary": "", "water": "", "other": "storm", "not stated": "storm"}
"""By type of pipe network: storm, or empty where it is left out, unless the matching says otherwise."""
_SECTIONS = {"Units", "Project", "Application", "PipeNetworks", "Parcels", "CgPoints", "CoordinateSystem"}
_NO_PIPES = frozenset(DRAWN_LINKS) - {"pipe"}
_SUMP = 1e-3  # m below the lowest pipe, from which a floor is a sump
_CHANGED = 1e-9  # relative difference from which a plain attribute has been changed since we wrote it


class PipeNetworkLook(BaseModel):
    """A pipe network of a document. structures, pipes : how many it holds."""

    name: str
    type: str
    structures: int
    pipes: int


def parts_of(content: bytes) -> Counter[str]:
    """How many structures of each type, and of each part of a type that is named, a document holds."""
    found: Counter[str] = Counter()
    for network in _parsed(content).iterfind(".//{*}PipeNetwork"):
        for structure in _structures(network):
            tag = next((t for s in structure if (t := _tag(s)) in STRUCTURES), "Connection")
            found[tag] += 1
            if part := _part(structure):
                found[f"{tag}: {part}"] += 1
    return found


def _part(structure: Element) -> str:
    """The name of the part that a structure is made of, as CAD programs write it."""
    return " ".join(structure.get("desc", "").split())[:80]


def look_at_landxml(content: bytes) -> list[PipeNetworkLook]:
    """The pipe networks of a document.

    Raises
    ------
    ModelError
        As `read_landxml`.
    """
    return [
        PipeNetworkLook(
            name=(network.get("name") or "without a name")[:80],
            type=_type_of(network),
            structures=len(_structures(network)),
            pipes=len(_pipes(network)),
        )
        for network in _parsed(content).iterfind(".//{*}PipeNetwork")
    ]


def read_landxml(
    content: bytes,
    structures: Mapping[str, str] | None = None,
    networks: Mapping[str, str] | None = None,
    grid: str | None = None,
) -> Incoming:
    """Elements of the pipe networks and parcels of a document, in metres whatever its units.

    structures : kind by type of structure, or by type and part ('CircStruct: Slab base'), where it is another than the
    usual one (`STRUCTURES`), empty where it is left out; networks : likewise
    whether a type of network is storm drainage (`NETWORKS`). grid : EPSG code of the project, into which the file's
    coordinates are turned where it states its own.

    A pipe that is drawn against its flow, by its inverts' directions or, where those are silent, by their levels, is
    turned. A name that stands in several networks goes with its network's.

    Raises
    ------
    ModelError
        When the file is no well-formed LandXML, declares entities, or is in units that are not known.
    """
    kinds, types = {**STRUCTURES, **(structures or {})}, {**NETWORKS, **(networks or {})}
    root = _parsed(content)
    places, incoming = Places(root, grid), Incoming()
    incoming.remarks += places.remarks
    found = root.findall(".//{*}PipeNetwork")
    labels = _labels(found)
    names = Counter(name for network in found for name in {s.get("name", "") for s in _structures(network)})
    pipes = Counter(name for network in found for name in {p.get("name", "") for p in _pipes(network)})
    for network, label in zip(found, labels, strict=True):
        reader = _NetworkReader(network, label, kinds, places, incoming, names, pipes)
        type_ = _type_of(network)
        if types.get(type_):
            reader.read()
        else:
            reader.leave_out(type_)
    for parcel in root.iterfind(".//{*}Parcel"):
        _take(incoming, "parcel", parcel, lambda p: _parcel(p, places, incoming))
    for child in root:
        tag = _tag(child)
        if tag not in _SECTIONS:
            incoming.dropped[f"section {tag[:40]}"] += 1
    refer_by_key(incoming)
    if not any("id" in fields for fields in (*incoming.nodes.values(), *incoming.links.values())):
        # another program's, or what one has kept of ours: nothing stands there for links that are no pipes
        incoming.unsaid = _NO_PIPES - {str(fields.get("kind")) for fields in incoming.links.values()}
    return incoming


def _parsed(content: bytes) -> Element:
    try:
        root: Element = fromstring(content, forbid_dtd=True)
    except DefusedXmlException as error:
        raise ModelError("file", "LandXML", "declares a document type or entities", "remove the declaration") from error
    except (ParseError, ValueError, LookupError) as error:
        raise ModelError("file", "LandXML", f"is not well formed: {error}", "write it again as LandXML 1.2") from error
    if not root.tag.endswith("LandXML"):
        raise ModelError("file", "LandXML", f"begins with {root.tag[:60]}", "choose a LandXML file")
    return root


def _tag(element: Element) -> str:
    return element.tag.rpartition("}")[2] if isinstance(element.tag, str) else "comment"


def _type_of(network: Element) -> str:
    return (network.get("pipeNetType") or "not stated")[:40]


def _structures(network: Element) -> list[Element]:
    return network.findall("{*}Structs/{*}Struct")


def _pipes(network: Element) -> list[Element]:
    return network.findall("{*}Pipes/{*}Pipe")


def _labels(networks: list[Element]) -> list[str]:
    """A name of its own for each network."""
    labels: list[str] = []
    for number, network in enumerate(networks, start=1):
        name = (network.get("name") or f"network {number}")[:40]
        labels.append(name if name not in labels else f"{name} {number}")
    return labels


def _take(incoming: Incoming, what: str, element: Element, read: Callable[[Element], None]) -> None:
    name = element.get("name", "")
    try:
        if not name:
            raise ValueError("has no name")
        read(element)
    except (KeyError, ValueError, TypeError) as error:
        why = f"lacks {error}" if isinstance(error, KeyError) else str(error)
        incoming.leave_out(f"{what} {name[:80]}", f"{why}; it is left out", name)


def _of_feature(feature: Element, incoming: Incoming) -> Fields:
    """What we wrote beside an element; other people's features are dropped and listed."""
    property_ = feature.find("{*}Property")
    if feature.get("code") != OURS or property_ is None:
        incoming.dropped[f"feature {feature.get('code', 'without a code')[:40]}"] += 1
        return {}
    try:
        found = json.loads(property_.get("value", ""))
    except ValueError:
        what = "is damaged: of its element the plain attributes alone are read"
        incoming.remarks.append(Remark(where=f"feature {OURS}", what=what))
        return {}
    return found if isinstance(found, dict) else {}


def _base(element: Element, kind: str | None, group: Group, incoming: Incoming) -> Fields:
    """The fields that we wrote ourselves, or the kind alone."""
    ours: Fields = {}
    for feature in element.iterfind("{*}Feature"):
        ours = _of_feature(feature, incoming) or ours
    if ours.pop("group", group) != group:
        raise ValueError("bears the feature of another kind of element")
    return ours or ({} if kind is None else {"kind": kind})


def _overruled(ours: Fields, said: Fields) -> Fields:
    """Our own fields, overruled where the file's plain attributes say something else."""
    for field, value in said.items():
        was = ours.get(field)
        if isinstance(was, int | float) and isinstance(value, float):
            value = was if math.isclose(was, value, rel_tol=_CHANGED, abs_tol=1e-12) else value
        if field == "name" and was is not None and value == f"{was} ({ours['id'][:8]})":
            continue  # made distinct when we wrote it
        ours[field] = value
    return ours


class _NetworkReader:
    """One pipe network. names, pipe_names : in how many networks of the document each name stands."""

    def __init__(
        self, network: Element, label: str, kinds: Mapping[str, str], places: Places, incoming: Incoming,
        names: Counter[str], pipe_names: Counter[str],
    ):  # fmt: skip
        self._network, self._label, self._kinds = network, label, kinds
        self._at, self._incoming = places, incoming
        self._names, self._pipe_names = names, pipe_names
        self._own = {structure.get("name", "") for structure in _structures(network)}
        self._inverts: dict[tuple[str, str], dict[str, float]] = {}  # by structure and pipe: level by direction
        self._stands: dict[str, tuple[float, float]] = {}
        self._floors: dict[str, float] = {}
        self._renamed = 0

    def read(self) -> None:
        for structure in _structures(self._network):
            _take(self._incoming, "structure", structure, self._structure)
        for pipe in _pipes(self._network):
            _take(self._incoming, "pipe", pipe, self._pipe)
        for feature in self._network.iterfind("{*}Feature"):
            ours = _of_feature(feature, self._incoming)
            group = ours.pop("group", None)
            if group in GROUPS:
                self._incoming.add(group, f"{ours.get('name')} ({ours.get('id')})", ours)
            elif ours:
                self._remark(f"feature {OURS}", "does not tell what it is, and is left out")
        if self._renamed:
            what = f"shares {self._renamed} names with another network of the file: they are put after its own name"
            self._remark(f"pipe network {self._label}", what)

    def leave_out(self, type_: str) -> None:
        structures, pipes = _structures(self._network), _pipes(self._network)
        what = (
            f"is of type {type_}, not storm drainage, and is left out with structures ({len(structures)}) and pipes "
            f"({len(pipes)}); choose otherwise under the types of pipe networks"
        )
        self._incoming.leave_out(
            f"pipe network {self._label}", what, *(element.get("name", "") for element in structures + pipes)
        )

    def _remark(self, where: str, what: str) -> None:
        self._incoming.remarks.append(Remark(where=where, what=what))

    def _key(self, name: str, names: Counter[str]) -> str:
        return f"{self._label}: {name}" if names[name] > 1 else name

    def _drop(self, what: str, element: Element, used: set[str], children: set[str]) -> None:
        """Count the attributes and parts of which nothing is made."""
        for attribute in element.attrib.keys() - used:
            self._incoming.dropped[f"attribute {attribute[:40]} of {what}"] += 1
        for child in element:
            if (tag := _tag(child)) not in children:
                self._incoming.dropped[f"{tag[:40]} of {what}"] += 1

    def _structure(self, element: Element) -> None:
        name = element.attrib["name"]
        key = self._key(name, self._names)
        self._renamed += key != name
        x, y, z = self._at.at(element.find("{*}Center"), "Center")
        tag, shape = next(((t, s) for s in element if (t := _tag(s)) in STRUCTURES), ("Connection", None))
        part = _part(element)
        kind = self._kinds.get(f"{tag}: {part}", self._kinds[tag]) if part else self._kinds[tag]
        fields = _base(element, kind, "nodes", self._incoming)
        if not fields["kind"]:
            raise ValueError(f"is of a part that the matching leaves out ({part or tag})")
        ours = "id" in fields
        said: Fields = {"x": x, "y": y}
        levels = []
        for invert in element.iterfind("{*}Invert"):
            level = float(invert.attrib["elev"]) * self._at.length
            levels.append(level)
            self._inverts.setdefault((name, invert.get("refPipe", "")), {})[invert.get("flowDir", "both")] = level
        rim = float(element.attrib["elevRim"]) * self._at.length if "elevRim" in element.attrib else None
        if fields["kind"] == "outfall":
            if rim is not None:
                said["ground"] = rim
        else:
            if rim is not None:
                said["cover"] = rim
            elif z is not None and not ours:
                said["cover"] = z
                self._remark(f"structure {key}", "has no elevRim: the level of its Center is taken as its cover")
        if "elevSump" in element.attrib or levels:
            sump = [float(element.attrib["elevSump"]) * self._at.length] if "elevSump" in element.attrib else []
            # others give the floor of the chamber above the pipes' inverts; what we wrote stands as it is
            self._floors[name] = said["invert"] = sump[0] if sump and ours else min(sump + levels)
            if sump and levels and not ours and (below := min(levels) - sump[0]) > _SUMP:
                self._incoming.sumps[key] = below
        if shape is not None:
            self._plan(tag, shape, fields, said)
        assumed: Fields = {}
        if fields["kind"] == "inlet" and not ours:
            assumed["capacity"] = USUAL_CAPACITY
            self._remark(
                f"structure {key}", "is an inlet: where it is new, it is given the capacity of one that is drawn"
            )
        elif tag == "InletStruct" and not ours:
            self._remark(f"structure {key}", "is an inlet without a capacity; imported as a manhole")
        self._stands[name] = (x, y)
        if not ours and kind == STRUCTURES[tag]:
            self._incoming.open_ended.add(key)
        self._drop("structures", element, {"name", "elevRim", "elevSump", "desc"}, {"Center", "Invert", "Feature", tag})
        if not ours:
            self._incoming.guessed.add(("nodes", key))
        self._incoming.add("nodes", key, _overruled(fields, {"name": key, **said}), assumed)

    def _plan(self, tag: str, shape: Element, fields: Fields, said: Fields) -> None:
        """The size of a chamber on plan."""
        if fields["kind"] not in ("manhole", "junction", "inlet"):
            return
        if tag == "CircStruct" and "diameter" in shape.attrib:
            across = float(shape.attrib["diameter"]) * self._at.diameter
            if fields["kind"] != "manhole":
                said["plan_area"] = math.pi / 4 * across**2
                return
            known = {key: value for key, value in fields.items() if key != "id"}
            if "id" not in fields or not math.isclose(
                Manhole.model_validate(known).area, math.pi / 4 * across**2, rel_tol=_CHANGED
            ):
                said["diameter"] = across
        elif tag == "RectStruct":
            sides = [float(shape.attrib[side]) * self._at.diameter for side in ("length", "width")]
            said["plan_area"] = sides[0] * sides[1]

    def _pipe(self, element: Element) -> None:
        name, start, end = (element.attrib[k] for k in ("name", "refStart", "refEnd"))
        tag, shape = next(((t, s) for s in element if (t := _tag(s)) in SHAPES), ("", None))
        if shape is None and (other := next((t for s in element if (t := _tag(s)).endswith("Pipe")), None)):
            raise ValueError(f"has a section of the form {other[:40]}, which is not read")
        fields = _base(element, SHAPES.get(tag, "pipe"), "links", self._incoming)
        key = self._key(name, self._pipe_names)
        where = f"pipe {key}"
        self._renamed += key != name
        said: Fields = {"name": key}
        if "length" in element.attrib:
            said["length"] = float(element.attrib["length"]) * self._at.length
        elif start in self._stands and end in self._stands and "id" not in fields:
            said["length"] = math.dist(self._stands[start], self._stands[end])
            self._remark(where, "has no length: that between the centres of its structures is taken")
        if self._drawn_against_flow(where, name, start, end, "id" in fields):
            start, end = end, start
        assumed: Fields = {}
        for field, at, way in (("upstream_invert", start, "out"), ("downstream_invert", end, "in")):
            level = _level(self._inverts.get((at, name), {}), way)
            if level is not None:
                said[field] = level
            elif at in self._floors and field not in fields:
                assumed[field] = self._floors[at]
                self._remark(
                    where, f"has no invert at {at[:80]}: where it is new, it enters at the floor of the structure"
                )
        if shape is not None:
            self._section(where, tag, shape, fields, said)
        self._drop("pipes", element, {"name", "refStart", "refEnd", "length", "slope"}, {"Feature", tag})
        fields = _overruled(fields, said)
        fields["upstream"], fields["downstream"] = (
            self._key(at, self._names) if at in self._own else at for at in (start, end)
        )
        self._incoming.add("links", key, fields, assumed)

    def _drawn_against_flow(self, where: str, name: str, start: str, end: str, ours: bool) -> bool:
        """Whether a pipe runs from its end to its start: by the directions of its inverts, else by their levels."""
        at_start, at_end = self._inverts.get((start, name), {}), self._inverts.get((end, name), {})
        forward = at_start.keys() == {"out"} or at_end.keys() == {"in"}
        backward = at_start.keys() == {"in"} or at_end.keys() == {"out"}
        upper, lower = _level(at_start, "out"), _level(at_end, "in")
        rises = upper is not None and lower is not None and upper < lower
        if forward != backward:
            if forward and rises and not ours:
                self._remark(where, "rises in the direction in which its inverts say that it flows; it is kept so")
            if backward:
                self._remark(where, "is drawn against its flow, as its inverts say: it is turned and keeps its levels")
            return backward
        if rises:
            self._remark(where, "is drawn from its lower end to its higher one: it is turned and keeps its levels")
        return rises

    def _section(self, where: str, tag: str, shape: Element, fields: Fields, said: Fields) -> None:
        section = section_of(tag, shape.attrib, self._at.diameter)
        was = fields.get("section", {})
        if was.get("shape") == section["shape"] != "widths":
            said["section"] = _overruled(dict(was), section)
        elif not (tag == "RectPipe" and was):  # other shapes are written as a box of their height
            said["section"] = section
            if section["shape"] == "widths":
                what = "an ellipse" if tag == "ElliPipe" else "an egg that is not two thirds as wide as it is high"
                self._remark(where, f"is {what}: its section becomes a table of widths")
        if "mannings" in shape.attrib:
            said["roughness"] = float(shape.attrib["mannings"])
        elif law := other_laws(shape.attrib):
            self._remark(
                where,
                f"has its roughness by {law}, and Manning's n is needed: that of the project is taken where it is new",
            )
        if shape.get("material", "").strip():
            said["material"] = shape.attrib["material"].strip()[:80]
        for attribute in unused(tag, shape.attrib):
            self._incoming.dropped[f"attribute {attribute[:40]} of {tag}"] += 1


def _level(inverts: Mapping[str, float], way: str) -> float | None:
    """Of the inverts of a pipe at a structure: that of its direction, or the one that there is."""
    return inverts.get(way, inverts.get("both", next(iter(inverts.values()), None)))


def _parcel(element: Element, places: Places, incoming: Incoming) -> None:
    fields = _base(element, None, "catchments", incoming)
    name = element.attrib["name"]
    ring: list[tuple[float, float]] = []
    bent = 0
    for line in element.iterfind("{*}CoordGeom/*"):
        ring.append(places.at(line.find("{*}Start"), "Start")[:2])
        bent += _tag(line) != "Line"
    if bent:
        what = f"has {bent} curved edge{'s' if bent > 1 else ''}, drawn here as straight lines between their ends"
        incoming.remarks.append(Remark(where=f"parcel {name}", what=what))
    said: Fields = {"name": name}
    if "area" in element.attrib:
        said["area"] = float(element.attrib["area"]) * places.area
    elif ring:
        pairs = itertools.pairwise([*ring, ring[0]])
        said["area"] = 0.5 * abs(sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in pairs))
    if ring and [list(p) for p in ring] != fields.get("polygon"):
        said["polygon"] = ring
    incoming.add("catchments", name, _overruled(fields, said))
