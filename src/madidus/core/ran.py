"""What a whole run says of elements that no single storm does: how deep floods stand, what was never used."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from .elements import Conduit, Outfall, Store
from .figures import Figures, Reduction
from .model.network import Network
from .rainfall.storms import Storm

__all__ = ["Ran", "ran"]

_USED = 0.1  # of its capacity
_PASSED = 1e-5  # m3/s


@dataclass(frozen=True)
class Ran:
    """By id of nodes that flood : m of water above the cover at the most, and the storm's label.

    unused : by id of stores of which every storm took less than a tenth, the largest share that was taken. idle : ids
    of controls that nothing passed in any storm. Both only where all storms are in.
    """

    deepest: Mapping[str, tuple[float, str]] = field(default_factory=dict)
    unused: Mapping[str, float] = field(default_factory=dict)
    idle: Sequence[str] = ()


def ran(network: Network, reduction: Reduction, storms: Sequence[Storm], figures: Mapping[str, Figures]) -> Ran:
    """What the storms that are in say. figures : by key."""
    there = [(storm, figures[storm.key]) for storm in storms if storm.key in figures]
    deepest: dict[str, tuple[float, str]] = {}
    for storm, own in there:
        over = own.level - reduction.open_cover
        for i in np.nonzero(over > 0.0)[0]:
            id_ = reduction.nodes[i]
            if over[i] > deepest.get(id_, (0.0, ""))[0]:
                deepest[id_] = (float(over[i]), storm.label)
    if not there or len(there) < len(storms):
        return Ran(deepest)
    unused: dict[str, float] = {}
    taken = np.array([own.taken for _, own in there])
    for k, id_ in enumerate(reduction.nodes):
        node = network.nodes[id_]
        if isinstance(node, Store):
            depths, areas = node.areas()
            share = float(taken[:, k].max()) / float(np.trapezoid(areas, depths))
            if share < _USED:
                unused[id_] = share
    flow = np.array([own.flow for _, own in there]).max(axis=0)
    idle = [
        id_ for k, id_ in enumerate(reduction.links)
        if not isinstance(link := network.links[id_], Conduit)
        and not isinstance(network.nodes[link.upstream], Outfall) and flow[k] < _PASSED
    ]  # fmt: skip
    return Ran(deepest, unused, idle)
