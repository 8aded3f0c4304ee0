"""Schedules and results as plain tables, shared by the report and the workbook."""

from collections import Counter
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..core.checks import EXPLAINED, judged
from ..core.elements import Cell, Conduit, Outfall, Shaft, Store
from ..core.ensemble import Plan
from ..core.figures import Figures
from ..core.hydraulics.stores import node_table
from ..core.model.project import Project
from ..core.model.saved import Selection
from ..core.order import flow_order
from ..core.runoff.catchments import account
from ..core.statistics import FEWEST_PATTERNS, critical, peaks_by_duration, usual_measure

__all__ = ["Sheet", "findings_sheet", "result_sheets", "schedules"]


@dataclass(frozen=True)
class Sheet:
    """A titled table: `header` names with units, `rows` of values in that order."""

    title: str
    header: list[str]
    rows: list[list[Any]]


def _stages(store: Cell) -> list[tuple[float, float]]:
    """Depths and areas of a store up to its cover, ten at most."""
    depth, area, _ = node_table(store)
    inside = np.nonzero(depth <= store.cover - store.invert + 1e-9)[0]
    shown = inside[np.unique(np.linspace(0, len(inside) - 1, 10).astype(int))]
    return [(float(depth[k]), float(area[k])) for k in shown]


def schedules(project: Project) -> list[Sheet]:
    """Manholes, conduits, storage, controls and catchments."""
    network = project.option.network
    order = {id_: i for i, id_ in enumerate(flow_order(network))}
    nodes = [network.nodes[i] for i in order]
    links = sorted(network.links.values(), key=lambda link: (order[link.upstream], link.name))
    name = lambda id_: network.nodes[id_].name if id_ else "none"  # noqa: E731
    return [
        Sheet("Manholes", ["Name", "Kind", "Cover m", "Invert m", "Depth m", "Plan area m²", "Floods"],
              [[n.name, n.kind, n.cover, n.invert, n.cover - n.invert, n.area, n.flooding]
               for n in nodes if isinstance(n, Shaft)]),
        Sheet("Pipes", ["Name", "From", "To", "Size mm", "Length m", "Invert up m", "Invert down m", "Gradient 1 in",
                        "Manning n"],
              [[p.name, name(p.upstream), name(p.downstream), p.size(), p.length, p.upstream_invert,
                p.downstream_invert, round(1 / p.gradient, 1) if p.gradient else "level", p.roughness]
               for p in links if isinstance(p, Conduit)]),
        Sheet("Storage", ["Name", "Kind", "Invert m", "Bank or cover m", "Depth m", "Area m²"],
              [[n.name, n.word, n.invert, n.cover, depth, area]
               for n in nodes if isinstance(n, Store) for depth, area in _stages(n)]),
        Sheet("Controls", ["Name", "Kind", "From", "To", "Level m", "Size", "Coefficient"],
              [[c.name, c.WORD, name(c.upstream), name(c.downstream), *c.told()]
               for c in links if not isinstance(c, Conduit)]),
        Sheet("Catchments", ["Name", "Area m²", "Impervious %", "Drains to"],
              [[c.name, c.area, c.impervious * 100, name(c.node)]
               for c in sorted(network.catchments.values(), key=lambda c: c.name)]),
    ]  # fmt: skip


def findings_sheet(project: Project, plan: Plan, figures: dict[str, Figures]) -> Sheet:
    """What the checks find, and the reason for which each stays as it is."""
    found = judged(project, plan.ran(figures))
    rows = [[EXPLAINED[f.check].title, f.why, reason or "open"] for f, reason in found]
    return Sheet("Findings of the checks", ["Check", "Finding", "Reason to leave it"], rows)


def result_sheets(
    project: Project, plan: Plan, figures: dict[str, Figures], only: Selection | None = None
) -> list[Sheet]:
    """Worst figures by return period in flow order with their governing storms, and the storms with their balances.

    only : the elements that are told of; none is all.
    """
    told = set(only.elements) if only else {*plan.nodes, *plan.links}
    tail = f", {only.name}" if only else ""
    network = plan.network
    sheets = []
    groups: dict[str, list[str]] = {}
    for storm in plan.storms:
        if storm.key in figures:
            groups.setdefault(storm.row, []).append(storm.key)
    labels = {s.key: s.given or f"{s.duration:g} min, {s.season}" for s in plan.storms}
    patterned = {s.row for s in plan.storms if s.pattern}
    index = {id_: i for i, id_ in enumerate(plan.nodes)}
    link_index = {id_: i for i, id_ in enumerate(plan.links)}
    for group, keys in groups.items():
        level = np.array([figures[k].level for k in keys])
        flooded = np.array([figures[k].flooded for k in keys])
        flow = np.array([figures[k].flow for k in keys])
        clearance = np.array([figures[k].clearance for k in keys])
        node_rows, link_rows = [], []
        governing = "Governing storm (highest single pattern)" if group in patterned else "Governing storm"
        for id_ in flow_order(network):
            node, i = network.nodes[id_], index[id_]
            if isinstance(node, Outfall) or id_ not in told:
                continue
            worst = int(level[:, i].argmax())
            top = float(level[worst, i])
            state = "floods" if top > node.cover else "within"
            node_rows.append([node.name, labels[keys[worst]], top, node.cover - top, float(flooded[:, i].max()), state])
        order = {id_: k for k, id_ in enumerate(flow_order(network))}
        for id_ in sorted(plan.links, key=lambda link: (order[network.links[link].upstream], network.links[link].name)):
            if id_ not in told:
                continue
            j = link_index[id_]
            worst = int(flow[:, j].argmax())
            least = float(clearance[:, j].min())
            state = "" if np.isnan(least) else "surcharged" if least < 0 else "free"
            link_rows.append(
                [network.links[id_].name, labels[keys[worst]], float(flow[worst, j]) * 1000,
                 float(figures[keys[worst]].flow_up[j]) * 1000, float(figures[keys[worst]].flow_down[j]) * 1000,
                 "" if np.isnan(least) else least, state]
            )  # fmt: skip
        sheets.append(
            Sheet(f"Nodes {group}{tail}",
                  ["Node", governing, "Highest level m", "To cover m", "Flooded m³", "State"], node_rows)
        )  # fmt: skip
        sheets.append(
            Sheet(
                f"Links {group}{tail}",
                ["Link", governing, "Peak flow L/s", "Upper end L/s", "Lower end L/s", "To soffit m", "State"],
                link_rows,
            )
        )
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
            found = critical(peaks, "mean")
            level = measure == "level"
            lines.append(
                [plan.network.label(id_), found.duration, found.value if level else "",
                 "" if level else found.value * 1000, labels[found.storm],
                 f"at the {found.at_end} run" if found.at_end else ""]
            )  # fmt: skip
        header = ["Element", "Critical min", "Highest mean level m", "Highest mean flow L/s", "Stands for it", "Range"]
        sheets.append(Sheet(f"Critical {row}{tail}", header, lines))
    return sheets
