"""Stores and controls fitted: the least that holds chosen rules over the whole ensemble.

Successive linear programs within a region of trust: the margin of each rule in each storm is a row, its slopes come
from trials and are corrected as the search goes on (Broyden, 1965), so that the storm that governs may change on the
way. What that finds is made to sizes that can be made, and bracketed down to where a rule just holds. Storms that are
far from governing are left out on the way; what is given out was confirmed with all.
"""

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from ..ensemble import Plan, Submit
from ..errors import ModelError
from ..model.network import Network
from .bracket import bracketed, less
from .programs import CLOSE, programs, sizes
from .space import FitRequest, Space, Step
from .trials import Row, Trials, Tried, share
from .variables import patch_between

__all__ = ["Fit", "fit", "fit_from"]

_ROUNDS = 5
_HARDLY = 0.02  # of a rule's share by a whole scale of a variable, under which it does not answer to it


@dataclass(frozen=True)
class Fit:
    """drawn : as it lies. best : the least that was found; it holds only where its step says so. less : 2 % smaller,
    that breaks a rule. steps : every trial in order. storms : that were run. network, patch : with the best in it.
    """

    drawn: Step
    best: Step | None = None
    less: Step | None = None
    steps: tuple[Step, ...] = ()
    storms: int = 0
    network: Network | None = None
    patch: list[dict[str, Any]] = field(default_factory=list)


def fit(
    plan: Plan, asked: FitRequest, submit: Submit, stop: Callable[[], bool] = lambda: False,
    tell: Callable[[Step], None] = lambda _: None, known: Mapping[str, Any] | None = None,
) -> Fit:  # fmt: skip
    """The least that holds the chosen rules over all storms that they judge. tell : hears of every trial. known :
    figures of the network as drawn, by storm.

    Raises
    ------
    ModelError
        When nothing is asked, bounds leave no room, or no design within them holds: the rules that stand against each
        other are named.
    Stopped
        When it was stopped.
    """
    trials = Trials(plan, asked.rules, submit, stop)
    trials.seed(known or {})
    space = Space(trials, plan.network, asked, tell)
    u = space.at([one.value for one in space.own])
    drawn = trials.run(plan.network)
    seen = space.note(space.scaled([one.value for one in space.own]), drawn)
    keys = space.near(drawn)
    if not drawn.margins:
        raise ModelError("fit", "must hold", drawn.problem or "nothing could be computed as drawn", "see the storms")
    found, best = fit_from(space, u, keys)
    smaller = less(space, found, best.keys)
    for _ in range(_ROUNDS):
        if smaller is None or not smaller.holds:
            break
        # a rule that falls and rises again on the way: the least lies further on
        found, best = fit_from(space, space.at(smaller.values), keys | space.near(best))
        smaller = less(space, found, best.keys)
    network = best.network
    return Fit(
        seen, space.step(found, best), smaller, tuple(space.steps), trials.count, network,
        patch_between(plan.network, network),
    )  # fmt: skip


def fit_from(space: Space, u: np.ndarray, keys: Collection[str]) -> tuple[np.ndarray, Tried]:
    """The least from a start, with the storms that may govern, in sizes that can be made; confirmed with all.

    Raises
    ------
    ModelError
        When no design within the bounds holds.
    """
    keys = set(keys)
    for _ in range(_ROUNDS):
        u, slopes = programs(space, u, keys)
        for fixed in sizes(space, u, slopes, keys):
            down = bracketed(space, fixed, keys)
            if down is not None:
                break
        else:
            raise _cannot(space, u, keys, slopes)
        whole = space.run(down, None)
        fresh = space.near(whole) - keys
        if whole.holds:
            return down, whole
        if not fresh:
            raise ModelError("fit", "search", whole.problem or "does not come to an end", "choose narrower bounds")
        u, keys = down, keys | fresh
    raise ModelError("fit", "search", "finds a new governing storm each time", "choose narrower bounds")


def _cannot(space: Space, u: np.ndarray, keys: Collection[str], slopes: Mapping[Row, np.ndarray]) -> ModelError:
    """Why nothing within the bounds holds: a rule that nothing changes, or two that ask for opposite things."""
    tried = space.run(u, keys)
    ranked = sorted(tried.margins.items(), key=lambda item: share(item[1]))
    if tried.problem or not ranked:
        return ModelError("fit", "storms", tried.problem or "nothing could be computed", "see the storms")
    row, margin = ranked[0]
    name = f"{space.trials.criteria[row[0]].name} (at {space.drawn.label(margin.element)})"
    own = slopes.get(row, np.zeros(u.size))
    reach = float(np.maximum(own * (space.high - u), own * (space.low - u)).sum())
    if tried.least < 0.0 and reach < -0.5 * tried.least and np.abs(own).max(initial=0.0) < _HARDLY:
        return ModelError(
            f"rule {name}", "fit", "is broken, and what may change hardly changes it",
            "let something else change, or leave the rule out",
        )  # fmt: skip
    against = next(
        (
            f"{space.trials.criteria[other[0]].name} (at {space.drawn.label(m.element)})" for other, m in ranked[1:]
            if other[0] != row[0] and share(m) < share(margin) + 0.05 and float(slopes.get(other, own) @ own) < 0.0
        ),
        None,
    )  # fmt: skip
    stops = [
        f"{space.drawn.label(v.element)}, {v.what}"
        for k, v in enumerate(space.asked.variables)
        if min(u[k] - space.low[k], space.high[k] - u[k]) < CLOSE and abs(own[k]) > 1e-3
    ]
    at = f"; at its bound: {', '.join(stops)}" if stops else ""
    if against is not None:
        return ModelError(
            f"rules {name} and {against}", "fit", f"cannot both hold within these bounds{at}",
            "widen the bounds, let something else change, or ask less of one of them",
        )  # fmt: skip
    return ModelError(
        f"rule {name}", "fit", f"cannot hold within these bounds{at}", "widen the bounds, or let something else change"
    )
