"""Criteria to margins: the signed distance between what happens and what is allowed, and the storm that governs it."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from .figures import Figures
from .model.brief import Criterion, FloodVolume, Freeboard, Outflow, Surcharge, WaterBelowCover
from .model.links import Conduit
from .model.network import Network
from .model.nodes import Outfall, Store
from .rainfall.storms import Storm

__all__ = ["Margin", "NodeState", "Verdict", "judge", "node_state", "soffits"]

State = Literal["meets", "tight", "fails", "unknown"]
_TIGHT = 0.1  # of the scale
_NOISE = 1e-9  # m, m3 or m3/s: equal to the limit passes, whatever the last bit says


@dataclass(frozen=True)
class Margin:
    """Margin of one criterion in one storm, at the element where it is least.

    value : in the unit of the criterion, negative when exceeded. scale : what a full gauge means, same unit.
    """

    value: float
    scale: float
    element: str
    time: float  # s

    @property
    def state(self) -> State:
        if self.value < -_NOISE:
            return "fails"
        return "tight" if self.value < _TIGHT * self.scale else "meets"


@dataclass(frozen=True)
class Verdict:
    """A criterion over its storms: the least margin, the storm that governs, and the margin in every storm."""

    criterion: Criterion
    unit: str
    governing: Margin | None
    storm: str | None
    tied: int  # storms whose margin equals the governing one to its last shown digit
    seen: int  # of the storms that this criterion judges, how many are in
    due: int
    margins: dict[str, Margin]  # by storm key, every storm that is in

    @property
    def state(self) -> State:
        return self.governing.state if self.governing else "unknown"


NodeState = Literal["flooded", "flood risk", "surcharged", "ok"]


def node_state(level: float, cover: float, soffit: float, flooded: float, margin: float) -> NodeState:
    """How a node fares. level, cover, soffit : m, the last of its highest conduit; flooded : m3; margin : m below cover
    that are kept free of water.
    """
    if flooded > 0.0 or level > cover + _NOISE:
        return "flooded"
    if cover - level < margin - _NOISE:
        return "flood risk"
    return "surcharged" if level > soffit + _NOISE else "ok"


def soffits(network: Network) -> dict[str, float]:
    """The highest soffit of the conduits at each node that has one, m."""
    found: dict[str, float] = {}
    for link in network.links.values():
        if isinstance(link, Conduit):
            for node, invert in ((link.upstream, link.upstream_invert), (link.downstream, link.downstream_invert)):
                found[node] = max(found.get(node, -np.inf), invert + link.height)
    return found


Measure = Callable[[Figures], Margin]


def _surcharge(criterion: Surcharge, network: Network, nodes: list[str], links: list[str]) -> Measure | None:
    pipes = [(i, id_) for i, id_ in enumerate(links) if isinstance(network.links[id_], Conduit)]
    if not pipes:
        return None
    index = np.array([i for i, _ in pipes])
    height = np.array([network.links[id_].height for _, id_ in pipes])  # type: ignore[union-attr]

    def measure(figures: Figures) -> Margin:
        spare = figures.spare[index] - criterion.clearance
        k = int(spare.argmin())
        return Margin(float(spare[k]), float(height[k]), links[index[k]], float(figures.spare_time[index[k]]))

    return measure


def _below_level(clearance: float, network: Network, nodes: list[str], only_storage: bool) -> Measure | None:
    chosen = [
        (i, network.nodes[id_]) for i, id_ in enumerate(nodes)
        if not isinstance(network.nodes[id_], Outfall) and (isinstance(network.nodes[id_], Store) or not only_storage)
    ]  # fmt: skip
    if not chosen:
        return None
    index = np.array([i for i, _ in chosen])
    cover = np.array([node.cover for _, node in chosen])  # type: ignore[union-attr]
    depth = cover - np.array([node.invert for _, node in chosen])

    def measure(figures: Figures) -> Margin:
        spare = cover - figures.level[index] - clearance
        k = int(spare.argmin())
        return Margin(float(spare[k]), float(depth[k]), nodes[index[k]], float(figures.level_time[index[k]]))

    return measure


def _cover(criterion: WaterBelowCover, network: Network, nodes: list[str], links: list[str]) -> Measure | None:
    return _below_level(criterion.clearance, network, nodes, only_storage=False)


def _freeboard(criterion: Freeboard, network: Network, nodes: list[str], links: list[str]) -> Measure | None:
    return _below_level(criterion.clearance, network, nodes, only_storage=True)


def _flood_volume(criterion: FloodVolume, network: Network, nodes: list[str], links: list[str]) -> Measure:
    def measure(figures: Figures) -> Margin:
        k = int(figures.flooded.argmax())
        return Margin(
            float(criterion.limit - figures.flooded[k]), criterion.limit, nodes[k], float(figures.level_time[k])
        )

    return measure


def _outflow(criterion: Outflow, network: Network, nodes: list[str], links: list[str]) -> Measure | None:
    at_node = criterion.element in nodes
    if not at_node and criterion.element not in links:
        return None
    k = (nodes if at_node else links).index(criterion.element)

    def measure(figures: Figures) -> Margin:
        flow = figures.outflow[k] if at_node else figures.flow[k]
        time = figures.outflow_time[k] if at_node else figures.flow_time[k]
        return Margin(float(criterion.limit - flow), criterion.limit, criterion.element, float(time))

    return measure


_MEASURES: dict[str, tuple[Callable[..., Measure | None], str]] = {
    "surcharge": (_surcharge, "m"),
    "cover": (_cover, "m"),
    "flood_volume": (_flood_volume, "m3"),
    "outflow": (_outflow, "m3/s"),
    "freeboard": (_freeboard, "m"),
}
_QUANTUM = {"m": 0.001, "m3": 0.1, "m3/s": 1e-5}


def judge(
    criteria: list[Criterion], network: Network, storms: list[Storm], results: Mapping[str, Figures]
) -> list[Verdict]:
    """Verdict of every criterion over the storms that are in.

    A criterion judges the storms of its return period and allowance; margins of the others are given for reading.
    """
    nodes, links = sorted(network.nodes), sorted(network.links)
    verdicts = []
    for criterion in criteria:
        make, unit = _MEASURES[criterion.kind]
        measure = make(criterion, network, nodes, links)
        own = {
            s.key for s in storms
            if s.return_period is not None
            and np.isclose(s.return_period, criterion.return_period) and np.isclose(s.allowance, criterion.allowance)
        }  # fmt: skip
        margins = {s.key: measure(results[s.key]) for s in storms if s.key in results} if measure else {}
        judged = {key: margin for key, margin in margins.items() if key in own}
        storm = min(judged, key=lambda key: judged[key].value) if judged else None
        governing = judged[storm] if storm else None
        tied = sum(abs(m.value - governing.value) < 0.5 * _QUANTUM[unit] for m in judged.values()) if governing else 0
        verdicts.append(Verdict(criterion, unit, governing, storm, tied, len(judged), len(own), margins))
    return verdicts
