"""What is given at the edges of a network: inflows of nodes and waters outside, and how long each is known."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from ..elements import Constant, FixedLevel, Free, Hydrograph, LevelSeries, Node, NormalDepth, Outfall
from ..model.network import Network
from ..rainfall.storms import Storm

__all__ = ["Boundary", "boundaries", "longest_rain"]

_DAY = 86_400.0


@dataclass(frozen=True)
class Boundary:
    """Something given at a node.

    element : id. kind : what it is, in words. begin, end : s of the storm within which it is given, None without end.
    least, most : m3/s of an inflow, m of a level; None where the water falls free. after : what goes on behind its end.
    rows : time (s) and value, for drawing; empty where it stays. short : whether it ends before the longest rain does.
    """

    element: str
    what: Literal["inflow", "tail water"]
    kind: str
    begin: float
    end: float | None
    least: float | None
    most: float | None
    after: str
    rows: list[tuple[float, float]]
    short: bool


def longest_rain(storms: Sequence[Storm]) -> float:
    """s of rain of the longest storm."""
    return max((60.0 * storm.duration for storm in storms), default=0.0)


def boundaries(network: Network, rain: float) -> list[Boundary]:
    """Of every node that has one, inflows first. rain : s of the longest rain."""
    found = [one for id_, node in network.nodes.items() for one in _of(id_, node, rain)]
    return sorted(found, key=lambda one: (one.what, network.nodes[one.element].name))


def _of(id_: str, node: Node, rain: float) -> Iterator[Boundary]:
    if isinstance(node, Outfall):
        yield _outside(id_, node, rain)
        return
    for inflow in node.inflows:
        if isinstance(inflow, Constant):
            yield Boundary(
                id_, "inflow", "base flow", 0.0, None, inflow.flow, inflow.flow, "goes on without end", [], False
            )
        elif isinstance(inflow, Hydrograph):
            rows = [(row.time, row.flow) for row in inflow.rows]
            flows = [flow for _, flow in rows]
            yield Boundary(
                id_, "inflow", "hydrograph", rows[0][0], rows[-1][0], min(flows), max(flows), "nothing flows", rows,
                rows[-1][0] < rain and flows[-1] > 0.0,
            )  # fmt: skip
        else:
            part = _DAY / len(inflow.factors)
            flows = [inflow.mean * factor for factor in inflow.factors]
            first = inflow.start * 3600.0
            rows = [((k * part - first) % _DAY, flow) for k, flow in enumerate(flows)]
            yield Boundary(
                id_, "inflow", f"daily pattern from {inflow.start:g} h", 0.0, None, min(flows), max(flows),
                "begins anew each day", sorted(rows), False,
            )  # fmt: skip


def _outside(id_: str, outfall: Outfall, rain: float) -> Boundary:
    water = outfall.tail_water
    if isinstance(water, LevelSeries):
        rows = [(row.time, row.level) for row in water.rows]
        levels = [level for _, level in rows]
        return Boundary(
            id_, "tail water", "series of levels", rows[0][0], rows[-1][0], min(levels), max(levels),
            "the last level stays", rows, rows[-1][0] < rain,
        )  # fmt: skip
    if isinstance(water, FixedLevel):
        return Boundary(id_, "tail water", "fixed level", 0.0, None, water.level, water.level, "stays", [], False)
    kinds = {Free: "falls free", NormalDepth: "normal depth"}
    return Boundary(id_, "tail water", kinds[type(water)], 0.0, None, None, None, "stays", [], False)
