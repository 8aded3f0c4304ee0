"""Why an element is surcharged or flooded: too little capacity of its own, or water that backs up from below."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..elements import Conduit, Outfall, Store
from ..elements.figures import Figures
from ..model.network import Network
from .states import is_surcharged, soffits

__all__ = ["Cause", "Causes", "cause"]

_EQUAL = 1.02  # peaks within 2 % of the full-bore capacity count as at capacity


@dataclass(frozen=True)
class Cause:
    """kind 'capacity': the bottleneck itself carries less than arrives; 'backwater': the water below stands too high.

    chain : ids from the symptom to the bottleneck, links and at its end perhaps a node. flow, full : m3/s at the
    bottleneck, None where it is no conduit. level : m, of the water at a store or outfall that backs up.
    """

    kind: Literal["capacity", "backwater"]
    chain: tuple[str, ...]
    flow: float | None = None
    full: float | None = None
    level: float | None = None

    @property
    def bottleneck(self) -> str:
        """Id of the conduit, control or node at the end of the chain."""
        return self.chain[-1]


class Causes:
    """The causes in one storm.

    nodes, links : ids in the order of the figures. The way down goes by the link with the greatest peak flow; it ends
    at a conduit at its capacity, at a control, at a store or an outfall, or where the next conduit is no longer full:
    there the last one is too small for its losses.
    """

    def __init__(self, network: Network, nodes: list[str], links: list[str], figures: Figures):
        self._network = network
        self._flow = dict(zip(links, figures.flow.tolist(), strict=True))
        self._clearance = dict(zip(links, figures.clearance.tolist(), strict=True))
        self._level = dict(zip(nodes, figures.level.tolist(), strict=True))
        self._soffits = soffits(network)
        out: dict[str, list[str]] = {}
        for id_, link in network.links.items():
            out.setdefault(link.upstream, []).append(id_)
        self._onward = {node: max(leaving, key=lambda id_: self._flow[id_]) for node, leaving in out.items()}

    def _full_up(self, id_: str) -> bool:
        return is_surcharged(self._clearance[id_])

    def _is_full(self, element: str, onward: str) -> bool:
        """Whether a conduit is surcharged, a store floods, or water stands over the soffits at another node."""
        network = self._network
        if element in network.links:
            return isinstance(network.links[element], Conduit) and self._full_up(element)
        node = network.nodes[element]
        if isinstance(node, Outfall):
            return False
        if isinstance(node, Store):
            return bool(self._level[element] > node.spill_level)
        if isinstance(network.links[onward], Conduit):
            return self._full_up(onward)
        return bool(self._level[element] > self._soffits.get(element, node.spill_level))

    def of(self, element: str) -> Cause | None:
        """The cause of a surcharged link, or of a node whose water stands above the soffit of the link that leaves it.

        None where the element is not surcharged; a control never is, a store only when it floods.
        """
        network, flow, level = self._network, self._flow, self._level
        at = element if element in network.links else self._onward.get(element)
        if at is None or not self._is_full(element, at):
            return None
        chain: list[str] = []
        while at is not None and at not in chain:
            chain.append(at)
            link = network.links[at]
            if not isinstance(link, Conduit):
                return Cause("capacity" if len(chain) == 1 else "backwater", tuple(chain), flow=flow[at])
            full = link.full_flow() or 0.0
            if flow[at] * _EQUAL >= full:
                return Cause("capacity" if len(chain) == 1 else "backwater", tuple(chain), flow[at], full)
            below = network.nodes[link.downstream]
            if isinstance(below, Store | Outfall):
                stands = level[link.downstream]
                return Cause(
                    "backwater", (*chain, link.downstream), level=stands if np.isfinite(stands) else None
                )  # fmt: skip
            following = self._onward.get(link.downstream)
            if following is None or (isinstance(network.links[following], Conduit) and not self._full_up(following)):
                return Cause("capacity" if len(chain) == 1 else "backwater", tuple(chain), flow[at], full)
            at = following
        return Cause("backwater", tuple(chain))


def cause(network: Network, nodes: list[str], links: list[str], figures: Figures, element: str) -> Cause | None:
    """The cause at one element in one storm, as `Causes.of` finds it."""
    return Causes(network, nodes, links, figures).of(element)
