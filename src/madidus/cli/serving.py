"""The server and its records, from the command line."""

from pathlib import Path
from typing import Annotated

import typer

from .. import places

__all__ = ["serve", "tidy"]

Data = Annotated[Path | None, typer.Option(help="data directory; else MADIDUS_DATA, else the usual one")]


def serve(
    port: Annotated[int | None, typer.Option(min=1, max=65_535, help="on 127.0.0.1; else MADIDUS_PORT or 8420")] = None,
    data: Data = None,
    no_demo: Annotated[bool, typer.Option("--no-demo", help="no demo projects where there is none yet")] = False,
) -> None:
    """Start Madidus on this machine, demo included."""
    from ..serve import Settings, serving  # who computes a file needs no server

    given = {key: value for key, value in (("port", port), ("data", data)) if value is not None}
    raise typer.Exit(serving(Settings().model_copy(update=given), demo=not no_demo))


def tidy(
    data: Data = None,
    days: Annotated[int, typer.Option(min=0, max=36_500, help="what is younger stays")] = 30,
    steps: Annotated[int, typer.Option(min=0, max=100_000, help="of undo that stay, however old")] = 200,
    dry_run: Annotated[bool, typer.Option("--dry-run", help="say what would go, and keep it")] = False,
) -> None:
    """Let go what nothing current, named or recent needs: results, runs, revisions, files, compiled code.

    Results stay while they were asked for in the last DAYS, or the newest run of an option has them; revisions while
    they are of the last DAYS or within the last STEPS of undo; files while a revision that stays names them.
    """
    import shutil

    from ..postgres import CannotStart, cluster
    from ..serve import Settings
    from ..store.database import connect
    from ..store.tidy import tidy as tidied

    where = (data or Settings().data).resolve()
    try:
        with cluster(where, "madidus") as url:
            engine = connect(url)
            found = tidied(engine, days, steps, dry_run)
            engine.dispose()
    except CannotStart as error:
        typer.echo(f"Cannot tidy: {error}", err=True)
        raise typer.Exit(2) from error
    current = places.kernels()
    old = [folder for folder in current.parent.glob("*") if folder != current and folder.is_dir()]
    for folder in old if not dry_run else []:
        shutil.rmtree(folder, ignore_errors=True)
    typer.echo(
        f"{'Would let go' if dry_run else 'Let go'}: {found.storms} results of storms, {found.runs} runs, "
        f"{found.revisions} revisions, {found.files} files, compiled code of {len(old)} other solvers"
    )
