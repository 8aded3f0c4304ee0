"""Project files in, and what every command does when it cannot run."""

import json
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Annotated

import typer
from rich.console import Console

from ..core.errors import ModelError
from ..core.model.project import Project, parse_project
from ..kernels import ready

__all__ = ["COULD_NOT", "UNDECIDED", "InView", "ProjectFile", "read", "reporting_errors"]

COULD_NOT = 2
UNDECIDED = 3
ProjectFile = Annotated[Path, typer.Argument(metavar="PROJECT", help="a *.madidus.json file")]
InView = Annotated[str, typer.Option("--option", metavar="NAME", help="of the project; else the one in view")]


@contextmanager
def reporting_errors() -> Iterator[None]:
    """Print what is wrong with a model and end with the status for it."""
    try:
        ready(lambda what: Console(stderr=True).print(what))
        yield
    except ModelError as error:
        Console().print(f"could not run: {error}", style="red", markup=False)
        raise typer.Exit(COULD_NOT) from error


def read(path: Path, option: str = "") -> Project:
    """Read a project file. option : name (or id) of the one to be in view; empty: as the file says.

    Raises
    ------
    ModelError
        When it cannot be read, is not JSON, is not a valid project, or has no such option.
    """

    def refuse(text: str) -> float:
        raise ModelError("file", path.name, f"holds {text}, which is no number", "correct the figure")

    try:
        document = json.loads(path.read_text(encoding="utf-8-sig"), parse_constant=refuse)
    except OSError as error:
        raise ModelError("file", path.name, f"cannot be read ({error.strerror})", "check the path") from error
    except ModelError:
        raise
    except ValueError as error:
        raise ModelError("file", path.name, f"is not JSON ({error})", "choose a *.madidus.json file") from error
    project = parse_project(document)
    if not option:
        return project
    found = next((id_ for id_, one in project.options.items() if option in (id_, one.name)), None)
    if found is None:
        names = ", ".join(project.options[id_].name for id_ in project.order)
        raise ModelError(f"option {option}", "--option", "is not in the project", f"name one of: {names}")
    return project.seen(found)
