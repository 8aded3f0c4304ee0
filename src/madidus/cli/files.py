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

__all__ = ["COULD_NOT", "ProjectFile", "read", "told"]

COULD_NOT = 2
ProjectFile = Annotated[Path, typer.Argument(metavar="PROJECT", help="a *.madidus.json file")]


@contextmanager
def told() -> Iterator[None]:
    """Print what is wrong with a model and end with the status for it."""
    try:
        yield
    except ModelError as error:
        Console().print(f"could not run: {error}", style="red", markup=False)
        raise typer.Exit(COULD_NOT) from error


def read(path: Path) -> Project:
    """Read a project file.

    Raises
    ------
    ModelError
        When it cannot be read, is not JSON, or is not a valid project.
    """

    def refuse(text: str) -> float:
        raise ModelError("file", path.name, f"holds {text}, which is no number", "correct the figure")

    try:
        document = json.loads(path.read_text(encoding="utf-8"), parse_constant=refuse)
    except OSError as error:
        raise ModelError("file", path.name, f"cannot be read ({error.strerror})", "check the path") from error
    except ModelError:
        raise
    except ValueError as error:
        raise ModelError("file", path.name, f"is not JSON ({error})", "choose a *.madidus.json file") from error
    return parse_project(document)
