"""`madidus take-in` and `madidus hand-out`: networks in open formats."""

from collections import Counter
from datetime import UTC, datetime
from pathlib import Path
from typing import Annotated

import jsonpatch
import typer
from rich.console import Console

from ..core.errors import ModelError
from ..core.model.project import canonical_json, parse_project
from ..exchange.geojson import read_geojson, write_geojson
from ..exchange.incoming import propose
from ..exchange.landxml import read_landxml, write_landxml
from .files import ProjectFile, read, told

__all__ = ["hand_out", "take_in"]


def _is_geojson(path: Path) -> bool:
    """By the ending of the name.

    Raises
    ------
    ModelError
        When the ending tells no format.
    """
    ending = path.suffix.lower()
    if ending not in (".geojson", ".json", ".xml", ".landxml"):
        raise ModelError("file", path.name, "does not tell its format", "let it end in .xml or .geojson")
    return "json" in ending


def take_in(
    project_file: ProjectFile,
    file: Annotated[Path, typer.Argument(metavar="FILE", help="LandXML (.xml) or GeoJSON (.geojson)")],
    out: Annotated[Path | None, typer.Option(help="write the project with the file taken in")] = None,
    tolerance: Annotated[float, typer.Option(min=0.0, help="m within which nodes are at the same place")] = 0.5,
) -> None:
    """Say what taking a network into a project would do, element by element; do it with --out."""
    console = Console(soft_wrap=True, highlight=False)
    with told():
        project = read(project_file)
        try:
            content = file.read_bytes()
        except OSError as error:
            raise ModelError("file", file.name, f"cannot be read ({error.strerror})", "check the path") from error
        found = read_geojson(content) if _is_geojson(file) else read_landxml(content)
        proposal = propose(project, found, tolerance)
        for entry in proposal.entries:
            if entry.action != "same":
                changes = (f"{f.field} {f.now} -> {f.new}" if f.now else f"{f.field} {f.new}" for f in entry.fields)
                what = entry.why or ", ".join(changes)
                console.print(f"{entry.action}: {entry.kind} {entry.name}: {what}", markup=False)
        for remark in proposal.remarks:
            console.print(f"{remark.where} {remark.what}", markup=False)
        counts = Counter(entry.action for entry in proposal.entries)
        console.print(", ".join(f"{count} {action}" for action, count in sorted(counts.items())))
        if out is not None:
            document = project.model_dump(mode="json")
            option = min(document["options"].values(), key=lambda option: option["name"])
            patch = [operation for entry in proposal.entries for operation in entry.patch]
            option["network"] = jsonpatch.apply_patch(option["network"], patch)
            out.write_bytes(canonical_json(parse_project(document).model_dump(mode="json")))


def hand_out(
    project_file: ProjectFile,
    file: Annotated[Path, typer.Argument(metavar="FILE", help="LandXML (.xml) or GeoJSON (.geojson)")],
) -> None:
    """Write a project's network in an open format."""
    with told():
        project = read(project_file)
        if _is_geojson(file):
            file.write_text(write_geojson(project.option.network, project.name), encoding="utf-8")
        else:
            file.write_bytes(write_landxml(project.option.network, project.name, datetime.now(UTC)))
