"""What each kind of rule measures: how far every element stays from the limit, and when it is nearest."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from .elements import Conduit, Outfall, Store
from .figures import Figures
from .model.brief import Criterion, FloodVolume, Freeboard, Outflow, Surcharge, WaterBelowCover
from .model.network import Network

__all__ = ["UNITS", "Measured", "NotMeasured", "measured"]

UNITS = {"surcharge": "m", "cover": "m", "flood_volume": "m3", "outflow": "m3/s", "freeboard": "m"}


class NotMeasured(Exception):
    """The rule has nothing in this network to look at; the message says what."""


@dataclass(frozen=True)
class Measured:
    """What a rule looks at. elements : ids; scale : float64[elements], what a full gauge means, in the rule's unit.

    spare, when : of a storm's figures, float64[elements]: what is left below the limit (negative beyond it), and the
    moment (s) at which it is least. dry : of figures, m between the water and the cover, where a rule about floods
    wants to say how near a flood is.
    """

    elements: list[str]
    scale: np.ndarray
    spare: Callable[[Figures], np.ndarray]
    when: Callable[[Figures], np.ndarray]
    dry: Callable[[Figures], np.ndarray] | None = None


def _surcharge(criterion: Surcharge, network: Network) -> Measured:
    links = sorted(network.links)
    pipes = [(i, link) for i, id_ in enumerate(links) if isinstance(link := network.links[id_], Conduit)]
    if not pipes:
        raise NotMeasured("there is no pipe or channel")
    index = np.array([i for i, _ in pipes])
    return Measured(
        [links[i] for i, _ in pipes], np.array([pipe.height for _, pipe in pipes]),
        lambda figures: figures.clearance[index] - criterion.clearance, lambda figures: figures.clearance_time[index],
    )  # fmt: skip


def _covered(network: Network, only_storage: bool) -> tuple[list[str], np.ndarray, np.ndarray, np.ndarray]:
    """Nodes with a cover: their ids, places in the figures, covers and depths (m)."""
    nodes = sorted(network.nodes)
    chosen = [
        (i, node) for i, id_ in enumerate(nodes)
        if not isinstance(node := network.nodes[id_], Outfall) and (isinstance(node, Store) or not only_storage)
    ]  # fmt: skip
    if not chosen:
        raise NotMeasured("there is no pond or tank" if only_storage else "there is no node with a cover")
    cover = np.array([node.cover for _, node in chosen])
    invert = np.array([node.invert for _, node in chosen])
    return [nodes[i] for i, _ in chosen], np.array([i for i, _ in chosen]), cover, cover - invert


def _below_cover(criterion: WaterBelowCover | Freeboard, network: Network) -> Measured:
    elements, index, cover, depth = _covered(network, isinstance(criterion, Freeboard))
    return Measured(
        elements, depth, lambda figures: cover - figures.level[index] - criterion.clearance,
        lambda figures: figures.level_time[index],
    )  # fmt: skip


def _flood_volume(criterion: FloodVolume, network: Network) -> Measured:
    elements, index, cover, _ = _covered(network, only_storage=False)
    return Measured(
        elements, np.full(len(elements), criterion.limit), lambda figures: criterion.limit - figures.flooded[index],
        lambda figures: figures.level_time[index], lambda figures: cover - figures.level[index],
    )  # fmt: skip


def _outflow(criterion: Outflow, network: Network) -> Measured:
    id_ = criterion.element
    node = network.nodes.get(id_)
    if node is None and id_ not in network.links:
        raise NotMeasured("its outfall or link is gone; choose another")
    if node is not None and not isinstance(node, Outfall):
        raise NotMeasured(f"{node.name} is no outfall; choose an outfall or a link")
    k = sorted(network.links if node is None else network.nodes).index(id_)
    flow, time = ("flow", "flow_time") if node is None else ("outflow", "outflow_time")
    return Measured(
        [id_], np.array([criterion.limit]), lambda figures: criterion.limit - getattr(figures, flow)[k : k + 1],
        lambda figures: np.asarray(getattr(figures, time)[k : k + 1]),
    )  # fmt: skip


_KINDS: dict[str, Callable[[Any, Network], Measured]] = {
    "surcharge": _surcharge, "cover": _below_cover, "flood_volume": _flood_volume, "outflow": _outflow,
    "freeboard": _below_cover,
}  # fmt: skip


def measured(criterion: Criterion, network: Network) -> Measured:
    """What a rule looks at in a network.

    Raises
    ------
    NotMeasured
        When there is nothing of the kind in the network.
    """
    return _KINDS[criterion.kind](criterion, network)
