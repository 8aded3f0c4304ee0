"""Runoff of every catchment of a network, gathered at its nodes."""

import numpy as np

from ..hydraulics.inflow import Inflow
from ..model.network import Catchment, Network
from ..model.runoff import Runoff
from .gather import add_inflows, pass_inlets
from .methods import Ground, RainBlocks, Yield, yield_of

__all__ = ["ground_of", "inflows", "yields"]


def ground_of(catchment: Catchment, values: Runoff) -> Ground:
    """What decides how a catchment runs off: its own values, or else the project's; paved ground grown by creep."""
    return Ground(
        method=catchment.method or values.method,
        paved=min(1.0, catchment.impervious * (1.0 + values.creep)),
        entry=values.time_of_entry if catchment.time_of_entry is None else catchment.time_of_entry,
    )


def yields(network: Network, values: Runoff, rain: RainBlocks) -> list[tuple[Yield, dict[str, float]]]:
    """Runoff of a square metre for each kind of ground that there is, with the area (m2) of it by node.

    Ground that is alike in all but its area is computed once. Catchments without a node give nothing.
    """
    alike: dict[str, tuple[Ground, dict[str, float]]] = {}
    for catchment in network.catchments.values():
        if catchment.node is None:
            continue
        for ground, share in ground_of(catchment, values).parts():
            if share > 0.0:
                key = f"{ground.method.model_dump_json()} {ground.paved!r} {ground.entry!r}"
                _, areas = alike.setdefault(key, (ground, {}))
                areas[catchment.node] = areas.get(catchment.node, 0.0) + share * catchment.area
    return [(yield_of(ground, values, rain), areas) for _, (ground, areas) in sorted(alike.items())]


def inflows(network: Network, values: Runoff, rain: RainBlocks, began: float = 0.0) -> Inflow:
    """Hydrographs at the nodes: runoff, and what enters besides.

    began : s, when the rain begins on the nodes' own clocks.
    """
    found = yields(network, values, rain)
    nodes = sorted({node for _, areas in found for node in areas})
    column = {node: j for j, node in enumerate(nodes)}
    times = np.unique(np.round(np.concatenate([rain.times, *(one.times for one, _ in found)]), 6))
    flow = np.zeros((len(times), len(nodes)))
    for one, areas in found:
        shape = np.interp(times, one.times, one.flow, left=0.0, right=0.0)
        where = [column[node] for node in areas]
        flow[:, where] += shape[:, None] * np.array(list(areas.values()))[None, :]
    runoff = Inflow(times, flow, nodes, np.zeros(len(nodes)))
    return pass_inlets(network, add_inflows(network, runoff, began))
