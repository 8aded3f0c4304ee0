"""Stores, controls, pumps and inlets that could not do their work."""

import itertools
from collections.abc import Iterator, Mapping

from ..errors import ModelError
from ..figures import DEEP_FLOOD
from ..hydraulics.inflow import Inflow
from ..model.links import Conduit, FlowCurve, Orifice, Pump, Riser, Weir
from ..model.network import Network
from ..model.nodes import Inlet, Outfall, Stone, Store
from ..model.project import Project
from ..runoff.gather import pass_inlets
from .finding import Finding, setting

__all__ = ["controls", "deep_floods", "floods", "inlets", "stores"]

_LEAST_C, _MOST_C = 1.0, 2.3  # m½/s, of weirs and rims: 1.3 to 1.9, more where a profile draws the jet down
_FOOT = 0.3048


def stores(project: Project) -> Iterator[Finding]:
    network = project.option.network
    drained = {link.upstream for link in network.links.values()}
    for id_, node in network.nodes.items():
        if not isinstance(node, Store):
            continue
        if id_ not in drained and node.infiltration is None:
            yield Finding(
                "store-without-outlet",
                "look",
                id_,
                "links",
                f"{node.name} has no outlet",
                "give it an orifice, a weir, a pipe or infiltration",
            )
        if node.invert + node.initial_depth > node.cover:
            yield Finding(
                "store-overfull", "look", id_, "initial_depth",
                f"{node.name}: {node.initial_depth:.2f} m of water stands above its bank",
                "lower it, or raise the bank",
            )  # fmt: skip
        if isinstance(node, Stone) and node.invert + node.stone_depth > node.cover + 1e-6:
            yield Finding(
                "stone-above-ground", "look", id_, "stone_depth", f"{node.name}: its stone ends above the surface",
                "lower the stone's depth, or raise the surface",
            )  # fmt: skip


def floods(project: Project) -> Iterator[Finding]:
    """Nodes above which a flood would stand as in a box."""
    for id_, node in project.option.network.nodes.items():
        if isinstance(node, Outfall | Store) or node.flooding == "lost" or getattr(node, "sealed", False):
            continue
        if node.ponded_side_slope == 0.0:
            yield Finding(
                "flood-upright", "look", id_, "ponded_side_slope",
                f"{node.name}: water above its cover stands on {node.ponded_area:g} m² with upright sides",
                "let it widen, 1:50 or as the ground lies",
                setting("widen by 1:50", "nodes", id_, "ponded_side_slope", 50),
            )  # fmt: skip


def deep_floods(network: Network, worst: Mapping[str, tuple[float, str]]) -> Iterator[Finding]:
    """Nodes where results let water stand too deep. worst : by node id, m above its cover, and the storm."""
    for id_, (deep, storm) in sorted(worst.items(), key=lambda item: -item[1][0]):
        if deep > DEEP_FLOOD:
            yield Finding(
                "flood-deep", "look", id_, "ponded_area",
                f"{network.nodes[id_].name}: water stands {deep:.2f} m above its cover in {storm}",
                "give it the area and slope of the ground, say that it is lost, or relieve the network",
            )  # fmt: skip


def controls(project: Project) -> Iterator[Finding]:
    network = project.option.network
    for id_, control in network.links.items():
        node = network.nodes[control.upstream]
        if isinstance(control, Conduit) or isinstance(node, Outfall):
            continue
        if isinstance(control, Pump):
            yield from _pump(id_, control, node.cover, node.invert)
            continue
        if isinstance(control, Weir | Riser) and not _LEAST_C <= control.coefficient <= _MOST_C:
            yield Finding(
                "weir-coefficient", "look", id_, "coefficient",
                f"{control.name}: C is {control.coefficient:.3g} m½/s ({control.coefficient / _FOOT**0.5:.3g} ft½/s)",
                "weirs give 1.2 to 2.2 m½/s, 2.2 to 4.0 ft½/s: see in which units it was given",
            )  # fmt: skip
        field = "invert" if isinstance(control, Orifice | FlowCurve) else "crest"
        level = getattr(control, field)
        if level >= node.cover:
            yield Finding(
                "control-above-cover", "look", id_, field,
                f"{control.name} lies above the cover of {node.name}: it acts in floods at most",
                "lower it",
            )  # fmt: skip
        if isinstance(control, FlowCurve):
            for a, b in itertools.pairwise(control.rows):
                if b.flow < a.flow:
                    yield Finding(
                        "curve-falls", "look", id_, "rows",
                        f"{control.name}: its flow falls from {a.head:g} to {b.head:g} m of head",
                        "right for a vortex control; else correct the curve",
                    )  # fmt: skip
                    break


def _pump(id_: str, pump: Pump, cover: float, invert: float) -> Iterator[Finding]:
    for k, unit in enumerate(pump.units, start=1):
        if unit.on > cover:
            yield Finding(
                "pump-levels",
                "look",
                id_,
                "units",
                f"{pump.name}: pump {k} starts above the cover",
                "lower its on level",
            )
        if unit.off < invert:
            yield Finding(
                "pump-levels",
                "look",
                id_,
                "units",
                f"{pump.name}: pump {k} stops below the floor, and would never",
                "raise its off level",
            )


def inlets(project: Project) -> Iterator[Finding]:
    network = project.option.network
    try:
        pass_inlets(network, Inflow.steady({}))
    except ModelError as error:
        yield Finding("inlet-circle", "stops", None, error.field, f"{error.element}: {error.problem}", error.remedy)
    for id_, node in network.nodes.items():
        if isinstance(node, Inlet) and node.bypass is None:
            yield Finding(
                "inlet-without-bypass",
                "look",
                id_,
                "bypass",
                f"{node.name}: what it does not take is lost",
                "name the node that it runs on to",
            )
