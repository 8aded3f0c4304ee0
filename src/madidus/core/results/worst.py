"""The worst of every element over the storms that are in: what plan, tables and report show of it."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..elements import Outfall
from ..numerics.known import known
from .computed import Computed
from .states import NodeState, is_surcharged, node_state, soffits

__all__ = ["LinkWorst", "NodeWorst", "worst_links", "worst_nodes"]


@dataclass(frozen=True)
class NodeWorst:
    """In the storm with its highest level (m) or, of an outfall, its greatest outflow (m3/s); it has no level.

    Times in s. flooded : m3, the most of all storms.
    """

    level: float | None
    level_storm: str
    level_time: float | None
    state: NodeState
    flooded: float
    outflow: float | None = None
    outflow_storm: str | None = None
    outflow_time: float | None = None


@dataclass(frozen=True)
class LinkWorst:
    """flow : the greater of both ends; flow_up, flow_down : there in the same storm, m3/s. speed : m/s.

    clearance : m from the water to the soffit at the least, negative where the link is surcharged. Times in s.
    """

    flow: float
    flow_up: float
    flow_down: float
    flow_storm: str
    flow_time: float
    state: Literal["surcharged", "ok"]
    speed: float | None
    clearance: float | None
    clearance_storm: str | None
    clearance_time: float | None


def worst_nodes(of: Computed, near_cover: float) -> dict[str, NodeWorst]:
    """Of every node by id; empty while no storm is in. near_cover : m below it, from where a level is a flood risk."""
    figures = of.figures
    if not figures:
        return {}
    keys = list(figures)
    level = np.array([figures[k].level for k in keys])
    flooded = np.array([figures[k].flooded for k in keys])
    outflow = np.array([figures[k].outflow for k in keys])
    soffit = soffits(of.network)
    found = {}
    for i, id_ in enumerate(of.nodes):
        node, most = of.network.nodes[id_], float(flooded[:, i].max())
        if isinstance(node, Outfall):
            row = int(outflow[:, i].argmax())
            found[id_] = NodeWorst(
                None, keys[row], None, "ok", most,
                float(outflow[row, i]), keys[row], known(figures[keys[row]].outflow_time[i]),
            )  # fmt: skip
        else:
            row = int(level[:, i].argmax())
            high = float(level[row, i])
            state = node_state(high, node.spill_level, soffit.get(id_, node.spill_level), most, near_cover)
            found[id_] = NodeWorst(high, keys[row], known(figures[keys[row]].level_time[i]), state, most)
    return found


def worst_links(of: Computed) -> dict[str, LinkWorst]:
    """Of every link by id; empty while no storm is in."""
    figures = of.figures
    if not figures:
        return {}
    keys = list(figures)
    flow = np.array([figures[k].flow for k in keys])
    clearance = np.array([figures[k].clearance for k in keys])
    speed = np.array([figures[k].speed for k in keys])
    found = {}
    for i, id_ in enumerate(of.links):
        row = int(flow[:, i].argmax())
        most = figures[keys[row]]
        closest = None if np.isnan(clearance[0, i]) else int(clearance[:, i].argmin())
        found[id_] = LinkWorst(
            flow=float(flow[row, i]), flow_up=float(most.flow_up[i]), flow_down=float(most.flow_down[i]),
            flow_storm=keys[row], flow_time=float(most.flow_time[i]),
            state="surcharged" if closest is not None and is_surcharged(clearance[closest, i]) else "ok",
            speed=known(speed[:, i].max()),
            clearance=None if closest is None else float(clearance[closest, i]),
            clearance_storm=None if closest is None else keys[closest],
            clearance_time=None if closest is None else float(figures[keys[closest]].clearance_time[i]),
        )  # fmt: skip
    return found
