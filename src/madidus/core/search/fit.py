"""Stores and controls fitted: the least that holds chosen rules over the whole ensemble.

Successive linear programs (Griffith & Stewart, 1961) within a region of trust: the margin of each rule in each storm is
a row, its slopes come from trials and are corrected as the search goes on (Broyden, 1965), so that the storm that
governs may change on the way. What that finds is made to sizes that can be made, and bracketed down to where a rule
just holds. Storms that are far from governing are left out on the way; what is given out was confirmed with all.
"""

from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import product
from typing import Any, Literal

import numpy as np
from scipy.optimize import brentq, linprog

from ..elements import Store
from ..ensemble import Plan, Submit
from ..errors import ModelError
from ..model.network import Network
from .trials import Row, Trials, Tried, share
from .variables import Changeable, Variable, changeable, laid, patch_between, to_step, volume_of

__all__ = ["Asked", "Fit", "Least", "Step", "fit"]

Least = Literal["volume", "area", "smallest", "largest"]

_ITERATIONS, _ROUNDS = 24, 5
_TRUST, _CLOSE = 0.4, 0.002  # of a variable's own scale: how far a step may go, and where the search ends
_PROBE = 0.03  # of it, by which slopes are taken
_BRACKET = 0.001  # of it, to which the least is bracketed
_NEAR = 0.12  # of a rule's scale above the worst row, within which a storm may come to govern
_FEW = 8  # rows of a rule that are followed at the most
_PENALTY = 20.0  # of a broken rule's share of its scale against the share of what is to be least
_HARDLY = 0.02  # of a rule's share by a whole scale of a variable, under which it does not answer to it
_LESS = 0.02  # by which the proof is smaller than what was found


@dataclass(frozen=True)
class Asked:
    """variables : what may change. rules : places of rule and limit that must hold. least : of what."""

    variables: Sequence[Variable]
    rules: Collection[tuple[int, int]]
    least: Least


@dataclass(frozen=True)
class Step:
    """A trial. values : of the variables; volume : m3 and area : m2 of the stores that are fitted.

    row : that is nearest to its limit, or beyond it; margin, unit as the rule tells it. whole : over all storms.
    """

    values: tuple[float, ...]
    volume: float
    area: float
    row: Row | None
    margin: float
    least: float
    holds: bool
    whole: bool
    problem: str = ""


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


class Search:
    """One fit under way: variables on scales of their own, trials, and what they say."""

    def __init__(self, trials: Trials, network: Network, asked: Asked, tell: Callable[[Step], None]):
        self.trials, self._drawn, self.asked, self._tell = trials, network, asked, tell
        self.stores = sorted({v.element for v in asked.variables if isinstance(network.nodes.get(v.element), Store)})
        self.own = [_own(network, variable) for variable in asked.variables]
        self.steps: list[Step] = []
        self._check()
        deep = [max(one.high - one.low, 0.1) for one in asked.variables]
        self._scale = np.array([deep[k] if one.even else 1.0 for k, one in enumerate(self.own)])
        self.low, self.high = self._u([v.low for v in asked.variables]), self._u([v.high for v in asked.variables])

    def _check(self) -> None:
        for variable, one in zip(self.asked.variables, self.own, strict=True):
            label = self._drawn.label(variable.element)
            if not variable.low < variable.high or (not one.even and variable.low <= 0.0):
                raise ModelError(
                    label, variable.what, "has bounds that leave no room", "give a lower bound below the upper one"
                )
        if not self.asked.variables:
            raise ModelError("fit", "may change", "nothing may change", "let a store or a control change")
        if self.asked.least in ("volume", "area") and not self.stores:
            raise ModelError(
                "fit", "least", f"no store may change, so that its {self.asked.least} is what it is",
                "let a store change, or ask for the smallest or largest control",
            )  # fmt: skip

    def _u(self, values: Iterable[float]) -> np.ndarray:
        """Values on their scales: logarithms of sizes, shares of its range of a level."""
        return np.array([
            v / s if one.even else np.log(v) for v, s, one in zip(values, self._scale, self.own, strict=True)
        ])  # fmt: skip

    def values(self, u: np.ndarray) -> tuple[float, ...]:
        """Figures of the variables."""
        pairs = zip(u, self._scale, self.own, strict=True)
        return tuple(float(x * s) if one.even else float(np.exp(x)) for x, s, one in pairs)

    def at(self, values: Sequence[float]) -> np.ndarray:
        """Figures on their scales, within the bounds."""
        return np.asarray(np.clip(self._u(values), self.low, self.high))

    def network(self, u: np.ndarray) -> Network:
        """With the variables laid in."""
        return laid(self._drawn, dict(zip(self.asked.variables, self.values(u), strict=True)))

    def aim(self, u: np.ndarray) -> float:
        """What is to be least, as a logarithm."""
        if self.asked.least in ("smallest", "largest"):
            return float(u.sum()) * (1.0 if self.asked.least == "smallest" else -1.0)
        volume, area = volume_of(self.network(u), self.stores)
        return float(np.log(volume if self.asked.least == "volume" else area))

    def aim_slope(self, u: np.ndarray) -> np.ndarray:
        """Of the aim by each variable. A control that costs nothing is drawn a little towards its present size."""
        base, slope = self.aim(u), np.zeros(u.size)
        for k in range(u.size):
            moved = u.copy()
            moved[k] += _PROBE
            slope[k] = (self.aim(moved) - base) / _PROBE
        return slope

    def run(self, u: np.ndarray, keys: Collection[str] | None) -> Tried:
        """A trial, told to whoever looks on."""
        before = self.trials.count
        tried = self.trials.run(self.network(u), keys)
        if self.trials.count > before or tried.whole:
            self.note(u, tried)
        return tried

    def note(self, u: np.ndarray, tried: Tried) -> Step:
        """The trial as a step."""
        step = self.step(u, tried)
        self.steps.append(step)
        self._tell(step)
        return step

    def step(self, u: np.ndarray, tried: Tried) -> Step:
        """How a trial reads."""
        volume, area = volume_of(tried.network, self.stores)
        worst = tried.worst
        return Step(
            self.values(u), volume, area, worst[0] if worst else None, worst[1].value if worst else np.nan,
            tried.least, tried.holds, tried.whole, tried.problem,
        )  # fmt: skip

    def near(self, tried: Tried) -> set[str]:
        """Storms that govern, or may come to."""
        rows: list[Row] = []
        for k in range(len(self.trials.criteria)):
            own = sorted((share(m), row) for row, m in tried.margins.items() if row[0] == k)
            rows += [row for value, row in own[:_FEW] if value <= max(own[0][0], 0.0) + _NEAR]
        return self.trials.keys_of(rows)


def _own(network: Network, variable: Variable) -> Changeable:
    found = next((one for one in changeable(network, variable.element) if one.what == variable.what), None)
    if found is None:
        known = variable.element in network.nodes or variable.element in network.links
        raise ModelError(
            network.label(variable.element) if known else "fit", variable.what,
            "is no figure that can be fitted" if known else "belongs to an element that is gone", "choose another",
        )  # fmt: skip
    return found


def fit(
    plan: Plan, asked: Asked, submit: Submit, stop: Callable[[], bool] = lambda: False,
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
    search = Search(trials, plan.network, asked, tell)
    u = search.at([one.value for one in search.own])
    drawn = trials.run(plan.network)
    seen = search.note(search._u([one.value for one in search.own]), drawn)
    keys = search.near(drawn)
    if not drawn.margins:
        raise ModelError("fit", "must hold", drawn.problem or "nothing could be computed as drawn", "see the storms")
    found, best = fit_from(search, u, keys)
    less = _less(search, found, best.keys)
    for _ in range(_ROUNDS):
        if less is None or not less.holds:
            break
        # a rule that falls and rises again on the way: the least lies further on
        found, best = fit_from(search, search.at(less.values), keys | search.near(best))
        less = _less(search, found, best.keys)
    network = best.network
    return Fit(
        seen, search.step(found, best), less, tuple(search.steps), trials.count, network,
        patch_between(plan.network, network),
    )  # fmt: skip


def fit_from(search: Search, u: np.ndarray, keys: Collection[str], made: bool = True) -> tuple[np.ndarray, Tried]:
    """The least from a start, with the storms that may govern; confirmed with all. made : in sizes that can be made.

    Raises
    ------
    ModelError
        When no design within the bounds holds.
    """
    keys = set(keys)
    for _ in range(_ROUNDS):
        u, slopes = _programs(search, u, keys)
        for fixed in _sizes(search, u, slopes, keys) if made else [u]:
            down = _bracketed(search, fixed, keys)
            if down is not None:
                break
        else:
            raise _cannot(search, u, keys, slopes)
        whole = search.run(down, None)
        fresh = search.near(whole) - keys
        if whole.holds:
            return down, whole
        if not fresh:
            raise ModelError("fit", "search", whole.problem or "does not come to an end", "choose narrower bounds")
        u, keys = down, keys | fresh
    raise ModelError("fit", "search", "finds a new governing storm each time", "choose narrower bounds")


def _slopes(search: Search, u: np.ndarray, base: Tried, keys: Collection[str]) -> dict[Row, np.ndarray]:
    """Of each row's share by each variable, by trials a little inside the bounds."""
    found = {row: np.zeros(u.size) for row in base.margins}
    for k in range(u.size):
        step = _PROBE if u[k] + _PROBE <= search.high[k] else -_PROBE
        moved = u.copy()
        moved[k] += step
        tried = search.run(moved, keys)
        for row, margin in tried.margins.items():
            if row in found:
                found[row][k] = (share(margin) - share(base.margins[row])) / step
    return found


def _programs(search: Search, u: np.ndarray, keys: Collection[str]) -> tuple[np.ndarray, dict[Row, np.ndarray]]:
    """Linear programs one after another, from `u`; and the slopes where they end."""
    base, trust = search.run(u, keys), _TRUST
    slopes, fresh = _slopes(search, u, base, keys), True
    for _ in range(_ITERATIONS):
        step, foreseen = _program(search, u, base, slopes, trust)
        if np.abs(step).max() < _CLOSE:
            if fresh:
                break
            slopes, fresh = _slopes(search, u, base, keys), True
            continue
        tried = search.run(u + step, keys)
        gain, hoped = _merit(search, u, base.least) - _merit(search, u + step, tried.least), foreseen
        for row in slopes.keys() & tried.margins.keys():
            off = share(tried.margins[row]) - share(base.margins[row]) - slopes[row] @ step
            slopes[row] = slopes[row] + off * step / (step @ step)
        if gain > 0.1 * hoped:
            u, base, fresh = u + step, tried, False
            trust = min(trust * 1.5, 1.0) if gain > 0.7 * hoped else trust
        elif fresh:
            trust *= 0.35
        else:
            slopes, fresh, trust = _slopes(search, u, base, keys), True, trust * 0.6
        if trust < _CLOSE:
            break
    return u, slopes


def _merit(search: Search, u: np.ndarray, least: float) -> float:
    return search.aim(u) + _PENALTY * max(0.0, -least)


def _program(
    search: Search, u: np.ndarray, base: Tried, slopes: Mapping[Row, np.ndarray], trust: float,
    free: np.ndarray | None = None,
) -> tuple[np.ndarray, float]:  # fmt: skip
    """The best step by what is known of slopes, and by how much it should better the merit."""
    rows = [row for row in base.margins if row in slopes]
    own = np.array([share(base.margins[row]) for row in rows])
    by = np.array([slopes[row] for row in rows]).reshape(len(rows), u.size)
    low, high = np.maximum(search.low - u, -trust), np.minimum(search.high - u, trust)
    if free is not None:
        low, high = np.where(free, low, 0.0), np.where(free, high, 0.0)
    slope = search.aim_slope(u)
    solved = linprog(
        np.append(slope, _PENALTY), A_ub=np.hstack([-by, -np.ones((len(rows), 1))]), b_ub=own,
        bounds=[*zip(low, high, strict=True), (0.0, None)], method="highs",
    )  # fmt: skip
    if solved.x is None:
        return np.zeros(u.size), 0.0
    step = solved.x[:-1]
    return step, _PENALTY * max(0.0, -own.min(initial=0.0)) - float(slope @ step) - _PENALTY * float(solved.x[-1])


def _sizes(
    search: Search, u: np.ndarray, slopes: Mapping[Row, np.ndarray], keys: Collection[str]
) -> list[np.ndarray]:  # fmt: skip
    """Where the controls have sizes that can be made, the most promising first; the stores make up for it."""
    made = [k for k, v in enumerate(search.asked.variables) if v.element not in search.stores]
    if not made or not search.stores:
        return [u]
    base, values = search.run(u, keys), search.values(u)
    free = np.array([k not in made for k in range(u.size)])
    found = []
    for ups in product((False, True), repeat=len(made)):
        rounded = list(values)
        for k, up in zip(made, ups, strict=True):
            rounded[k] = to_step([search.own[k]], search.own[k].what, values[k], up)
        at = search.at(rounded)
        moved = {
            row: replace(m, value=(share(m) + float(slopes[row] @ (at - u))) * max(abs(m.scale), 1e-3))
            for row, m in base.margins.items() if row in slopes
        }  # fmt: skip
        step, _ = _program(search, at, replace(base, margins=moved), slopes, _TRUST, free)
        broken = max(0.0, -min((share(m) + float(slopes[row] @ step) for row, m in moved.items()), default=0.0))
        found.append((_PENALTY * broken + search.aim(at + step), tuple(at + step)))
    return [np.array(at) for _, at in sorted(found)]


def _towards(search: Search) -> np.ndarray:
    """The way on which a design gets larger: stores by their area, else depth, else slope; controls alone by size."""
    variables, way = search.asked.variables, np.zeros(len(search.own))
    for id_ in search.stores:
        for what in ("area", "depth", "slope"):
            places = [k for k, v in enumerate(variables) if (v.element, v.what) == (id_, what)]
            if places:
                way[places[0]] = 1.0
                break
    if not search.stores:
        way[:] = -1.0 if search.asked.least == "largest" else 1.0
    return way


def _within(search: Search, u: np.ndarray) -> np.ndarray:
    return np.asarray(np.clip(u, search.low, search.high))


def _bracketed(search: Search, u: np.ndarray, keys: Collection[str]) -> np.ndarray | None:
    """The least on the way from `u` on which all holds; None where nothing on it does."""
    way = _towards(search)

    def at(s: float) -> np.ndarray:
        return _within(search, u + s * way)

    held = {0.0: search.run(u, keys)}
    sign, step, s = (-1.0 if held[0.0].holds else 1.0), 0.004, 0.0
    while True:  # outward until the other side is reached, or the bounds
        last, s, step = s, s + sign * step, step * 2.5
        if np.allclose(at(s), at(last)):
            if held[last].holds:
                return _made(search, at(last), keys)  # held down to its bounds
            return None
        held[s] = search.run(at(s), keys)
        if held[s].holds != held[last].holds:
            break
    good, bad = (s, last) if held[s].holds else (last, s)
    side = 0
    a, b = held[good].least, held[bad].least
    while abs(good - bad) > _BRACKET:  # false position (Illinois), which brackets
        middle = good + (bad - good) * min(max(a / (a - b) if a - b > 0.0 else 0.5, 0.05), 0.95)
        held[middle] = search.run(at(middle), keys)
        if held[middle].holds:
            good, a, b = middle, held[middle].least, b * (0.5 if side == 1 else 1.0)
            side = 1
        else:
            bad, b, a = middle, held[middle].least, a * (0.5 if side == -1 else 1.0)
            side = -1
    return _made(search, at(good), keys)


def _made(search: Search, u: np.ndarray, keys: Collection[str]) -> np.ndarray | None:
    """Controls alone, in sizes that can be made: towards what held."""
    if search.stores:
        return u
    up, values = search.asked.least == "smallest", search.values(u)
    rounded = [to_step([one], one.what, v, up) for one, v in zip(search.own, values, strict=True)]
    at = search.at(rounded)
    # of a small opening a whole millimetre is too much to give away
    return at if np.abs(at - u).max() < 0.5 * _LESS and search.run(at, keys).holds else u


def _less(search: Search, u: np.ndarray, keys: Collection[str]) -> Step | None:
    """What is 2 % less, of volume or of every control's size; None where the bounds do not let it be."""
    way = _towards(search)
    if search.stores:
        volume = volume_of(search.network(u), search.stores)[0]

        def over(s: float) -> float:
            return volume_of(search.network(u - s * way), search.stores)[0] / volume - (1.0 - _LESS)

        if over(0.2) >= 0.0:
            return None
        s = float(brentq(over, 0.0, 0.2, xtol=1e-5))
    else:
        s = _LESS
    if np.any(u - s * way < search.low - 1e-9) or np.any(u - s * way > search.high + 1e-9):
        return None
    tried = search.run(u - s * way, keys)
    return search.step(u - s * way, tried)


def _cannot(search: Search, u: np.ndarray, keys: Collection[str], slopes: Mapping[Row, np.ndarray]) -> ModelError:
    """Why nothing within the bounds holds: a rule that nothing changes, or two that ask for opposite things."""
    tried = search.run(u, keys)
    ranked = sorted(tried.margins.items(), key=lambda item: share(item[1]))
    if tried.problem or not ranked:
        return ModelError("fit", "storms", tried.problem or "nothing could be computed", "see the storms")
    row, margin = ranked[0]
    name = search.trials.criteria[row[0]].name
    own = slopes.get(row, np.zeros(u.size))
    reach = float(np.maximum(own * (search.high - u), own * (search.low - u)).sum())
    if tried.least < 0.0 and reach < -0.5 * tried.least and np.abs(own).max(initial=0.0) < _HARDLY:
        return ModelError(
            f"rule {name}", "fit", "is broken, and what may change hardly changes it",
            "let something else change, or leave the rule out",
        )  # fmt: skip
    against = next(
        (
            search.trials.criteria[other[0]].name for other, m in ranked[1:]
            if other[0] != row[0] and share(m) < share(margin) + 0.05 and float(slopes.get(other, own) @ own) < 0.0
        ),
        None,
    )  # fmt: skip
    stops = [
        f"{search._drawn.label(v.element)}, {v.what}"
        for k, v in enumerate(search.asked.variables)
        if min(u[k] - search.low[k], search.high[k] - u[k]) < _CLOSE and abs(own[k]) > 1e-3
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
