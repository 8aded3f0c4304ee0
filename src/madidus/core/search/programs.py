"""Linear programs one after another towards the least that holds (Griffith & Stewart, 1961), by slopes from trials."""

from collections.abc import Collection, Mapping
from dataclasses import replace
from itertools import product

import numpy as np
from scipy.optimize import linprog

from .space import Space
from .trials import Row, Tried, share
from .variables import to_step

__all__ = ["CLOSE", "programs", "sizes"]

CLOSE = 0.002
"""Of a variable's own scale, where a search ends."""
_ITERATIONS, _TRUST = 24, 0.4  # and how far of it a step may go at first
_PROBE = 0.03  # of it, by which slopes are taken
_PENALTY = 20.0  # of a broken rule's share of its scale against the share of what is to be least
_MENDS, _IDLE = 1e-3, 5  # of a rule's scale that a trial must mend, and trials that may mend less one after another


def _slopes(space: Space, u: np.ndarray, base: Tried, keys: Collection[str]) -> dict[Row, np.ndarray]:
    """Of each row's share by each variable, by trials a little inside the bounds."""
    found = {row: np.zeros(u.size) for row in base.margins}
    for k in range(u.size):
        up, down = space.high[k] - u[k], u[k] - space.low[k]
        step = min(_PROBE, up) if up >= min(_PROBE, down) else -min(_PROBE, down)
        moved = u.copy()
        moved[k] += step
        tried = space.run(moved, keys)
        for row, margin in tried.margins.items():
            if row in found:
                found[row][k] = (share(margin) - share(base.margins[row])) / step
    return found


def programs(space: Space, u: np.ndarray, keys: Collection[str]) -> tuple[np.ndarray, dict[Row, np.ndarray]]:
    """Linear programs one after another, from `u`; and the slopes where they end."""
    base, trust = space.run(u, keys), _TRUST
    slopes, fresh, tries = _slopes(space, u, base, keys), True, 0
    for _ in range(_ITERATIONS):
        step, foreseen = _program(space, u, base, slopes, trust)
        if np.abs(step).max() < CLOSE:
            if fresh:
                break
            slopes, fresh = _slopes(space, u, base, keys), True
            continue
        tried = space.run(u + step, keys)
        gain, hoped = _merit(space, u, base.least) - _merit(space, u + step, tried.least), foreseen
        for row in slopes.keys() & tried.margins.keys():
            off = share(tried.margins[row]) - share(base.margins[row]) - slopes[row] @ step
            slopes[row] = slopes[row] + off * step / (step @ step)
        # where nothing mends what is broken, going on would only wander
        tries = tries + 1 if base.least < 0.0 and tried.least < base.least + _MENDS else 0
        if tries > _IDLE:
            break
        if gain > 0.1 * hoped:
            u, base, fresh = u + step, tried, False
            trust = min(trust * 1.5, 1.0) if gain > 0.7 * hoped else trust
        elif fresh:
            trust *= 0.35
        else:
            slopes, fresh, trust = _slopes(space, u, base, keys), True, trust * 0.6
        if trust < CLOSE:
            break
    return u, slopes


def _merit(space: Space, u: np.ndarray, least: float) -> float:
    return space.aim(u) + _PENALTY * max(0.0, -least)


def _program(
    space: Space, u: np.ndarray, base: Tried, slopes: Mapping[Row, np.ndarray], trust: float,
    free: np.ndarray | None = None,
) -> tuple[np.ndarray, float]:  # fmt: skip
    """The best step by what is known of slopes, and by how much it should better the merit."""
    rows = [row for row in base.margins if row in slopes]
    own = np.array([share(base.margins[row]) for row in rows])
    by = np.array([slopes[row] for row in rows]).reshape(len(rows), u.size)
    low, high = np.maximum(space.low - u, -trust), np.minimum(space.high - u, trust)
    if free is not None:
        low, high = np.where(free, low, 0.0), np.where(free, high, 0.0)
    slope = space.aim_slope(u)
    solved = linprog(
        np.append(slope, _PENALTY), A_ub=np.hstack([-by, -np.ones((len(rows), 1))]), b_ub=own,
        bounds=[*zip(low, high, strict=True), (0.0, None)], method="highs",
    )  # fmt: skip
    if solved.x is None:
        return np.zeros(u.size), 0.0
    step = solved.x[:-1]
    return step, _PENALTY * max(0.0, -own.min(initial=0.0)) - float(slope @ step) - _PENALTY * float(solved.x[-1])


def sizes(
    space: Space, u: np.ndarray, slopes: Mapping[Row, np.ndarray], keys: Collection[str]
) -> list[np.ndarray]:  # fmt: skip
    """Where the controls have sizes that can be made, the most promising first; the stores make up for it."""
    made = [k for k, v in enumerate(space.asked.variables) if v.element not in space.stores]
    if not made or not space.stores:
        return [u]
    base, values = space.run(u, keys), space.values(u)
    free = np.array([k not in made for k in range(u.size)])
    found = []
    for ups in product((False, True), repeat=len(made)):
        rounded = list(values)
        for k, up in zip(made, ups, strict=True):
            rounded[k] = to_step(space.own[k], values[k], up)
        at = space.at(rounded)
        moved = {
            row: replace(m, value=(share(m) + float(slopes[row] @ (at - u))) * max(abs(m.scale), 1e-3))
            for row, m in base.margins.items() if row in slopes
        }  # fmt: skip
        step, _ = _program(space, at, replace(base, margins=moved), slopes, _TRUST, free)
        broken = max(0.0, -min((share(m) + float(slopes[row] @ step) for row, m in moved.items()), default=0.0))
        found.append((_PENALTY * broken + space.aim(at + step), tuple(at + step)))
    return [np.array(at) for _, at in sorted(found)]
