"""Figures as a slip of the hand leaves them: another unit, a point in the wrong place, two ends exchanged."""

from collections.abc import Iterator
from typing import Any

import numpy as np

from ..elements import Conduit, Outfall, Pump, Storage
from ..model.network import Network
from ..model.project import Project
from ..quantities import Quantity, said
from .finding import Finding, Fix, setting
from .neighbours import odder

__all__ = ["slips", "turned"]

_LEVEL = 0.02  # m
_SLIGHT = 0.02  # paved share: of so little nobody asks, but "1" typed for all of it does
_LEAST_PIPE = 0.05  # m
_SMALL = 2.5  # times smaller than what lies beside it
_LEAST_MAIN, _LONGEST_MAIN = 0.04, 5_000.0  # m
_SHAFT = 0.1  # of the largest area: a smaller one at the end of a table is a shaft above a roof
_LEAST_ALLOWANCE, _MOST_ALLOWANCE = 0.03, 0.8
_FAR, _TIMES_FAR = 2_000.0, 20.0  # m from the middle of all nodes, and times the usual distance from it


def slips(project: Project) -> Iterator[Finding]:
    """Findings of catchments, pipes, openings, mains, outfalls, tables, places and allowances."""
    network, limits = project.option.network, project.check_limits
    for id_, catchment in network.catchments.items():
        if not limits.least_catchment <= catchment.area <= limits.catchment:
            small = catchment.area < limits.least_catchment
            yield Finding(
                "area-unit", "look", id_, "area",
                said(
                    f"{catchment.name} has an area of ", Quantity(catchment.area, "m²", 2 if small else 0),
                    ": less than a roof" if small else ": more than drains to one node",
                ),
                "look at its unit",
            )  # fmt: skip
        if 0.0 < catchment.impervious <= _SLIGHT:
            yield Finding(
                "paved-slight", "look", id_, "impervious",
                f"{catchment.impervious:.1%} of {catchment.name} is paved", "type its paved share in per cent",
            )  # fmt: skip
    yield from _small_pipes(network)
    for id_, link in network.links.items():
        opening = link.CHANGES.get("size")
        if opening and opening.blocks and (height := opening.read(link)) < limits.opening - 1e-9:
            yield Finding(
                "opening-small", "look", id_, "section",
                said(
                    f"{link.name}: an opening of ", Quantity(height * 1000.0, "mm", 0),
                    " is less than the ", Quantity(limits.opening * 1000.0, "mm", 0), " that stay free",
                ),
                "choose a larger one, or a control that needs none so small; the limit is the project's",
            )  # fmt: skip
        if isinstance(link, Pump) and link.main is not None:
            if link.main.diameter < _LEAST_MAIN:
                yield Finding(
                    "main-unusual", "look", id_, "main",
                    said(f"{link.name}: a rising main of ", Quantity(link.main.diameter * 1000.0, "mm", 0)),
                    "look at its diameter and its unit",
                )  # fmt: skip
            if link.main.length > _LONGEST_MAIN:
                yield Finding(
                    "main-unusual", "look", id_, "main",
                    said(f"{link.name}: a rising main ", Quantity(link.main.length, "m", 0), " long"),
                    "look at its length and its unit",
                )  # fmt: skip
    for id_, node in network.nodes.items():
        if isinstance(node, Outfall):
            yield from _outfall(id_, node, network)
        elif isinstance(node, Storage) and len(node.table) > 1:
            base, top = node.table[0].area, node.table[-1].area
            if _SHAFT * base < top < base:
                yield Finding(
                    "store-narrows", "look", id_, "table",
                    said(
                        f"{node.name} narrows upwards: ", Quantity(base, "m²", 0), " at its base and ",
                        Quantity(top, "m²", 0), " at its top",
                    ),
                    "look whether its rows are in order; ponds widen upwards",
                )  # fmt: skip
    yield from _far(network)
    yield from _allowances(project)


def turned(id_: str, pipe: Conduit, network: Network) -> Fix | None:
    """The remedy of a conduit whose ends are exchanged: turned round, or its inverts exchanged; None where neither
    lets it fall from invert to invert.
    """
    above, below = network.nodes[pipe.upstream], network.nodes[pipe.downstream]
    fits = pipe.upstream_invert >= below.invert - _LEVEL and pipe.downstream_invert >= above.invert - _LEVEL
    if not fits or isinstance(below, Outfall):
        return None
    path = f"/links/{id_}"
    if pipe.gradient > 0.0:
        patch: list[dict[str, Any]] = [
            {"op": "replace", "path": f"{path}/upstream", "value": pipe.downstream},
            {"op": "replace", "path": f"{path}/downstream", "value": pipe.upstream},
            {"op": "add", "path": f"{path}/bends", "value": [list(bend) for bend in reversed(pipe.bends)]},
        ]
        return Fix(f"turn it round, from {below.name} to {above.name}", tuple(patch))
    if pipe.gradient < 0.0:
        patch = [
            {"op": "add", "path": f"{path}/upstream_invert", "value": pipe.downstream_invert},
            {"op": "add", "path": f"{path}/downstream_invert", "value": pipe.upstream_invert},
        ]
        return Fix("exchange its inverts", tuple(patch))
    return None


def _small_pipes(network: Network) -> Iterator[Finding]:
    beside: dict[str, list[tuple[str, float]]] = {}
    for id_, link in network.links.items():
        if isinstance(link, Conduit):
            for end in (link.upstream, link.downstream):
                beside.setdefault(end, []).append((id_, link.height))
    for id_, link in network.links.items():
        if not isinstance(link, Conduit):
            continue
        heights = [h for end in (link.upstream, link.downstream) for other, h in beside[end] if other != id_]
        small = bool(heights) and link.height * _SMALL < min(heights) and odder(link.height, min(heights), network)
        if small or link.height < _LEAST_PIPE:
            yield Finding(
                "size-small", "look", id_, "section",
                said(
                    f"{link.name} is ", Quantity(link.height * 1000.0, "mm", 0), " high",
                    *((" between pipes of ", Quantity(min(heights) * 1000.0, "mm", 0), " at least") if small else ()),
                ),
                "look at its size and its unit",
            )  # fmt: skip


def _outfall(id_: str, outfall: Outfall, network: Network) -> Iterator[Finding]:
    if outfall.ground is not None and outfall.ground < outfall.invert:
        yield Finding(
            "outfall-ground", "look", id_, "ground",
            said(
                f"{outfall.name}: its ground of ", Quantity(outfall.ground, "m", 3), " lies below its invert of ",
                Quantity(outfall.invert, "m", 3),
            ),
            "look at both levels",
        )  # fmt: skip
    ends = [(link.downstream_invert, link.name) for link in network.links.values()
            if isinstance(link, Conduit) and link.downstream == id_]  # fmt: skip
    if ends and outfall.invert > min(ends)[0] + _LEVEL:
        end, name = min(ends)
        yield Finding(
            "outfall-above-pipe", "look", id_, "invert",
            said(
                f"{outfall.name}: its invert lies ", Quantity(outfall.invert - end, "m", 2), f" above the end of {name}"
            ),
            "lower it to the pipe's end, or raise the pipe",
            setting(said("lower it to ", Quantity(end, "m", 3)), "nodes", id_, "invert", end),
        )  # fmt: skip


def _far(network: Network) -> Iterator[Finding]:
    """Nodes a long way from all others: a digit too many or too few."""
    placed = {id_: (node.x, node.y) for id_, node in network.nodes.items()}
    if len(placed) < 4:
        return
    points = np.array(list(placed.values()))
    away = np.hypot(*(points - np.median(points, axis=0)).T)
    for id_, distance in zip(placed, away, strict=True):
        if distance > max(_FAR, _TIMES_FAR * float(np.median(away))):
            yield Finding(
                "node-far", "look", id_, "x",
                said(f"{network.nodes[id_].name} lies ", Quantity(float(distance), "m", 0), " from the middle of all"),
                "look at its coordinates",
            )  # fmt: skip


def _allowances(project: Project) -> Iterator[Finding]:
    told: set[float] = set()
    for block in (project.rain.ensemble, *project.rain.further):
        for one in block.probabilities:
            odd = one.allowance > _MOST_ALLOWANCE or 0.0 < one.allowance < _LEAST_ALLOWANCE
            if odd and one.allowance not in told:
                told.add(one.allowance)
                yield Finding(
                    "allowance-unusual", "look", None, "probabilities",
                    f"an allowance of {one.allowance:.1%} on the rain of {one.return_period:g} years",
                    "type it in per cent: 40 for four tenths more", about="rain",
                )  # fmt: skip
