"""Pipes, channels and trenches as rows of cells and faces."""

import math
from typing import Any

import numpy as np

from ..constants import INTERVALS
from ..elements import AngleLoss, Conduit, Manhole, Outfall, Pipe, Shaft, Store
from ..elements.geometry import Crown, SectionTable
from ..model.network import Network
from ..numerics.kept import Kept

__all__ = [
    "Arrivals", "Sections", "arrivals", "contraction", "is_still", "lost_downstream", "lost_upstream", "manhole_loss",
]  # fmt: skip


_tabulated: Kept[tuple[SectionTable, Crown]] = Kept(256)  # sections of which an edit changes few


class Sections:
    """Tables of the sections in use, each once."""

    def __init__(self) -> None:
        self.tables: list[SectionTable] = []
        self.crowns: list[Crown] = []
        self._index: dict[str, int] = {}

    def index(self, conduit: Conduit) -> int:
        """Place of a conduit's table, which is made when it is the first with this section."""
        key = conduit.table_key()
        if key not in self._index:
            self._index[key] = len(self.tables)
            table, crown = _tabulated.get(key, lambda: _with_crown(conduit.table()))
            self.tables.append(table)
            self.crowns.append(crown)
        return self._index[key]

    def arrays(self) -> dict[str, Any]:
        """The tables as arrays of the solver's grid."""
        tables = self.tables or [SectionTable(1.0, False, *(np.ones(INTERVALS + 1) for _ in range(4)))]
        return {
            "section_height": np.array([t.height for t in tables]),
            "section_per": np.array([INTERVALS / t.height for t in tables]),
            "section_area": np.array([t.storage for t in tables]),
            "section_wetted": np.array([np.stack([t.area, t.radius43, t.mean_depth], axis=1) for t in tables]),
        }


def _with_crown(table: SectionTable) -> tuple[SectionTable, Crown]:
    return table, Crown(table)


Arrivals = dict[str, list[tuple[str, Conduit]]]


def arrivals(network: Network) -> Arrivals:
    """Conduits that end at each node, with their ids."""
    found: Arrivals = {}
    for id_, link in network.links.items():
        if isinstance(link, Conduit):
            found.setdefault(link.downstream, []).append((id_, link))
    return found


def is_still(network: Network, id_: str, arriving: Arrivals) -> bool:
    """Whether water comes to rest in a node: stores, waters outside, manholes without benching."""
    node = network.nodes[id_]
    if not isinstance(node, Manhole):
        return isinstance(node, Store | Outfall)
    if node.benched is not None:
        return not node.benched
    return any(conduit.exit_loss is not None and conduit.exit_loss >= 1.0 for _, conduit in arriving.get(id_, []))


def lost_upstream(network: Network, conduit: Conduit, arriving: Arrivals) -> tuple[float, float]:
    """Velocity heads by which the level falls from the upstream node into the conduit, and from it into the node.

    Without the one that it costs to set in motion what rests in the node (`momentum`). What flows back into still water
    loses its velocity head there.
    """
    lost = conduit.entry_loss + manhole_loss(network, conduit, arriving) + 0.5 * conduit.bend_loss
    return lost, max(lost - 1.0, 0.0) if is_still(network, conduit.upstream, arriving) else lost


def lost_downstream(network: Network, conduit: Conduit, arriving: Arrivals) -> tuple[float, float]:
    """The same at the downstream end; without an exit loss of its own still water takes the whole velocity head."""
    still = is_still(network, conduit.downstream, arriving)
    bend = 0.5 * conduit.bend_loss
    if conduit.exit_loss is None:
        return bend, bend
    return conduit.exit_loss + bend, conduit.exit_loss + bend - still


def contraction(loss: float) -> float:
    """Share Cc of a section that a jet fills behind an entry of a loss coefficient: K = (1/Cc − 1)² (Borda and Carnot).

    Of a sharp edge, K = 0.5, 0.59; of a well-rounded one, K = 0, all of it.
    """
    return 1.0 / (1.0 + math.sqrt(loss))


def manhole_loss(network: Network, conduit: Conduit, arriving: Arrivals) -> float:
    """Loss coefficient of the manhole that a conduit leaves, of velocity heads in the conduit.

    By angle: K0 = 0.1 (b/Do) (1 − sin θ) + 1.4 (b/Do)^0.15 sin θ (FHWA HEC-22, 2nd ed., eq. 7-5), b the manhole's
    diameter, Do the conduit's height, θ between the largest incoming pipe and this one (180° is straight through).
    """
    node = network.nodes[conduit.upstream]
    if not isinstance(node, Shaft) or node.head_loss is None:
        return 0.0
    if not isinstance(node.head_loss, AngleLoss):
        return node.head_loss.coefficient
    into = [other for _, other in arriving.get(conduit.upstream, []) if isinstance(other, Pipe)]
    if not into:
        return 0.0
    main = max(into, key=lambda pipe: pipe.height)
    before, after = network.course(main)[-2], network.course(conduit)[1]
    a = np.array([node.x - before[0], node.y - before[1]])
    b = np.array([after[0] - node.x, after[1] - node.y])
    size = float(np.hypot(*a) * np.hypot(*b))
    straight = float(a @ b) / size if size > 0.0 else 1.0
    sine = float(np.sqrt(max(1.0 - straight * straight, 0.0))) if straight > 0.0 else 1.0
    ratio = float(np.sqrt(4.0 * node.area / np.pi)) / conduit.height
    return float(0.1 * ratio * (1.0 - sine) + 1.4 * ratio**0.15 * sine)
