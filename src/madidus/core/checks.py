"""Sense checks of a model: what is missing, and what is there but makes no sense. Each finding says what to do."""

import itertools
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from .errors import ModelError
from .hydraulics.inflow import Inflow
from .model.links import Conduit, FlowCurve, Orifice, Pump
from .model.network import Network
from .model.nodes import Inlet, Outfall, Stone, Store
from .model.project import Project
from .rainfall.storms import ensemble
from .runoff.gather import pass_inlets

__all__ = ["Finding", "check"]


@dataclass(frozen=True)
class Finding:
    """One thing to look at. severity 'stops': the model cannot run; 'look': it runs, but look."""

    severity: Literal["stops", "look"]
    element: str | None
    field: str
    why: str
    remedy: str


def check(project: Project) -> list[Finding]:
    """Every finding, those that stop a run first."""
    network = project.option.network
    found = [
        *_rain(project), *_outlets(network), *_levels(network), *_stores(network), *_pipes(network),
        *_controls(network), *_inlets(network), *_catchments(project),
    ]  # fmt: skip
    return sorted(found, key=lambda finding: finding.severity != "stops")


def _rain(project: Project) -> Iterator[Finding]:
    try:
        storms = ensemble(project.rain)
    except ModelError as error:
        yield Finding("stops", None, error.field, f"{error.element} {error.problem}", error.remedy)
        return
    have = {(s.return_period, s.allowance) for s in storms}
    for criterion in project.brief.criteria:
        if (criterion.return_period, criterion.allowance) not in have:
            yield Finding(
                "look", None, "criteria", f"no storm is run for “{criterion.name}”",
                f"add {criterion.return_period:g} years, +{criterion.allowance * 100:g} % to the ensemble",
            )  # fmt: skip


def _outlets(network: Network) -> Iterator[Finding]:
    if not network.links:
        yield Finding("stops", None, "links", "the network has no pipe", "lay a pipe to an outfall")
        return
    into: dict[str, list[str]] = {}
    for link in network.links.values():
        into.setdefault(link.downstream, []).append(link.upstream)
    reached = {id_ for id_, node in network.nodes.items() if isinstance(node, Outfall)}
    if not reached:
        yield Finding("stops", None, "nodes", "the network has no outfall", "end a pipe at an outfall")
    front = list(reached)
    while front:
        for above in into.get(front.pop(), []):
            if above not in reached:
                reached.add(above)
                front.append(above)
    for part in network.parts():
        cut_off = sorted((network.nodes[id_].name, id_) for id_ in part if id_ not in reached)
        if not cut_off:
            continue
        if len(cut_off) == len(part) > 1:
            names = ", ".join(name for name, _ in cut_off[:4]) + (" …" if len(cut_off) > 4 else "")
            yield Finding(
                "look", cut_off[0][1], "links", f"an island without an outfall: {names}",
                "join it to the network, or end it at an outfall of its own",
            )  # fmt: skip
            continue
        for name, id_ in cut_off:
            yield Finding("look", id_, "links", f"{name} has no way to an outfall", "lay a pipe from it")
    for id_, link in network.links.items():
        if isinstance(network.nodes[link.upstream], Outfall):
            yield Finding("stops", id_, "upstream", f"{link.name} starts at an outfall", "turn it round")


def _levels(network: Network) -> Iterator[Finding]:
    for id_, node in network.nodes.items():
        if isinstance(node, Outfall):
            continue
        if node.cover <= node.invert:
            yield Finding(
                "stops", id_, "cover", f"{node.name}: cover {node.cover:.3f} m is not above its invert",
                "raise the cover or lower the invert",
            )  # fmt: skip


def _stores(network: Network) -> Iterator[Finding]:
    drained = {link.upstream for link in network.links.values()}
    for id_, node in network.nodes.items():
        if not isinstance(node, Store):
            continue
        if id_ not in drained and node.infiltration is None:
            yield Finding(
                "look", id_, "links", f"{node.name} has no outlet", "give it an orifice, a weir, a pipe or infiltration"
            )
        if node.invert + node.initial_depth > node.cover:
            yield Finding(
                "look", id_, "initial_depth", f"{node.name}: {node.initial_depth:.2f} m of water stands above its bank",
                "lower it, or raise the bank",
            )  # fmt: skip
        if isinstance(node, Stone) and node.invert + node.stone_depth > node.cover + 1e-6:
            yield Finding(
                "look", id_, "stone_depth", f"{node.name}: its stone ends above the surface",
                "lower the stone's depth, or raise the surface",
            )  # fmt: skip


def _controls(network: Network) -> Iterator[Finding]:
    for id_, control in network.links.items():
        node = network.nodes[control.upstream]
        if isinstance(control, Conduit) or isinstance(node, Outfall):
            continue
        if isinstance(control, Pump):
            yield from _pump(id_, control, node.cover, node.invert)
            continue
        field = "invert" if isinstance(control, Orifice | FlowCurve) else "crest"
        level = getattr(control, field)
        if level >= node.cover:
            yield Finding(
                "look", id_, field, f"{control.name} lies above the cover of {node.name}: it acts in floods at most",
                "lower it",
            )  # fmt: skip
        if isinstance(control, FlowCurve):
            for a, b in itertools.pairwise(control.rows):
                if b.flow < a.flow:
                    yield Finding(
                        "look", id_, "rows", f"{control.name}: its flow falls from {a.head:g} to {b.head:g} m of head",
                        "right for a vortex control; else correct the curve",
                    )  # fmt: skip
                    break


def _pump(id_: str, pump: Pump, cover: float, invert: float) -> Iterator[Finding]:
    for k, unit in enumerate(pump.units, start=1):
        if unit.on > cover:
            yield Finding("look", id_, "units", f"{pump.name}: pump {k} starts above the cover", "lower its on level")
        if unit.off < invert:
            yield Finding(
                "look",
                id_,
                "units",
                f"{pump.name}: pump {k} stops below the floor, and would never",
                "raise its off level",
            )


def _inlets(network: Network) -> Iterator[Finding]:
    try:
        pass_inlets(network, Inflow.steady({}))
    except ModelError as error:
        yield Finding("stops", None, error.field, f"{error.element}: {error.problem}", error.remedy)
    for id_, node in network.nodes.items():
        if isinstance(node, Inlet) and node.bypass is None:
            yield Finding(
                "look", id_, "bypass", f"{node.name}: what it does not take is lost", "name the node that it runs on to"
            )


def _pipes(network: Network) -> Iterator[Finding]:
    incoming: dict[str, list[Conduit]] = {}
    for link in network.links.values():
        if isinstance(link, Conduit):
            incoming.setdefault(link.downstream, []).append(link)
    for id_, pipe in network.links.items():
        if not isinstance(pipe, Conduit):
            continue
        if pipe.gradient <= 0.0:
            yield Finding(
                "look", id_, "downstream_invert",
                f"{pipe.name} runs uphill, {-pipe.gradient * pipe.length:.2f} m in {pipe.length:.0f} m"
                if pipe.gradient < 0.0 else f"{pipe.name} is level",
                "lower its downstream invert or raise the upstream one",
            )  # fmt: skip
        for end, node_id, invert in (
            ("upstream_invert", pipe.upstream, pipe.upstream_invert),
            ("downstream_invert", pipe.downstream, pipe.downstream_invert),
        ):
            node = network.nodes[node_id]
            if isinstance(node, Outfall):
                continue
            if invert < node.invert - 1e-6:
                yield Finding(
                    "stops", id_, end, f"{pipe.name} lies {node.invert - invert:.3f} m below the invert of {node.name}",
                    "raise the pipe's end or lower the node's invert",
                )  # fmt: skip
            if invert + pipe.height > node.cover:
                yield Finding(
                    "look", id_, end, f"the soffit of {pipe.name} is above the cover of {node.name}",
                    "lower the pipe or choose a smaller size",
                )  # fmt: skip
        for above in incoming.get(pipe.upstream, []):
            if above.height > pipe.height + 1e-9:
                yield Finding(
                    "look", id_, "section", f"{pipe.name} is smaller than {above.name} above it",
                    "choose a size at least as large",
                )  # fmt: skip
        a, b = network.nodes[pipe.upstream], network.nodes[pipe.downstream]
        drawn = ((a.x - b.x) ** 2 + (a.y - b.y) ** 2) ** 0.5
        if drawn > 0.0 and abs(drawn - pipe.length) > 0.25 * drawn and abs(drawn - pipe.length) > 2.0:
            yield Finding(
                "look", id_, "length", f"{pipe.name}: typed {pipe.length:.1f} m, drawn {drawn:.1f} m",
                "type the right length; it overrules the drawing",
            )  # fmt: skip


def _catchments(project: Project) -> Iterator[Finding]:
    network = project.option.network
    for id_, catchment in network.catchments.items():
        if catchment.node is None:
            yield Finding(
                "look", id_, "node", f"{catchment.name} drains to no node", "choose the node that receives it"
            )
        elif isinstance(network.nodes[catchment.node], Outfall):
            yield Finding(
                "stops", id_, "node", f"{catchment.name} drains to an outfall", "choose a node upstream of it"
            )
    if network.nodes and not network.catchments:
        yield Finding("look", None, "catchments", "nothing drains to the network", "add a catchment")
