"""Stores, controls, pumps and inlets that could not do their work."""

from collections.abc import Iterator

from ..elements import Conduit, FixedLevel, Inlet, LevelSeries, Outfall, Pump, Stone, Store, held
from ..errors import ModelError
from ..hydraulics.inflow import Inflow
from ..model.network import Network
from ..model.project import Project
from ..quantities import Quantity, said
from ..runoff.gather import pass_inlets
from .finding import Finding, setting

__all__ = ["controls", "floods", "inlets", "lifts_nothing", "stores"]


def stores(project: Project) -> Iterator[Finding]:
    """Stores that cannot empty, are overfull, or whose stone stands out of the ground."""
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
        if node.invert + node.initial_depth > node.spill_level:
            yield Finding(
                "store-overfull", "look", id_, "initial_depth",
                said(f"{node.name}: ", Quantity(node.initial_depth, "m", 2), " of water stands above its bank"),
                "lower it, or raise the bank",
            )  # fmt: skip
        if isinstance(node, Stone) and (voids := node.voids()) > 1.01 * (counts := held(node)):
            yield Finding(
                "stone-not-all", "look", id_, "base_slope",
                said(
                    f"{node.name}: ", Quantity(counts, "m³", 1), " of the ", Quantity(voids, "m³", 1),
                    " of voids in its stone lie below its lowest surface and count",
                ),
                "divide it by check dams, or let the stone be deeper at its foot",
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
                said(
                    f"{node.name}: water above its cover stands on ", Quantity(node.ponded_area, "m²"),
                    " with upright sides",
                ),
                "let it widen, 1:50 or as the ground lies",
                setting("widen by 1:50", "nodes", id_, "ponded_side_slope", 50),
            )  # fmt: skip


def controls(project: Project) -> Iterator[Finding]:
    """What each kind of control finds unusual of itself."""
    network = project.option.network
    for id_, control in network.links.items():
        node = network.nodes[control.upstream]
        if isinstance(control, Conduit) or isinstance(node, Outfall):
            continue
        for found in control.unusual(node):
            why = said(f"{control.name}: ", found.why)
            yield Finding(found.check, "look", id_, found.field, why, found.remedy)
        if isinstance(control, Pump):
            yield from _lift(id_, control, network)


def lifts_nothing(pump: Pump, network: Network) -> tuple[float, float] | None:
    """Static lift from the highest level at which one of its pumps starts, and its shut-off head, m, where the first is
    more: it turns, and lifts nothing. None where it lifts.
    """
    below = network.nodes[pump.downstream]
    water = below.tail_water if isinstance(below, Outfall) else None
    tail = water.level if isinstance(water, FixedLevel) else None
    if isinstance(water, LevelSeries):
        tail = min(row.level for row in water.rows)
    lift = pump.pours_at(below.invert, tail) - max(unit.on for unit in pump.units)
    return (lift, pump.shut_off_head) if lift >= pump.shut_off_head else None


def _lift(id_: str, pump: Pump, network: Network) -> Iterator[Finding]:
    found = lifts_nothing(pump, network)
    if found is not None:
        lift, shut = found
        yield Finding(
            "pump-lift", "look", id_, "units",
            said(
                f"{pump.name}: its static lift of ", Quantity(lift, "m", 2), " exceeds the shut-off head of ",
                Quantity(shut, "m", 2), ": it turns, and lifts nothing",
            ),
            "choose a pump for that head, or correct its curve, its levels or where its main pours out",
            acceptable=False,
        )  # fmt: skip


def inlets(project: Project) -> Iterator[Finding]:
    """Inlets that pass water on in a circle, or to nobody."""
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
