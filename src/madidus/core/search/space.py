"""What a fit searches through: the figures that may change on scales of their own, and the trials of them."""

from collections.abc import Callable, Collection, Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..elements import Store
from ..errors import ModelError
from ..model.network import Network
from .trials import Row, Trials, Tried, share
from .variables import Changeable, Variable, changeable, laid, volume_of

__all__ = ["FitRequest", "Least", "Space", "Step"]

Least = Literal["volume", "area", "smallest", "largest"]

_PROBE = 0.03  # of a variable's own scale, by which the slope of what is to be least is taken
_NEAR = 0.12  # of a rule's scale above the worst row, within which a storm may come to govern
_FEW = 8  # rows of a rule that are followed at the most


@dataclass(frozen=True)
class FitRequest:
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


class Space:
    """One fit under way. low, high : bounds of the variables; stores : that are fitted; steps : trials so far."""

    def __init__(self, trials: Trials, network: Network, asked: FitRequest, tell: Callable[[Step], None]):
        self.trials, self.drawn, self.asked, self._tell = trials, network, asked, tell
        self.stores = sorted({v.element for v in asked.variables if isinstance(network.nodes.get(v.element), Store)})
        self.own = [_own(network, variable) for variable in asked.variables]
        self.steps: list[Step] = []
        self._check()
        deep = [max(one.high - one.low, 0.1) for one in asked.variables]
        self._scale = np.array([deep[k] if one.even else 1.0 for k, one in enumerate(self.own)])
        self.low, self.high = (
            self.scaled([v.low for v in asked.variables]),
            self.scaled([v.high for v in asked.variables]),
        )

    def _check(self) -> None:
        for variable, one in zip(self.asked.variables, self.own, strict=True):
            label = self.drawn.label(variable.element)
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

    def scaled(self, values: Iterable[float]) -> np.ndarray:
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
        return np.asarray(np.clip(self.scaled(values), self.low, self.high))

    def network(self, u: np.ndarray) -> Network:
        """With the variables laid in."""
        return laid(self.drawn, dict(zip(self.asked.variables, self.values(u), strict=True)))

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
