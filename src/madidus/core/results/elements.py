"""What every element does over some storms: all of them, those of a return period or a duration, or one.

Patterns of a duration are read by their mean or median where that is asked for, as rules read them; then the highest
over durations counts.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..elements import Conduit, Outfall, Store, held
from ..elements.figures import Figures
from ..numerics.known import known
from ..rainfall.storms import Storm
from .cause import Causes
from .computed import Computed
from .patterns import Highest, Statistic
from .pumps import PumpResult, pump_results
from .states import NodeState, is_surcharged, node_state, soffits

__all__ = ["ElementResults", "LinkResult", "NodeResult", "OutfallResult", "StoreResult", "element_results"]

Why = Literal["capacity", "backwater"]


@dataclass(frozen=True)
class NodeResult:
    """A node with a cover. level : m, and at which time, s; depth : m over the invert; left : m below the cover,
    negative above it; flooded : m3. storm : key, that governs its level. why, by : cause, and id of what causes it.
    """

    state: NodeState
    level: float
    depth: float
    left: float
    flooded: float
    storm: str
    time: float | None
    why: Why | None = None
    by: str | None = None


@dataclass(frozen=True)
class LinkResult:
    """A link. flow : m3/s, the greater at both ends, in `storm` at `time`, s; share : of what it carries just full;
    speed : m/s; clearance : m below the soffit, negative where it is surcharged, in its own storm.
    """

    state: Literal["surcharged", "ok"]
    flow: float
    share: float | None
    speed: float | None
    clearance: float | None
    clearance_storm: str | None
    storm: str
    time: float | None
    why: Why | None = None
    by: str | None = None


@dataclass(frozen=True)
class StoreResult:
    """A pond or a tank, besides what it is as a node. capacity, volume : m3 to where it spills, and the greatest held;
    share : of the capacity; top : m; freeboard : m below where it spills; entering, leaving : greatest flows, m3/s; lag
    : s by which the second comes after the first; half_drain : s from its peak, None where that was not seen;
    infiltrated : m3. All but the capacity and the volume in `storm`, which governs its level.
    """

    capacity: float
    volume: float
    share: float
    top: float
    freeboard: float
    entering: float
    leaving: float
    lag: float
    half_drain: float | None
    infiltrated: float | None
    storm: str
    time: float | None


@dataclass(frozen=True)
class OutfallResult:
    """flow : m3/s in `storm` at `time`, s; volume : m3 that left, the most of these storms, in its own."""

    flow: float
    storm: str
    time: float | None
    volume: float
    volume_storm: str


@dataclass(frozen=True)
class ElementResults:
    """Of some storms. missing : which of them are not in, in words; empty when all are. By id, each of its kind."""

    missing: str
    nodes: Mapping[str, NodeResult]
    links: Mapping[str, LinkResult]
    stores: Mapping[str, StoreResult]
    outfalls: Mapping[str, OutfallResult]
    pumps: Mapping[str, PumpResult]


_Cause = Callable[[str, str], tuple[Why | None, str | None]]
"""Of a storm and an element: its cause, and the id of what causes it."""


def element_results(
    of: Computed, storms: Sequence[Storm], near_cover: float, by: Statistic = "highest"
) -> ElementResults:  # fmt: skip
    """What every element does over storms, of which those count that are in. near_cover : m below it, from where a
    level is a flood risk.
    """
    there = [storm for storm in storms if storm.key in of.figures]
    missing = "" if len(there) == len(storms) else f"{len(there)} of {len(storms)} storms are in"
    if not there:
        return ElementResults(missing or "no storm is run", {}, {}, {}, {}, {})
    own = [of.figures[storm.key] for storm in there]
    highest, keys = Highest(there, by), [storm.key for storm in there]
    causes: dict[str, Causes] = {}

    def why(storm: str, element: str) -> tuple[Why | None, str | None]:
        if storm not in causes:
            causes[storm] = Causes(of.network, of.nodes, of.links, of.figures[storm])
        found = causes[storm].of(element)
        return (None, None) if found is None else (found.kind, found.bottleneck)

    return ElementResults(
        missing, _nodes(of, own, highest, keys, why, near_cover), _links(of, own, highest, keys, why),
        _stores(of, own, highest, keys), _outfalls(of, own, highest, keys), pump_results(of, keys),
    )  # fmt: skip


def _nodes(
    of: Computed, own: Sequence[Figures], highest: Highest, keys: Sequence[str], why: _Cause, near_cover: float
) -> dict[str, NodeResult]:
    level, at = highest.of(np.array([one.level for one in own]))
    flooded, _ = highest.of(np.array([one.flooded for one in own]))
    soffit = soffits(of.network)
    found = {}
    for i, id_ in enumerate(of.nodes):
        node = of.network.nodes[id_]
        if isinstance(node, Outfall):
            continue
        top, storm = float(level[i]), keys[at[i]]
        state = node_state(top, node.spill_level, soffit.get(id_, node.spill_level), float(flooded[i]), near_cover)
        cause = (None, None) if state == "ok" else why(storm, id_)
        found[id_] = NodeResult(
            state, top, top - node.invert, node.spill_level - top, float(flooded[i]), storm,
            known(own[at[i]].level_time[i]), *cause,
        )  # fmt: skip
    return found


def _links(
    of: Computed, own: Sequence[Figures], highest: Highest, keys: Sequence[str], why: _Cause
) -> dict[str, LinkResult]:
    flow, at = highest.of(np.array([one.flow for one in own]))
    speed, _ = highest.of(np.array([one.speed for one in own]))
    negative, least_at = highest.of(-np.array([one.clearance for one in own]))
    found = {}
    for i, id_ in enumerate(of.links):
        link = of.network.links[id_]
        clearance, tight = known(-negative[i]), keys[least_at[i]]
        full = link.full_flow() if isinstance(link, Conduit) else None
        surcharged = clearance is not None and is_surcharged(clearance)
        found[id_] = LinkResult(
            "surcharged" if surcharged else "ok", float(flow[i]), float(flow[i]) / full if full else None,
            known(speed[i]), clearance, None if clearance is None else tight, keys[at[i]],
            known(own[at[i]].flow_time[i]), *(why(tight, id_) if surcharged else (None, None)),
        )  # fmt: skip
    return found


def _stores(of: Computed, own: Sequence[Figures], highest: Highest, keys: Sequence[str]) -> dict[str, StoreResult]:
    level, at = highest.of(np.array([one.level for one in own]))
    volume, _ = highest.of(np.array([one.volume for one in own]))
    found = {}
    for i, id_ in enumerate(of.nodes):
        node = of.network.nodes[id_]
        if not isinstance(node, Store):
            continue
        capacity, one = held(node), own[at[i]]
        took = float(one.taken[i]) > 1e-3
        found[id_] = StoreResult(
            capacity, float(volume[i]), float(volume[i]) / capacity, float(level[i]),
            node.spill_level - float(level[i]),
            float(one.entering[i]), float(one.leaving[i]), float(one.leaving_time[i] - one.entering_time[i]),
            known(one.half_drain[i]) if took else 0.0, known(one.infiltrated[i]), keys[at[i]],
            known(one.level_time[i]),
        )  # fmt: skip
    return found


def _outfalls(of: Computed, own: Sequence[Figures], highest: Highest, keys: Sequence[str]) -> dict[str, OutfallResult]:
    flow, at = highest.of(np.array([one.outflow for one in own]))
    volume, most = highest.of(np.array([one.left for one in own]))
    return {
        id_: OutfallResult(
            float(flow[i]), keys[at[i]], known(own[at[i]].outflow_time[i]), float(volume[i]), keys[most[i]]
        )
        for i, id_ in enumerate(of.nodes) if isinstance(of.network.nodes[id_], Outfall)
    }  # fmt: skip
