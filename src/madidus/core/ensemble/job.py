"""One storm through one network: what a thread, a process or another machine needs for it, and what it gives back."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from ..elements.figures import Figures
from ..hydraulics.flatten import flatten
from ..hydraulics.inflow import Inflow
from ..hydraulics.layout import Flattened
from ..hydraulics.simulate import NotSettled, Start, StormRun, settle, simulate
from ..hydraulics.version import SOLVER
from ..model.network import Network
from ..model.run import RunControl
from ..numerics.kept import Kept
from ..results.reduction import Reduction
from ..results.series import Layout, StormSeries, recorded
from ..rules import Demand
from ..runoff.gather import base_flows
from .cases import Idle, cases

__all__ = ["Failure", "Hydraulics", "Job", "Outcome", "hydraulics_of", "new_hydraulics", "run_job"]

_NOTHING = Demand()
_KEPT = 4  # networks as the solver sees them; 3 MB for 1,250 pipes


@dataclass(frozen=True, eq=False)
class Hydraulics:
    """A network as the solver sees it: the same for every storm, plain arrays, so that it travels once.

    start : the state that base flows and waters of different levels make; None: at rest. followed : rows of levels and
    faces of flows whose series are recorded. solver : fingerprint of the solver that it was made for.
    """

    flat: Flattened
    start: Start | None
    receded: float
    lag: float
    drained: float
    reduction: Reduction
    followed: tuple[np.ndarray, np.ndarray]
    solver: str = SOLVER

    def simulate(self, inflow: Inflow, demand: Demand = _NOTHING, idle: Idle = (), **recording: Any) -> StormRun:
        """One storm. demand : what rules ask of its run. idle : pumps that do not run. recording : `until`, `follow`
        and `finer` of `simulate`.
        """
        return simulate(
            self.flat, inflow, start=self.start,
            receded=self.receded, lag=self.lag, drained=self.drained,
            marks=demand.marks, after=demand.after, idle=idle, **recording,
        )  # fmt: skip


@dataclass(frozen=True)
class Job:
    """A storm to compute. key : of the storm. digest : of what the solver sees. recorded : its series are wanted.

    demand : what rules ask of its run. idle : pumps that do not run.
    """

    key: str
    digest: str
    inflow: Inflow
    recorded: bool = False
    demand: Demand = _NOTHING
    idle: Idle = ()


@dataclass(frozen=True)
class Failure:
    """A storm that could not be computed, and why. element : id, empty where it is the storm as a whole.

    trace : of an error that nobody foresaw, for the log.
    """

    key: str
    element: str
    problem: str
    trace: str = ""


@dataclass(frozen=True)
class Outcome:
    """Of a job: figures or why there are none, and the series as they were recorded."""

    result: Figures | Failure
    series: StormSeries | None = None


def run_job(hydraulics: Hydraulics, job: Job) -> Outcome:
    """Compute a storm and reduce it; one that does not settle is a failure of its own.

    Raises
    ------
    RuntimeError
        When this is another solver than the one that the network was made for: its results would be named wrongly.
    """
    if hydraulics.solver != SOLVER:
        raise RuntimeError(f"this is solver {SOLVER}, the job is for {hydraulics.solver}; install the same version")
    try:
        recording = {"follow": hydraulics.followed} if job.recorded else {}
        run = hydraulics.simulate(job.inflow, job.demand, job.idle, **recording)
    except NotSettled as error:
        return Outcome(Failure(job.key, error.element, f"{error.problem}; {error.remedy}"))
    figures = hydraulics.reduction.figures(job.key, run)
    return Outcome(figures, recorded(run, hydraulics.followed[1]) if job.recorded else None)


_kept: Kept[Hydraulics] = Kept(_KEPT)


def hydraulics_of(network: Network, control: RunControl, parts: int = 1) -> Hydraulics:
    """The network flattened, and settled where it does not begin at rest: worked out or remembered. Read only.

    parts : into how many each usual cell is cut.

    Raises
    ------
    ModelError
        When the network cannot be computed.
    """
    # the catchments reach the solver as inflow alone
    seen = Network.model_construct(nodes=network.nodes, links=network.links, catchments={})
    key = f"{parts} {control.model_dump_json()} {seen.model_dump_json()}"
    return _kept.get(key, lambda: new_hydraulics(seen, control, parts))


def new_hydraulics(network: Network, control: RunControl, parts: int = 1) -> Hydraulics:
    """The same, worked out and not remembered: for networks that are tried once.

    Raises
    ------
    ModelError
        When the network cannot be computed.
    """
    flat = flatten(network, control.spacing, parts)
    base = base_flows(network)
    usual = cases(network)[0].idle
    start = settle(flat, Inflow.steady(base), idle=usual).end if base or not flat.at_rest else None
    return Hydraulics(
        flat,
        start,
        control.receded,
        control.lag,
        control.drained,
        Reduction(network, flat),
        Layout(network, flat).follow,
    )
