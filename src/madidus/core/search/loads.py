"""What if: more rain, more paved ground; and how much more before a rule breaks."""

from collections.abc import Callable, Collection
from dataclasses import dataclass
from uuid import UUID, uuid5

from ..elements import Outfall
from ..ensemble import Plan, Submit, make_plan
from ..errors import ModelError
from ..model.network import Catchment
from ..model.project import Project
from .trials import Trials, Tried

__all__ = ["Capacity", "Load", "WhatIf", "capacity", "what_if"]

Load = str
"""'rain', or the id of a node at which new paved ground is led in."""

_NEW = UUID("6f6f5d0e-5f0a-4a7d-9b0e-6f4b6f0f5a11")
_FIRST, _MOST_RAIN, _MOST_PAVED = 0.25, 8.0, 1e7  # share of the rain; times it; m2
_FIRST_PAVED = 500.0  # m2
_CLOSE = 0.002


@dataclass(frozen=True)
class WhatIf:
    """rain : by how much more falls in every storm, 0.1 = +10 %. creep : by how much paved ground grows, as a share of
    it, over what the project has already. paved : m2 of new paved ground that is led into `node`.
    """

    rain: float = 0.0
    creep: float = 0.0
    paved: float = 0.0
    node: str = ""


def what_if(project: Project, what: WhatIf) -> Plan:
    """The plan of a project as it would be.

    Raises
    ------
    ModelError
        As `make_plan`; when new ground is led to what is no node.
    """
    option, rain = project.option, project.rain
    network = option.network
    catchments = dict(network.catchments)
    if what.creep:
        rain = rain.model_copy(
            update={"runoff": rain.runoff.model_copy(update={"creep": _grown(rain.runoff.creep, what.creep)})}
        )
        catchments = {
            id_: one if one.creep is None else one.model_copy(update={"creep": _grown(one.creep, what.creep)})
            for id_, one in catchments.items()
        }  # fmt: skip
    if what.paved:
        node = network.nodes.get(what.node)
        if node is None or isinstance(node, Outfall):
            raise ModelError("capacity", "new paved area", "is led to no node", "choose a manhole or a store for it")
        new = Catchment(name="new paved ground", area=what.paved, impervious=1.0, creep=0.0, node=what.node)
        catchments[str(uuid5(_NEW, what.node))] = new
    network = network.model_copy(update={"catchments": catchments})
    seen = project.model_copy(
        update={
            "rain": rain,
            "options": {**project.options, project.in_view: option.model_copy(update={"network": network})},
        }
    )
    return make_plan(seen, 1.0 + what.rain)


def _grown(before: float, by: float) -> float:
    return (1.0 + before) * (1.0 + by) - 1.0


@dataclass(frozen=True)
class Capacity:
    """load : what was raised. most : that holds, as a share more rain or in m2 of paved ground; beyond : the least that
    was seen to break a rule, None where nothing did up to `most`. rule : that breaks there, in which storm, where.
    """

    load: Load
    most: float
    beyond: float | None
    rule: str
    storm: str
    element: str


def capacity(
    project: Project, load: Load, rules: Collection[tuple[int, int]], submit: Submit,
    stop: Callable[[], bool] = lambda: False, tell: Callable[[float, bool], None] = lambda _load, _holds: None,
) -> Capacity:  # fmt: skip
    """The largest load that breaks none of some rules, over all storms that they judge; to 0.2 % of it.

    tell : hears of every load, and whether all rules held.

    Raises
    ------
    ModelError
        When a rule is broken as it is; as `what_if`.
    Stopped
        When it was stopped.
    """

    def tried(more: float) -> tuple[Tried, Trials]:
        what = WhatIf(rain=more) if load == "rain" else WhatIf(paved=more, node=load)
        trials = Trials(what_if(project, what), rules, submit, stop)
        found = trials.run(trials.drawn)
        tell(more, found.holds)
        return found, trials

    first, trials = tried(0.0)
    if not first.holds:
        worst = first.worst
        name = trials.criteria[worst[0][0]].name if worst else "a storm"
        raise ModelError(
            f"rule {name}", "capacity", first.problem or "is broken as it is, without any more",
            "mend it first, or leave it out",
        )  # fmt: skip
    low, high, most = 0.0, _FIRST if load == "rain" else _FIRST_PAVED, _MOST_RAIN if load == "rain" else _MOST_PAVED
    at_low = first.least
    while True:
        found, trials = tried(high)
        if not found.holds:
            break
        low, at_low = high, found.least
        if high >= most:
            return Capacity(load, low, None, "", "", "")
        high = min(2.0 * high, most)
    broken, at_high, side = found, found.least, 0
    close = _CLOSE if load == "rain" else max(_CLOSE * high, 1.0)
    while high - low > close:  # false position (Illinois), which brackets
        part = at_low / (at_low - at_high) if at_low > at_high else 0.5
        middle = low + (high - low) * min(max(part, 0.05), 0.95)
        found, trials = tried(middle)
        if found.holds:
            low, at_low = middle, found.least
            at_high, side = at_high * (0.5 if side == 1 else 1.0), 1
        else:
            high, at_high, broken = middle, found.least, found
            at_low, side = at_low * (0.5 if side == -1 else 1.0), -1
    assert broken.worst is not None
    (place, storm), margin = broken.worst
    return Capacity(load, low, high, trials.criteria[place].name, storm, margin.element)
