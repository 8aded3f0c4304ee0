"""The project document, its canonical form and its fingerprint."""

import hashlib
import json
from collections.abc import Mapping
from typing import Annotated, Any, Literal, Self

from pydantic import Field, StringConstraints, ValidationError, model_validator

from ..elements.document import DocumentModel, ElementId, Name
from ..errors import ModelError
from ..rainfall.rain import Rain
from ..rules import Brief
from .catalogue import Catalogue
from .check_limits import Accepted, CheckLimits
from .defaults import Defaults
from .layers import Layer, TerrainLayer
from .mappings import Mappings
from .network import Network
from .refused import problem_of, remedy_of
from .report import Composed, ReportLayout, Title, starting_layouts
from .run import RunControl
from .saved import Graph, SavedView, Selection
from .sizing import SizingRules
from .upgrade import upgraded

__all__ = [
    "FORMAT_VERSION",
    "Option",
    "Project",
    "canonical_json",
    "completed",
    "fingerprint",
    "inputs_of",
    "parse_project",
]

FORMAT_VERSION = 3
_LOOKED_AT = {"saved_views", "graphs", "in_view", "title", "layouts", "sheets"}


class Backdrop(DocumentModel):
    """A line or an outline drawn under the network."""

    kind: Literal["water", "building", "boundary", "paving", "path"]
    name: str = Field("", max_length=80)
    points: list[tuple[float, float]] = Field(min_length=2, max_length=5000)


class Option(DocumentModel):
    """A variant of the network; brief and rain are shared."""

    name: Name
    note: str = Field("", max_length=2000, description="what it tries, or why it was given up")
    retired: bool = Field(False, description="put aside: kept with its results, no longer among those weighed")
    network: Network = Field(default_factory=Network)


class Project(DocumentModel):
    """One project, one document. SI units inside: m, m2, m3/s, s; mm and minutes for rain."""

    format: Literal["madidus-project"] = "madidus-project"
    version: Literal[3] = 3
    name: Name
    units: Literal["metric", "us"] = Field("metric", description="in which people read and type; kept is SI")
    flow_unit: Literal["L/s", "m3/s", "m3/h", "ML/d", "ft3/s", "gal/min", "Mgal/d"] | None = Field(
        None, description="of flow; none is L/s, or ft3/s in US customary units"
    )
    brief: Brief = Field(default_factory=Brief)
    rain: Rain = Field(default_factory=Rain)
    run: RunControl = Field(default_factory=RunControl)
    options: dict[ElementId, Option] = Field(min_length=1, max_length=50)
    order: list[ElementId] = Field(default_factory=list, description="of the options, every one once; empty: as listed")
    in_view: ElementId = Field(
        "", description="the option that is shown and run; empty: the first", validate_default=False
    )
    defaults: Defaults = Field(default_factory=Defaults)
    catalogue: Catalogue = Field(default_factory=Catalogue)
    check_limits: CheckLimits = Field(default_factory=CheckLimits)
    accepted: list[Accepted] = Field(default_factory=list, max_length=20_000)
    backdrop: list[Backdrop] = Field(default_factory=list, max_length=2000)
    grid: Annotated[str, StringConstraints(pattern=r"^EPSG:[0-9]{4,6}$")] | None = Field(
        None, description="projected coordinate system in m; none is a local grid"
    )
    layers: list[Layer] = Field(default_factory=list, max_length=50, description="the first lies lowest")
    terrain: TerrainLayer | None = None
    mappings: Mappings = Field(default_factory=Mappings)
    sizing: SizingRules = Field(default_factory=SizingRules)
    saved_views: list[SavedView] = Field(default_factory=list, max_length=500)
    graphs: list[Graph] = Field(default_factory=list, max_length=200)
    selections: list[Selection] = Field(default_factory=list, max_length=200)
    title: Title = Field(default_factory=Title)
    layouts: list[ReportLayout] = Field(default_factory=starting_layouts, max_length=50)
    sheets: list[Composed] = Field(default_factory=list, max_length=100)

    @model_validator(mode="after")
    def _options_agree(self) -> Self:
        self.order = self.order or list(self.options)
        self.in_view = self.in_view or self.order[0]
        if sorted(self.order) != sorted(self.options):
            raise ValueError("order: does not name every option once; list the ids of all options")
        if self.in_view not in self.options:
            raise ValueError(f"in_view: there is no option {self.in_view}; name one of the options")
        names = [option.name for option in self.options.values()]
        if len(set(names)) < len(names):
            twice = next(name for name in names if names.count(name) > 1)
            raise ValueError(f"options: two are called {twice}; give each a name of its own")
        return self

    @property
    def option(self) -> Option:
        """The option in view."""
        return self.options[self.in_view]

    def seen(self, option: str) -> "Project":
        """The same project with another option in view.

        Raises
        ------
        KeyError
            When there is no such option.
        """
        if option not in self.options:
            raise KeyError(option)
        return self if option == self.in_view else self.model_copy(update={"in_view": option})


def canonical_json(value: Any) -> bytes:
    """Bytes that are equal exactly when two documents mean the same: sorted keys, shortest numbers."""
    return json.dumps(value, sort_keys=True, separators=(",", ":"), ensure_ascii=False, allow_nan=False).encode()


def fingerprint(value: dict[str, Any]) -> str:
    """SHA-256 of the canonical form of all inputs, in hexadecimal; what is only looked at is none."""
    inputs = {key: part for key, part in value.items() if key not in _LOOKED_AT}
    inputs["selections"] = _scopes(value)
    return hashlib.sha256(canonical_json(inputs)).hexdigest()


def _scopes(document: Mapping[str, Any]) -> list[Any]:
    """The kept selections that rules are asked of; the others are only looked at."""
    rules = (document.get("brief") or {}).get("rules", [])
    named = {(rule.get("scope") or {}).get("selection") for rule in rules} - {None, ""}
    return [selection for selection in document.get("selections", []) if selection["name"] in named]


def inputs_of(document: Mapping[str, Any], option: str) -> str:
    """SHA-256 of the parts of a valid document that an option's verdicts depend on: names and saved views are none."""
    parts = [document["options"][option]["network"], *(document[key] for key in ("rain", "run", "brief"))]
    parts.append(_scopes(document))
    return hashlib.sha256(canonical_json(parts)).hexdigest()


def completed(document: Any) -> dict[str, Any]:
    """A kept document with what newer versions of the program have added, at its defaults."""
    return Project.model_validate(upgraded(document)).model_dump(mode="json")


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
    document = upgraded(document)
    if document.get("version") != FORMAT_VERSION:
        raise ModelError(
            "file", "version", f"is {document.get('version')!r}, this program reads versions 1 to {FORMAT_VERSION}",
            "open it with the program that wrote it, or update this one",
        )  # fmt: skip
    try:
        return Project.model_validate(document)
    except ValidationError as error:
        first = error.errors()[0]
        path = "/".join(str(step) for step in first["loc"])
        raise ModelError(
            _where(document, first["loc"]), path or "document",
            problem_of(error), remedy_of(error),
        ) from error  # fmt: skip
