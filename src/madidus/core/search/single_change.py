"""Which single change would mend a broken rule, each tried over the ensemble, ranked by effort."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal
from uuid import UUID, uuid5

import numpy as np

from ..design.options import bill
from ..elements import Conduit, Outfall, Pipe, Store
from ..elements.changes import Change
from ..elements.figures import Figures
from ..ensemble import Plan, Submit
from ..errors import ModelError
from ..model.flow_order import reaching
from ..model.project import Project
from ..results.cause import Causes
from ..verdicts import NotMeasured
from .fit import fit
from .next_size import pipes_below, sizes_above, with_diameter
from .space import FitRequest
from .trials import Trials, Tried, share
from .variables import Variable, changeable, laid, patch_between, volume_of

__all__ = ["ChangeKind", "SingleChange", "single_changes"]

ChangeKind = Literal["pipe", "store", "control", "outlet"]

_WORST, _MOST, _SIZES, _BELOW = 4, 16, 3, 3  # broken elements looked at, changes tried, sizes up, pipes further down
_PROBE, _HARDLY = 0.1, 0.01  # of a figure, by which it is probed; of what is short, under which it does not answer
_NEW = UUID("1b0f7f0a-4b52-4e0f-9a75-2d2f8d6a4c10")


@dataclass(frozen=True)
class SingleChange:
    """A single change. was, becomes : the figure that changes (m, or times what is drawn); sizes : that a pipe goes up.

    volume : m3 more of stores; cost : more, by the project's rates of pipes, trenches and digging. holds : it mends the
    rule and breaks no other that was met; margin : of the rule then, in its unit; breaks : names of what it breaks
    instead. problem : why it could not be tried. patch : of the network.
    """

    kind: ChangeKind
    element: str
    name: str
    what: Change
    was: float
    becomes: float
    sizes: int
    volume: float
    cost: float
    holds: bool
    margin: float
    breaks: tuple[str, ...]
    problem: str = ""
    patch: list[dict[str, Any]] = field(default_factory=list)


@dataclass(frozen=True)
class _Candidate:
    kind: ChangeKind
    element: str
    what: Change
    up: bool = True


def single_changes(
    project: Project, plan: Plan, rule: tuple[int, int], figures: Mapping[str, Figures], submit: Submit,
    stop: Callable[[], bool] = lambda: False,
    tell: Callable[[list[SingleChange], int], None] = lambda _found, _due: None,
) -> list[SingleChange]:  # fmt: skip
    """Single changes that may mend a rule: those that do first, by cost; then the others, by what they leave.

    rule : places of rule and limit. figures : of every storm, by key. tell : hears of what is found, and of how many
    there are to try.

    Raises
    ------
    ModelError
        When the rule is not broken, or nothing near it can be changed.
    Stopped
        When it was stopped.
    """
    k = next((k for k, one in enumerate(plan.criteria) if (one.place, one.row) == rule), None)
    if k is None:
        raise ModelError("how much bigger", "rule", "is gone", "choose another rule")
    verdicts = plan.verdicts(figures)
    if verdicts[k].state != "fails":
        raise ModelError(
            f"rule {plan.criteria[k].name}", "how much bigger", "is not broken by what is computed",
            "choose a rule that fails, or run the storms first",
        )  # fmt: skip
    # what is met must stay met; what is broken besides is another matter
    held = [(v.criterion.place, v.criterion.row) for v in verdicts if v.criterion.asked and v.state == "meets"]
    trials = Trials(plan, [rule, *held], submit, stop)
    trials.seed(figures)
    found: list[SingleChange] = []
    candidates = list(_candidates(project, plan, k, figures))[:_MOST]
    if not candidates:
        raise ModelError(
            f"rule {plan.criteria[k].name}", "how much bigger",
            "has no pipe, store or control near it that could be changed", "change the rule, or draw what is missing",
        )  # fmt: skip
    place = next(j for j, one in enumerate(trials.criteria) if (one.place, one.row) == rule)
    for one in candidates:
        tried = _pipe(project, plan, one, trials, place) if one.kind == "pipe" else _fitted(
            project, plan, one, trials, place, [rule, *held], submit, stop, figures
        )  # fmt: skip
        if tried is not None:
            found.append(tried)
        found.sort(key=lambda b: (not b.holds, b.cost if b.holds else -b.margin))
        tell(list(found), len(candidates))
    return found


def _candidates(project: Project, plan: Plan, k: int, figures: Mapping[str, Figures]) -> Iterator[_Candidate]:
    """What lies on the way from the elements that break a rule to what holds their water back."""
    criterion, network = plan.criteria[k], plan.network
    pipes: list[str] = []
    nodes: list[str] = []
    further: list[str] = []
    try:
        broken = [one for one in plan.by_element(k, figures) if one.margin.exceeded][:_WORST]
    except NotMeasured:
        broken = []
    for one in broken:
        id_ = one.margin.element
        if one.storm is not None and criterion.rule.LOOKS_AT != "place":
            cause = Causes(network, plan.nodes, plan.links, figures[one.storm]).of(id_)
            chain = cause.chain if cause else (id_,)
            pipes += [cause.bottleneck] if cause else []
            pipes += [link for link in chain if isinstance(network.links.get(link), Pipe)]
            # what a larger pipe lets through floods further down: what lies there may be the remedy
            further += [one for link in chain if link in network.links for one in pipes_below(network, link)[:_BELOW]]
            nodes += [chain[-1], *(network.links[link].upstream for link in chain if link in network.links), id_]
        else:
            end = network.links[id_].upstream if id_ in network.links else id_
            nodes += sorted(
                reaching(network, end), key=lambda n: -volume_of(network, [n])[0] if n in network.nodes else 0.0
            )
    seen: set[tuple[str, str, bool]] = set()
    for id_ in (*pipes, *further):
        link = network.links.get(id_)
        if isinstance(link, Pipe) and sizes_above(project, link) and (id_, "size", True) not in seen:
            seen.add((id_, "size", True))
            yield _Candidate("pipe", id_, "size")
    for id_ in nodes:
        if not isinstance(network.nodes.get(id_), Store) or (id_, "area", True) in seen:
            continue
        seen.add((id_, "area", True))
        yield _Candidate("store", id_, "area")
        for link_id, link in network.links.items():
            whats = [one.what for one in changeable(network, link_id) if one.what in ("size", "length", "flow")]
            if link.upstream == id_ and whats:
                yield _Candidate("control", link_id, whats[0], True)
                yield _Candidate("control", link_id, whats[0], False)
            if link.upstream == id_ and not isinstance(link, Conduit) and link.OUTLET:
                yield _Candidate("outlet", link_id, "size")


def _pipe(project: Project, plan: Plan, one: _Candidate, trials: Trials, place: int) -> SingleChange | None:
    """The first larger size that mends the rule, or the best of those tried."""
    pipe = plan.network.links[one.element]
    assert isinstance(pipe, Pipe)
    last: SingleChange | None = None
    for count, diameter in enumerate(sizes_above(project, pipe)[:_SIZES], 1):
        network = with_diameter(plan.network, one.element, diameter)
        try:
            tried = trials.run(network)
        except ModelError as error:
            return last or _failed(one, pipe.name, pipe.height, diameter, str(error))
        found = _told(project, plan, one, tried, trials, place, pipe.height, diameter, count)
        if found.holds:
            return found
        last = found if last is None or found.margin > last.margin else last
    return last


def _fitted(
    project: Project, plan: Plan, one: _Candidate, trials: Trials, place: int, rules: Sequence[tuple[int, int]],
    submit: Submit, stop: Callable[[], bool], figures: Mapping[str, Figures],
) -> SingleChange | None:  # fmt: skip
    """A store larger, a control larger or smaller, a second outlet: the least change by a fit of its own."""
    base, element = plan, one.element
    if one.kind == "outlet":
        base, element = _second(plan, one.element)
    least_opening = project.check_limits.opening
    figure = next(each for each in changeable(base.network, element, least_opening) if each.what == one.what)
    low, high = (figure.value, figure.high) if one.up else (figure.low, figure.value)
    if one.kind == "outlet":
        low = max(0.2 * figure.value, min(least_opening, figure.value))
    variable = Variable(element, one.what, low, high)
    name = (base.network.links.get(element) or base.network.nodes[element]).name
    try:
        part = 0.0 if one.kind == "outlet" else _PROBE if one.up else -_PROBE
        said = _answers(base, variable, figure.value * (1.0 + part), trials, place)
    except ModelError as error:
        said = str(error)
    if said:
        return _failed(one, name, figure.value, high if one.up else low, said)
    least: Literal["area", "smallest", "largest"] = (
        "area" if one.kind == "store" else "smallest" if one.up else "largest"
    )  # fmt: skip
    known = figures if one.kind != "outlet" else None
    try:
        best = fit(base, FitRequest([variable], rules, least), submit, stop, known=known)
        assert best.best is not None
        assert best.network is not None
        becomes = best.best.values[0]
        tried = trials.run(best.network)
        return _told(project, plan, one, tried, trials, place, figure.value, becomes, 0)
    except ModelError as error:
        return _failed(one, name, figure.value, high if one.up else low, str(error))


def _answers(base: Plan, variable: Variable, probe: float, trials: Trials, place: int) -> str:
    """Why a change is no remedy, by the storm that governs and one probe; nothing where it helps."""
    governing = [row for row in trials.run(trials.drawn).margins.items() if row[0][0] == place]
    row, margin = min(governing, key=lambda item: share(item[1]))
    moved = trials.run(laid(base.network, {variable: probe}), trials.keys_of([row])).margins.get(row)
    gained = share(moved) - share(margin) if moved is not None else 0.0
    if gained < -_HARDLY * abs(share(margin)):
        return "makes it worse"
    return "" if gained > _HARDLY * abs(share(margin)) else "hardly changes it"


def _second(plan: Plan, control: str) -> tuple[Plan, str]:
    """The plan with a second outlet beside one, half as high again over it as the bank, and its id."""
    first = plan.network.links[control]
    assert not isinstance(first, Conduit)
    assert first.LEVEL is not None
    node = plan.network.nodes[first.upstream]
    assert not isinstance(node, Outfall)
    level = round(0.5 * (first.acts_from + node.spill_level), 3)
    new, id_ = first.model_copy(update={"name": f"{first.name} 2", first.LEVEL: level}), str(uuid5(_NEW, control))
    return plan.tried(plan.network.model_copy(update={"links": {**plan.network.links, id_: new}})), id_


def _told(
    project: Project, plan: Plan, one: _Candidate, tried: Tried, trials: Trials, place: int, was: float,
    becomes: float, sizes: int,
) -> SingleChange:  # fmt: skip
    own = [m for row, m in tried.margins.items() if row[0] == place]
    breaks = {
        trials.criteria[row[0]].name for row, m in tried.margins.items() if row[0] != place and share(m) < -1e-9
    }  # fmt: skip
    network = tried.network
    id_ = one.element if one.kind != "outlet" else str(uuid5(_NEW, one.element))
    name = (network.links.get(id_) or network.nodes[id_]).name
    price = [bill(each, project.sizing) for each in (plan.network, network)]
    more = price[1].storage - price[0].storage
    return SingleChange(
        one.kind, id_, name, one.what, was, becomes, sizes, more,
        price[1].cost - price[0].cost + more * project.sizing.digging, tried.holds,
        min((m.value for m in own), default=float("nan")), tuple(sorted(breaks)), tried.problem,
        patch_between(plan.network, network),
    )  # fmt: skip


def _failed(one: _Candidate, name: str, was: float, becomes: float, problem: str) -> SingleChange:
    return SingleChange(
        one.kind, one.element, name, one.what, was, becomes, 0, 0.0, 0.0, False, -np.inf, (), problem
    )  # fmt: skip
