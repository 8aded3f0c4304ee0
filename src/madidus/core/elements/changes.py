"""Figures of an element that a search may change: read, and written into its fields again. Each kind tells its own."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, Literal

__all__ = ["Adjustable", "Change", "Changes", "bank", "level", "size", "times"]

Change = Literal["area", "depth", "slope", "size", "level", "length", "flow"]


@dataclass(frozen=True)
class Adjustable:
    """What may change of a kind of element.

    word : what it is called on the screen. read : of an element, m; of an area, a flow: 1, times what is drawn. write :
    the fields of the element with another value. low, high : of the bounds to begin with, times the value as drawn or,
    where it is even, m from it. step : to which it is made, 0 where any will do. even : a step of it weighs the same
    wherever it is (a level), else in proportion (a size). blocks : an opening that a leaf closes where it is small.
    """

    word: str
    read: Callable[[Any], float]
    write: Callable[[Any, float], dict[str, Any]]
    low: float = 0.3
    high: float = 3.0
    step: float = 0.001
    even: bool = False
    blocks: bool = False


Changes = Mapping[Change, Adjustable]


def times(word: str, write: Callable[[Any, float], dict[str, Any]]) -> Adjustable:
    """What is drawn, as many times as large: an area, the flows of a curve."""
    return Adjustable(word, lambda _: 1.0, write, step=0.0)


def bank(write: Callable[[Any, float], dict[str, Any]] = lambda node, depth: {}) -> Adjustable:
    """Depth of a store: the base stays, and with it the outlet; the bank rises or falls. write : what follows it."""

    def deeper(node: Any, depth: float) -> dict[str, Any]:
        return {"cover": round(node.invert + depth, 4), **write(node, depth)}

    return Adjustable("Depth, base kept", lambda node: float(node.cover - node.invert), deeper, 0.5, 2.0)


def size(word: str, field: str) -> Adjustable:
    """A size that is a field of its own, m."""
    return Adjustable(word, lambda link: float(getattr(link, field)), lambda _, x: {field: round(x, 4)})


def level(word: str, field: str) -> Adjustable:
    """The level from which a control acts."""
    return Adjustable(
        word, lambda link: float(getattr(link, field)), lambda _, z: {field: round(z, 4)}, -0.5, 0.5, even=True
    )
