"""Down to where a design just holds, and a little less as the proof."""

from collections.abc import Collection

import numpy as np
from scipy.optimize import brentq

from .space import Space, Step
from .variables import to_step, volume_of

__all__ = ["bracketed", "less"]

_BRACKET = 0.001  # of a variable's own scale, to which the least is bracketed
_LESS = 0.02  # by which the proof is smaller than what was found


def _towards(space: Space) -> np.ndarray:
    """The way on which a design gets larger: stores by their area, else depth, else slope; controls alone by size."""
    variables, way = space.asked.variables, np.zeros(len(space.own))
    for id_ in space.stores:
        for what in ("area", "depth", "slope"):
            places = [k for k, v in enumerate(variables) if (v.element, v.what) == (id_, what)]
            if places:
                way[places[0]] = 1.0
                break
    if not space.stores:
        way[:] = -1.0 if space.asked.least == "largest" else 1.0
    return way


def _within(space: Space, u: np.ndarray) -> np.ndarray:
    return np.asarray(np.clip(u, space.low, space.high))


def bracketed(space: Space, u: np.ndarray, keys: Collection[str]) -> np.ndarray | None:
    """The least on the way from `u` on which all holds; None where nothing on it does."""
    way = _towards(space)

    def at(s: float) -> np.ndarray:
        return _within(space, u + s * way)

    held = {0.0: space.run(u, keys)}
    sign, step, s = (-1.0 if held[0.0].holds else 1.0), 0.004, 0.0
    while True:  # outward until the other side is reached, or the bounds
        last, s, step = s, s + sign * step, step * 2.5
        if np.allclose(at(s), at(last)):
            if held[last].holds:
                return _made(space, at(last), keys)  # held down to its bounds
            return None
        held[s] = space.run(at(s), keys)
        if held[s].holds != held[last].holds:
            break
    good, bad = (s, last) if held[s].holds else (last, s)
    side = 0
    a, b = held[good].least, held[bad].least
    while abs(good - bad) > _BRACKET:  # false position (Illinois), which brackets
        middle = good + (bad - good) * min(max(a / (a - b) if a - b > 0.0 else 0.5, 0.05), 0.95)
        held[middle] = space.run(at(middle), keys)
        if held[middle].holds:
            good, a, b = middle, held[middle].least, b * (0.5 if side == 1 else 1.0)
            side = 1
        else:
            bad, b, a = middle, held[middle].least, a * (0.5 if side == -1 else 1.0)
            side = -1
    return _made(space, at(good), keys)


def _made(space: Space, u: np.ndarray, keys: Collection[str]) -> np.ndarray | None:
    """Controls alone, in sizes that can be made: towards what held."""
    if space.stores:
        return u
    up, values = space.asked.least == "smallest", space.values(u)
    rounded = [to_step(one, v, up) for one, v in zip(space.own, values, strict=True)]
    at = space.at(rounded)
    # of a small opening a whole millimetre is too much to give away
    return at if np.abs(at - u).max() < 0.5 * _LESS and space.run(at, keys).holds else u


def less(space: Space, u: np.ndarray, keys: Collection[str]) -> Step | None:
    """What is 2 % less, of volume or of every control's size; None where the bounds do not let it be."""
    way = _towards(space)
    if space.stores:
        volume = volume_of(space.network(u), space.stores)[0]

        def over(s: float) -> float:
            return volume_of(space.network(u - s * way), space.stores)[0] / volume - (1.0 - _LESS)

        if over(0.2) >= 0.0:
            return None
        s = float(brentq(over, 0.0, 0.2, xtol=1e-5))
    else:
        s = _LESS
    if np.any(u - s * way < space.low - 1e-9) or np.any(u - s * way > space.high + 1e-9):
        return None
    tried = space.run(u - s * way, keys)
    return space.step(u - s * way, tried)
