"""Schedules of the network as plain tables with every field that it holds, shared by the report and the workbook."""

from collections.abc import Iterable, Sequence
from typing import Any

import numpy as np
from pydantic import BaseModel

from ..core.checks import EXPLAINED, judged
from ..core.elements import Cell, Conduit, LevelSeries, Node, Outfall, Pump, Shaft, Store
from ..core.elements.figures import Figures
from ..core.ensemble import Plan
from ..core.hydraulics.rating_curve import rating_curve
from ..core.hydraulics.stores import node_table
from ..core.model.flow_order import flow_order
from ..core.model.network import Network
from ..core.model.project import Project
from ..core.model.report import ScheduleKind
from ..core.quantities import Quantity, Said, said
from ..core.runoff.catchments import counted_area, surface_of
from ..core.verdicts import Verdict
from ..exchange.field_units import FIELDS
from ..exchange.fields import flat
from .blocks import Column, Columns, Table
from .words import TAIL_WORDS

__all__ = ["SCHEDULES", "curve_tables", "findings_table", "ids_in_flow_order", "schedule", "stages"]

_PLACE = {"name", "kind", "x", "y", "upstream", "downstream", "node", "bends", "polygon"}
_KEPT = {"m2": ("m²", 1.0), "m3/s": ("L/s", 1000.0), "m0.5/s": ("m½/s", 1.0), "m": ("m", 1.0), "m/s": ("m/s", 1.0)}
SCHEDULES: tuple[ScheduleKind, ...] = (
    "manholes", "conduits", "storage", "controls", "outfalls", "catchments", "catalogue",
)  # fmt: skip


def ids_in_flow_order(network: Network) -> tuple[list[str], list[str]]:
    """Ids of nodes and of links in flow order."""
    order = {id_: i for i, id_ in enumerate(flow_order(network))}
    return list(order), sorted(network.links, key=lambda k: (order[network.links[k].upstream], network.links[k].name))


def _further(network: Network, element: BaseModel, shown: Sequence[str]) -> Said:
    """Fields that a schedule has no column for and that are not at their rest, in words."""
    parts: list[str | Quantity] = []
    for name, value in flat(element.model_dump(mode="json", exclude_defaults=True)).items():
        if name in _PLACE or name.split(".")[0] in shown or name in shown:
            continue
        label = name.replace(".", " ").replace("_", " ")
        before = "; " if parts else ""
        if isinstance(value, str) and value in network.nodes:
            parts.append(f"{before}{label} {network.nodes[value].name}")
        elif isinstance(value, str) and value[:1] == "[":
            parts.append(f"{before}{label} as typed")
        elif isinstance(value, bool) or not isinstance(value, int | float):
            parts.append(f"{before}{label}" + ("" if value is True else f" {'no' if value is False else value}"))
        elif FIELDS.get(name) in _KEPT:
            unit, factor = _KEPT[FIELDS[name]]
            parts += [f"{before}{label} ", Quantity(value * factor, unit)]
        else:
            parts.append(f"{before}{label} {value:g}{f' {FIELDS[name]}' if name in FIELDS else ''}")
    return said(*parts)


def stages(store: Cell) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Depths (m), areas (m2) and volumes (m3) of a store up to where it spills."""
    depth, area, volume = node_table(store)
    inside = depth <= store.spill_level - store.invert + 1e-9
    return depth[inside], area[inside], volume[inside]


def schedule(project: Project, kind: ScheduleKind, nodes: Iterable[str], links: Iterable[str]) -> Table:
    """One schedule. nodes, links : those that are told of, in order."""
    network = project.option.network
    every = [network.nodes[id_] for id_ in nodes]
    if kind == "manholes":
        return _manholes(network, every)
    if kind == "storage":
        return _storage(network, every)
    if kind == "outfalls":
        return _outfalls(network, every)
    if kind == "conduits":
        return _conduits(network, links)
    if kind == "controls":
        return _controls(network, links)
    return _catchments(project, {id(node) for node in every}) if kind == "catchments" else _catalogue(project)


def _manholes(network: Network, nodes: list[Node]) -> Table:
    header: Columns = [
        "Name",
        "Kind",
        Column("East", "m"),
        Column("North", "m"),
        Column("Cover", "m"),
        Column("Invert", "m"),
        Column("Depth", "m"),
        Column("Plan area", "m²"),
        "Floods",
        "Further",
    ]
    shown = ("cover", "invert", "plan_area", "flooding")
    return Table("Manholes", header, [
        [n.name, n.word, n.x, n.y, n.cover, n.invert, n.cover - n.invert, n.area, n.flooding,
         _further(network, n, shown)]
        for n in nodes if isinstance(n, Shaft)
    ])  # fmt: skip


def _conduits(network: Network, links: Iterable[str]) -> Table:
    header: Columns = [
        "Name", "From", "To", Column("Size", "mm"), "Material", Column("Length", "m"), Column("Invert up", "m"),
        Column("Invert down", "m"), Column("Gradient 1 in", figures=1),
        "Manning n", Column("Full", "L/s"), Column("Full", "m/s"), "K entry", "K exit", "Further",
    ]  # fmt: skip
    shown = ("section", "length", "upstream_invert", "downstream_invert", "roughness", "material", "entry_loss",
             "exit_loss")  # fmt: skip
    rows = []
    for id_ in links:
        p = network.links[id_]
        if isinstance(p, Conduit):
            full = p.full_flow()
            out = p.exit_loss
            rows.append([
                p.name, network.nodes[p.upstream].name, network.nodes[p.downstream].name, p.size(),
                getattr(p, "material", None) or "", p.length, p.upstream_invert, p.downstream_invert,
                round(1 / p.gradient, 1) if p.gradient else "level", p.roughness,
                "" if full is None else full * 1000, p.full_velocity() or "", p.entry_loss,
                "" if out is None else out, _further(network, p, shown),
            ])  # fmt: skip
    return Table("Conduits", header, rows)


def _storage(network: Network, nodes: list[Node]) -> Table:
    header: Columns = [
        "Name", "Kind", Column("Invert", "m"), Column("Bank or cover", "m"), Column("Spills at", "m"),
        Column("Depth", "m"),
        Column("Base area", "m²"), Column("Top area", "m²"), Column("Volume", "m³"), Column("Voids", "%"),
        "Infiltration", "Further",
    ]  # fmt: skip
    rows = []
    for n in nodes:
        if isinstance(n, Store):
            _, areas, volumes = stages(n)
            soak = n.infiltration
            soaks = "none" if soak is None else said(
                Quantity(soak.rate * 3.6e6, "mm/h"), f" over {soak.safety_factor:g}, {soak.through}"
            )  # fmt: skip
            voids = getattr(n, "porosity", None)
            rows.append([
                n.name, n.word, n.invert, n.cover, n.spill_level, n.spill_level - n.invert, float(areas[0]),
                float(areas[-1]), float(volumes[-1]), 100.0 if voids is None else voids * 100.0, soaks,
                _further(network, n, ("cover", "invert", "table", "infiltration", "porosity", "base")),
            ])  # fmt: skip
    return Table("Storage", header, rows)


def _controls(network: Network, links: Iterable[str]) -> Table:
    header: Columns = [
        "Name",
        "Kind",
        "From",
        "To",
        Column("Level", "m"),
        "Size",
        "Coefficient",
        Column("At cover", "L/s"),
        "Further",
    ]
    rows = []
    for id_ in links:
        c = network.links[id_]
        if not isinstance(c, Conduit):
            flows = rating_curve(network, id_).flow
            level, size, coefficient = c.schedule_entry()
            rows.append([
                c.name, c.WORD, network.nodes[c.upstream].name, network.nodes[c.downstream].name, level, size,
                coefficient, max(flows, default=0.0) * 1000,
                _further(network, c, ("invert", "crest", "section", "discharge_coefficient", "coefficient", "curve",
                                      "units")),
            ])  # fmt: skip
    return Table("Controls", header, rows)


def _outfalls(network: Network, nodes: list[Node]) -> Table:
    rows = []
    for n in nodes:
        if isinstance(n, Outfall):
            water = n.tail_water
            level = getattr(water, "level", "")
            if isinstance(water, LevelSeries):
                levels = [row.level for row in water.rows]
                level = said(Quantity(min(levels), "m", 3), " to ", Quantity(max(levels), "m", 3))
            rows.append([
                n.name, n.x, n.y, n.invert, "" if n.ground is None else n.ground, TAIL_WORDS[water.kind], level,
                "flap" if n.flap else "open",
            ])  # fmt: skip
    header: Columns = [
        "Name",
        Column("East", "m"),
        Column("North", "m"),
        Column("Invert", "m"),
        Column("Ground", "m"),
        "Tail water",
        Column("Level", "m"),
        "Flap",
    ]
    return Table("Outfalls", header, rows)


def _catchments(project: Project, told: set[int]) -> Table:
    network, values = project.option.network, project.rain.runoff
    rows = []
    for c in sorted(network.catchments.values(), key=lambda c: c.name):
        node = network.nodes[c.node] if c.node else None
        if node is not None and id(node) not in told:
            continue
        surface = surface_of(c, values)
        over = network.catchments[c.over].name if c.over in network.catchments else ""
        creep = values.creep if c.creep is None else c.creep
        rows.append([
            c.name, c.area, counted_area(c, values), c.impervious * 100, creep * 100, surface.paved * 100,
            node.name if node else f"over {over}" if over else "nowhere", surface.entry / 60.0,
            surface.method.kind.replace("_", " ") + ("" if c.method is None else ", its own"),
            _further(network, c, ("area", "impervious", "over", "time_of_entry", "creep", "timing")),
        ])  # fmt: skip
    header: Columns = ["Name", Column("Area", "m²"), Column("Counts", "m²"), Column("Impervious", "%"),
              Column("Creep", "%"), Column("Paved in all", "%"), "Drains to",
              Column("Time of entry", "min"), "Runoff", "Further"]  # fmt: skip
    return Table("Catchments", header, rows)


def _catalogue(project: Project) -> Table:
    sizes = project.catalogue
    rows = []
    for material in sizes.pipes:
        bores = [part for d in material.diameters for part in (", ", Quantity(d * 1000.0, "mm", 0, bare=True))][1:]
        rows.append([f"pipes of {material.name}, n = {material.roughness:g}", said(*bores)])
    rows += [
        ["manholes", said(
            "Ø", Quantity(ring.diameter * 1000.0, "mm", 0, bare=True), " for pipes up to Ø",
            Quantity(ring.largest_pipe * 1000.0, "mm", 0, bare=True), ", down to ", Quantity(ring.deepest, "m", 1),
        )] for ring in sizes.manholes
    ]  # fmt: skip
    return Table("Catalogue", ["Of", Column("Holds", "mm")], rows)


def _said(field: str, value: Any) -> Any:
    """A typed figure with its unit, where it has one that is turned."""
    if isinstance(value, str | bool) or FIELDS.get(field) not in _KEPT:
        return value
    unit, factor = _KEPT[FIELDS[field]]
    return said(Quantity(value * factor, unit))


def curve_tables(network: Network, nodes: Iterable[str], links: Iterable[str]) -> list[Table]:
    """Stage–area tables of stores, curves of controls and of pumps, mains and their levels, as they were typed."""
    tables = []
    for id_ in nodes:
        node = network.nodes[id_]
        if isinstance(node, Store):
            depths, areas, volumes = stages(node)
            shown = np.unique(np.linspace(0, len(depths) - 1, min(len(depths), 24)).astype(int))
            tables.append(Table(
                f"{node.word.capitalize()} {node.name}: stage, area, volume",
                [Column("Depth", "m"), Column("Level", "m"), Column("Area", "m²"), Column("Volume", "m³")],
                [[float(depths[k]), node.invert + float(depths[k]), float(areas[k]), float(volumes[k])] for k in shown],
            ))  # fmt: skip
    for id_ in links:
        link = network.links[id_]
        if isinstance(link, Pump):
            for k, unit in enumerate(link.units, start=1):
                duty = "stand-by" if unit.standby else "duty"
                name = f"Pump {link.name}, unit {k} ({duty})"
                tables.append(Table(name, [Column("On", "m"), Column("Off", "m"), Column("Flow", "L/s"),
                                           Column("Head", "m")], [
                    [unit.on if j == 0 else "", unit.off if j == 0 else "", row.flow * 1000, row.head]
                    for j, row in enumerate(unit.curve)
                ]))  # fmt: skip
            if link.main is not None:
                rows = [
                    [name.replace("_", " "), _said(f"main.{name}", value)]
                    for name, value in link.main.model_dump().items() if value is not None
                ]  # fmt: skip
                tables.append(Table(f"Rising main of {link.name}", ["Of the main", "Is"], rows))
        elif not isinstance(link, Conduit):
            curve = rating_curve(network, id_)
            shown = np.unique(np.linspace(0, len(curve.head) - 1, min(len(curve.head), 16)).astype(int))
            rows = [[curve.head[k], curve.flow[k] * 1000] for k in shown]
            tables.append(
                Table(
                    f"{link.WORD.capitalize()} {link.name}: rating", [Column("Head", "m"), Column("Flow", "L/s")], rows
                )
            )
    return tables


def findings_table(
    project: Project, plan: Plan, figures: dict[str, Figures], verdicts: Sequence[Verdict], accepted: bool
) -> Table:
    """What the checks find: what was accepted, with its reason, or what nobody has accepted."""
    found = judged(project, plan.whole_run(figures), verdicts=verdicts)
    if accepted:
        rows = [[EXPLAINED[f.check].title, f.why, reason] for f, reason in found if reason]
        return Table("Findings that were accepted", ["Check", "Finding", "Reason to leave it"], rows)
    rows = [[EXPLAINED[f.check].title, f.why, f.remedy] for f, reason in found if not reason]
    return Table("Findings that are open", ["Check", "Finding", "What to do"], rows)
