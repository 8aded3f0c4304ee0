"""Repair after the ensemble: pipes that still break rules go up a size, worst cause first, until all rules hold."""

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass, field
from typing import Any

from ..elements import Pipe
from ..elements.figures import Figures
from ..elements.sections import Circular
from ..ensemble import Plan, Submit
from ..errors import ModelError
from ..model.network import Network
from ..model.project import Project
from ..quantities import Quantity, said
from ..results.cause import Causes
from ..verdicts import Criterion
from .next_size import pipes_below, sizes_above, with_diameter
from .trials import Trials, Tried, share
from .variables import patch_between

__all__ = ["Raised", "Repair", "repair"]

_MOST = 400  # sizes up, of all pipes together


@dataclass(frozen=True)
class Raised:
    """A pipe that went up a size. diameters : m, before and after. rule : that was broken worst, at element, in storm;
    margin : it had, in the rule's unit.
    """

    pipe: str
    name: str
    before: float
    after: float
    rule: str
    element: str
    storm: str
    margin: float


@dataclass(frozen=True)
class Repair:
    """raised : in order. holds : every chosen rule, over all storms. why : it ended, where not all hold. storms : run.

    network, patch : as repaired so far.
    """

    raised: tuple[Raised, ...]
    holds: bool
    why: str
    storms: int
    network: Network
    patch: list[dict[str, Any]] = field(default_factory=list)


def repair(
    project: Project, plan: Plan, rules: Collection[tuple[int, int]], submit: Submit,
    stop: Callable[[], bool] = lambda: False, tell: Callable[[Raised], None] = lambda _: None,
    known: Mapping[str, Figures] | None = None,
) -> Repair:  # fmt: skip
    """Pipes up a size, one after another: each time the bottleneck of what breaks a rule by the most. At the end, sizes
    that others have made needless are taken back.

    A pipe that grew is followed by those below that would be smaller, where the rules of sizing ask for it.

    Raises
    ------
    ModelError
        As `Trials`.
    Stopped
        When it was stopped.
    """
    trials = Trials(plan, rules, submit, stop)
    trials.seed(known or {})
    network, raised, first = plan.network, list[Raised](), set[str]()

    def ended(holds: bool, why: str) -> Repair:
        return Repair(tuple(raised), holds, why, trials.count, network, patch_between(plan.network, network))

    while len(raised) < _MOST:
        # what governed so far tells at once whether a size was enough
        tried = trials.run(network, first) if first else trials.run(network)
        if tried.holds and not tried.whole:
            tried = trials.run(network)
        if tried.problem:
            return ended(False, tried.problem)
        if tried.holds:
            network, raised = _needed(project, trials, network, raised)
            return ended(True, "")
        row, margin = min(tried.margins.items(), key=lambda item: share(item[1]))
        criterion, storm = trials.criteria[row[0]], row[1]
        first.update(trials.keys_of([row]))
        pipe, why = _bottleneck(project, trials, network, tried, criterion, margin.element, storm)
        if pipe is None:
            return ended(False, why)
        for id_ in [pipe, *(pipes_below(network, pipe) if project.sizing.limits.grows else [])]:
            link = network.links[id_]
            assert isinstance(link, Pipe)
            wanted = sizes_above(project, link)
            least = network.links[pipe].height if id_ != pipe else 0.0  # type: ignore[union-attr]
            if id_ != pipe and link.height >= least:
                continue
            after = wanted[0] if id_ == pipe else next((d for d in wanted if d >= least - 1e-9), None)
            if after is None:
                continue
            try:
                new = with_diameter(network, id_, after)
                trials.run(new, first)
            except ModelError as error:
                return ended(False, said(f"{link.name} cannot go up to ", Quantity(after * 1000.0, "mm"), f": {error}"))
            network = new
            raised.append(
                Raised(id_, link.name, link.height, after, criterion.name, margin.element, storm, margin.value)
            )
            tell(raised[-1])
    return ended(False, f"{_MOST} sizes up did not mend it")


def _needed(
    project: Project, trials: Trials, network: Network, raised: list[Raised]
) -> tuple[Network, list[Raised]]:  # fmt: skip
    """Without the sizes that later ones have made needless, the last first."""
    kept = list(raised)
    for one in reversed(raised):
        smaller = with_diameter(network, one.pipe, one.before)
        if network.links[one.pipe].height != one.after:  # type: ignore[union-attr]
            continue
        if project.sizing.limits.grows and _narrows(smaller, one.pipe) and not _narrows(trials.drawn, one.pipe):
            continue
        if trials.run(smaller).holds:
            network = smaller
            kept.remove(one)
    return network, kept


def _narrows(network: Network, pipe: str) -> bool:
    """Whether a pipe is smaller than one that arrives above it."""
    own = network.links[pipe]
    return any(
        isinstance(above, Pipe) and above.downstream == own.upstream and above.height > own.height + 1e-9  # type: ignore[union-attr]
        for above in network.links.values()
    )


def _bottleneck(
    project: Project, trials: Trials, network: Network, tried: Tried, criterion: Criterion, element: str, storm: str
) -> tuple[str | None, str]:
    """The pipe to raise for an element, or why none would help."""
    label = network.label(element)
    if not criterion.rule.BY_LEVEL:
        return None, f"{criterion.name} is broken at {label}, and no larger pipe mends that"
    cause = Causes(network, trials.nodes, trials.links, trials.figures(network, storm)).of(element)
    if cause is None:
        return None, f"{criterion.name} is broken at {label}, where no pipe is at its capacity"
    at = cause.bottleneck
    link = network.links.get(at)
    if not isinstance(link, Pipe) or not isinstance(link.section, Circular):
        # what holds the water back is no pipe: the pipes on the way to it lose head as well
        on_way = [c for c in cause.chain if isinstance(network.links.get(c), Pipe)]
        return None, (
            f"{criterion.name} is broken at {label}, and the water is held back by {network.label(at)}"
            + (", not by the pipes on the way to it" if on_way else "") + ", which no larger pipe mends"
        )  # fmt: skip
    if not sizes_above(project, link):
        return None, f"{criterion.name} is broken at {label}, and {link.name} is of the largest size in the catalogue"
    return at, ""
