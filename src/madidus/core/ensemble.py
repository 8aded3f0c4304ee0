"""From storms to figures: every storm of the ensemble through the network, over an executor."""

import hashlib
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import Executor, Future, as_completed
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from .hydraulics.flatten import flatten
from .hydraulics.layout import DEPTH, VOLUME_AT, Flattened
from .hydraulics.simulate import Inflow, NotSettled, StormRun, simulate
from .model.network import Network, Outfall, Pipe
from .model.project import Project
from .rainfall.storms import Storm, ensemble
from .runoff.catchments import inflows

__all__ = ["Failure", "Figures", "Plan", "figures_of", "make_plan", "run_plan"]


@dataclass(frozen=True)
class Figures:
    """What is kept of a storm. Node and link arrays follow the sorted ids; 10-second means where peaks are judged.

    level : m; level_time : s; flooded : m3 greatest above (or lost over) the cover; outflow : m3/s into an outfall,
    nan elsewhere; left : m3 into an outfall. flow : m3/s at the downstream end; speed : m/s; spare : m between the
    water and the soffit at its least (nan for controls), spare_time : s when that was.
    """

    key: str
    level: np.ndarray
    level_time: np.ndarray
    flooded: np.ndarray
    outflow: np.ndarray
    outflow_time: np.ndarray
    left: np.ndarray
    flow: np.ndarray
    flow_time: np.ndarray
    speed: np.ndarray
    spare: np.ndarray
    spare_time: np.ndarray
    summary: dict[str, float]


@dataclass(frozen=True)
class Failure:
    """A storm that could not be computed, and why."""

    key: str
    element: str
    problem: str


@dataclass(frozen=True)
class Plan:
    """A flattened network with its storms, ready to run. `digests` names each result by what the solver sees."""

    network: Network
    flat: Flattened
    storms: list[Storm]
    inflow: dict[str, Inflow]
    digests: dict[str, str]
    nodes: list[str] = field(default_factory=list)
    links: list[str] = field(default_factory=list)


def make_plan(project: Project) -> Plan:
    """Flatten the project's network and compute the runoff of every storm.

    Raises
    ------
    ModelError
        When the network or the ensemble cannot be computed.
    """
    network = project.option.network
    flat = flatten(network)
    storms = ensemble(project.rain)
    inflow = {storm.key: inflows(network, project.rain.runoff, storm) for storm in storms}
    digests = {key: _digest(flat, value) for key, value in inflow.items()}
    return Plan(network, flat, storms, inflow, digests, sorted(network.nodes), sorted(network.links))


def _digest(flat: Flattened, inflow: Inflow) -> str:
    h = hashlib.sha256(flat.digest.encode())
    h.update(inflow.times.tobytes())
    h.update(inflow.flow.tobytes())
    h.update(np.array([flat.node_row[node] for node in inflow.nodes]).tobytes())
    return h.hexdigest()


def figures_of(plan: Plan, key: str, run: StormRun) -> Figures:
    """Reduce a run to the figures that are kept."""
    flat, network, peaks = plan.flat, plan.network, run.peaks
    grid = flat.grid
    faces = grid.left.size
    nodes = {
        name: np.full(len(plan.nodes), np.nan) for name in ["level", "level_time", "outflow", "outflow_time", "left"]
    }
    flooded = np.zeros(len(plan.nodes))
    cell_of_row = {int(row): c for c, row in enumerate(grid.node_row)}
    for i, id_ in enumerate(plan.nodes):
        row, node = flat.node_row[id_], network.nodes[id_]
        if isinstance(node, Outfall):
            k = faces + row - grid.cells
            nodes["outflow"][i] = peaks.flow.steady[k]
            nodes["outflow_time"][i] = peaks.flow.when[k]
            nodes["left"][i] = peaks.passed[k]
            continue
        nodes["level"][i] = peaks.level.steady[row]
        nodes["level_time"][i] = peaks.level.when[row]
        if id_ in flat.spill_face:
            flooded[i] = peaks.passed[flat.spill_face[id_]]
        elif peaks.level.steady[row] > node.cover:
            c = cell_of_row[row]
            table = slice(int(grid.node_table[c]), int(grid.node_table[c + 1]))
            at_cover = np.interp(node.cover - node.invert, grid.node[DEPTH, table], grid.node[VOLUME_AT, table])
            flooded[i] = max(0.0, peaks.volume[row] - at_cover)
    links = {name: np.full(len(plan.links), np.nan) for name in ["flow", "flow_time", "speed", "spare", "spare_time"]}
    for i, id_ in enumerate(plan.links):
        link = network.links[id_]
        if not isinstance(link, Pipe):
            k = flat.control_face[id_]
            links["flow"][i], links["flow_time"][i] = peaks.flow.steady[k], peaks.flow.when[k]
            continue
        first, last = flat.pipe_faces[id_]
        links["flow"][i], links["flow_time"][i] = peaks.flow.steady[last], peaks.flow.when[last]
        links["speed"][i] = peaks.speed[first : last + 1].max()
        spare, when = _spare(link, flat, peaks, flat.pipe_rows[id_])
        links["spare"][i], links["spare_time"][i] = spare, when
    summary = {
        "entered": run.balance.entered, "left": run.balance.left, "lost": run.balance.lost,
        "stored": run.balance.after - run.balance.before, "balance_error": run.balance.error,
        "end_time": run.end_time, "steps": run.steps, "rejected": run.rejected, "iterations": run.iterations,
        "smallest_step": run.smallest_step, "oscillation": float(peaks.level.zigzag.max(initial=0.0)),
        "oscillation_row": int(peaks.level.zigzag.argmax()) if peaks.level.zigzag.size else -1,
    }  # fmt: skip
    return Figures(key, **nodes, flooded=flooded, **links, summary=summary)


def _spare(pipe: Pipe, flat: Flattened, peaks: Any, rows: list[int]) -> tuple[float, float]:
    """Least distance from water to soffit, in the pipe's cells and at its nodes, and when."""
    inverts = np.linspace(pipe.upstream_invert, pipe.downstream_invert, len(rows) + 1)
    soffits = 0.5 * (inverts[1:] + inverts[:-1]) + pipe.section.height
    places = list(zip(rows, soffits, strict=True))
    for node, invert in ((pipe.upstream, pipe.upstream_invert), (pipe.downstream, pipe.downstream_invert)):
        if flat.node_row[node] < flat.grid.cells:
            places.append((flat.node_row[node], invert + pipe.section.height))
    spares = [(float(soffit - peaks.level.steady[row]), float(peaks.level.when[row])) for row, soffit in places]
    return min(spares)


def run_storm(plan: Plan, key: str) -> Figures | Failure:
    """One storm, reduced; a storm that does not settle becomes a failure and leaves the others alone."""
    try:
        return figures_of(plan, key, simulate(plan.flat, plan.inflow[key]))
    except NotSettled as error:
        return Failure(key, error.element, f"{error.problem}; {error.remedy}")


def _run_batch(plan: Plan, keys: list[str], stop: Callable[[], bool]) -> list[Figures | Failure]:
    results = []
    for key in keys:
        if stop():
            break
        results.append(run_storm(plan, key))
    return results


def run_plan(
    plan: Plan, keys: Iterable[str], executor: Executor, stop: Callable[[], bool] = lambda: False, batch: int = 2
) -> Iterator[Figures | Failure]:
    """Run storms in batches, longest first, and yield each as it ends. `stop` ends the run after storms under way."""
    by_key = {storm.key: storm for storm in plan.storms}
    ordered = sorted(keys, key=lambda key: -by_key[key].duration)
    batches = [ordered[i : i + batch] for i in range(0, len(ordered), batch)]
    futures: list[Future[list[Figures | Failure]]] = [executor.submit(_run_batch, plan, b, stop) for b in batches]
    for future in as_completed(futures):
        yield from future.result()
