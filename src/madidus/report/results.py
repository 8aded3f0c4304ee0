"""Results as plain tables, shared by the report and the workbook: states by return period, peaks, stores, outfalls."""

from collections import Counter
from typing import Any

import numpy as np

from ..core.elements import Outfall
from ..core.ensemble import Fares, LinkFares, NodeFares, Plan, fares
from ..core.figures import Figures
from ..core.model.project import Project
from ..core.model.saved import Selection
from ..core.order import flow_order
from ..core.quantities import Quantity, said
from ..core.runoff.catchments import account
from ..core.statistics import FEWEST_PATTERNS, critical, peaks_by_duration, spread, usual_measure
from .schedules import Sheet

__all__ = ["result_sheets", "statistics_sheets"]


def result_sheets(
    project: Project, plan: Plan, figures: dict[str, Figures], only: Selection | None = None
) -> list[Sheet]:
    """States by return period, then figures of each in flow order with their governing storms, and the storms.

    only : the elements that are told of; none is all.
    """
    told = set(only.elements) if only else {*plan.nodes, *plan.links}
    tail = f", {only.name}" if only else ""
    rows = dict.fromkeys(storm.row for storm in plan.storms if storm.key in figures)
    by_row = {row: fares(plan, figures, [s for s in plan.storms if s.row == row]) for row in rows}
    order = [id_ for id_ in flow_order(plan.network) if id_ in told]
    place = {id_: k for k, id_ in enumerate(flow_order(plan.network))}
    links = plan.network.links
    runs = sorted((id_ for id_ in links if id_ in told), key=lambda k: (place[links[k].upstream], links[k].name))
    sheets = [_states(plan, by_row, [*order, *runs], tail)] if by_row else []
    patterned = {s.row for s in plan.storms if s.pattern}
    for row, own in by_row.items():
        governing = "Governing storm (highest single pattern)" if row in patterned else "Governing storm"
        sheets += _of_row(plan, row, own, order, runs, governing, tail)
    sheets += _critical_sheets(plan, figures, told, tail)
    sheets.append(
        Sheet("Storms", ["Storm", "Depth mm", "In m³", "Out m³", "Stored m³", "Lost m³", "Continuity error", "Ends h",
                         "Steps"],
              [[s.label, s.depth, f["entered"], f["left"], f["stored"], f["lost"], f"{f['balance_error']:.0e}",
                f["end_time"] / 3600, int(f["steps"])]
               for s in plan.storms if s.key in figures for f in [figures[s.key].summary]])
    )  # fmt: skip
    sheets.append(_water_sheet(project, plan, figures))
    return sheets


def _state(plan: Plan, one: NodeFares | LinkFares) -> str:
    """The state of a node or a link in words, the same as on the screen."""
    if one.state == "flooded":
        assert isinstance(one, NodeFares)
        return said("floods ", Quantity(one.flooded, "m³", 1))
    if one.state != "surcharged":
        return "within" if one.state == "ok" else one.state
    return "surcharged" + (
        ", own capacity" if one.why == "capacity"
        else f", backed up by {plan.network.label(one.by)}" if one.by is not None else ""
    )  # fmt: skip


def _states(plan: Plan, by_row: dict[str, Fares], elements: list[str], tail: str) -> Sheet:
    """The state of every element by return period side by side."""
    header, rows = ["Element"], []
    for row, own in by_row.items():
        header.append(f"{row} ({own.missing})" if own.missing else row)
    for id_ in elements:
        cells = []
        for own in by_row.values():
            if id_ in own.stores:
                cells.append(f"{own.stores[id_].share:.0%} full" if own.nodes[id_].state != "flooded" else
                             _state(plan, own.nodes[id_]))  # fmt: skip
            elif id_ in own.outfalls:
                cells.append(said("at most ", Quantity(own.outfalls[id_].flow * 1000, "L/s", 1)))
            elif id_ in own.nodes:
                cells.append(_state(plan, own.nodes[id_]))
            elif own.links[id_].clearance is not None:
                cells.append(_state(plan, own.links[id_]))
        if cells:
            rows.append([plan.network.label(id_), *cells])
    return Sheet(f"States{tail}", header, rows)


def _of_row(
    plan: Plan, row: str, own: Fares, nodes: list[str], links: list[str], governing: str, tail: str
) -> list[Sheet]:
    network = plan.network
    labels = {s.key: s.given or f"{s.duration:g} min, {s.season}" for s in plan.storms}
    hours = lambda seconds: "" if seconds is None else seconds / 3600.0  # noqa: E731
    blank = lambda value: "" if value is None else value  # noqa: E731
    sheets = [
        Sheet(
            f"Nodes {row}{tail}",
            ["Node", governing, "Highest level m", "At h", "Depth m", "Below cover m", "Flooded m³", "State"],
            [[network.nodes[i].name, labels[one.storm], one.level, hours(one.time), one.depth, one.left, one.flooded,
              _state(plan, one)] for i in nodes if i in own.nodes for one in [own.nodes[i]]],
        ),
        Sheet(
            f"Links {row}{tail}",
            ["Link", governing, "Peak flow L/s", "At h", "Of full %", "Velocity m/s", "To soffit m", "State"],
            [[network.links[i].name, labels[one.storm], one.flow * 1000, hours(one.time),
              "" if one.share is None else one.share * 100, blank(one.speed), blank(one.clearance),
              "" if one.clearance is None else _state(plan, one)] for i in links for one in [own.links[i]]],
        ),
        Sheet(
            f"Storage {row}{tail}",
            ["Store", governing, "Capacity m³", "Held m³", "Used %", "Top water m", "At h", "Freeboard m", "In L/s",
             "Out L/s", "Lag h", "Half-drain h", "Infiltrated m³"],
            [[network.nodes[i].name, labels[one.storm], one.capacity, one.volume, one.share * 100, one.top,
              hours(one.time), one.freeboard, one.entering * 1000, one.leaving * 1000, one.lag / 3600,
              "not seen" if one.half_drain is None else one.half_drain / 3600, blank(one.infiltrated)]
             for i in nodes if i in own.stores for one in [own.stores[i]]],
        ),
        Sheet(
            f"Outfalls {row}{tail}", ["Outfall", governing, "Peak flow L/s", "At h", "Volume m³", "Most volume in"],
            [[network.nodes[i].name, labels[one.storm], one.flow * 1000, hours(one.time), one.volume,
              labels[one.volume_storm]] for i in nodes if i in own.outfalls for one in [own.outfalls[i]]],
        ),
        Sheet(
            f"Pumps {row}{tail}",
            ["Pumps", "Storm with most starts", "Starts", "Most in an hour", "Run h", "Lifted m³", "Energy kWh",
             "Off their curve h", "Counted"],
            [[network.links[i].name, labels[one.storm], one.starts, one.most_in_hour, one.running / 3600, one.volume,
              blank(one.energy and one.energy / 3.6e6), one.beyond / 3600, "all" if one.counted else "at least"]
             for i in links if i in own.pumps for one in [own.pumps[i]]],
        ),
    ]  # fmt: skip
    return [sheet for sheet in sheets if sheet.rows]


def _water_sheet(project: Project, plan: Plan, figures: dict[str, Figures]) -> Sheet:
    """Where the rain of each storm went, and what each outfall discharged."""
    outfalls = [i for i, id_ in enumerate(plan.nodes) if isinstance(plan.network.nodes[id_], Outfall)]
    heads = [f"Out at {plan.network.label(plan.nodes[i])} m³" for i in outfalls]
    rows = []
    for storm in plan.storms:
        if storm.key in figures:
            rain = account(plan.network, project.rain.runoff, storm)
            left = [float(figures[storm.key].left[i]) for i in outfalls]
            rows.append([storm.label, rain.fallen, rain.undrained, sum(rain.lost.values()), rain.kept, rain.ran, *left])
    return Sheet(
        "Rain and outfalls",
        ["Storm", "Fallen m³", "Drains nowhere m³", "Lost on ground m³", "Held on ground m³", "Ran off m³", *heads],
        rows,
    )


def _critical_sheets(plan: Plan, figures: dict[str, Figures], told: set[str], tail: str) -> list[Sheet]:
    """Of rows with patterns: each element's critical duration by highest mean, and which pattern stands for it."""
    patterns = Counter((storm.row, storm.duration) for storm in plan.storms if storm.pattern)
    rows = dict.fromkeys(row for (row, _), count in patterns.items() if count >= FEWEST_PATTERNS)
    labels = {s.key: s.season for s in plan.storms}
    sheets = []
    for row in rows:
        lines: list[list[Any]] = []
        for id_ in (*flow_order(plan.network), *plan.links):
            if id_ not in told:
                continue
            measure = usual_measure(plan.network, id_)
            place = (plan.links if measure == "flow" else plan.nodes).index(id_)
            peaks = peaks_by_duration(plan.storms, figures, row, measure, place)
            if not peaks:
                continue
            level, label = measure == "level", plan.network.label(id_)
            found = critical(peaks, "mean")
            lines.append(
                [label, found.duration, found.value if level else "", "" if level else found.value * 1000,
                 labels[found.storm], f"at the {found.at_end} run" if found.at_end else ""]
            )  # fmt: skip
        header = ["Element", "Critical min", "Highest mean level m", "Highest mean flow L/s", "Stands for it", "Range"]
        sheets.append(Sheet(f"Critical {row}{tail}", header, lines))
    return sheets


def statistics_sheets(plan: Plan, figures: dict[str, Figures], only: Selection | None = None) -> list[Sheet]:
    """Mean, median, quartiles and extremes of the peaks of every element and duration, levels and flows apart.

    only : the elements that are told of; none is all.
    """
    told = set(only.elements) if only else {*plan.nodes, *plan.links}
    lines: dict[str, list[list[Any]]] = {"m": [], "L/s": []}
    for row in dict.fromkeys(storm.row for storm in plan.storms if not storm.given):
        for id_ in (*flow_order(plan.network), *plan.links):
            if id_ not in told:
                continue
            measure = usual_measure(plan.network, id_)
            place = (plan.links if measure == "flow" else plan.nodes).index(id_)
            unit, factor = ("m", 1.0) if measure == "level" else ("L/s", 1000.0)
            for duration, own in peaks_by_duration(plan.storms, figures, row, measure, place).items():
                one = spread(np.array(list(own.values())) * factor)
                every = [one.mean, one.median, one.lowest, *one.quartiles, one.highest]
                lines[unit].append([plan.network.label(id_), row, duration, one.count, *every])
    named = ["Mean", "Median", "Least", "Lower quartile", "Upper quartile", "Greatest"]
    heads = ["Element", "Return period", "Duration min", "Storms"]
    return [
        Sheet(f"Statistics of {what}", [*heads, *(f"{name} {unit}" for name in named)], lines[unit])
        for what, unit in (("levels", "m"), ("flows", "L/s")) if lines[unit]
    ]  # fmt: skip
