"""The project document, its canonical form and its fingerprint."""

import hashlib
import json
from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints, ValidationError

from ..errors import ModelError
from .base import ElementId, Name, Part
from .brief import Brief
from .defaults import Defaults
from .layers import Layer, TerrainLayer
from .mappings import Mappings
from .network import Network
from .parts import Parts
from .rain import Rain
from .run import RunControl
from .sights import Graph, Selection, Sight
from .usual import Accepted, Usual

__all__ = ["FORMAT_VERSION", "Option", "Project", "canonical_json", "completed", "fingerprint", "parse_project"]

FORMAT_VERSION = 1
_LOOKED_AT = {"sights", "graphs", "selections"}


class Backdrop(Part):
    """A line or an outline drawn under the network."""

    kind: Literal["water", "building", "boundary", "paving", "path"]
    name: str = Field("", max_length=80)
    points: list[tuple[float, float]] = Field(min_length=2, max_length=5000)


class Option(Part):
    """A variant of the network; brief and rain are shared."""

    name: Name
    network: Network = Field(default_factory=Network)


class Project(Part):
    """One project, one document. SI units inside: m, m2, m3/s, s; mm and minutes for rain."""

    format: Literal["madidus-project"] = "madidus-project"
    version: Literal[1] = 1
    name: Name
    units: Literal["metric", "us"] = Field("metric", description="in which people read and type; kept is SI")
    flow_unit: Literal["L/s", "m3/s", "m3/h", "ML/d", "ft3/s", "gal/min", "Mgal/d"] | None = Field(
        None, description="of flow; none is L/s, or ft3/s in US customary units"
    )
    brief: Brief = Field(default_factory=Brief)
    rain: Rain = Field(default_factory=Rain)
    run: RunControl = Field(default_factory=RunControl)
    options: dict[ElementId, Option] = Field(min_length=1, max_length=50)
    defaults: Defaults = Field(default_factory=Defaults)
    parts: Parts = Field(default_factory=Parts)
    usual: Usual = Field(default_factory=Usual)
    accepted: list[Accepted] = Field(default_factory=list, max_length=20_000)
    backdrop: list[Backdrop] = Field(default_factory=list, max_length=2000)
    grid: Annotated[str, StringConstraints(pattern=r"^EPSG:[0-9]{4,6}$")] | None = Field(
        None, description="projected coordinate system in m; none is a local grid"
    )
    layers: list[Layer] = Field(default_factory=list, max_length=50, description="the first lies lowest")
    terrain: TerrainLayer | None = None
    mappings: Mappings = Field(default_factory=Mappings)
    sights: list[Sight] = Field(default_factory=list, max_length=500)
    graphs: list[Graph] = Field(default_factory=list, max_length=200)
    selections: list[Selection] = Field(default_factory=list, max_length=200)

    @property
    def option(self) -> Option:
        """The option that is shown and run: the first by name."""
        return min(self.options.values(), key=lambda option: option.name)


def canonical_json(value: Any) -> bytes:
    """Bytes that are equal exactly when two documents mean the same: sorted keys, shortest numbers."""
    return json.dumps(value, sort_keys=True, separators=(",", ":"), ensure_ascii=False, allow_nan=False).encode()


def fingerprint(value: dict[str, Any]) -> str:
    """SHA-256 of the canonical form of all inputs, in hexadecimal; what is only looked at is none."""
    inputs = {key: part for key, part in value.items() if key not in _LOOKED_AT}
    return hashlib.sha256(canonical_json(inputs)).hexdigest()


def completed(document: Any) -> dict[str, Any]:
    """A kept document with what newer versions of the program have added, at its defaults."""
    return Project.model_validate(document).model_dump(mode="json")


def _where(document: Any, path: tuple[int | str, ...]) -> str:
    """Name the element that a validation path leads to, as far as the document allows."""
    found, name = document, "project"
    for step in path:
        try:
            found = found[step]
        except (KeyError, IndexError, TypeError):
            continue  # a discriminator that Pydantic puts into the path, or a missing field
        if isinstance(found, dict) and isinstance(found.get("name"), str):
            name = f"{found.get('kind', 'project' if found is document else 'part')} {found['name']}"
    return name


def parse_project(document: Any) -> Project:
    """Validate a document.

    Raises
    ------
    ModelError
        Names the element, the field, what is wrong and what to do.
    """
    if not isinstance(document, dict) or document.get("format") != "madidus-project":
        raise ModelError("file", "format", "is not a Madidus project", "choose a *.madidus.json file")
    if document.get("version") != FORMAT_VERSION:
        raise ModelError(
            "file", "version", f"is {document.get('version')!r}, this program reads {FORMAT_VERSION}",
            "open it with the program that wrote it, or update this one",
        )  # fmt: skip
    try:
        return Project.model_validate(document)
    except ValidationError as error:
        first = error.errors()[0]
        path = "/".join(str(step) for step in first["loc"])
        raise ModelError(
            _where(document, first["loc"]), path or "document",
            first["msg"].removeprefix("Value error, "), "correct this field",
        ) from error  # fmt: skip
