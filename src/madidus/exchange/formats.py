"""The open formats of networks: by the ending of a file's name, how each is looked at, read and written."""

from collections.abc import Callable
from datetime import UTC, datetime
from enum import StrEnum

from pydantic import BaseModel

from ..core.errors import ModelError
from ..core.ground.terrain import GroundLevel
from ..core.model.mappings import Mappings
from ..core.model.network import Network
from ..core.model.project import Project
from .dxf_network import DrawingLook, look_at_drawing, read_dxf, write_dxf
from .field_units import Usual
from .fields import FIELDS, GROUP_OF, UNITS
from .geojson import read_geojson, write_geojson
from .incoming import KNOWN, Incoming
from .kml import write_kml
from .landxml import NETWORKS, STRUCTURES, PipeNetworkLook, look_at_landxml, parts_of, read_landxml
from .landxml_writer import write_landxml
from .sheets import SheetLook, look_at_tables, read_tables, write_workbook

__all__ = ["WRITERS", "FileFormat", "Look", "format_of", "look", "read_network"]


class FileFormat(StrEnum):
    """What a network is imported from. table : CSV or a workbook."""

    geojson = "geojson"
    landxml = "landxml"
    table = "table"
    dxf = "dxf"


_ENDINGS = {
    ".geojson": FileFormat.geojson, ".json": FileFormat.geojson, ".xml": FileFormat.landxml,
    ".landxml": FileFormat.landxml, ".csv": FileFormat.table, ".txt": FileFormat.table, ".xlsx": FileFormat.table,
    ".dxf": FileFormat.dxf,
}  # fmt: skip


def format_of(name: str) -> FileFormat:
    """By the ending of a name.

    Raises
    ------
    ModelError
        When the ending tells no format.
    """
    ending = name[name.rfind(".") :].lower() if "." in name else ""
    if ending not in _ENDINGS:
        raise ModelError("file", name[:80], "does not tell its format", f"let it end in {', '.join(_ENDINGS)}")
    return _ENDINGS[ending]


class Look(BaseModel):
    """What has to be matched before a file is read, and how it would be. fields : by kind of element, with our unit.

    parts : how many structures of LandXML there are of each type, and of each part of it ('CircStruct: Slab base').
    """

    sheets: list[SheetLook] = []
    drawing: DrawingLook | None = None
    structures: dict[str, str] = {}
    parts: dict[str, int] = {}
    networks: list[PipeNetworkLook] = []
    network_types: dict[str, str] = {}
    fields: dict[str, dict[str, str]] = {}
    units: dict[str, list[str]] = {}


def _fields() -> dict[str, dict[str, str]]:
    nested = ("section", "pipe", "main", "tail_water", "infiltration")
    found: dict[str, dict[str, str]] = {}
    for kinds in KNOWN.values():
        for kind, known in kinds.items():
            names = sorted(known - set(nested))
            names += sorted(name for name in FIELDS if "." in name and name.split(".")[0] in known)
            found[kind or "catchment"] = {name: FIELDS.get(name, "") for name in names}
    return found


def look(form: FileFormat, content: bytes, project: Project, kinds: list[str] | None = None) -> Look:
    """How a file would be read, by the mappings that the project keeps or by guesses. GeoJSON needs none.

    kinds : of element that a pasted table may hold, the usual one first.

    Raises
    ------
    ModelError
        When the file cannot be read, or a kind is not known.
    """
    kept = project.mappings
    for kind in kinds or []:
        if kind not in GROUP_OF:
            raise ModelError("table", "kind", f"“{kind[:40]}” is no kind of element", "choose one of the list")
    if form is FileFormat.table:
        fields = {kind: held for kind, held in _fields().items() if not kinds or kind in kinds}
        return Look(sheets=look_at_tables(content, kept.tables, _usual(project), kinds), fields=fields, units=UNITS)
    if form is FileFormat.dxf:
        return Look(drawing=look_at_drawing(content, kept))
    if form is FileFormat.landxml:
        networks = look_at_landxml(content)
        types = {network.type: "" for network in networks} | NETWORKS | kept.network_types
        return Look(
            structures={**STRUCTURES, **kept.structures}, parts=dict(sorted(parts_of(content).items())),
            networks=networks, network_types=types,
        )  # fmt: skip
    return Look()


def _usual(project: Project) -> Usual:
    return Usual(project.units, project.flow_unit)


def read_network(
    form: FileFormat, content: bytes, project: Project, mapping: Mappings | None, ground: GroundLevel
) -> Incoming:
    """Elements of a file. mapping : how it is read; by what the project keeps, or guesses, where there is none."""
    if form is FileFormat.geojson:
        return read_geojson(content, project.grid)
    if form is FileFormat.landxml:
        by = mapping or project.mappings
        return read_landxml(content, by.structures, by.network_types, project.grid)
    if form is FileFormat.table:
        if mapping is None:
            looks = look_at_tables(content, project.mappings.tables, _usual(project))
            return read_tables(content, [sheet.mapping for sheet in looks])
        return read_tables(content, mapping.tables)
    drawing = mapping or look_at_drawing(content, project.mappings).mapping
    return read_dxf(content, drawing, project.defaults, ground)


Writer = Callable[[Network, Project], bytes]
WRITERS: dict[str, tuple[str, Writer]] = {
    ".xml": ("application/xml", lambda net, project: write_landxml(net, project.name, datetime.now(UTC), project.grid)),
    ".geojson": ("application/geo+json", lambda net, project: write_geojson(net, project.name).encode()),
    ".xlsx": ("application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", lambda net, _: write_workbook(net)),
    ".dxf": ("image/vnd.dxf", lambda net, _: write_dxf(net)),
    ".kml": ("application/vnd.google-earth.kml+xml", lambda net, project: write_kml(net, project.name, project.grid)),
}
"""Media type and writer by ending."""
