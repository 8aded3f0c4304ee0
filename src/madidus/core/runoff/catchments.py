"""Runoff of every catchment of a network, gathered at its nodes."""

from typing import Protocol

import numpy as np

from ..hydraulics.inflow import Inflow
from ..model.network import Catchment, Network
from ..model.rain import Runoff
from .gather import add_inflows, pass_inlets
from .time_area import mean_intensity

__all__ = ["RainBlocks", "effective_area", "inflows"]


class RainBlocks(Protocol):
    """Rain that is constant in steps. times : float64[n + 1], s; intensity : float64[n], mm/h between them."""

    @property
    def times(self) -> np.ndarray: ...
    @property
    def intensity(self) -> np.ndarray: ...
    @property
    def season(self) -> str: ...


def effective_area(catchment: Catchment, values: Runoff, season: str) -> float:
    """Runoff coefficient × area, m2: paved share (grown by creep, to the whole at most) and green share."""
    paved_share = min(1.0, catchment.impervious * (1.0 + values.creep))
    winter = season == "winter"
    paved = values.winter_paved if winter else values.summer_paved
    green = values.winter_green if winter else values.summer_green
    return catchment.area * (paved * paved_share + green * (1.0 - paved_share))


def inflows(network: Network, values: Runoff, rain: RainBlocks, began: float = 0.0) -> Inflow:
    """Hydrographs at the nodes: runoff, and what enters besides; catchments without a node give none.

    The season 'all year' takes the summer coefficients. began : s, when the rain begins on the nodes' own clocks.
    """
    by_entry: dict[float, dict[str, float]] = {}
    for catchment in network.catchments.values():
        if catchment.node is None:
            continue
        entry = values.time_of_entry if catchment.time_of_entry is None else catchment.time_of_entry
        areas = by_entry.setdefault(entry, {})
        areas[catchment.node] = areas.get(catchment.node, 0.0) + effective_area(catchment, values, rain.season)
    nodes = sorted({node for areas in by_entry.values() for node in areas})
    shifts = np.array([0.0, *sorted(by_entry)])
    times = np.unique(np.round((rain.times[:, None] + shifts[None, :]).ravel(), 6))
    flow = np.zeros((len(times), len(nodes)))
    for entry, areas in sorted(by_entry.items()):
        shape = mean_intensity(rain.times, rain.intensity, entry, times) / 3.6e6
        for node, area in areas.items():
            flow[:, nodes.index(node)] += shape * area
    runoff = Inflow(times, flow, nodes, np.zeros(len(nodes)))
    return pass_inlets(network, add_inflows(network, runoff, began))
