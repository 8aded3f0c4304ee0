"""Rules about levels, floods and stores."""

import numpy as np

from ..elements import Conduit, Outfall, Store
from ..model.brief import FloodDepth, FloodVolume, Freeboard, HalfDrain, Surcharge, WaterBelowCover
from ..model.network import Network
from ..results.figures import Figures
from .measured import Measured, NotMeasured

__all__ = ["below_cover", "flood_depth", "flood_volume", "freeboard", "half_drain", "surcharge"]

_TAKEN = 1e-3  # m3; a store that took less has nothing to give back


def surcharge(_: Surcharge, clearance: float, network: Network) -> Measured:
    """Between the water and the soffits."""
    links = sorted(network.links)
    conduits = [(i, link) for i, id_ in enumerate(links) if isinstance(link := network.links[id_], Conduit)]
    if not conduits:
        raise NotMeasured("there is no pipe or channel")
    index = np.array([i for i, _ in conduits])
    return Measured(
        [links[i] for i, _ in conduits], np.array([conduit.height for _, conduit in conduits]),
        lambda figures: figures.clearance[index] - clearance, lambda figures: figures.clearance_time[index],
    )  # fmt: skip


def _covered(
    network: Network, stores: bool = False, in_the_open: bool = False
) -> tuple[list[str], np.ndarray, np.ndarray, np.ndarray]:
    """Nodes with a cover: their ids, places in the figures, levels at which they spill and depths to there (m)."""
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
    return [nodes[i] for i, _ in chosen], np.array([i for i, _ in chosen]), cover, cover - invert


def _below(covered: tuple[list[str], np.ndarray, np.ndarray, np.ndarray], clearance: float) -> Measured:
    elements, index, cover, depth = covered
    return Measured(
        elements, depth, lambda figures: cover - figures.level[index] - clearance,
        lambda figures: figures.level_time[index],
    )  # fmt: skip


def below_cover(_: WaterBelowCover, clearance: float, network: Network) -> Measured:
    """Between the water and the covers."""
    return _below(_covered(network), clearance)


def freeboard(_: Freeboard, clearance: float, network: Network) -> Measured:
    """Between the water and the banks of stores, or lower ground on their rims."""
    return _below(_covered(network, stores=True), clearance)


def flood_volume(_: FloodVolume, limit: float, network: Network) -> Measured:
    """Of what stands over the covers, or has run away."""
    elements, index, cover, _depth = _covered(network)
    return Measured(
        elements, np.full(len(elements), limit), lambda figures: limit - figures.flooded[index],
        lambda figures: figures.level_time[index], lambda figures: cover - figures.level[index],
    )  # fmt: skip


def flood_depth(_: FloodDepth, limit: float, network: Network) -> Measured:
    """Of the water that stands over the covers; a sealed manhole has none in the open."""
    elements, index, cover, _depth = _covered(network, in_the_open=True)
    return Measured(
        elements, np.full(len(elements), limit),
        lambda figures: limit - np.maximum(0.0, figures.level[index] - cover),
        lambda figures: figures.level_time[index], lambda figures: cover - figures.level[index],
    )  # fmt: skip


def half_drain(_: HalfDrain, limit: float, network: Network) -> Measured:
    """From the peak of a store until half of what it took is gone.

    A store that is not so far when the run of its storm ends has taken at least the time since its peak: that may
    break the rule, and cannot show that it is met.
    """
    elements, index, _cover, _depth = _covered(network, stores=True)

    def spare(figures: Figures) -> np.ndarray:
        took, half = figures.taken[index], figures.half_drain[index]
        since = float(figures.summary["end_time"]) - figures.level_time[index]
        lasting = np.where(since > limit, since, np.nan)
        return limit - np.where(took < _TAKEN, 0.0, np.where(np.isfinite(half), half, lasting))

    return Measured(
        elements, np.full(len(elements), limit), spare, lambda figures: figures.level_time[index],
        unknown="a store had not given back half when the run of its storm ended",
    )  # fmt: skip
