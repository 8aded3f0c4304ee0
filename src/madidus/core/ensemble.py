"""From storms to figures: every storm of the ensemble through the network, over an executor."""

import hashlib
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping
from concurrent.futures import Executor, Future, as_completed
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from .figures import Figures, Reduction
from .grid import OnFiner, with_bands
from .hydraulics.flatten import flatten
from .hydraulics.inflow import Inflow
from .hydraulics.layout import Flattened
from .hydraulics.simulate import NotSettled, Start, StormRun, settle, simulate
from .model.brief import Criterion
from .model.network import Network
from .model.project import Project
from .model.run import RunControl
from .permit import in_use
from .rainfall.storms import Storm
from .runoff.gather import base_flows
from .runoff.interval import RainInterval
from .runoff.storms import storm_runoff
from .series import Layout, StormSeries
from .verdict import Verdict, judge

__all__ = ["Cells", "Failure", "Plan", "Record", "make_plan", "run_plan", "run_storm"]

Record = Callable[[str, StormSeries], None]
_BATCH = 2  # storms that a thread takes at once


@dataclass(frozen=True)
class Failure:
    """A storm that could not be computed, and why."""

    key: str
    element: str
    problem: str


@dataclass(frozen=True)
class Cells:
    """How finely a network is cut: the longest cell of a conduit, m (two cells at least in each), and cells in all."""

    longest: float
    count: int


@dataclass(frozen=True)
class Plan:
    """A flattened network with its storms, ready to run. `digests` names each result by what the solver sees."""

    network: Network
    flat: Flattened
    storms: list[Storm]
    interval: RainInterval  # longest of the storms that are made of shapes
    criteria: list[Criterion]  # with the limits that are in use
    problems: dict[int, str]  # by place of a criterion, why its limit could not be computed
    inflow: dict[str, Inflow]
    digests: dict[str, str]
    reduction: Reduction
    layout: Layout
    control: RunControl
    start: Start | None  # the state that base flows and waters of different levels make; None: at rest

    def simulate(self, key: str, **recording: Any) -> StormRun:
        """One storm by the project's rules.

        recording : `until`, `follow` and `finer` of `simulate`.
        """
        control = self.control
        return simulate(
            self.flat, self.inflow[key], start=self.start,
            receded=control.receded, lag=control.lag, drained=control.drained, **recording,
        )  # fmt: skip

    def verdicts(
        self, figures: Mapping[str, Figures], failed: Collection[str] = (), finer: OnFiner | None = None,
        before: Collection[str] = (),
    ) -> list[Verdict]:  # fmt: skip
        """Every rule by the storms that are in, with what the grid is worth where that is known.

        failed : keys of storms that could not be computed. finer : figures of some storms on finer cells. before : keys
        of the storms that governed before an edit.
        """
        finer = finer or OnFiner()

        def judged(by: Mapping[str, Figures]) -> list[Verdict]:
            return judge(self.criteria, self.network, self.storms, by, failed, self.problems, before)

        refined = {key: value for key, value in finer.quarter.items() if key in figures}
        found = judged({**figures, **refined})
        return with_bands(found, judged(finer.half), judged(refined), finer) if finer.half else found

    def finer(self, parts: int) -> "Plan":
        """The same storms on cells cut into so many parts."""
        flat = flatten(self.network, self.control.spacing, parts)
        base = base_flows(self.network)
        return replace(
            self, flat=flat, start=settle(flat, Inflow.steady(base)).end if self.start else None,
            digests={key: _digest(flat, value, self.control, base) for key, value in self.inflow.items()},
            reduction=Reduction(self.network, flat), layout=Layout(self.network, flat),
        )  # fmt: skip

    def missing(self, figures: Collection[str], failed: Collection[str] = ()) -> str:
        """Which storms are not in, in words: '36 of 54 storms are in, 2 failed'; empty when all are."""
        there, due = sum(s.key in figures for s in self.storms), len(self.storms)
        lost = sum(s.key in failed and s.key not in figures for s in self.storms)
        if there == due:
            return ""
        return f"{there} of {due} storms are in" + (f", {lost} failed" if lost else "")

    def deepest(self, figures: Mapping[str, Figures]) -> dict[str, tuple[float, str]]:
        """By id of nodes that flood: m of water above the cover at the most, and the storm's label."""
        found: dict[str, tuple[float, str]] = {}
        for storm in self.storms:
            if storm.key in figures:
                over = figures[storm.key].level - self.reduction.open_cover
                for i in np.nonzero(over > 0.0)[0]:
                    id_ = self.nodes[i]
                    if over[i] > found.get(id_, (0.0, ""))[0]:
                        found[id_] = (float(over[i]), storm.label)
        return found

    @property
    def cells(self) -> Cells:
        """On which grid the storms are computed."""
        return Cells(self.control.spacing, self.flat.grid.cells)

    @property
    def nodes(self) -> list[str]:
        """Node ids in the order of the figures."""
        return self.reduction.nodes

    @property
    def links(self) -> list[str]:
        return self.reduction.links


def make_plan(project: Project) -> Plan:
    """Flatten the project's network and compute the runoff of every storm.

    Raises
    ------
    ModelError
        When the network or the ensemble cannot be computed.
    """
    network = project.option.network
    flat = flatten(network, project.run.spacing)
    runoff = storm_runoff(network, project.rain)
    base = base_flows(network)
    start = settle(flat, Inflow.steady(base)).end if base or not flat.at_rest else None
    digests = {key: _digest(flat, value, project.run, base) for key, value in runoff.inflow.items()}
    return Plan(
        network, flat, runoff.storms, runoff.interval, *in_use(project), runoff.inflow, digests,
        Reduction(network, flat), Layout(network, flat), project.run, start,
    )  # fmt: skip


def _digest(flat: Flattened, inflow: Inflow, control: RunControl, base: dict[str, float]) -> str:
    h = hashlib.sha256(flat.digest.encode())
    h.update(control.model_dump_json().encode())
    h.update(repr([(flat.node_row[node], flow) for node, flow in sorted(base.items())]).encode())
    h.update(inflow.times.tobytes())
    h.update(inflow.flow.tobytes())
    h.update(inflow.after.tobytes())
    h.update(np.array([flat.node_row[node] for node in inflow.nodes]).tobytes())
    return h.hexdigest()


def run_storm(plan: Plan, key: str, record: Record | None = None) -> Figures | Failure:
    """One storm, reduced; a storm that does not settle becomes a failure and leaves the others alone."""
    try:
        if record is None:
            return plan.reduction.figures(key, plan.simulate(key))
        run = plan.simulate(key, follow=plan.layout.follow)
        record(key, plan.layout.take(run))
        return plan.reduction.figures(key, run)
    except NotSettled as error:
        return Failure(key, error.element, f"{error.problem}; {error.remedy}")


def _run_batch(plan: Plan, keys: list[str], stop: Callable[[], bool], record: Record | None) -> list[Figures | Failure]:
    results = []
    for key in keys:
        if stop():
            break
        results.append(run_storm(plan, key, record))
    return results


def run_plan(
    plan: Plan, keys: Iterable[str], executor: Executor, stop: Callable[[], bool] = lambda: False,
    record: Record | None = None, first: Collection[str] = (),
) -> Iterator[Figures | Failure]:  # fmt: skip
    """Run storms, longest first, and yield each as it ends. `stop` ends the run after storms under way.

    record : takes the series of each storm, in the thread that ran it. first : keys of storms to run before others.
    """
    by_key = {storm.key: storm for storm in plan.storms}
    ordered = sorted(keys, key=lambda key: -by_key[key].duration)
    ahead, others = [key for key in ordered if key in first], [key for key in ordered if key not in first]
    batches = [[key] for key in ahead] + [others[i : i + _BATCH] for i in range(0, len(others), _BATCH)]
    futures: list[Future[list[Figures | Failure]]] = [
        executor.submit(_run_batch, plan, b, stop, record) for b in batches
    ]
    for future in as_completed(futures):
        yield from future.result()
