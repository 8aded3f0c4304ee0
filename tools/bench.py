"""Speed and accuracy on the demos and on generated networks of 40, 200 and 1,000 pipes, part by part.

Figures are printed as they are found; ratios within one run where they can be: machines are noisy.
"""

import json
import multiprocessing
import sys
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Annotated

import numpy as np
import typer
from rich.console import Console
from rich.table import Table

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from tests.core.generated import rain, tree  # noqa: E402
from tools.bench_design import fitted, sized  # noqa: E402
from tools.bench_exchange import landxml_round  # noqa: E402
from tools.bench_order import provisional  # noqa: E402
from tools.bench_queue import behind_a_run  # noqa: E402
from tools.bench_reading import reading  # noqa: E402
from tools.bench_report import reporting  # noqa: E402
from tools.bench_runoff import runoff_share  # noqa: E402
from tools.bench_screen import edit_on_screen, plan_frames  # noqa: E402
from tools.bench_stiff import run_stiff  # noqa: E402

from madidus.core.checks import judged  # noqa: E402
from madidus.core.ensemble import make_plan, run_plan, submit_to  # noqa: E402
from madidus.core.model import Project, parse_project  # noqa: E402
from madidus.core.verdicts import judge  # noqa: E402

OPTION = "00000000-0000-4000-8000-000000000001"
DEMOS = ["quillmere_boatyard", "ferry_flat", "alder_hill_library"]


def demo(name: str) -> Project:
    return parse_project(json.loads((ROOT / "demo" / f"{name}.madidus.json").read_text(encoding="utf-8")))


def generated(pipes: int) -> Project:
    option = {"name": "A", "network": tree(pipes).model_dump(mode="json")}
    return Project.model_validate(
        {
            "name": f"{pipes} pipes",
            "rain": rain().model_dump(),
            "options": {"00000000-0000-4000-8000-000000000001": option},
        }
    )


def wall(plan, threads: int) -> float:
    with ThreadPoolExecutor(threads) as executor:
        began = time.perf_counter()
        for _ in run_plan(plan, plan.inflow, submit_to(executor)):
            pass
        return time.perf_counter() - began


def _half(plan, which: int) -> None:
    for key in sorted(plan.inflow)[which::2]:
        plan.simulate(key)


def wall_of_processes(plan) -> float:
    """Two processes side by side, each with half of the storms."""
    context = multiprocessing.get_context("fork")
    workers = [context.Process(target=_half, args=(plan, which)) for which in range(2)]
    began = time.perf_counter()
    for worker in workers:
        worker.start()
    for worker in workers:
        worker.join()
    return time.perf_counter() - began


def against_stiff(plan, key: str = "30-60-summer", until: float = 7200.0) -> dict[str, float]:
    """One storm by SciPy's BDF at the tolerance that makes its peaks as exact as ours, both judged by a tight run."""
    down = np.array([f[1] for f in plan.flat.pipe_faces.values()])
    inflow = plan.inflow[key]
    tight = run_stiff(plan, inflow, until, 1e-5).flow[down]

    def error(flow: np.ndarray) -> float:
        return float(np.percentile(np.abs(flow[down] - tight) / tight, 95)) * 100.0

    run_stiff(plan, inflow, 60.0, 1e-2)
    began = time.perf_counter()
    for _ in range(5):
        run = plan.simulate(key, until=until)
    own = (time.perf_counter() - began) / 5
    own_error = error(run.peaks.flow.top)
    for tolerance in (1e-2, 3e-3, 1e-3, 3e-4, 1e-4, 3e-5):
        stiff = run_stiff(plan, inflow, until, tolerance)
        if error(stiff.flow) <= own_error:
            break
    return {
        "stiff_p95_percent": error(stiff.flow), "own_p95_percent": own_error, "stiff_tolerance": tolerance,
        "stiff_times_slower": stiff.seconds / own,
    }  # fmt: skip


def accuracy(plan) -> dict[str, float]:
    """Peaks against a quarter of the step: percent of flow, mm of level at nodes, and apart in the cells of conduits.

    A cell in which a void closes or a jump stands errs by far more than what verdicts go by.
    """
    down = np.array([f[1] for f in plan.flat.pipe_faces.values()])
    node = np.zeros(plan.flat.grid.cells, bool)
    node[[row for row in plan.flat.node_row.values() if row < plan.flat.grid.cells]] = True
    flow, level, inside, oscillation, ringing = [], [], [], [], []
    for key in list(plan.inflow)[:: 1 if plan.flat.grid.cells < 1000 else 7]:
        run = plan.simulate(key)
        fine = plan.simulate(key, until=run.end_time, finer=4.0)
        q = fine.peaks.flow.steady[down]
        seen = q > 0.02 * q.max()
        flow.append((np.abs(run.peaks.flow.steady[down] - q) / np.maximum(q, 1e-9))[seen])
        off = np.abs(run.peaks.level.steady - fine.peaks.level.steady)[: node.size]
        level.append(off[node])
        inside.append(off[~node])
        swings = run.peaks.level.oscillation[: node.size]
        oscillation.append(swings[node].max())
        ringing.append(swings[~node].max())
    flow_all = np.concatenate(flow) * 100
    level_all, inside_all = np.concatenate(level) * 1000, np.concatenate(inside) * 1000
    return {
        "flow_p95_percent": float(np.percentile(flow_all, 95)), "flow_max_percent": float(flow_all.max()),
        "level_p95_mm": float(np.percentile(level_all, 95)), "level_max_mm": float(level_all.max()),
        "oscillation_p90_mm": float(np.percentile(oscillation, 90) * 1000),
        "oscillation_max_mm": float(max(oscillation) * 1000),
        "cells_level_p95_mm": float(np.percentile(inside_all, 95)), "cells_level_max_mm": float(inside_all.max()),
        "cells_oscillation_p90_mm": float(np.percentile(ringing, 90) * 1000),
        "cells_oscillation_max_mm": float(max(ringing) * 1000),
    }  # fmt: skip


def in_space(plan) -> dict[str, float]:
    """Peaks on the grid that users get against those on a quarter of its cells, over nine storms: percent and mm."""
    pipes, rows = list(plan.flat.pipe_faces), list(plan.flat.node_row.items())
    rows = [(id_, row) for id_, row in rows if row < plan.flat.grid.cells]
    finer = plan.finer(4)

    def peaks(of, key: str, until: float | None = None):
        run = of.simulate(key, until=until)
        both = [
            run.peaks.flow.steady[list(ends)] for ends in zip(*(of.flat.pipe_faces[id_] for id_ in pipes), strict=True)
        ]
        return np.maximum(*both), run.peaks.level.steady[[of.flat.node_row[id_] for id_, _ in rows]], run.end_time

    flow, level = [], []
    for key in list(plan.inflow)[:: max(1, len(plan.inflow) // 9)][:9]:
        q, h, until = peaks(plan, key)
        exact, stands, _ = peaks(finer, key, until)
        seen = exact > 0.02 * exact.max()
        flow.append((np.abs(q - exact) / np.maximum(exact, 1e-9))[seen])
        level.append(np.abs(h - stands))
    flow_all, level_all = np.concatenate(flow) * 100, np.concatenate(level) * 1000
    return {
        "space_flow_p95_percent": float(np.percentile(flow_all, 95)), "space_flow_max_percent": float(flow_all.max()),
        "space_level_p95_mm": float(np.percentile(level_all, 95)), "space_level_max_mm": float(level_all.max()),
    }  # fmt: skip


def measure(project: Project, repeats: int, exact: bool) -> dict[str, float]:
    plan = make_plan(project)
    plan.simulate(next(iter(plan.inflow)))
    one, two = min(wall(plan, 1) for _ in range(repeats)), min(wall(plan, 2) for _ in range(repeats))
    began = time.perf_counter()
    runs = [plan.simulate(key) for key in plan.inflow]
    seconds = time.perf_counter() - began
    iterations = sum(run.iterations for run in runs)
    return {
        "storms": len(runs), "cells": plan.flat.grid.cells, "one_thread_s": one, "two_threads_s": two,
        "threads_ratio": one / two, "threads_to_processes": two / min(wall_of_processes(plan) for _ in range(repeats)),
        "steps": sum(r.steps for r in runs), "rejected": sum(r.rejected for r in runs),
        "iterations": iterations, "ns_per_cell_iteration": seconds / iterations / plan.flat.grid.cells * 1e9,
        "us_per_cell_step": seconds / sum(r.steps for r in runs) / plan.flat.grid.cells * 1e6,
        "volume_error": max(abs(r.balance.error) for r in runs), **(accuracy(plan) | in_space(plan) if exact else {}),
    }  # fmt: skip


def edit_to_margins(project: Project, edits: int = 12) -> list[float]:
    """Seconds from a changed diameter to all margins: validate, flatten, runoff, every storm, verdict."""
    document = project.model_dump(mode="json")
    network = next(iter(document["options"].values()))["network"]
    pipes = [link for link in network["links"].values() if link["kind"] == "pipe"]
    seconds = []
    with ThreadPoolExecutor(2) as executor:
        for pipe in pipes[:edits]:
            pipe["roughness"] *= 1.02
            began = time.perf_counter()
            changed = parse_project(document)
            plan = make_plan(changed)
            figures = {f.key: f for f in run_plan(plan, plan.inflow, submit_to(executor))}
            judge(plan.criteria, plan.network, plan.storms, figures)
            seconds.append(time.perf_counter() - began)
    return seconds


def check_latency(project: Project, repeats: int = 9) -> dict[str, float]:
    """Milliseconds in which every check of a project is done, the fastest of several."""
    marks = []
    for _ in range(repeats):
        began = time.perf_counter()
        found = len(judged(project))
        marks.append(time.perf_counter() - began)
    return {"checks_ms": min(marks) * 1e3, "findings": found}


def show(column: str, found: dict[str, float]) -> None:
    """Print figures as soon as they are known."""
    table = Table("figure", column)
    for key, value in found.items():
        table.add_row(key, f"{value:.4g}")
    Console(width=80).print(table)


def solver(sizes: list[int], repeats: int, exact: bool) -> Iterator[tuple[str, dict[str, float]]]:
    """Speed of whole ensembles, and accuracy in time and in space, on the demos and on generated networks."""
    for name in DEMOS:
        yield name, measure(demo(name), repeats, exact)
    for pipes in sizes:
        if pipes < 1000:
            yield str(pipes), measure(generated(pipes), repeats, exact)
        else:  # once on two threads: the whole part is to end within three minutes
            plan = make_plan(generated(pipes))
            yield str(pipes), {"cells": plan.flat.grid.cells, "two_threads_s": wall(plan, 2)}


def edits(_sizes: list[int], _repeats: int, _exact: bool) -> Iterator[tuple[str, dict[str, float]]]:
    """From a changed value to every margin, in the core; the checks; the share of runoff."""
    yield DEMOS[0], {"edit_to_margins_p95_s": float(np.percentile(edit_to_margins(demo(DEMOS[0])), 95))}
    yield "1000", check_latency(generated(1000)) | runoff_share(generated(1000))


def stiff(_sizes: list[int], _repeats: int, _exact: bool) -> Iterator[tuple[str, dict[str, float]]]:
    """Against a general stiff solver."""
    yield "40", against_stiff(make_plan(generated(40)))


def screen(_sizes: list[int], _repeats: int, _exact: bool) -> Iterator[tuple[str, dict[str, float]]]:
    """In the browser: an edit, a plan of many pipes."""
    first, whole = np.percentile(edit_on_screen(), 95, axis=0)
    yield DEMOS[0], {"edit_to_provisional_p95_s": float(first), "edit_to_screen_p95_s": float(whole)}
    yield from zip(("1000", "5000"), plan_frames([generated(1000), generated(5000)]), strict=True)


def reader(_sizes: list[int], _repeats: int, _exact: bool) -> Iterator[tuple[str, dict[str, float]]]:
    """In the browser: reading results of many storms of large networks."""
    for pipes, storms in ((200, 54), (1000, 270)):
        yield str(pipes), reading(generated(pipes), storms)


def exchange(_sizes: list[int], _repeats: int, _exact: bool) -> Iterator[tuple[str, dict[str, float]]]:
    """LandXML of 10,000 pipes, out and in."""
    yield "10000", landxml_round(generated(10_000), generated(1))


def queue(_sizes: list[int], _repeats: int, _exact: bool) -> Iterator[tuple[str, dict[str, float]]]:
    """An edit of a project of four storms behind the run of 270 storms on 1,000 pipes."""
    small, large = demo(DEMOS[0]).model_dump(mode="json"), generated(1000).model_dump(mode="json")
    small["rain"]["ensemble"].update(durations=[15, 60], probabilities=[{"return_period": 30}])
    large["rain"]["ensemble"]["probabilities"] = [{"return_period": float(t)} for t in range(2, 17)]
    yield DEMOS[0], behind_a_run(parse_project(small), parse_project(large))


def design(_sizes: list[int], _repeats: int, _exact: bool) -> Iterator[tuple[str, dict[str, float]]]:
    """Searches: pipes sized, a pond fitted, single changes, a repair, a trial by hand."""
    yield "200", sized(generated(200))
    yield DEMOS[0], dict(fitted(demo(DEMOS[0]), "P1"))


def reports(_sizes: list[int], _repeats: int, _exact: bool) -> Iterator[tuple[str, dict[str, float]]]:
    """Report, workbook and GeoPackage of the demo and of 1,000 pipes under 54 storms."""
    yield DEMOS[0], dict(reporting(demo(DEMOS[0])))
    yield "1000", dict(reporting(generated(1000)))


def order(_sizes: list[int], _repeats: int, _exact: bool) -> Iterator[tuple[str, dict[str, float]]]:
    """Storms that run first after an edit: how often what they say is final."""
    for name in DEMOS:
        yield name, dict(provisional(demo(name)))


PARTS = {
    "reports": reports,
    "design": design,
    "order": order,
    "queue": queue,
    "solver": solver,
    "edits": edits,
    "stiff": stiff,
    "screen": screen,
    "reader": reader,
    "exchange": exchange,
}


def main(
    parts: Annotated[list[str] | None, typer.Argument(help=f"of {', '.join(PARTS)}; all when none is named")] = None,
    sizes: Annotated[list[int], typer.Option(help="pipes of generated networks")] = [40, 200, 1000],  # noqa: B006
    repeats: Annotated[int, typer.Option(help="runs of which the fastest counts")] = 2,
    no_accuracy: Annotated[bool, typer.Option("--no-accuracy", help="skip the runs on finer steps and cells")] = False,
    out: Path = ROOT / "out" / "bench.json",
) -> None:
    """Measure speed and accuracy."""
    unknown = set(parts or []) - set(PARTS)
    if unknown:
        raise typer.BadParameter(f"no part {', '.join(sorted(unknown))}; choose from {', '.join(PARTS)}")
    out.parent.mkdir(parents=True, exist_ok=True)
    results: dict[str, dict[str, float]] = {}
    for part in parts or PARTS:
        began = time.perf_counter()
        for column, found in PARTS[part](sizes, repeats, not no_accuracy):
            show(column, found)
            results.setdefault(column, {}).update(found)
            out.write_text(json.dumps(results, indent=1) + "\n", encoding="utf-8")
        print(f"{part}: {time.perf_counter() - began:.0f} s", flush=True)


if __name__ == "__main__":
    typer.run(main)
