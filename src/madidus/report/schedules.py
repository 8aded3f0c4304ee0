"""Schedules and results as plain tables, shared by the report and the workbook."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from ..core.ensemble import Plan
from ..core.figures import Figures
from ..core.model.network import Orifice, Outfall, Pipe, Rectangular, Storage, Weir
from ..core.model.project import Project
from .order import flow_order

__all__ = ["Sheet", "result_sheets", "schedules"]


@dataclass(frozen=True)
class Sheet:
    """A titled table: `header` names with units, `rows` of values in that order."""

    title: str
    header: list[str]
    rows: list[list[Any]]


def _size(section: Any) -> str:
    if isinstance(section, Rectangular):
        return f"{section.width * 1000:.0f} × {section.height * 1000:.0f}"
    return f"Ø{section.diameter * 1000:.0f}"


def schedules(project: Project) -> list[Sheet]:
    """Manholes, pipes, storage, controls, outfalls and catchments."""
    network = project.option.network
    order = {id_: i for i, id_ in enumerate(flow_order(network))}
    nodes = [network.nodes[i] for i in order]
    links = sorted(network.links.values(), key=lambda link: (order[link.upstream], link.name))
    name = lambda id_: network.nodes[id_].name if id_ else "none"  # noqa: E731
    return [
        Sheet("Manholes", ["Name", "Cover m", "Invert m", "Depth m", "Plan area m²", "Floods"],
              [[n.name, n.cover, n.invert, n.cover - n.invert, n.plan_area, n.flooding]
               for n in nodes if not isinstance(n, Storage | Outfall)]),
        Sheet("Pipes", ["Name", "From", "To", "Size mm", "Length m", "Invert up m", "Invert down m", "Gradient 1 in",
                        "Manning n"],
              [[p.name, name(p.upstream), name(p.downstream), _size(p.section), p.length, p.upstream_invert,
                p.downstream_invert, round(1 / p.gradient, 1) if p.gradient else "level", p.roughness]
               for p in links if isinstance(p, Pipe)]),
        Sheet("Storage", ["Name", "Kind", "Invert m", "Bank or cover m", "Depth m", "Area m²"],
              [[n.name, n.form, n.invert, n.cover, row.depth, row.area]
               for n in nodes if isinstance(n, Storage) for row in n.table]),
        Sheet("Controls", ["Name", "Kind", "From", "To", "Level m", "Size", "Coefficient"],
              [[c.name, c.kind, name(c.upstream), name(c.downstream), c.invert, _size(c.section),
                c.discharge_coefficient] if isinstance(c, Orifice)
               else [c.name, c.kind, name(c.upstream), name(c.downstream), c.crest, f"{c.length:g} m", c.coefficient]
               for c in links if isinstance(c, Orifice | Weir)]),
        Sheet("Catchments", ["Name", "Area m²", "Impervious %", "Drains to"],
              [[c.name, c.area, c.impervious * 100, name(c.node)]
               for c in sorted(network.catchments.values(), key=lambda c: c.name)]),
    ]  # fmt: skip


def result_sheets(plan: Plan, figures: dict[str, Figures]) -> list[Sheet]:
    """Worst figures by return period in flow order with their governing storms, and the storms with their balance."""
    network = plan.network
    sheets = []
    groups: dict[str, list[str]] = {}
    for storm in plan.storms:
        if storm.key in figures:
            groups.setdefault(storm.label.split(",")[0], []).append(storm.key)
    labels = {storm.key: f"{storm.duration:g} min, {storm.season}" for storm in plan.storms}
    index = {id_: i for i, id_ in enumerate(plan.nodes)}
    link_index = {id_: i for i, id_ in enumerate(plan.links)}
    for group, keys in groups.items():
        level = np.array([figures[k].level for k in keys])
        flooded = np.array([figures[k].flooded for k in keys])
        flow = np.array([figures[k].flow for k in keys])
        spare = np.array([figures[k].spare for k in keys])
        node_rows, link_rows = [], []
        for id_ in flow_order(network):
            node, i = network.nodes[id_], index[id_]
            if isinstance(node, Outfall):
                continue
            worst = int(level[:, i].argmax())
            top = float(level[worst, i])
            state = "floods" if top > node.cover else "within"
            node_rows.append([node.name, labels[keys[worst]], top, node.cover - top, float(flooded[:, i].max()), state])
        order = {id_: k for k, id_ in enumerate(flow_order(network))}
        for id_ in sorted(plan.links, key=lambda link: (order[network.links[link].upstream], network.links[link].name)):
            j = link_index[id_]
            worst = int(flow[:, j].argmax())
            least = float(spare[:, j].min())
            state = "" if np.isnan(least) else "surcharged" if least < 0 else "free"
            link_rows.append(
                [network.links[id_].name, labels[keys[worst]], float(flow[worst, j]) * 1000,
                 "" if np.isnan(least) else least, state]
            )  # fmt: skip
        sheets.append(
            Sheet(f"Nodes {group}", ["Node", "Governing storm", "Highest level m", "To cover m", "Flooded m³", "State"],
                  node_rows)
        )  # fmt: skip
        sheets.append(
            Sheet(f"Links {group}", ["Link", "Governing storm", "Peak flow L/s", "To soffit m", "State"], link_rows)
        )
    sheets.append(
        Sheet("Storms", ["Storm", "Depth mm", "In m³", "Out m³", "Stored m³", "Lost m³", "Balance", "Ends h", "Steps"],
              [[s.label, s.depth, f["entered"], f["left"], f["stored"], f["lost"], f"{f['balance_error']:.0e}",
                f["end_time"] / 3600, int(f["steps"])]
               for s in plan.storms if s.key in figures for f in [figures[s.key].summary]])
    )  # fmt: skip
    return sheets
