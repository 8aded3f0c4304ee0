"""How a node does, in words that plan, tables and report share."""

from typing import Literal

import numpy as np

from ..elements import Conduit
from ..model.network import Network

__all__ = ["NodeState", "is_surcharged", "node_state", "soffits"]

NodeState = Literal["flooded", "flood risk", "surcharged", "ok"]
_NOISE = 1e-9  # m


def node_state(level: float, cover: float, soffit: float, flooded: float, margin: float) -> NodeState:
    """How a node does. level, cover, soffit : m, the last of its highest conduit; flooded : m3; margin : m below cover
    that are kept free of water.
    """
    if flooded > 0.0 or level > cover + _NOISE:
        return "flooded"
    if cover - level < margin - _NOISE:
        return "flood risk"
    return "surcharged" if level > soffit + _NOISE else "ok"


def is_surcharged(clearance: float) -> bool:
    """Whether water stands above a soffit. clearance : m below it at the least, nan where there is none."""
    return bool(clearance < -_NOISE)


def soffits(network: Network) -> dict[str, float]:
    """The highest soffit of the conduits at each node that has one, m."""
    found: dict[str, float] = {}
    for link in network.links.values():
        if isinstance(link, Conduit):
            for node, invert in ((link.upstream, link.upstream_invert), (link.downstream, link.downstream_invert)):
                found[node] = max(found.get(node, -np.inf), invert + link.height)
    return found
