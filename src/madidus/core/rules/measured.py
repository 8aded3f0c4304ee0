"""What a rule looks at, element by element."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Protocol

import numpy as np

from ..elements import Conduit, Link, Node, Outfall, Store
from ..elements.figures import Figures

__all__ = [
    "Covered", "Drawn", "Measured", "NotMeasured", "conduits", "covered", "narrowed", "of_drawing", "place", "untimed",
]  # fmt: skip


class NotMeasured(Exception):
    """The rule has nothing in this network to look at; the message says what."""


class Drawn(Protocol):
    """A network as it is drawn: its nodes and links by id."""

    @property
    def nodes(self) -> Mapping[str, Node]:
        """By id."""

    @property
    def links(self) -> Mapping[str, Link]:
        """By id."""


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


def of_drawing(elements: list[str], left: Sequence[float], scale: Sequence[float], none: str) -> Measured:
    """Of a rule without a storm. left : what is left to the limit. none : what to say where there are no elements."""
    if not elements:
        raise NotMeasured(none)
    drawn, when = np.array(left, float), untimed(len(elements))
    return Measured(elements, np.array(scale, float), lambda _: drawn, when, drawn=drawn)


def conduits(network: Drawn) -> tuple[list[str], np.ndarray, list[Conduit]]:
    """Pipes and channels by rising id, their places in the figures, and themselves."""
    links = sorted(network.links)
    found = [(i, link) for i, id_ in enumerate(links) if isinstance(link := network.links[id_], Conduit)]
    if not found:
        raise NotMeasured("there is no pipe or channel")
    return [links[i] for i, _ in found], np.array([i for i, _ in found]), [conduit for _, conduit in found]


@dataclass(frozen=True)
class Covered:
    """Nodes with a cover. index : their places in the figures. cover : m, at which they spill; depth : m to there."""

    elements: list[str]
    index: np.ndarray
    cover: np.ndarray
    depth: np.ndarray

    def below(self, clearance: float) -> Measured:
        """Between the water and the covers."""
        return Measured(
            self.elements, self.depth, lambda figures: self.cover - figures.level[self.index] - clearance,
            lambda figures: figures.level_time[self.index],
        )  # fmt: skip

    def flood(self, limit: float, of: Callable[[Figures], np.ndarray]) -> Measured:
        """Of what stands over the covers: at most `limit` of a figure of the nodes."""
        return Measured(
            self.elements, np.full(len(self.elements), limit), lambda figures: limit - of(figures),
            lambda figures: figures.level_time[self.index], lambda figures: self.cover - figures.level[self.index],
        )  # fmt: skip


def covered(network: Drawn, stores: bool = False, in_the_open: bool = False) -> Covered:
    """Nodes with a cover. stores : ponds and tanks alone. in_the_open : without sealed manholes."""
    nodes = sorted(network.nodes)
    chosen = [
        (i, node) for i, id_ in enumerate(nodes)
        if not isinstance(node := network.nodes[id_], Outfall) and (isinstance(node, Store) or not stores)
        and not (in_the_open and getattr(node, "sealed", False))
    ]  # fmt: skip
    if not chosen:
        raise NotMeasured("there is no pond or tank" if stores else "there is no node with a cover")
    cover = np.array([node.spill_level for _, node in chosen])
    invert = np.array([node.invert for _, node in chosen])
    return Covered([nodes[i] for i, _ in chosen], np.array([i for i, _ in chosen]), cover, cover - invert)


def place(id_: str, network: Drawn) -> tuple[bool, int]:
    """Whether the element that a rule names is a link, and its place among the sorted ids of its sort."""
    node = network.nodes.get(id_)
    if node is None and id_ not in network.links:
        raise NotMeasured("its outfall or link is gone; choose another")
    if node is not None and not isinstance(node, Outfall):
        raise NotMeasured(f"{node.name} is no outfall; choose an outfall or a link")
    return node is None, sorted(network.links if node is None else network.nodes).index(id_)
