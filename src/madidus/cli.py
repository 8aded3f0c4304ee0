"""The command line: run a project file without database or web."""

import json
import os
import time
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from dataclasses import asdict
from pathlib import Path
from typing import Annotated, Any

import numpy as np
import pyarrow as pa
import pyarrow.csv
import pyarrow.parquet
import typer
from rich.console import Console
from rich.progress import Progress
from rich.table import Table

from .core.ensemble import Failure, make_plan, run_plan
from .core.errors import ModelError
from .core.figures import Figures
from .core.model.nodes import FixedLevel, Free, NormalDepth, TailWater
from .core.model.project import Project, fingerprint, parse_project
from .core.steady import capacity as largest
from .core.steady import steady as steady_profile
from .core.verdict import Verdict, judge

app = typer.Typer(add_completion=False, no_args_is_help=True, help="Storm drainage under ensembles of design storms.")
_PASS, _FAIL, _COULD_NOT = 0, 1, 2


@app.command()
def schema() -> None:
    """Print the JSON Schema of project files."""
    print(json.dumps(Project.model_json_schema(), indent=1, ensure_ascii=False))


@app.callback()
def main() -> None:
    """Keeps `run` a named command."""


@app.command()
def run(
    project_file: Annotated[Path, typer.Argument(metavar="PROJECT", help="a *.madidus.json file")],
    out: Annotated[Path, typer.Option(help="folder for the results")],
    csv: Annotated[bool, typer.Option("--csv", help="write tables as CSV too")] = False,
    threads: Annotated[int, typer.Option(help="0: one for each core", min=0)] = 0,
    only: Annotated[str, typer.Option(metavar="NODE", help="run the separate network of this node alone")] = "",
) -> None:
    """Run the whole ensemble. Exit status 0: all criteria pass; 1: one fails; 2: could not run."""
    console = Console()
    try:
        project = _alone(read(project_file), only) if only else read(project_file)
        raise typer.Exit(_run(project, out, csv, threads or os.cpu_count() or 1, console))
    except ModelError as error:
        console.print(f"could not run: {error}", style="red", markup=False)
        raise typer.Exit(_COULD_NOT) from error


_TAILS: dict[str, TailWater | None] = {"own": None, "free": Free(), "normal": NormalDepth()}
Flows = Annotated[list[str], typer.Option("--inflow", help="NODE=L/s, once for each node")]


def _flows(project: Project, texts: list[str]) -> dict[str, float]:
    """Inflows by node id from NODE=L/s."""
    ids = {node.name: id_ for id_, node in project.option.network.nodes.items()}
    flows = {}
    for text in texts:
        name, _, figure = text.rpartition("=")
        try:
            flows[ids[name]] = float(figure) / 1000.0
        except (KeyError, ValueError) as error:
            raise ModelError(f"node {name or text}", "--inflow", f"“{text}” is not read", "write NODE=L/s") from error
    return flows


def _tail(text: str) -> TailWater | None:
    if text in _TAILS:
        return _TAILS[text]
    try:
        return FixedLevel(level=float(text))
    except ValueError as error:
        raise ModelError("outfalls", "--tail", f"“{text}” is not read", "write own, free, normal or a level") from error


@app.command()
def steady(
    project_file: Annotated[Path, typer.Argument(metavar="PROJECT", help="a *.madidus.json file")],
    inflow: Flows,
    tail: Annotated[str, typer.Option(help="own, free, normal, or a level in m")] = "own",
) -> None:
    """Print the profile that steady inflows settle to, as JSON."""
    try:
        project = read(project_file)
        network = project.option.network
        profile = steady_profile(network, _flows(project, inflow), _tail(tail))
    except ModelError as error:
        Console().print(f"could not run: {error}", style="red", markup=False)
        raise typer.Exit(_COULD_NOT) from error
    name = lambda id_: (network.nodes.get(id_) or network.links[id_]).name  # noqa: E731
    named = {
        "level_m": {name(id_): round(z, 4) for id_, z in profile.level.items()},
        "flow_m3s": {name(id_): round(q, 6) for id_, q in profile.flow.items()},
        "outflow_m3s": {name(id_): round(q, 6) for id_, q in profile.outflow.items()},
        "reaches": {name(id_): asdict(reach) for id_, reach in profile.reaches.items()},
    }
    print(json.dumps(named, indent=1, ensure_ascii=False))


@app.command()
def capacity(
    project_file: Annotated[Path, typer.Argument(metavar="PROJECT", help="a *.madidus.json file")],
    inflow: Flows,
    keep: Annotated[str, typer.Option(help="soffit or cover: water stays below it")] = "soffit",
) -> None:
    """Find the largest multiple of the inflows that keeps the water below a limit, with each tail water."""
    console = Console()
    table = Table("tail water", "multiple", "L/s in all", "limit is at")
    try:
        if keep not in ("soffit", "cover"):
            raise ModelError("criterion", "--keep", f"“{keep}” is not read", "write soffit or cover")
        project = read(project_file)
        network, flows = project.option.network, _flows(project, inflow)
        for name, tail in _TAILS.items():
            found = largest(network, flows, "below soffit" if keep == "soffit" else "below cover", tail)
            table.add_row(name, f"{found.multiple:.3f}", f"{found.flow * 1000:.2f}", network.label(found.element))
    except ModelError as error:
        console.print(f"could not run: {error}", style="red", markup=False)
        raise typer.Exit(_COULD_NOT) from error
    console.print(table)


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


def _alone(project: Project, node: str) -> Project:
    """The project with the separate network of a node (by its name) alone; criteria about elsewhere see no storm."""
    option = project.option
    found = next((id_ for id_, n in option.network.nodes.items() if n.name == node), None)
    if found is None:
        raise ModelError(f"node {node}", "--only", "is not in the project", "name one of its nodes")
    part = next(part for part in option.network.parts() if found in part)
    alone = option.model_copy(update={"network": option.network.only(part)})
    key = next(key for key, value in project.options.items() if value is option)
    return project.model_copy(update={"options": {key: alone}})


def _run(project: Project, out: Path, csv: bool, threads: int, console: Console) -> int:
    plan = make_plan(project)
    figures: dict[str, Figures] = {}
    failures: list[Failure] = []
    began = time.perf_counter()
    with ThreadPoolExecutor(threads) as executor, Progress(console=console, transient=True) as progress:
        task = progress.add_task("storms", total=len(plan.storms))
        for result in run_plan(plan, plan.inflow, executor):
            if isinstance(result, Failure):
                failures.append(result)
            else:
                figures[result.key] = result
            progress.advance(task)
    seconds = time.perf_counter() - began
    verdicts = judge(project.brief.criteria, plan.network, plan.storms, figures)
    out.mkdir(parents=True, exist_ok=True)
    summary = _summary(project, verdicts, figures, failures, seconds, plan.network)
    (out / "summary.json").write_text(json.dumps(summary, indent=1, ensure_ascii=False) + "\n", encoding="utf-8")
    _write(_peaks(plan, figures), out / "peaks", csv)
    governing = {v.storm for v in verdicts if v.storm}
    for key in sorted(governing):
        _write(_series(plan, key, figures[key].summary["end_time"]), out / f"series-{key}", csv)
    _print(console, verdicts, plan, figures, failures, seconds)
    if failures:
        return _COULD_NOT
    return _FAIL if any(v.state == "fails" and v.criterion.asked for v in verdicts) else _PASS


def _summary(
    project: Project, verdicts: list[Verdict], figures: dict[str, Figures], failures: list[Failure], seconds: float,
    network: Any,
) -> dict[str, Any]:  # fmt: skip
    return {
        "project": project.name,
        "fingerprint": fingerprint(project.model_dump(mode="json")),
        "seconds": seconds,
        "verdicts": [
            {
                "criterion": v.criterion.name, "asked": v.criterion.asked, "state": v.state, "unit": v.unit,
                "margin": v.governing.value if v.governing else None, "storm": v.storm, "tied": v.tied,
                "element": network.label(v.governing.element) if v.governing else None,
                "time": v.governing.time if v.governing else None,
            }
            for v in verdicts
        ],
        "storms": {key: f.summary for key, f in sorted(figures.items())},
        "failures": [vars(failure) for failure in failures],
    }  # fmt: skip


def _peaks(plan: Any, figures: dict[str, Figures]) -> pa.Table:
    """One row for each storm and element."""
    rows: dict[str, list[Any]] = {
        k: []
        for k in [
            "storm",
            "element",
            "name",
            "kind",
            "level",
            "level_time",
            "flooded",
            "flow",
            "flow_time",
            "speed",
            "spare",
        ]
    }
    for key, f in sorted(figures.items()):
        for ids, elements, arrays in (
            (plan.nodes, plan.network.nodes, {"level": f.level, "level_time": f.level_time, "flooded": f.flooded,
                                              "flow": f.outflow, "flow_time": f.outflow_time}),
            (plan.links, plan.network.links, {"flow": f.flow, "flow_time": f.flow_time, "speed": f.speed,
                                              "spare": f.spare}),
        ):  # fmt: skip
            for i, id_ in enumerate(ids):
                rows["storm"].append(key)
                rows["element"].append(id_)
                rows["name"].append(elements[id_].name)
                rows["kind"].append(elements[id_].kind)
                for column in ("level", "level_time", "flooded", "flow", "flow_time", "speed", "spare"):
                    value = float(arrays[column][i]) if column in arrays else None
                    rows[column].append(value if value is not None and np.isfinite(value) else None)
    return pa.table(rows)


def _series(plan: Any, key: str, end: float) -> pa.Table:
    frames = 361
    result = plan.simulate(key, until=end, frames=frames, interval=end / (frames - 1))
    count = int(result.series.filled[0])
    names = Counter([e.name for e in (*plan.network.nodes.values(), *plan.network.links.values())])
    label = lambda id_, e: e.name if names[e.name] == 1 else f"{e.name} ({id_})"  # noqa: E731
    columns = {"time s": result.series.time[:count]}
    for id_, node in plan.network.nodes.items():
        columns[f"{label(id_, node)} level m"] = result.series.level[:count, plan.flat.node_row[id_]]
    for id_, link in plan.network.links.items():
        k = plan.flat.pipe_faces[id_][1] if id_ in plan.flat.pipe_faces else plan.flat.control_face[id_]
        columns[f"{label(id_, link)} flow m3/s"] = result.series.flow[:count, k]
    return pa.table(columns)


def _write(table: pa.Table, stem: Path, csv: bool) -> None:
    pa.parquet.write_table(table, stem.with_name(stem.name + ".parquet"))
    if csv:
        pa.csv.write_csv(table, stem.with_name(stem.name + ".csv"))


def _print(
    console: Console, verdicts: list[Verdict], plan: Any, figures: dict[str, Figures], failures: list[Failure],
    seconds: float,
) -> None:  # fmt: skip
    labels = {storm.key: storm.label for storm in plan.storms}
    table = Table("criterion", "verdict", "margin", "governing storm", "element")
    for v in verdicts:
        scale, unit = (1000.0, "L/s") if v.unit == "m3/s" else (1.0, v.unit)
        margin = f"{v.governing.value * scale:+.3f} {unit}" if v.governing else "no storm"
        element = plan.network.label(v.governing.element) if v.governing else ""
        table.add_row(v.criterion.name, v.state, margin, labels.get(v.storm or "", ""), element)
    console.print(table)
    worst = max((abs(f.summary["balance_error"]) for f in figures.values()), default=0.0)
    console.print(f"{len(figures)} of {len(plan.storms)} storms in {seconds:.1f} s; largest volume error {worst:.0e}")
    for failure in failures:
        console.print(f"{failure.key}: {failure.element} {failure.problem}", style="red", markup=False)


if __name__ == "__main__":
    app()
