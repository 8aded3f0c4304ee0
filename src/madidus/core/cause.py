"""Why an element is surcharged or flooded: too little capacity of its own, or water that backs up from below."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from .elements import Conduit, Outfall, Store
from .figures import Figures
from .model.network import Network
from .states import soffits

__all__ = ["Cause", "cause"]

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


def _is_full(
    network: Network, element: str, level: Mapping[str, float], full_up: Callable[[str], bool], onward: str
) -> bool:
    """Whether a conduit is surcharged, a store floods, or water stands over the soffits at another node."""
    if element in network.links:
        return isinstance(network.links[element], Conduit) and full_up(element)
    node = network.nodes[element]
    if isinstance(node, Outfall):
        return False
    if isinstance(node, Store):
        return bool(level[element] > node.cover)
    if isinstance(network.links[onward], Conduit):
        return full_up(onward)
    return bool(level[element] > soffits(network).get(element, node.cover))


def cause(network: Network, nodes: list[str], links: list[str], figures: Figures, element: str) -> Cause | None:
    """The cause of a surcharged link, or of a node whose water stands above the soffit of the link that leaves it.

    nodes, links : ids in the order of the figures. None where the element is not surcharged; a control never is, a
    store only when it floods. The way down goes by the link with the greatest peak flow; it ends at a conduit at its
    capacity, at a control, at a store or an outfall, or where the next conduit is no longer full: there the last one is
    too small for its losses.
    """
    flow = dict(zip(links, figures.flow, strict=True))
    clearance = dict(zip(links, figures.clearance, strict=True))
    level = dict(zip(nodes, figures.level, strict=True))
    out: dict[str, list[str]] = {}
    for id_, link in network.links.items():
        out.setdefault(link.upstream, []).append(id_)

    def onward(node: str) -> str | None:
        return max(out.get(node, []), key=lambda id_: flow[id_], default=None)

    def full_up(id_: str) -> bool:
        return bool(np.isfinite(clearance[id_]) and clearance[id_] < 0.0)

    at = element if element in network.links else onward(element)
    if at is None or not _is_full(network, element, level, full_up, at):
        return None
    chain: list[str] = []
    while at is not None and at not in chain:
        chain.append(at)
        link = network.links[at]
        if not isinstance(link, Conduit):
            return Cause("capacity" if len(chain) == 1 else "backwater", tuple(chain), flow=float(flow[at]))
        full = link.full_flow() or 0.0
        if flow[at] * _EQUAL >= full:
            return Cause("capacity" if len(chain) == 1 else "backwater", tuple(chain), float(flow[at]), full)
        below = network.nodes[link.downstream]
        if isinstance(below, Store | Outfall):
            stands = float(level[link.downstream])
            return Cause(
                "backwater", (*chain, link.downstream), level=stands if np.isfinite(stands) else None
            )  # fmt: skip
        following = onward(link.downstream)
        if following is None or (isinstance(network.links[following], Conduit) and not full_up(following)):
            return Cause("capacity" if len(chain) == 1 else "backwater", tuple(chain), float(flow[at]), full)
        at = following
    return Cause("backwater", tuple(chain))
