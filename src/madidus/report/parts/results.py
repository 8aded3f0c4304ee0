"""Results: storms and their balance, figures by return period, critical durations, spread of peaks, kept graphs."""

import numpy as np

from ...core.elements import Outfall, Store
from ...core.model.report import BoxPlots, CriticalDurations, KeptGraphs, Results, Storms
from ...core.model.saved import Graph
from ...core.quantities import Units
from ...core.rainfall.storms import Storm
from ...core.results.series import Quantity
from ...core.results.statistics import peaks_by_duration, spread, usual_measure
from ..blocks import Block, Picture, Subheading, Text
from ..drawing.graph import Axis, BoxOf, Line, graph_svg
from ..reported import DOUBT, Reported
from ..results import critical_tables, row_tables, states_table, storms_table, water_table

__all__ = ["critical_part", "graph_lines", "graphs", "results_part", "spread_part", "storms_part"]

_WIDE, _HIGH = 174.0, 70.0  # mm
_BOXED = 5  # storms of a duration, from which a box tells of them
_MOST_LINES = 24
UNIT: dict[Quantity, tuple[str, float]] = {
    "level": ("m", 1.0), "depth": ("m", 1.0), "volume": ("m³", 1.0), "fill": ("", 100.0), "flow": ("L/s", 1000.0),
    "speed": ("m/s", 1.0), "entering": ("L/s", 1000.0), "leaving": ("L/s", 1000.0),
}  # fmt: skip
"""Unit and factor by quantity; fill is told in %."""


def storms_part(of: Reported, _: Storms) -> list[Block]:
    """Every storm with its volume balance, and where its rain went."""
    return [storms_table(of), water_table(of)]


def results_part(of: Reported, part: Results) -> list[Block]:
    """By return period in flow order, with states, causes and governing storms."""
    rows = [row for row in of.rows if not part.rows or row in part.rows]
    gone = [row for row in part.rows if row not in of.rows]
    blocks: list[Block] = []
    if not rows:
        return [Text("No storm of these return periods is in.", "strong")]
    if of.only:
        blocks.append(Text(f"Told of the selection “{of.only.name}” alone: {len(of.only.elements)} elements."))
    if of.doubtful:
        said = f"Storms marked{DOUBT}: a figure of theirs is beyond a stated limit, told under quality and doubts."
        blocks.append(Text(said, "quiet"))
    if gone:
        blocks.append(Text(f"No results are there for {', '.join(gone)}.", "strong"))
    if "states" in part.of:
        blocks.append(states_table(of, rows))
    for row in rows:
        found = of.elements(row)
        tables = row_tables(of, row, part.of)
        if tables:
            missing = f" ({found.missing})" if found and found.missing else ""
            blocks += [Subheading(f"{row}{missing}"), *tables]
    return blocks


def critical_part(of: Reported, _: CriticalDurations) -> list[Block]:
    """The duration that governs each element."""
    tables = critical_tables(of)
    return list(tables) if tables else [Text("No storm with a duration of its own is in.")]


def spread_part(of: Reported, part: BoxPlots) -> list[Block]:
    """Boxes of the peaks by duration, of stores and outfalls or of chosen elements, by return period."""
    network, plan = of.plan.network, of.plan
    ids = part.elements or [
        id_ for id_ in of.nodes if isinstance(network.nodes[id_], Store | Outfall)
    ]  # fmt: skip
    blocks: list[Block] = []
    for id_ in ids:
        if id_ not in network.nodes and id_ not in network.links:
            blocks.append(Text(f"An element that was chosen for its spread is not in this option: {id_}.", "strong"))
            continue
        measure = usual_measure(network, id_)
        place = (plan.links if measure == "flow" else plan.nodes).index(id_)
        unit, factor = ("m", 1.0) if measure == "level" else ("L/s", 1000.0)
        figure, name = of.units.figure(factor, unit)
        for row in of.rows:
            peaks = peaks_by_duration(plan.storms, dict(of.figures), row, measure, place)
            if not peaks:
                continue
            boxes = []
            for k, own in enumerate(peaks.values()):
                one = spread(np.array(list(own.values())) * figure)
                five = (one.lowest, one.quartiles[0], one.median, one.quartiles[1], one.highest)
                few = tuple(value * figure for value in own.values()) if len(own) < _BOXED else ()
                boxes.append(BoxOf(float(k), five, one.mean, few))
            marks = tuple((float(k), f"{duration:g}") for k, duration in enumerate(peaks))
            title = f"{network.label(id_)}, {row}: spread of peaks"
            what = "highest level" if measure == "level" else "peak flow"
            svg = graph_svg(_WIDE, _HIGH, Axis("duration, min", marks), Axis(f"{what}, {name}"), [], boxes, title)
            blocks.append(Picture(svg, _WIDE, _HIGH, title))
    if blocks:
        said = (
            "Boxes from the lower to the upper quartile with the median; whiskers to the least and the greatest; the "
            f"dot is the mean. Durations with fewer than {_BOXED} storms: a ring for each."
        )
        blocks.insert(0, Text(said, "quiet"))
    return blocks or [Text("Nothing to draw: no storm is in, or there is no store and no outfall.")]


def graphs(of: Reported, part: KeptGraphs) -> list[Block]:
    """Graphs that were kept, drawn from the series of their storms."""
    kept = {graph.name: graph for graph in of.project.graphs}
    names = part.names or list(kept)
    blocks: list[Block] = [
        Text(f"The graph “{name}” is no longer kept.", "strong") for name in names if name not in kept
    ]
    for name in names:
        if name not in kept:
            continue
        blocks.append(Subheading(kept[name].title or name))
        for title, x, y, lines, said in graph_lines(of, kept[name]):
            if lines:
                blocks.append(Picture(graph_svg(_WIDE, _HIGH, x, y, lines, title=title), _WIDE, _HIGH, title))
            if said:
                blocks.append(Text(said, "quiet"))
    return blocks or [Text("No graph is kept.")]


def graph_lines(of: Reported, graph: Graph) -> list[tuple[str, Axis, Axis, list[Line], str]]:
    """What a kept graph draws: a title, both axes, its lines and what is left out, once for each quantity."""
    if of.trace is None:
        return [(graph.name, Axis(""), Axis(""), [], "Series over time are not kept here; the graph is left out.")]
    network = of.plan.network
    storms = [storm for storm in _storms_of(of, graph) if storm.key in of.figures]
    if not storms:
        return [(graph.name, Axis(""), Axis(""), [], "None of its storms is in.")]
    elements = [id_ for id_ in graph.elements if id_ in network.nodes or id_ in network.links]
    found = []
    if graph.against is not None and graph.against != "duration":
        return [_against(of, graph, graph.against, elements, storms)]
    for quantity in graph.quantities:
        pairs = [(id_, storm) for id_ in elements if of.plan.layout.has(id_, quantity) for storm in storms]
        if not pairs:
            continue
        unit, factor = UNIT[quantity]
        figure, name = of.units.figure(factor, unit) if unit else (factor, "%")
        lines = []
        for id_, storm in pairs[:_MOST_LINES]:
            time, values = of.trace(storm.key, id_, quantity)
            lines.append(Line(f"{network.label(id_)}, {storm.label}", np.asarray(time) / 3600.0, values * figure))
        more = len(pairs) - len(lines)
        said = f"{more} more lines have no room; fewer elements or storms show all." if more else ""
        gone = len(graph.elements) - len(elements)
        said += f" {gone} of its elements are not in this option." if gone else ""
        found.append(
            (
                f"{graph.title or graph.name}: {quantity}",
                Axis("time, h"),
                Axis(f"{quantity}, {name}"),
                lines,
                said.strip(),
            )
        )
    return found


def _against(
    of: Reported, graph: Graph, across: Quantity, elements: list[str], storms: list[Storm]
) -> tuple[str, Axis, Axis, list[Line], str]:
    assert of.trace is not None
    quantity = graph.quantities[0]
    lines: list[Line] = []
    (fx, ux), (fy, uy) = (_figure(of.units, q) for q in (across, quantity))
    for id_ in elements:
        for storm in storms:
            if of.plan.layout.has(id_, across) and of.plan.layout.has(id_, quantity) and len(lines) < _MOST_LINES:
                _, a = of.trace(storm.key, id_, across)
                _, b = of.trace(storm.key, id_, quantity)
                lines.append(Line(f"{of.plan.network.label(id_)}, {storm.label}", a * fx, b * fy))
    return graph.title or graph.name, Axis(f"{across}, {ux}"), Axis(f"{quantity}, {uy}"), lines, ""


def _figure(units: Units, quantity: Quantity) -> tuple[float, str]:
    unit, factor = UNIT[quantity]
    return units.figure(factor, unit) if unit else (factor, "%")


def _storms_of(of: Reported, graph: Graph) -> list[Storm]:
    """Those that a graph shows; where it shows the picked one, the storms that govern a rule or an element of it."""
    storms = [storm for storm in of.plan.storms if storm.key in of.figures]
    if graph.storms == "all" or not storms:
        return storms
    governing = [v.storm for v in of.verdicts if v.storm and v.governing and v.governing.element in graph.elements]
    governing += [v.storm for v in of.verdicts if v.storm]
    key = next(iter(governing), storms[0].key)
    picked = next((s for s in storms if s.key == key), storms[0])
    if graph.storms == "row":
        return [s for s in storms if s.row == picked.row]
    if graph.storms == "duration":
        return [s for s in storms if s.row == picked.row and s.duration == picked.duration]
    return [picked]
