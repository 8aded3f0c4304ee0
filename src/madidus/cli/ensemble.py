"""`madidus run`: the whole ensemble, its verdicts and tables."""

import json
import os
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Annotated, Any

import typer
from rich.console import Console
from rich.progress import Progress
from rich.table import Table

from ..core.elements.figures import Figures
from ..core.ensemble import Failure, Plan, Submit, make_plan, run_plan, submit_to
from ..core.ensemble.convergence import OnFiner, look_closer
from ..core.errors import ModelError
from ..core.model.project import Project, fingerprint
from ..core.model.run import RunControl
from ..core.numerics.known import known
from ..core.quantities import Units
from ..core.verdicts import Verdict, overall
from ..report.peaks import peaks_table
from ..report.words import OVER_WORDS, governing_in_words, state_in_words
from .files import COULD_NOT, InView, ProjectFile, read, reporting_errors
from .tables import series_table, write

__all__ = ["run"]

_STATUS = {"meets": 0, "fails": 1, "too close": 3, "not judged": 3}


def run(
    project_file: ProjectFile,
    out: Annotated[Path, typer.Option(help="folder for the results")],
    csv: Annotated[bool, typer.Option("--csv", help="write tables as CSV too")] = False,
    threads: Annotated[int, typer.Option(help="0: one for each core", min=0)] = 0,
    spacing: Annotated[
        float, typer.Option(help="m, longest cell of a conduit; 0: as the project says", min=0.0, max=500.0)
    ] = 0.0,
    refine: Annotated[bool, typer.Option("--refine", help="settle close verdicts on cells a quarter as long")] = False,
    option: InView = "",
    only: Annotated[str, typer.Option(metavar="NODE", help="run the separate network of this node alone")] = "",
) -> None:
    """Run the whole ensemble. Exit status 0: all rules are met; 1: one fails; 2: could not run; 3: none fails, but some
    are not judged or too close to call.
    """
    with reporting_errors():
        project = read(project_file, option)
        project = _alone(project, only) if only else project
        if spacing:
            project = project.model_copy(update={"run": RunControl(**{**project.run.model_dump(), "spacing": spacing})})
        raise typer.Exit(_run(project, out, csv, threads or os.cpu_count() or 1, refine, Console()))


def _alone(project: Project, node: str) -> Project:
    """The project with the separate network of a node (by its name) alone; criteria about elsewhere see no storm."""
    option = project.option
    found = next((id_ for id_, n in option.network.nodes.items() if n.name == node), None)
    if found is None:
        raise ModelError(f"node {node}", "--only", "is not in the project", "name one of its nodes")
    part = next(part for part in option.network.parts() if found in part)
    alone = option.model_copy(update={"network": option.network.only(part)})
    return project.model_copy(update={"options": {**project.options, project.in_view: alone}})


def _run(project: Project, out: Path, csv: bool, threads: int, refine: bool, console: Console) -> int:
    plan = make_plan(project)
    figures: dict[str, Figures] = {}
    failures: list[Failure] = []
    began = time.perf_counter()
    with ThreadPoolExecutor(threads) as executor, Progress(console=console, transient=True) as progress:
        task = progress.add_task("storms", total=len(plan.storms))
        for result in run_plan(plan, plan.inflow, submit_to(executor)):
            if isinstance(result, Failure):
                failures.append(result)
            else:
                figures[result.key] = result
            progress.advance(task)
        seconds = time.perf_counter() - began
        progress.update(task, description="what the grid is worth")
        verdicts = _on_finer(plan, figures, [failure.key for failure in failures], refine, submit_to(executor))
    out.mkdir(parents=True, exist_ok=True)
    summary = _summary(project, verdicts, figures, failures, seconds, plan)
    (out / "summary.json").write_text(json.dumps(summary, indent=1, ensure_ascii=False) + "\n", encoding="utf-8")
    write(peaks_table(plan.network, figures), out / "peaks", csv)
    governing = {v.storm for v in verdicts if v.storm}
    for key in sorted(governing):
        write(series_table(plan, key, figures[key].summary["end_time"]), out / f"series-{key}", csv)
    _print(console, verdicts, plan, figures, failures, seconds)
    if not figures:
        return COULD_NOT
    return _STATUS[overall(verdicts).state]


def _on_finer(
    plan: Plan, figures: dict[str, Figures], failed: list[str], refine: bool, submit: Submit
) -> list[Verdict]:
    """Verdicts with what their grid is worth; those that are close on finer cells yet, where that is asked for."""
    finer = OnFiner()

    def judged() -> list[Verdict]:
        return plan.verdicts(figures, failed, finer)

    def compute(parts: int, keys: set[str]) -> bool:
        new = run_plan(plan.finer(parts), keys, submit)
        finer.on(parts).update((f.key, f) for f in new if isinstance(f, Figures))
        return True

    look_closer(judged, figures, lambda close: close if refine else set(), compute)
    return judged()


def _summary(
    project: Project, verdicts: list[Verdict], figures: dict[str, Figures], failures: list[Failure], seconds: float,
    plan: Plan,
) -> dict[str, Any]:  # fmt: skip
    network = plan.network
    return {
        "project": project.name,
        "option": project.option.name,
        "fingerprint": fingerprint(project.model_dump(mode="json")),
        "seconds": seconds,
        "cells": vars(plan.cells),
        "overall": overall(verdicts).said,
        "verdicts": [
            {
                "criterion": v.criterion.name, "limit": v.criterion.value,
                "asked": v.criterion.asked, "state": v.state, "reason": v.reason,
                "unit": v.unit, "over_patterns": v.over, "below_cover": v.dry,
                "margin": known(v.governing.value) if v.governing else None, "storm": v.storm, "tied": v.tied,
                "edge": v.edge,
                "band": v.band, "close": v.close, "refined": v.refined,
                "element": network.label(v.governing.element) if v.governing else None,
                "time": known(v.governing.time) if v.governing else None,
            }
            for v in verdicts
        ],
        "storms": {key: f.summary for key, f in sorted(figures.items())},
        "failures": [vars(failure) for failure in failures],
    }  # fmt: skip


def _print(
    console: Console, verdicts: list[Verdict], plan: Plan, figures: dict[str, Figures], failures: list[Failure],
    seconds: float,
) -> None:  # fmt: skip
    labels, units = {storm.key: storm.label for storm in plan.storms}, Units("metric", None)
    table = Table("rule", "verdict", "margin", "governing storm", "element")
    for v in verdicts:
        scale, unit = units.margin(1.0, v.unit)
        value = known(v.governing.value) if v.governing else None
        margin = "–" if value is None else f"{value * scale:+.3f} {unit}"
        margin += f" ± {v.band * scale:.3f}" if v.band is not None else ""
        margin += f", {OVER_WORDS[v.over]}" if v.patterned else ""
        element = plan.network.label(v.governing.element) if v.governing else ""
        state = state_in_words(v, units)
        table.add_row(v.criterion.name, state, margin, governing_in_words(v, labels), element)
    console.print(table)
    console.print(overall(verdicts).said, markup=False)
    worst = max((abs(f.summary["balance_error"]) for f in figures.values()), default=0.0)
    console.print(
        f"{len(figures)} of {len(plan.storms)} storms in {seconds:.1f} s; largest continuity error {worst:.0e}"
    )
    console.print(f"on {plan.cells.count} cells, {plan.cells.longest:g} m long at most", markup=False)
    for failure in failures:
        console.print(f"{failure.key}: {failure.element} {failure.problem}", style="red", markup=False)
