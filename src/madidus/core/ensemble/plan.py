"""What there is to compute for an option of a project, and what is made of it: storms, jobs, verdicts."""

import hashlib
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ..elements.figures import Figures
from ..hydraulics.inflow import Inflow
from ..hydraulics.layout import Flattened
from ..hydraulics.simulate import StormRun
from ..model.network import Network
from ..model.project import Project
from ..model.run import RunControl
from ..rainfall.storms import Storm
from ..results.computed import Computed
from ..results.elements import ElementResults, element_results
from ..results.patterns import Statistic
from ..results.reduction import Reduction
from ..results.series import Layout, Quantity, StormSeries
from ..results.whole_run import WholeRun, whole_run
from ..results.worst import LinkWorst, NodeWorst, worst_links, worst_nodes
from ..rules import Demand
from ..rules.kinds import WaterBelowCover
from ..runoff.gather import base_flows
from ..runoff.interval import RainInterval
from ..runoff.storms import storm_runoff
from ..verdicts import Criterion, ElementMargin, Verdict, by_element, criteria, demand, judge
from .cases import Idle, cases, in_case
from .convergence import OnFiner, with_bands
from .job import Hydraulics, Job, hydraulics_of, new_hydraulics

__all__ = ["Cells", "Plan", "make_plan"]


@dataclass(frozen=True)
class Cells:
    """How finely a network is cut: the longest cell of a conduit, m (two cells at least in each), and cells in all."""

    longest: float
    count: int


@dataclass(frozen=True)
class Plan:
    """A flattened network with its storms, ready to run. `digests` names each result by what the solver sees.

    demands : what rules ask of the run of each storm, by key; idle : pumps that do not run in it.
    """

    network: Network
    hydraulics: Hydraulics
    storms: list[Storm]
    interval: RainInterval  # longest of the storms that are made of shapes
    criteria: list[Criterion]  # with the limits that are in use
    inflow: dict[str, Inflow]
    demands: dict[str, Demand]
    idle: dict[str, Idle]
    digests: dict[str, str]
    layout: Layout
    control: RunControl

    @property
    def flat(self) -> Flattened:
        """The network as the solver takes it."""
        return self.hydraulics.flat

    @property
    def reduction(self) -> Reduction:
        """What turns runs into figures."""
        return self.hydraulics.reduction

    def simulate(self, key: str, **recording: Any) -> StormRun:
        """One storm by the project's rules. recording : `until`, `follow` and `finer` of `simulate`."""
        return self.hydraulics.simulate(self.inflow[key], self.demands[key], self.idle[key], **recording)

    def job(self, key: str, recorded: bool = False) -> Job:
        """What computes a storm. recorded : its series are wanted."""
        return Job(key, self.digests[key], self.inflow[key], recorded, self.demands[key], self.idle[key])

    def series(self, key: str, until: float | None = None) -> StormSeries:
        """The series of a storm, computed now. until : s, where its end is known."""
        return self.layout.take(self.simulate(key, follow=self.layout.follow, until=until))

    def trace(self, key: str, element: str, quantity: Quantity, time: np.ndarray, values: np.ndarray) -> np.ndarray:
        """A quantity of an element over a storm's times (s). values : of the columns that `Layout.needed` names."""
        found = self.layout.derive(element, quantity, values)
        return found + self.inflow[key].at(element, time) if quantity == "entering" else found

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
            return judge(self.criteria, self.network, self.storms, by, failed, before)

        refined = {key: value for key, value in finer.quarter.items() if key in figures}
        found = judged({**figures, **refined})
        return with_bands(found, judged(finer.half), judged(refined), finer) if finer.half else found

    def highest_along(self, links: Iterable[str], figures: Sequence[Figures]) -> dict[str, np.ndarray]:
        """The highest water along conduits over storms that are in, m, at the chainages of `Profiles`; none of none."""
        profiles = self.layout.profiles
        conduits = [id_ for id_ in links if id_ in self.flat.pipe_rows] if figures else []
        return {id_: profiles.highest(id_, self.reduction, figures) for id_ in conduits}

    def by_element(self, k: int, figures: Mapping[str, Figures]) -> list[ElementMargin]:
        """The least margin of every element that a criterion (by its place) looks at, the least first.

        Raises
        ------
        NotMeasured
            When the criterion has nothing to look at.
        """
        return by_element(self.criteria[k], self.network, self.storms, figures)

    def finer(self, parts: int) -> "Plan":
        """The same storms on cells cut into so many parts."""
        return self._of(self.network, hydraulics_of(self.network, self.control, parts))

    def tried(self, network: Network) -> "Plan":
        """The same storms through another network, whose nodes take the same water: stores, controls and conduits are
        all that may differ.

        Raises
        ------
        ModelError
            When the network cannot be computed.
        """
        return self._of(network, new_hydraulics(network, self.control))

    def _of(self, network: Network, hydraulics: Hydraulics) -> "Plan":
        base = base_flows(network)
        return replace(
            self, network=network, hydraulics=hydraulics, layout=Layout(network, hydraulics.flat),
            digests={
                key: _digest(hydraulics.flat, inflow, self.demands[key], self.idle[key], self.control, base)
                for key, inflow in self.inflow.items()
            },
        )  # fmt: skip

    def missing(self, figures: Collection[str], failed: Collection[str] = ()) -> str:
        """Which storms are not in, in words: '36 of 54 storms are in, 2 failed'; empty when all are."""
        there, due = sum(s.key in figures for s in self.storms), len(self.storms)
        lost = sum(s.key in failed and s.key not in figures for s in self.storms)
        if there == due:
            return ""
        return f"{there} of {due} storms are in" + (f", {lost} failed" if lost else "")

    def computed(self, figures: Mapping[str, Figures]) -> Computed:
        """Its network with the figures of the storms that are in, by key."""
        return Computed(self.network, self.flat, self.reduction, figures)

    @property
    def near_cover(self) -> float:
        """m below its cover, from where a level is a flood risk: the most that a rule asks for."""
        return max((c.value for c in self.criteria if isinstance(c.rule, WaterBelowCover) and c.asked), default=0.0)

    def element_results(
        self, figures: Mapping[str, Figures], storms: Sequence[Storm], by: Statistic = "highest"
    ) -> ElementResults:
        """What every element does over some of its storms. figures : of those that are in, by key."""
        return element_results(self.computed(figures), storms, self.near_cover, by)

    def worst(self, figures: Mapping[str, Figures]) -> tuple[dict[str, NodeWorst], dict[str, LinkWorst]]:
        """The worst of every node and every link over the storms that are in, by id."""
        of = self.computed(figures)
        return worst_nodes(of, self.near_cover), worst_links(of)

    def whole_run(self, figures: Mapping[str, Figures]) -> WholeRun:
        """What the whole run says of elements. figures : of the storms that are in, by key."""
        return whole_run(self.computed(figures), self.storms, self.inflow)

    @property
    def judged(self) -> frozenset[str]:
        """Keys of the storms that a rule judges."""
        return frozenset(s.key for s in self.storms if any(one.judges(s) for one in self.criteria))

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
        """Link ids in the order of the figures."""
        return self.reduction.links


def make_plan(project: Project, times: float = 1.0) -> Plan:
    """Flatten the project's network and compute the runoff of every storm. times : as much rain as the project has.

    Raises
    ------
    ModelError
        When the network or the ensemble cannot be computed.
    """
    network = project.option.network
    hydraulics = hydraulics_of(network, project.run)
    runoff = storm_runoff(network, project.rain, times)
    asked, base = criteria(project), base_flows(network)
    storms: list[Storm] = []
    inflow, demands, idle, digests = {}, {}, {}, {}
    for case in cases(network):
        for plain in runoff.storms:
            storm = in_case(plain, case)
            if storm.key in project.rain.excluded:
                continue
            storms.append(storm)
            inflow[storm.key], idle[storm.key] = runoff.inflow[plain.key], case.idle
            demands[storm.key] = demand(asked, storm)
            digests[storm.key] = _digest(
                hydraulics.flat, inflow[storm.key], demands[storm.key], case.idle, project.run, base
            )
    return Plan(
        network, hydraulics, storms, runoff.interval, asked, inflow, demands, idle, digests,
        Layout(network, hydraulics.flat), project.run,
    )  # fmt: skip


def _digest(
    flat: Flattened, inflow: Inflow, asked: Demand, idle: Idle, control: RunControl, base: dict[str, float]
) -> str:
    h = hashlib.sha256(flat.digest.encode())
    h.update(control.model_dump_json().encode())
    h.update(repr((asked.marks, asked.after, idle)).encode())
    h.update(repr([(flat.node_row[node], flow) for node, flow in sorted(base.items())]).encode())
    h.update(inflow.digest.encode())
    h.update(np.array([flat.node_row[node] for node in inflow.nodes]).tobytes())
    return h.hexdigest()
