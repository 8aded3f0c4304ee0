"""Results as plain tables, shared by the report and the workbook: states by return period, peaks, stores, outfalls."""

from collections import Counter
from collections.abc import Collection
from typing import Any

import numpy as np

from ..core.elements import Outfall
from ..core.ensemble import Plan
from ..core.model.report import ResultKind
from ..core.quantities import Quantity, said
from ..core.results.elements import ElementResults, LinkResult, NodeResult
from ..core.results.patterns import Statistic, parted
from ..core.results.statistics import Measure, critical, peaks_by_duration, usual_measure
from ..core.runoff.catchments import account
from .blocks import CLOCK, Column, Columns, Table
from .reported import DOUBT, Reported

__all__ = ["critical_tables", "row_tables", "states_table", "statistics_tables", "storms_table", "water_table"]


def storms_table(of: Reported) -> Table:
    """Every storm: its depth and its volume balance; those that are not in, as such."""
    rows: list[list[Any]] = []
    for s in of.plan.storms:
        found = of.figures.get(s.key)
        if found is None:
            state = "failed" if s.key in of.failed else "not run"
            rows.append([s.label, s.depth, "", "", "", "", "", "", "", state])
            continue
        f = found.summary
        state = "beyond a limit" if s.key in of.doubtful else "in"
        rows.append([s.label, s.depth, f["entered"], f["left"], f["stored"], f["lost"], f"{f['balance_error']:.0e}",
                     float(f["end_time"]), int(f["steps"]), state])  # fmt: skip
    header: Columns = [
        "Storm",
        Column("Depth", "mm"),
        Column("In", "m³"),
        Column("Out", "m³"),
        Column("Stored", "m³"),
        Column("Lost", "m³"),
        "Continuity error",
        Column("Ends", CLOCK),
        "Steps",
        "State",
    ]
    return Table("Storms", header, rows)


def _state(plan: Plan, one: NodeResult | LinkResult) -> str:
    """The state of a node or a link in words, the same as on the screen."""
    if one.state == "flooded":
        assert isinstance(one, NodeResult)
        return said("floods ", Quantity(one.flooded, "m³", 1))
    if one.state != "surcharged":
        return "within" if one.state == "ok" else one.state
    return "surcharged" + (
        ", own capacity" if one.why == "capacity"
        else f", backed up by {plan.network.label(one.by)}" if one.by is not None else ""
    )  # fmt: skip


def _tail(of: Reported) -> str:
    return f", {of.only.name}" if of.only else ""


def states_table(of: Reported, rows: Collection[str]) -> Table:
    """The state of every element by return period side by side."""
    plan = of.plan
    by_row = {row: own for row in rows if (own := of.elements(row)) is not None}
    header: Columns = ["Element", *(f"{row} ({own.missing})" if own.missing else row for row, own in by_row.items())]
    found: list[list[Any]] = []
    for id_ in [*of.nodes, *of.links]:
        cells = []
        for own in by_row.values():
            if id_ in own.stores:
                cells.append(f"{own.stores[id_].share:.0%} full" if own.nodes[id_].state != "flooded" else
                             _state(plan, own.nodes[id_]))  # fmt: skip
            elif id_ in own.outfalls:
                cells.append(said("at most ", Quantity(own.outfalls[id_].flow * 1000, "L/s", 1)))
            elif id_ in own.nodes:
                cells.append(_state(plan, own.nodes[id_]))
            elif id_ in own.links and own.links[id_].clearance is not None:
                cells.append(_state(plan, own.links[id_]))
        if cells and len(cells) == len(by_row):
            found.append([plan.network.label(id_), *cells])
    return Table(f"States{_tail(of)}", header, found)


def row_tables(of: Reported, row: str, kinds: Collection[ResultKind]) -> list[Table]:
    """Figures of a return period with governing storms and states, a table for each kind of element that has some."""
    own = of.elements(row)
    if own is None:
        return []
    patterned = any(storm.pattern for storm in of.rows[row])
    governing = "Governing storm (highest single pattern)" if patterned else "Governing storm"
    tables = [table for kind, table in _of_row(of, row, own, governing) if kind in kinds and table.rows]
    return tables


def _of_row(of: Reported, row: str, own: ElementResults, governing: str) -> list[tuple[ResultKind, Table]]:
    plan, network, nodes, links, tail = of.plan, of.plan.network, of.nodes, of.links, _tail(of)
    doubtful = of.doubtful
    labels = {
        s.key: (s.given or f"{s.duration:g} min, {s.season}") + (DOUBT if s.key in doubtful else "")
        for s in plan.storms
    }
    blank = lambda value: "" if value is None else value  # noqa: E731
    return [
        ("nodes", Table(
            f"Nodes {row}{tail}",
            ["Node", governing, Column("Highest level", "m"), Column("At", CLOCK), Column("Depth", "m"),
             Column("Below cover", "m"), Column("Flooded", "m³"), "State"],
            [[network.nodes[i].name, labels[one.storm], one.level, blank(one.time), one.depth, one.left, one.flooded,
              _state(plan, one)] for i in nodes if i in own.nodes for one in [own.nodes[i]]],
        )),
        ("links", Table(
            f"Links {row}{tail}",
            ["Link", governing, Column("Peak flow", "L/s"), Column("At", CLOCK), Column("Of full", "%"),
             Column("Velocity", "m/s"), Column("To soffit", "m"), "State"],
            [[network.links[i].name, labels[one.storm], one.flow * 1000, blank(one.time),
              "" if one.share is None else one.share * 100, blank(one.speed), blank(one.clearance),
              "" if one.clearance is None else _state(plan, one)] for i in links for one in [own.links[i]]],
        )),
        ("storage", Table(
            f"Storage {row}{tail}",
            ["Store", governing, Column("Capacity", "m³"), Column("Held", "m³"), Column("Used", "%"),
             Column("Top water", "m"), Column("At", CLOCK), Column("Freeboard", "m"), Column("In", "L/s"),
             Column("Out", "L/s"), Column("Lag", "h"), Column("Half-drain", "h"), Column("Infiltrated", "m³")],
            [[network.nodes[i].name, labels[one.storm], one.capacity, one.volume, one.share * 100, one.top,
              blank(one.time), one.freeboard, one.entering * 1000, one.leaving * 1000, one.lag / 3600,
              "not seen" if one.half_drain is None else one.half_drain / 3600, blank(one.infiltrated)]
             for i in nodes if i in own.stores for one in [own.stores[i]]],
        )),
        ("outfalls", Table(
            f"Outfalls {row}{tail}", ["Outfall", governing, Column("Peak flow", "L/s"), Column("At", CLOCK),
                                      Column("Volume", "m³"), "Most volume in"],
            [[network.nodes[i].name, labels[one.storm], one.flow * 1000, blank(one.time), one.volume,
              labels[one.volume_storm]] for i in nodes if i in own.outfalls for one in [own.outfalls[i]]],
        )),
        ("pumps", Table(
            f"Pumps {row}{tail}",
            ["Pumps", "Storm with most starts", "Starts", "Most in an hour", Column("Run", "h"),
             Column("Lifted", "m³"), Column("Energy", "kWh"),
             Column("Off their curve", "h"), "Counted"],
            [[network.links[i].name, labels[one.storm], one.starts, one.most_in_hour, one.running / 3600, one.volume,
              blank(one.energy and one.energy / 3.6e6), one.beyond / 3600, "all" if one.counted else "at least"]
             for i in links if i in own.pumps for one in [own.pumps[i]]],
        )),
    ]  # fmt: skip


def water_table(of: Reported) -> Table:
    """Where the rain of each storm went, and what each outfall discharged."""
    project, plan, figures = of.project, of.plan, of.figures
    outfalls = [i for i, id_ in enumerate(plan.nodes) if isinstance(plan.network.nodes[id_], Outfall)]
    heads: Columns = [Column(f"Out at {plan.network.label(plan.nodes[i])}", "m³") for i in outfalls]
    rows = []
    for storm in plan.storms:
        if storm.key in figures:
            rain = account(plan.network, project.rain.runoff, storm)
            left = [float(figures[storm.key].left[i]) for i in outfalls]
            rows.append([storm.label, rain.fallen, rain.undrained, sum(rain.lost.values()), rain.kept, rain.ran, *left])
    return Table(
        "Rain and outfalls",
        [
            "Storm",
            Column("Fallen", "m³"),
            Column("Drains nowhere", "m³"),
            Column("Lost on ground", "m³"),
            Column("Held on ground", "m³"),
            Column("Ran off", "m³"),
            *heads,
        ],
        rows,
    )


def critical_tables(of: Reported) -> list[Table]:
    """Each element's critical duration by return period: by the highest mean where there are patterns, else by the
    highest peak, and which storm stands for it.
    """
    plan, figures = of.plan, dict(of.figures)
    patterned = {group[0].row for group in parted(plan.storms, together=True)[1]}
    alone = {storm.key for storm in plan.storms if not storm.pattern}
    labels = {s.key: s.season for s in plan.storms}
    places = _places(plan)
    tables = []
    for row in dict.fromkeys(s.row for s in plan.storms if not s.given and s.key in figures):
        by: Statistic = "mean" if row in patterned else "highest"
        lines: list[list[Any]] = []
        for id_ in (*of.nodes, *of.links):
            measure = usual_measure(plan.network, id_)
            peaks = peaks_by_duration(plan.storms, figures, row, measure, places[id_])
            if not peaks:
                continue
            level, label = measure == "level", plan.network.label(id_)
            found = critical(peaks, by, alone)
            if not level and found.value <= 0.0:  # no duration is worse than another
                lines.append([label, "", "", 0.0, "nothing passes", ""])
                continue
            lines.append(
                [label, found.duration, found.value if level else "", "" if level else found.value * 1000,
                 labels[found.storm], f"at the {found.at_end} run" if found.at_end else ""]
            )  # fmt: skip
        what = "Highest mean" if by == "mean" else "Highest"
        header: Columns = [
            "Element",
            Column("Critical", "min"),
            Column(f"{what} level", "m"),
            Column(f"{what} flow", "L/s"),
            "Stands for it",
            "Range",
        ]
        tables.append(Table(f"Critical {row}{_tail(of)}", header, lines))
    return tables


def _places(plan: Plan) -> dict[str, int]:
    """Place of every node and link in the figures of its own kind."""
    return {id_: k for ids in (plan.nodes, plan.links) for k, id_ in enumerate(ids)}


def statistics_tables(of: Reported) -> list[Table]:
    """Mean, median, quartiles and extremes of the peaks of every element and duration, levels and flows apart."""
    plan, places = of.plan, _places(of.plan)
    rows = dict.fromkeys(storm.row for storm in plan.storms if not storm.given)
    spreads: dict[tuple[str, float, Measure], np.ndarray] = {}
    counts: Counter[tuple[str, float]] = Counter()
    for row in rows:
        for duration in dict.fromkeys(s.duration for s in plan.storms if s.row == row):
            own = [
                of.figures[s.key] for s in plan.storms
                if s.row == row and s.duration == duration and not s.given and s.key in of.figures
            ]  # fmt: skip
            counts[row, duration] = len(own)
            for measure in ("level", "outflow", "flow") if own else ():
                spreads[row, duration, measure] = _spread_of(np.array([getattr(f, measure) for f in own]))
    lines: dict[str, list[list[Any]]] = {"m": [], "L/s": []}
    for row in rows:
        for id_ in (*of.nodes, *of.links):
            measure = usual_measure(plan.network, id_)
            unit, factor = ("m", 1.0) if measure == "level" else ("L/s", 1000.0)
            for (own_row, duration, what), found in spreads.items():
                if own_row == row and what == measure and np.isfinite(found[0, places[id_]]):
                    every = (found[:, places[id_]] * factor).tolist()
                    lines[unit].append([plan.network.label(id_), row, duration, counts[row, duration], *every])
    named = ["Mean", "Median", "Least", "Lower quartile", "Upper quartile", "Greatest"]
    heads: Columns = ["Element", "Return period", Column("Duration", "min"), "Storms"]
    return [
        Table(f"Statistics of {what}", [*heads, *(Column(name, unit) for name in named)], lines[unit])
        for what, unit in (("levels", "m"), ("flows", "L/s")) if lines[unit]
    ]  # fmt: skip


def _spread_of(peaks: np.ndarray) -> np.ndarray:
    """Mean, median, least, lower and upper quartile, greatest of float64[storm, element]: float64[6, element]."""
    low, median, high = np.quantile(peaks, [0.25, 0.5, 0.75], axis=0)
    return np.array([peaks.mean(axis=0), median, peaks.min(axis=0), low, high, peaks.max(axis=0)])
