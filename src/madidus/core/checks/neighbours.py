"""Figures that do not fit the project itself: a pipe its run, a catchment the others, a store what drains to it."""

from collections.abc import Iterator

import numpy as np

from ..elements import Conduit, Outfall, Pipe, Store, held
from ..hydraulics.conduits import arrivals
from ..model.network import Network
from ..model.project import Project
from ..quantities import Quantity, said
from ..runoff.catchments import running_off
from ..runoff.permit import drained
from .finding import Finding

__all__ = ["neighbours", "odder"]

_JUMP = 2.5  # times the size of what arrives
_STEEP = 0.25  # of the distance, that covers side by side may differ by
_STEP = 3.0  # m that they may differ by however near they lie
_TIMES_MEDIAN, _TIMES_NEXT = 5.0, 3.0  # of the other areas
_FEW = 5  # others, from which there is something usual
_MOSTLY = 0.75  # of the catchments
_OFF = 5.0  # times, or a fifth of, the middle of the others
_HECTARE = 1e4


def neighbours(project: Project) -> Iterator[Finding]:
    """Findings of pipes, covers, catchments and stores against the rest of the project."""
    network = project.option.network
    yield from _sizes(network)
    yield from _covers(network)
    yield from _areas(network)
    yield from _paved(network)
    yield from _coefficients(project)
    yield from _stores(project)


def odder(one: float, other: float, network: Network) -> bool:
    """Whether the first of two heights of conduits is further from the middle of all, in proportion."""
    middle = float(np.median([link.height for link in network.links.values() if isinstance(link, Conduit)]))
    return max(one / middle, middle / one) >= max(other / middle, middle / other)


def _sizes(network: Network) -> Iterator[Finding]:
    arriving = arrivals(network)
    leaving: dict[str, list[Conduit]] = {}
    for link in network.links.values():
        if isinstance(link, Conduit):
            leaving.setdefault(link.upstream, []).append(link)
    for id_, pipe in network.links.items():
        if not isinstance(pipe, Pipe) or isinstance(network.nodes[pipe.upstream], Store):
            continue
        above = [conduit.height for _, conduit in arriving.get(pipe.upstream, [])]
        below = [conduit.height for conduit in leaving.get(pipe.downstream, [])]
        beside = [*above, *below]
        if beside and pipe.height > _JUMP * max(beside) and odder(pipe.height, max(beside), network):
            yield Finding(
                "size-jumps", "look", id_, "section",
                said(
                    f"{pipe.name} is ", Quantity(pipe.height * 1000.0, "mm", 0), " high between pipes of ",
                    Quantity(max(beside) * 1000.0, "mm", 0), " at most",
                ),
                "look at its size and its unit",
            )  # fmt: skip


def _covers(network: Network) -> Iterator[Finding]:
    beside: dict[str, list[tuple[str, float]]] = {}
    for link in network.links.values():
        if isinstance(link, Conduit):
            beside.setdefault(link.upstream, []).append((link.downstream, link.length))
            beside.setdefault(link.downstream, []).append((link.upstream, link.length))
    for id_, node in network.nodes.items():
        if isinstance(node, Outfall):
            continue
        off = []
        for other_id, length in beside.get(id_, []):
            other = network.nodes[other_id]
            if not isinstance(other, Outfall):
                off.append((abs(node.cover - other.cover), length, other.name))
        if off and all(step > _STEP and step > _STEEP * length for step, length, _ in off) and len(off) > 1:
            step, _, name = min(off)
            yield Finding(
                "cover-off", "look", id_, "cover",
                said(
                    f"{node.name}: its cover lies ", Quantity(step, "m", 2), f" from that of {name}",
                    " and as far from all around it",
                ),
                "look at its level",
            )  # fmt: skip


def _areas(network: Network) -> Iterator[Finding]:
    """Areas that no outline confirms; each is held against the others."""
    areas = {id_: catchment.area for id_, catchment in network.catchments.items()}
    if len(areas) <= _FEW:
        return
    first, second = sorted(areas.values())[-1], sorted(areas.values())[-2]
    middle = float(np.median(list(areas.values())))
    for id_, area in areas.items():
        catchment = network.catchments[id_]
        if area == first and area > _TIMES_NEXT * second and area > _TIMES_MEDIAN * middle and not catchment.polygon:
            yield Finding(
                "area-off", "look", id_, "area",
                said(
                    f"{catchment.name} has ", Quantity(area, "m²", 0),
                    f", {area / second:.1f} times the next largest of {len(areas)} catchments",
                ),
                "look at its area, or draw its outline",
            )  # fmt: skip


def _paved(network: Network) -> Iterator[Finding]:
    shares = [catchment.impervious for catchment in network.catchments.values()]
    if len(shares) <= _FEW or sum(share > 0.0 for share in shares) < _MOSTLY * len(shares):
        return
    for id_, catchment in network.catchments.items():
        if catchment.impervious == 0.0:
            yield Finding(
                "paved-none", "look", id_, "impervious",
                f"nothing of {catchment.name} is paved, and of the others {np.median(shares):.0%}",
                "type its paved share, or accept that it is green",
            )  # fmt: skip


def _coefficients(project: Project) -> Iterator[Finding]:
    """What runs off of each catchment against the others: a share typed in per cent, a method of another place."""
    catchments, values = project.option.network.catchments, project.rain.runoff
    if len(catchments) <= _FEW:
        return
    shares = {id_: running_off(catchment, values) for id_, catchment in catchments.items()}
    middle = float(np.median(list(shares.values())))
    for id_, share in shares.items():
        if catchments[id_].impervious > 0.0 and share > 0.0 and not middle / _OFF <= share <= _OFF * middle:
            yield Finding(
                "coefficient-off", "look", id_, "impervious",
                f"of the rain on {catchments[id_].name} {share:.0%} runs off, and of the others {middle:.0%}",
                "look at its paved share and its method",
            )  # fmt: skip


def _stores(project: Project) -> Iterator[Finding]:
    """Stores against the paved ground that drains to them."""
    network, most = project.option.network, project.check_limits.unit_storage
    for id_, node in network.nodes.items():
        if not isinstance(node, Store):
            continue
        area, paved = drained(network, id_)
        holds = held(node)
        hectares = max(paved, 0.1 * area) / _HECTARE
        if hectares > 0.0 and holds > most * hectares:
            yield Finding(
                "store-vast", "look", id_, "table",
                said(
                    f"{node.name} holds ", Quantity(holds, "m³", 0), ": ",
                    Quantity(holds / hectares * 1000 / _HECTARE, "mm", 0), " of rain on all that is paved above it",
                ),
                "look at its areas and depths, and at what drains to it",
            )  # fmt: skip
