"""What a whole run says of elements that no single storm does: how deep floods stand, what was never used."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import groupby

import numpy as np

from ..elements import Conduit, Inlet, Outfall, Store, held
from ..elements.figures import Figures
from ..hydraulics.events import decode
from ..hydraulics.inflow import Inflow
from ..model.network import Network
from ..rainfall.storms import Storm
from .computed import Computed
from .quality import beyond

__all__ = ["BeyondLimit", "WholeRun", "unit_flows", "whole_run"]

_USED = 0.1  # of its capacity
_PASSED = 1e-5  # m3/s
_HECTARE, _LEAST_PAVED = 1e4, 0.1


@dataclass(frozen=True)
class BeyondLimit:
    """How many storms have a figure of some kind beyond its limit; the worst: its value, where (an id) and in which."""

    count: int
    value: float
    element: str | None
    storm: str


@dataclass(frozen=True)
class WholeRun:
    """By id of nodes that flood : m of water above the cover at the most, and the storm's label. top : by id of stores,
    their highest water (m) and its storm's label.

    unit : by id of nodes that catchments drain to, the greatest runoff of each paved hectare, m3/s. unused : by id of
    stores of which every storm took less than a tenth, the largest share that was taken. idle : ids
    of controls that nothing passed in any storm. Both only where all storms are in. beyond : figures beyond a stated
    limit, by kind; deep floods are told apart.
    """

    deepest: Mapping[str, tuple[float, str]] = field(default_factory=dict)
    top: Mapping[str, tuple[float, str]] = field(default_factory=dict)
    unused: Mapping[str, float] = field(default_factory=dict)
    idle: Sequence[str] = ()
    unit: Mapping[str, float] = field(default_factory=dict)
    beyond: Mapping[str, BeyondLimit] = field(default_factory=dict)


def unit_flows(network: Network, inflow: Mapping[str, Inflow]) -> dict[str, float]:
    """The greatest runoff of all storms by node, m3/s for each hectare that counts as paved (a tenth at least).

    Of nodes where nothing but catchments brings water, and all of it enters: no inflow of their own, no inlet.
    """
    paved: dict[str, float] = {}
    for catchment in network.catchments.values():
        if catchment.node is not None:
            share = max(catchment.impervious, _LEAST_PAVED)
            paved[catchment.node] = paved.get(catchment.node, 0.0) + share * catchment.area / _HECTARE
    passed_on = {node.bypass for node in network.nodes.values() if isinstance(node, Inlet)}
    peaks: dict[str, float] = {}
    for one in inflow.values():
        for id_, flow in zip(one.nodes, one.flow.max(axis=0, initial=0.0), strict=True):
            peaks[id_] = max(peaks.get(id_, 0.0), float(flow))
    found = {}
    for id_, hectares in paved.items():
        node = network.nodes[id_]
        plain = not isinstance(node, Inlet | Outfall) and not node.inflows and id_ not in passed_on
        if plain and id_ in peaks:
            found[id_] = peaks[id_] / hectares
    return found


def _beyond(of: Computed, there: Sequence[tuple[Storm, Figures]]) -> dict[str, BeyondLimit]:
    found: dict[str, BeyondLimit] = {}
    for storm, own in there:
        events = decode([(t, int(code)) for t, code in own.summary["events"]], of.flat)
        for kind, several in groupby(beyond(of.flat, of.reduction, own, events), key=lambda one: one.kind):
            if kind == "flood":
                continue
            worst = max(several, key=lambda one: one.value)
            known = found.get(kind, BeyondLimit(0, -np.inf, None, ""))
            if worst.value > known.value:
                known = BeyondLimit(known.count, worst.value, worst.element, storm.label)
            found[kind] = replace(known, count=known.count + 1)
    return found


def whole_run(of: Computed, storms: Sequence[Storm], inflow: Mapping[str, Inflow]) -> WholeRun:
    """What the storms that are in say. inflow : by key."""
    network, reduction = of.network, of.reduction
    there = [(storm, of.figures[storm.key]) for storm in storms if storm.key in of.figures]
    deepest: dict[str, tuple[float, str]] = {}
    for storm, own in there:
        over = own.level - reduction.open_cover
        for i in np.nonzero(over > 0.0)[0]:
            id_ = reduction.nodes[i]
            if over[i] > deepest.get(id_, (0.0, ""))[0]:
                deepest[id_] = (float(over[i]), storm.label)
    top: dict[str, tuple[float, str]] = {}
    for row, id_ in enumerate(reduction.nodes):
        if isinstance(network.nodes[id_], Store):
            top[id_] = max(((float(own.level[row]), storm.label) for storm, own in there), default=(-np.inf, ""))
    if not there or len(there) < len(storms):
        return WholeRun(deepest, unit=unit_flows(network, inflow), beyond=_beyond(of, there))
    unused: dict[str, float] = {}
    taken = np.array([own.taken for _, own in there])
    for k, id_ in enumerate(reduction.nodes):
        node = network.nodes[id_]
        if isinstance(node, Store):
            share = float(taken[:, k].max()) / held(node)
            if share < _USED:
                unused[id_] = share
    flow = np.array([own.flow for _, own in there]).max(axis=0)
    idle = [
        id_ for k, id_ in enumerate(reduction.links)
        if not isinstance(link := network.links[id_], Conduit)
        and not isinstance(network.nodes[link.upstream], Outfall) and flow[k] < _PASSED
    ]  # fmt: skip
    return WholeRun(deepest, top, unused, idle, unit_flows(network, inflow), _beyond(of, there))
