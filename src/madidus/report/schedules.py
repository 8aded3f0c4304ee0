"""Schedules as plain tables, shared by the report and the workbook."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from ..core.checks import EXPLAINED, judged
from ..core.elements import Cell, Conduit, Shaft, Store
from ..core.ensemble import Plan
from ..core.figures import Figures
from ..core.hydraulics.stores import node_table
from ..core.model.project import Project
from ..core.order import flow_order

__all__ = ["Sheet", "findings_sheet", "schedules"]


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
