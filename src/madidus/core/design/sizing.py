"""Pipes sized from the heads of a network down: diameters and levels of the least excavation, diameter or cost.

Dynamic programming over a tree. What a design leaves to the pipe below it is its cost so far, the level at which it
arrives, its largest diameter and its time of concentration; of two designs one may be dropped where the other costs no
more, arrives no lower, is no larger and no earlier (an earlier peak is a larger one). Along a pipe every permitted
gradient is tried, each with the smallest diameter that serves: a larger one costs more, lies deeper and is faster. What
is left at the outfall is the optimum over all combinations. Limits that cannot be met cost a penalty before all else,
so that the design that breaks them least is found, and each one that is not met is told.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from ..errors import ModelError
from ..model.sizing import SizingLimits, SizingRules
from ..quantities import Quantity, Said, said
from .prune import undominated
from .trench import cost, excavation

__all__ = ["AIMS", "Aim", "Crossed", "Lock", "SizedPipe", "Sizing", "Stretch", "Unmet", "size"]

Aim = Literal["excavation", "diameter", "cost"]
AIMS: tuple[Aim, ...] = ("excavation", "diameter", "cost")

_EPS = 1e-6  # m, and relative, within which a limit is met
_HECTARE_MINUTE = 3.6e6  # mm/h m2 to m3/s
# designs kept at a node, of all pipes together and of one at least and at most; of more the cheapest of those that are
# alike are kept, and the answer is no longer exact
_TOGETHER, _FEWEST, _MOST = 24_000, 120, 4_000
_ALIKE = [(1e-9, 1e-9), *((0.001 * k, 0.01 * k) for k in (1, 2, 4, 8, 16, 32, 64, 128))]  # m of level, min
_LEVEL = 1e3  # penalty of a metre below what arrives: water does not run up
_BROKEN = 1.0  # penalty of any limit that is not met, besides its share


@dataclass(frozen=True)
class Lock:
    """What of a pipe may not change: its diameter, its inverts, m; None where it may."""

    diameter: float | None = None
    upstream: float | None = None
    downstream: float | None = None


@dataclass(frozen=True)
class Crossed:
    """A service that crosses. chainage : m from the pipe's head; over : m, the lowest invert that passes over it;
    under : m, the highest soffit that passes under it; both with its clearance.
    """

    name: str
    chainage: float
    over: float
    under: float


@dataclass(frozen=True)
class Stretch:
    """A pipe to be sized. ground : levels at its ends, m. gathered : m2, areas times coefficients of all above it.

    diameters : m, rising, with their full flow (m3/s) and velocity (m/s) at a gradient of 1. entry : min of time of
    entry at its head. flow : m3/s where it is given, None by the rational method. below : place of the pipe that takes
    its water, None at an end; floor : lowest level to which an end may come, m. open : whether its ends lie open, in a
    pond's side, where no cover is asked. existing : it is there already: it binds others, and is no part of what is
    least.
    """

    id: str
    name: str
    length: float
    ground: tuple[float, float]
    gathered: float
    diameters: tuple[float, ...]
    carries: tuple[float, ...]
    runs: tuple[float, ...]
    below: int | None
    entry: float = 0.0
    flow: float | None = None
    floor: float = -math.inf
    lock: Lock = field(default_factory=Lock)
    open: tuple[bool, bool] = (False, False)
    existing: bool = False
    crossings: tuple[Crossed, ...] = ()


@dataclass(frozen=True)
class Unmet:
    """A limit that is not met at a pipe, in SI, and what stands in the way."""

    pipe: str
    limit: str
    value: float
    allowed: float
    why: str


@dataclass(frozen=True)
class SizedPipe:
    """A pipe as it is laid: inverts m; flow, capacity m3/s; velocity m/s at full bore; covers m at both ends; head,
    foot : min of concentration at its ends; excavation m3; drops : m by which each pipe above falls into its head.
    """

    id: str
    diameter: float
    gradient: float
    upstream: float
    downstream: float
    flow: float
    capacity: float
    velocity: float
    cover: tuple[float, float]
    head: float
    foot: float
    excavation: float
    cost: float
    drops: tuple[float, ...]


@dataclass(frozen=True)
class Sizing:
    """The design of an aim, of all that is sized: excavation m3, diameter times length m2, cost. exact : whether every
    combination was weighed. unmet : empty where all limits are met. sized : ids of the pipes that are not existing.
    """

    aim: Aim
    pipes: list[SizedPipe]
    excavation: float
    diameter_length: float
    cost: float
    exact: bool
    unmet: list[Unmet]
    sized: frozenset[str] = frozenset()


@dataclass
class _Designs:
    """Designs of all that drains to a place. Each array has one entry a design; parts : rows of the designs above."""

    penalty: np.ndarray
    first: np.ndarray
    second: np.ndarray
    level: np.ndarray
    largest: np.ndarray
    time: np.ndarray
    parts: np.ndarray
    gradient: np.ndarray
    diameter: np.ndarray
    invert: np.ndarray

    def only(self, rows: np.ndarray) -> "_Designs":
        return _Designs(*(getattr(self, name)[rows] for name in self.__dataclass_fields__))

    @property
    def count(self) -> int:
        return int(self.penalty.size)


def size(
    stretches: Sequence[Stretch], rules: SizingRules, aim: Aim, intensity: Callable[[np.ndarray], np.ndarray]
) -> Sizing:  # fmt: skip
    """The best design of pipes, each listed after all that drain to it.

    intensity : mm/h of the design storm by minutes.

    Raises
    ------
    ModelError
        When limits contradict each other, there is no diameter to choose from, or pipes run in a circle.
    """
    _agree(stretches, rules.limits)
    return _Search(stretches, rules, aim, intensity).answer()


def _agree(stretches: Sequence[Stretch], limits: SizingLimits) -> None:
    pairs = [("velocity", limits.min_velocity, limits.max_velocity), ("gradient", limits.min_gradient,
             limits.max_gradient), ("cover and greatest depth", limits.cover, limits.deepest)]  # fmt: skip
    for what, low, high in pairs:
        if low >= high:
            raise ModelError(
                "limits", what, f"the least, {low:g}, is not below the greatest, {high:g}", "change one of the two"
            )
    if limits.gradients and not _permitted(limits).size:
        raise ModelError(
            "limits", "gradients", f"none of those listed lies between {limits.min_gradient:g} and "
            f"{limits.max_gradient:g}", "list others, or widen the range",
        )  # fmt: skip
    if not stretches:
        raise ModelError("sizing", "pipes", "there is no pipe to size", "pick a pipe, or unlock one")
    for k, one in enumerate(stretches):
        if not one.diameters and one.lock.diameter is None:
            raise ModelError(f"pipe {one.name}", "material", "the catalogue has no size of it", "add sizes to the list")
        if one.below is not None and one.below <= k:
            raise ModelError(f"pipe {one.name}", "downstream", "runs in a circle with pipes above it", "turn one round")


def _permitted(limits: SizingLimits) -> np.ndarray:
    listed = np.array(sorted(limits.gradients))
    return listed[(listed >= limits.min_gradient * (1 - _EPS)) & (listed <= limits.max_gradient * (1 + _EPS))]


_GRID = 12  # gradients that are tried where any is permitted, besides those that use a size to the full


class _Search:
    def __init__(
        self, stretches: Sequence[Stretch], rules: SizingRules, aim: Aim,
        intensity: Callable[[np.ndarray], np.ndarray],
    ):  # fmt: skip
        self._all, self._rules, self._aim, self._intensity = stretches, rules, aim, intensity
        self._limits = limits = rules.limits
        self._above: list[list[int]] = [[] for _ in stretches]
        for k, one in enumerate(stretches):
            if one.below is not None:
                self._above[one.below].append(k)
        self._exact = True
        self._most = min(max(_TOGETHER // len(stretches), _FEWEST), _MOST)
        self._grid = _permitted(limits) if limits.gradients else np.geomspace(
            limits.min_gradient, limits.max_gradient, _GRID
        )  # fmt: skip
        self._made: list[_Designs] = []

    def answer(self) -> Sizing:
        for k in range(len(self._all)):
            self._made.append(self._laid(k))
        chosen: dict[int, int] = {}
        for k in reversed(range(len(self._all))):
            made = self._made[k]
            if k not in chosen:  # an end: the least of its own tree
                chosen[k] = int(np.lexsort((made.second, made.first.round(7), made.penalty.round(9)))[0])
            for part, above in enumerate(self._above[k]):
                chosen[above] = int(made.parts[chosen[k], part])
        pipes = [self._told(k, chosen) for k in range(len(self._all))]
        free = [(one, pipe) for one, pipe in zip(self._all, pipes, strict=True) if not one.existing]
        return Sizing(
            self._aim, pipes, sum(p.excavation for _, p in free), sum(p.diameter * s.length for s, p in free),
            sum(p.cost for _, p in free), self._exact, self._unmet(pipes),
            frozenset(s.id for s, _ in free),
        )  # fmt: skip

    def _gathered(self, k: int) -> _Designs:
        """Every combination of the designs above a pipe, those that another one is better than left out."""
        one, above = self._all[k], self._above[k]
        none = np.zeros(1)
        found = _Designs(
            none, none, none, np.full(1, np.inf), none, np.full(1, one.entry), np.zeros((1, 0), int), none, none, none
        )
        for other in above:
            more = self._made[other]
            i, j = np.divmod(np.arange(found.count * more.count), more.count)
            found = self._pruned(
                _Designs(
                    found.penalty[i] + more.penalty[j], found.first[i] + more.first[j],
                    found.second[i] + more.second[j], np.minimum(found.level[i], more.level[j]),
                    np.maximum(found.largest[i], more.largest[j]), np.maximum(found.time[i], more.time[j]),
                    np.column_stack([found.parts[i], j]), *(np.zeros(i.size) for _ in range(3)),
                )
            )  # fmt: skip
        return found

    def _pruned(self, designs: _Designs) -> _Designs:
        # sums in another order are alike but for their last digits, and a tie is to be seen as one
        order = np.lexsort((designs.second, designs.first.round(7), designs.penalty.round(9)))
        designs = designs.only(order)
        for level, minutes in _ALIKE:
            kept = undominated(designs.level, designs.largest, designs.time, level, minutes)
            designs = designs.only(np.nonzero(kept)[0])
            if designs.count <= self._most:
                break
            self._exact = False
        return designs

    def _laid(self, k: int) -> _Designs:
        """Every design of a pipe and all above it."""
        one, limits, above = self._all[k], self._limits, self._gathered(k)
        flow = self._flow(one, above.time)[:, None, None]
        gradients = self._gradients(one, flow[:, :, 0])  # design by gradient
        lock = one.lock
        sizes = np.array([lock.diameter]) if lock.diameter is not None else self._sizes(one, above, flow, gradients)
        carries, runs = np.interp(sizes, one.diameters, one.carries), np.interp(sizes, one.diameters, one.runs)
        s, d = gradients[:, :, None], sizes[None, None, :]
        root = np.sqrt(np.maximum(s, 0.0))
        capacity, velocity = carries * root, runs * root
        penalty = self._over(flow, limits.fill * capacity) + self._over(limits.min_velocity, velocity)
        penalty = penalty + self._over(velocity, limits.max_velocity)
        if limits.grows:
            penalty = penalty + self._over(above.largest[:, None, None], d)
        # levels: as high as what arrives and the cover at both ends let it
        fall = s * one.length
        arrives = above.level[:, None, None] - limits.step
        bound = arrives if limits.match == "soffit" else arrives + d
        # at an open end the soffit comes up to the ground
        lid = [level + limits.cover * bare for level, bare in zip(one.ground, one.open, strict=True)]
        covered = np.minimum(lid[0] - limits.cover, lid[1] - limits.cover + fall)
        if lock.upstream is not None:
            soffit = np.broadcast_to(lock.upstream + d, s.shape[:2] + d.shape[2:])
        elif lock.downstream is not None:
            soffit = lock.downstream + d + fall
        else:
            soffit = np.minimum(bound, covered)
        if lock.upstream is None and lock.downstream is None:
            soffit = self._under(one, soffit, d, s)
        head = soffit - d
        foot = head - fall
        for crossing in one.crossings:
            penalty = penalty + np.where(self._strikes(crossing, soffit, d, s), _BROKEN, 0.0)
        penalty = penalty + _LEVEL * np.maximum(soffit - bound - _EPS, 0.0)
        penalty = penalty + self._over(limits.cover, np.minimum(lid[0] - soffit, lid[1] - soffit + fall))
        penalty = penalty + self._over(np.maximum(one.ground[0] - head, one.ground[1] - foot), limits.deepest)
        penalty = penalty + _LEVEL * np.maximum(one.floor - foot - _EPS, 0.0) + self._over(one.floor - foot, 0.0)
        if one.existing:
            penalty = penalty * 0.0 + _LEVEL * np.maximum(soffit - bound - _EPS, 0.0)
        dug = excavation(self._rules, d, one.length, one.ground[0] - head, one.ground[1] - foot)
        wide = np.broadcast_to(d * one.length, dug.shape)
        costs = cost(self._rules, d, one.length, dug)
        first, second = {"excavation": (dug, wide), "diameter": (wide, dug), "cost": (costs, dug)}[self._aim]
        if one.existing:
            first, second = first * 0.0, second * 0.0
        # of each gradient the least size that breaks least
        best = np.lexsort((np.broadcast_to(d, penalty.shape), penalty), axis=2)[:, :, :1]

        def of(values: np.ndarray) -> np.ndarray:
            return np.take_along_axis(np.broadcast_to(values, penalty.shape), best, axis=2).ravel()

        row = np.repeat(np.arange(above.count), gradients.shape[1])
        travel = np.where(of(velocity) > 0.0, one.length / np.maximum(of(velocity), 1e-9) / 60.0, 0.0)
        level = of(foot + d) if limits.match == "soffit" else of(foot)
        return self._pruned(
            _Designs(
                above.penalty[row] + of(penalty), above.first[row] + of(first), above.second[row] + of(second), level,
                np.maximum(of(d), above.largest[row]), above.time[row] + travel, above.parts[row], of(s), of(d),
                of(head),
            )
        )  # fmt: skip

    @staticmethod
    def _strikes(crossing: Crossed, soffit: np.ndarray, d: np.ndarray, s: np.ndarray) -> np.ndarray:
        """Whether pipes neither pass over a service nor under it."""
        there = soffit - s * crossing.chainage
        return np.asarray((there - d < crossing.over - _EPS) & (there > crossing.under + _EPS))

    def _under(self, one: Stretch, soffit: np.ndarray, d: np.ndarray, s: np.ndarray) -> np.ndarray:
        """Soffits lowered under the services that they would strike: nothing lets a pipe rise over one."""
        for _ in one.crossings:  # what passes under one may strike the next
            for crossing in one.crossings:
                lowered = np.minimum(soffit, crossing.under + s * crossing.chainage)
                soffit = np.where(self._strikes(crossing, soffit, d, s), lowered, soffit)
        return soffit

    def _flow(self, one: Stretch, time: np.ndarray) -> np.ndarray:
        if one.flow is not None:
            return np.full(time.size, one.flow)
        return one.gathered * self._intensity(time) / _HECTARE_MINUTE

    def _gradients(self, one: Stretch, flow: np.ndarray) -> np.ndarray:
        """Gradients to try, float64[design, gradient]. flow : float64[design, 1]."""
        lock, limits = one.lock, self._limits
        if lock.upstream is not None and lock.downstream is not None:
            return np.full((flow.shape[0], 1), (lock.upstream - lock.downstream) / one.length)
        grid = np.broadcast_to(self._grid, (flow.shape[0], self._grid.size))
        if limits.gradients:
            return grid
        # what uses a size to the full, what keeps its least velocity, and the ground's own fall
        carries, runs = np.array(one.carries), np.array(one.runs)
        full = (flow / (limits.fill * carries)) ** 2
        slow = np.broadcast_to((limits.min_velocity / runs) ** 2, full.shape)
        ground = np.full((flow.shape[0], 1), (one.ground[0] - one.ground[1]) / one.length)
        more = np.concatenate([np.maximum(full, slow) * (1.0 + 1e-9), ground], axis=1)
        return np.concatenate([grid, np.clip(more, limits.min_gradient, limits.max_gradient)], axis=1)

    def _sizes(self, one: Stretch, above: _Designs, flow: np.ndarray, gradients: np.ndarray) -> np.ndarray:
        """Sizes of which one may be the least that serves: none below what arrives, none beyond what serves always."""
        sizes, carries, runs = np.array(one.diameters), np.array(one.carries), np.array(one.runs)
        flattest, steepest = (math.sqrt(max(float(s), 1e-12)) for s in (gradients.min(), gradients.max()))
        least = float(above.largest.min()) if self._limits.grows else 0.0
        low = np.nonzero((sizes >= least - _EPS) & (carries * steepest * self._limits.fill >= float(flow.min())))[0]
        needed = float(above.largest.max()) if self._limits.grows else 0.0
        high = np.nonzero(
            (sizes >= needed - _EPS) & (carries * flattest * self._limits.fill >= float(flow.max()))
            & (runs * flattest >= self._limits.min_velocity)
        )[0]  # fmt: skip
        first = int(low[0]) if low.size else sizes.size - 1
        last = int(high[0]) if high.size else sizes.size - 1
        return sizes[first : max(last, first) + 1]

    @staticmethod
    def _over(value: np.ndarray | float, allowed: np.ndarray | float) -> np.ndarray:
        """Penalty of what is more than it may be."""
        share = (np.asarray(value) - allowed) / np.maximum(np.abs(allowed), 1.0)
        return np.where(np.asarray(value) > np.asarray(allowed) + _EPS, _BROKEN + share, 0.0)

    def _told(self, k: int, chosen: dict[int, int]) -> SizedPipe:
        one, row = self._all[k], chosen[k]
        made = self._made[k]
        s, d, head = float(made.gradient[row]), float(made.diameter[row]), float(made.invert[row])
        foot = head - s * one.length
        time = max([one.entry, *(float(self._made[j].time[chosen[j]]) for j in self._above[k])])
        flow = float(self._flow(one, np.array([time]))[0])
        root = math.sqrt(max(s, 0.0))
        carries = float(np.interp(d, one.diameters, one.carries)) * root
        runs = float(np.interp(d, one.diameters, one.runs)) * root
        dug = float(excavation(self._rules, np.array(d), one.length, np.array(one.ground[0] - head),
                                        np.array(one.ground[1] - foot)))  # fmt: skip
        drops = []
        for j in self._above[k]:
            other = self._made[j]
            end = float(other.invert[chosen[j]] - other.gradient[chosen[j]] * self._all[j].length)
            shift = float(other.diameter[chosen[j]]) - d if self._limits.match == "soffit" else 0.0
            drops.append(end + shift - head)
        return SizedPipe(
            one.id, d, s, head, foot, flow, carries, runs, (one.ground[0] - head - d, one.ground[1] - foot - d), time,
            float(made.time[row]), dug, float(cost(self._rules, np.array(d), one.length, np.array(dug))), tuple(drops),
        )  # fmt: skip

    def _unmet(self, pipes: list[SizedPipe]) -> list[Unmet]:
        found = []
        for k, (one, pipe) in enumerate(zip(self._all, pipes, strict=True)):
            found += [] if one.existing else self._limits_of(k, one, pipe, pipes)
            rises = [(drop, self._all[j].name) for drop, j in zip(pipe.drops, self._above[k], strict=True)]
            for drop, name in rises:
                if drop < self._limits.step - 1e-5:
                    found.append(
                        Unmet(
                            one.id, "level", drop, self._limits.step, said(f"{name} arrives below it: ", self._held(k))
                        )
                    )
                elif drop > self._limits.drop + _EPS and not one.existing:
                    found.append(Unmet(one.id, "drop", drop, self._limits.drop, f"{name} arrives higher"))
        return found

    def _limits_of(self, k: int, one: Stretch, pipe: SizedPipe, pipes: list[SizedPipe]) -> list[Unmet]:
        limits, found = self._limits, []

        def ask(limit: str, value: float, allowed: float, most: bool, why: str) -> None:
            beyond = value - allowed if most else allowed - value
            if beyond > _EPS * max(1.0, abs(allowed)):
                found.append(Unmet(one.id, limit, value, allowed, why))

        held = self._held(k)
        ask("capacity", pipe.capacity * limits.fill, pipe.flow, False, self._largest(one))
        ask("velocity", pipe.velocity, limits.min_velocity, False, held)
        ask("velocity", pipe.velocity, limits.max_velocity, True, held)
        ask("gradient", pipe.gradient, limits.min_gradient, False, held)
        ask("gradient", pipe.gradient, limits.max_gradient, True, held)
        covers = [cover + limits.cover * bare for cover, bare in zip(pipe.cover, one.open, strict=True)]
        ask("cover", min(covers), limits.cover, False, held)
        deep = max(one.ground[0] - pipe.upstream, one.ground[1] - pipe.downstream)
        ask("depth", deep, limits.deepest, True, self._deep(k, pipes))
        ask("outfall", pipe.downstream, one.floor, False, held)
        for crossing in one.crossings:
            there = pipe.upstream - pipe.gradient * crossing.chainage
            soffit, size, gradient = (
                np.array(v) for v in (pipe.upstream + pipe.diameter, pipe.diameter, pipe.gradient)
            )
            if self._strikes(crossing, soffit, size, gradient):
                why = said(f"{crossing.name} crosses; ", held)
                found.append(Unmet(one.id, "crossing", there + pipe.diameter, crossing.under, why))
        above = max((pipes[j].diameter for j in self._above[k]), default=0.0)
        if limits.grows:
            ask("diameter", pipe.diameter, above, False, self._largest(one))
        return found

    def _largest(self, one: Stretch) -> Said:
        if one.lock.diameter is not None:
            return said("its diameter of ", Quantity(one.lock.diameter * 1000.0, "mm"), " is locked")
        return said(Quantity(max(one.diameters) * 1000.0, "mm"), " is the largest in the list")

    def _held(self, k: int) -> Said:
        """What keeps a pipe where it lies: its own locks, or those below it."""
        at: int | None = k
        while at is not None:
            one = self._all[at]
            locks = {"upstream": one.lock.upstream, "downstream": one.lock.downstream}
            told = [said(f"{end} invert ", Quantity(z, "m", 3)) for end, z in locks.items() if z is not None]
            if told:
                both = [" and ", told[1]] if len(told) > 1 else []
                return said("the ", told[0], *both, f" of {one.name} {'are' if both else 'is'} locked")
            if one.below is None and math.isfinite(one.floor):
                return said(f"{one.name} may end no lower than ", Quantity(one.floor, "m", 3))
            at = one.below
        return said("no gradient and size within the limits serves it")

    def _deep(self, k: int, pipes: list[SizedPipe]) -> str:
        """The branch whose level keeps a pipe deep: that which arrives lowest, followed up to where it begins."""
        while self._above[k]:
            ends = {j: pipes[j].downstream + pipes[j].diameter for j in self._above[k]}
            lowest = min(ends, key=lambda j: ends[j])
            k = lowest
            if min(pipes[k].cover) < self._limits.cover + 1e-3:
                break
        return f"{self._all[k].name}, with least cover, keeps it deep"
