"""`madidus recorded`: a long record of rain, with the full hydraulics in windows."""

from datetime import timedelta
from pathlib import Path
from typing import Annotated

import numpy as np
import pyarrow as pa
import typer
from rich.console import Console
from rich.progress import Progress
from rich.table import Table

from ..core.ensemble.windows import EventRun, run_windows
from ..core.errors import ModelError
from ..core.model.project import Project
from ..core.rainfall.recorded import RainSeries, events
from ..exchange.rain_csv import read_rain
from ..report.peaks import peaks_table
from .files import InView, ProjectFile, read, reporting_errors
from .tables import write

__all__ = ["recorded"]

_SHOWN = 10


def _winter(text: str) -> frozenset[int]:
    """Months from a range such as 10-3."""
    try:
        first, last = (int(part) for part in text.split("-"))
        if not (1 <= first <= 12 and 1 <= last <= 12):
            raise ValueError
    except ValueError as error:
        raise ModelError("recorded rain", "--winter", f"“{text}” is not read", "write two months, 10-3") from error
    return frozenset((first - 1 + k) % 12 + 1 for k in range((last - first) % 12 + 1))


def recorded(
    project_file: ProjectFile,
    rain: Annotated[Path, typer.Option(help="CSV with columns time and depth mm, intensity mm/h, depth in, …")],
    out: Annotated[Path, typer.Option(help="folder for the results")],
    inter_event: Annotated[float, typer.Option(help="h without rain that part two events", min=0.0)] = 6.0,
    least: Annotated[float, typer.Option(help="mm; an event with less opens no window", min=0.0)] = 5.0,
    winter: Annotated[str, typer.Option(help="first and last month with winter's runoff coefficients")] = "10-3",
    csv: Annotated[bool, typer.Option("--csv", help="write tables as CSV too")] = False,
    option: InView = "",
) -> None:
    """Run the events of a long record; rain that falls outside every window is counted, not routed."""
    console = Console()
    with reporting_errors():
        project = read(project_file, option)
        series, remarks = read_rain(rain)
        found = events(series, inter_event * 3600.0, _winter(winter))
        runs: list[EventRun] = []
        with Progress(console=console, transient=True) as progress:
            task = progress.add_task("events", total=len(found))
            for run in run_windows(project, found, least):
                runs.append(run)
                progress.advance(task)
    out.mkdir(parents=True, exist_ok=True)
    table = _events_table(series, runs)
    write(table, out / "events", csv)
    ran = {run.figures.key: run.figures for run in runs if run.figures}
    write(peaks_table(project.option.network, ran), out / "peaks", csv)
    _print(console, project, series, runs, remarks)


def _when(series: RainSeries, seconds: float) -> str:
    return (series.began + timedelta(seconds=seconds)).isoformat(timespec="minutes")


def _events_table(series: RainSeries, runs: list[EventRun]) -> pa.Table:
    def figure(run: EventRun, name: str) -> float | None:
        if run.figures is None:
            return None
        values = getattr(run.figures, name)
        return float(np.nansum(values) if name == "flooded" else np.nanmax(values))

    return pa.table(
        {
            "storm": [run.figures.key if run.figures else None for run in runs],
            "start": [_when(series, run.event.start) for run in runs],
            "hours": [(run.event.end - run.event.start) / 3600.0 for run in runs],
            "depth mm": [run.event.depth for run in runs],
            "peak mm/h": [run.event.peak for run in runs],
            "season": [run.event.season for run in runs],
            "window": [run.window if run.figures else None for run in runs],
            "end": [_when(series, run.end) if run.figures else None for run in runs],
            "greatest outflow m3/s": [figure(run, "outflow") for run in runs],
            "flooded m3": [figure(run, "flooded") for run in runs],
            "continuity error": [run.figures.summary["balance_error"] if run.figures else None for run in runs],
        }
    )


def _print(
    console: Console, project: Project, series: RainSeries, runs: list[EventRun], remarks: list[str]
) -> None:  # fmt: skip
    ran = [run for run in runs if run.figures]
    table = Table(
        "event", "hours", "mm", "mm/h", "outflow L/s", "flooded m3", title=f"{project.name}: greatest outflows"
    )
    figures = _events_table(series, ran).to_pylist()
    for row in sorted(figures, key=lambda row: -row["greatest outflow m3/s"])[:_SHOWN]:
        table.add_row(
            row["start"], f"{row['hours']:.1f}", f"{row['depth mm']:.1f}", f"{row['peak mm/h']:.1f}",
            f"{row['greatest outflow m3/s'] * 1000:.1f}", f"{row['flooded m3']:.1f}",
        )  # fmt: skip
    console.print(table)
    wet = sum(run.event.depth for run in runs)
    routed = sum(run.event.depth for run in ran)
    simulated = sum(run.end - run.event.start for run in ran)
    console.print(
        f"{len(ran)} of {len(runs)} events in {len({run.window for run in ran})} windows; {routed:.1f} of {wet:.1f} mm "
        f"routed; {simulated / 86_400:.1f} of {series.until / 86_400:.1f} days simulated"
    )
    for remark in remarks:
        console.print(remark, style="yellow", markup=False)
