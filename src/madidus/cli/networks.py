"""`madidus import`, `madidus export` and `madidus edit`: networks in open formats, and edits from a file."""

from collections import Counter
from pathlib import Path
from typing import Annotated

import jsonpatch
import typer
from pydantic import ValidationError
from rich.console import Console

from ..core.edit import EDITS, apply
from ..core.errors import ModelError
from ..core.ground.terrain import between_covers
from ..core.model.project import canonical_json, parse_project
from ..exchange.formats import WRITERS, format_of, read_network
from ..exchange.imports import propose
from .files import InView, ProjectFile, read, reporting_errors

__all__ = ["edit_network", "export_network", "import_network"]


def import_network(
    project_file: ProjectFile,
    file: Annotated[Path, typer.Argument(metavar="FILE", help="LandXML (.xml), GeoJSON, DXF, CSV or .xlsx")],
    out: Annotated[Path | None, typer.Option(help="write the project with the file imported")] = None,
    tolerance: Annotated[float, typer.Option(min=0.0, help="m within which nodes are at the same place")] = 0.5,
    option: InView = "",
) -> None:
    """Say what importing a network into a project would do, element by element; do it with --out."""
    console = Console(soft_wrap=True, highlight=False)
    with reporting_errors():
        project = read(project_file, option)
        try:
            content = file.read_bytes()
        except OSError as error:
            raise ModelError("file", file.name, f"cannot be read ({error.strerror})", "check the path") from error
        ground = between_covers(project.option.network)
        found = read_network(format_of(file.name), content, project, None, ground)
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
            own = document["options"][project.in_view]
            patch = [operation for entry in proposal.entries for operation in entry.patch]
            own["network"] = jsonpatch.apply_patch(own["network"], patch)
            out.write_bytes(canonical_json(parse_project(document).model_dump(mode="json")))


def export_network(
    project_file: ProjectFile,
    file: Annotated[Path, typer.Argument(metavar="FILE", help="ends in .xml (LandXML), .geojson, .xlsx, .dxf or .kml")],
    option: InView = "",
) -> None:
    """Write a project's network in an open format."""
    with reporting_errors():
        project = read(project_file, option)
        ending = file.suffix.lower()
        if ending not in WRITERS:
            raise ModelError("file", file.name, "does not tell its format", f"let it end in {', '.join(WRITERS)}")
        _, write = WRITERS[ending]
        file.write_bytes(write(project.option.network, project))


def edit_network(
    project_file: ProjectFile,
    edits: Annotated[Path, typer.Argument(metavar="EDITS", help="a JSON list of edits, as docs/formats.md tells them")],
    out: Annotated[Path, typer.Option(help="write the edited project")],
    option: InView = "",
) -> None:
    """Edit the network of a project by a list of edits: all of them, or none."""
    with reporting_errors():
        project = read(project_file, option)
        try:
            wanted = EDITS.validate_json(edits.read_bytes())
        except OSError as error:
            raise ModelError("file", edits.name, f"cannot be read ({error.strerror})", "check the path") from error
        except ValidationError as error:
            first = error.errors()[0]
            where = "/".join(str(step) for step in first["loc"]) or "list"
            raise ModelError("file", edits.name, f"{where}: {first['msg']}", "correct this edit") from error
        edited, made = apply(project, project.in_view, wanted)
        out.write_bytes(canonical_json(parse_project(edited.model_dump(mode="json")).model_dump(mode="json")))
        count = f"{len(wanted)} edit{'' if len(wanted) == 1 else 's'}"
        Console(soft_wrap=True, highlight=False).print(f"{count}, {len(made)} made")
