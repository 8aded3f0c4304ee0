"""What a rule looks at, element by element."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..results.figures import Figures

__all__ = ["Measured", "NotMeasured", "narrowed", "untimed"]


class NotMeasured(Exception):
    """The rule has nothing in this network to look at; the message says what."""


@dataclass(frozen=True)
class Measured:
    """What a rule looks at. elements : ids; scale : float64[elements], what a full gauge means, in the rule's unit.

    spare, when : of a storm's figures, float64[elements]: what is left to the limit (negative beyond it; nan where it
    is not known), and the moment (s) at which it is least. dry : of figures, m between the water and the cover, where a
    rule about floods wants to say how near a flood is. drawn : float64[elements], what is left of a rule without a
    storm. unknown : what to say where a figure is not known. sure : float64[elements], what is left for certain, by
    something that bounds what is measured; None where nothing does.
    """

    elements: list[str]
    scale: np.ndarray
    spare: Callable[[Figures], np.ndarray]
    when: Callable[[Figures], np.ndarray]
    dry: Callable[[Figures], np.ndarray] | None = None
    drawn: np.ndarray | None = None
    unknown: str = "its figures are no numbers"
    sure: np.ndarray | None = None


def untimed(count: int) -> Callable[[Figures], np.ndarray]:
    """Of a figure whose moment is not kept."""
    return lambda _: np.full(count, np.nan)


def narrowed(look: Measured, index: Sequence[int]) -> Measured:
    """The same of some of the elements, by their places."""
    at, dry = np.array(index), look.dry
    return replace(
        look, elements=[look.elements[k] for k in index], scale=look.scale[at],
        spare=lambda figures: look.spare(figures)[at], when=lambda figures: look.when(figures)[at],
        dry=None if dry is None else lambda figures: dry(figures)[at],
        drawn=None if look.drawn is None else look.drawn[at], sure=None if look.sure is None else look.sure[at],
    )  # fmt: skip
