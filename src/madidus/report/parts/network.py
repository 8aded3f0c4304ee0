"""Schedules of the network, with pictures of its curves."""

import numpy as np

from ...core.elements import Conduit, Pump, Store
from ...core.hydraulics.rating_curve import rating_curve
from ...core.model.report import Schedules
from ..blocks import Block, Picture
from ..drawing.graph import Axis, Line, graph_svg
from ..reported import Reported
from ..schedules import curve_tables, schedule, stages

__all__ = ["schedules_part"]

_WIDE, _HIGH = 84.0, 52.0  # mm


def schedules_part(of: Reported, part: Schedules) -> list[Block]:
    """The chosen schedules, then stage–area and rating curves as pictures and tables."""
    project = of.project
    blocks: list[Block] = [schedule(project, kind, of.nodes, of.links) for kind in part.of]
    wanted = {"storage": of.nodes, "controls": of.links}
    nodes = wanted["storage"] if "storage" in part.of else []
    links = wanted["controls"] if "controls" in part.of else []
    if part.curves:
        blocks += _pictures(of, nodes, links)
    blocks += curve_tables(project.option.network, nodes, links)
    return blocks


def _pictures(of: Reported, nodes: list[str], links: list[str]) -> list[Block]:
    network, units = of.project.option.network, of.units
    blocks: list[Block] = []
    for id_ in nodes:
        node = network.nodes[id_]
        if isinstance(node, Store):
            depths, areas, _ = stages(node)
            (m, metre), (a, area) = units.figure(1.0, "m"), units.figure(1.0, "m²")
            title = f"{node.word} {node.name}: area by depth"
            svg = graph_svg(_WIDE, _HIGH, Axis(f"depth, {metre}"), Axis(f"area, {area}", from_zero=True),
                            [Line("", depths * m, areas * a)], title=title)  # fmt: skip
            blocks.append(Picture(svg, _WIDE, _HIGH, title))
    for id_ in links:
        link = network.links[id_]
        if not isinstance(link, Conduit):
            curve = rating_curve(network, id_)
            (m, metre), (q, flow) = units.figure(1.0, "m"), units.figure(1000.0, "L/s")
            across = "static lift" if isinstance(link, Pump) else "head"
            title = f"{link.WORD} {link.name}: flow by {across}, free of tail water"
            svg = graph_svg(_WIDE, _HIGH, Axis(f"{across}, {metre}"), Axis(f"flow, {flow}", from_zero=True),
                            [Line("", np.array(curve.head) * m, np.array(curve.flow) * q)], title=title)  # fmt: skip
            blocks.append(Picture(svg, _WIDE, _HIGH, title))
    return blocks
