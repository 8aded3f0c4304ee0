"""Levels, sizes and roughness of conduits against each other, their nodes and what is usual."""

from collections.abc import Iterator

from ..elements import Conduit, Free, NormalDepth, Outfall, Pipe, Store
from ..hydraulics.conduits import arrivals
from ..model.check_limits import CheckLimits
from ..model.network import Network
from ..model.project import Project
from ..quantities import Quantity, said
from .finding import Finding, setting
from .slips import turned

__all__ = ["conduits"]

_LEVEL = 1e-6  # m
_STEP = 0.02  # m, by which a conduit may leave above the lowest that arrives


def conduits(project: Project) -> Iterator[Finding]:
    """Findings of nodes' levels and of every conduit."""
    network, limits = project.option.network, project.check_limits
    arriving = arrivals(network)
    speeds: dict[str, float] = {}  # of a section, full, at n = 1 and a gradient of 1
    for id_, node in network.nodes.items():
        if not isinstance(node, Outfall) and node.cover <= node.invert:
            yield Finding(
                "cover-below-invert", "stops", id_, "cover",
                said(f"{node.name}: cover ", Quantity(node.cover, "m", 3), " is not above its invert"),
                "raise the cover or lower the invert",
            )  # fmt: skip
        elif not isinstance(node, Outfall) and node.spill_level <= node.invert:
            yield Finding(
                "rim-below-base", "stops", id_, "rim_ground",
                said(f"{node.name}: ground on its rim, ", Quantity(node.spill_level, "m", 2), ", is below its base"),
                "lower the base, build a bank, or move the outline",
            )  # fmt: skip
    for id_, conduit in network.links.items():
        if not isinstance(conduit, Conduit):
            continue
        yield from _fall(id_, conduit, network)
        yield from _ends(id_, conduit, network, limits)
        yield from _exit(id_, conduit, network)
        yield from _beside(id_, conduit, [above for _, above in arriving.get(conduit.upstream, [])], network)
        if isinstance(conduit, Pipe):
            section = f"{conduit.silt} {conduit.section.model_dump_json()}"
            if section not in speeds:
                unit = {"roughness": 1.0, "length": 1.0, "upstream_invert": 1.0, "downstream_invert": 0.0}
                speeds[section] = conduit.model_copy(update=unit).full_velocity() or 0.0
            yield from _usual(id_, conduit, limits, speeds[section])


def _fall(id_: str, conduit: Conduit, network: Network) -> Iterator[Finding]:
    if conduit.gradient <= 0.0:
        other = turned(id_, conduit, network)
        yield Finding(
            "runs-uphill", "look", id_, "downstream_invert",
            said(
                f"{conduit.name} runs uphill, ", Quantity(-conduit.gradient * conduit.length, "m", 2), " in ",
                Quantity(conduit.length, "m", 0),
            )
            if conduit.gradient < 0.0 else f"{conduit.name} is level",
            "its inverts look exchanged" if other else "lower its downstream invert or raise the upstream one", other,
        )  # fmt: skip


def _ends(id_: str, conduit: Conduit, network: Network, limits: CheckLimits) -> Iterator[Finding]:
    for end, node_id, invert in (
        ("upstream_invert", conduit.upstream, conduit.upstream_invert),
        ("downstream_invert", conduit.downstream, conduit.downstream_invert),
    ):
        node = network.nodes[node_id]
        if isinstance(node, Outfall):
            continue
        if invert < node.invert - _LEVEL:
            other = turned(id_, conduit, network)
            lower = setting(
                said(f"lower {node.name} to ", Quantity(invert, "m", 3)), "nodes", node_id, "invert", invert
            )
            yield Finding(
                "below-its-node",
                "stops",
                id_,
                end,
                said(
                    f"{conduit.name} lies ", Quantity(node.invert - invert, "m", 3), f" below the invert of {node.name}"
                ),
                "its ends look exchanged" if other else "raise the pipe's end or lower the node's invert",
                other or lower,
            )
        soffit = invert + conduit.height
        if soffit > node.cover:
            yield Finding(
                "soffit-above-cover", "look", id_, end,
                f"the soffit of {conduit.name} is above the cover of {node.name}",
                "lower the pipe or choose a smaller size",
            )  # fmt: skip
        elif isinstance(conduit, Pipe) and not isinstance(node, Store) and node.cover - soffit < limits.cover:
            yield Finding(
                "shallow", "look", id_, end,
                said(f"{conduit.name} has ", Quantity(node.cover - soffit, "m", 2), f" of cover at {node.name}"),
                said("lower it to have ", Quantity(limits.cover, "m")),
            )  # fmt: skip
        falls = invert - node.invert
        if end == "downstream_invert" and falls > limits.drop and not isinstance(node, Store):
            yield Finding(
                "big-drop",
                "look",
                id_,
                end,
                said(f"{conduit.name} falls ", Quantity(falls, "m", 2), f" into {node.name}"),
                "lower its downstream invert, or make the drop a shaft of its own",
            )


def _exit(id_: str, conduit: Conduit, network: Network) -> Iterator[Finding]:
    node = network.nodes[conduit.downstream]
    if conduit.exit_loss is not None and conduit.exit_loss < 1.0 and isinstance(node, Store | Outfall):
        free = isinstance(node, Outfall) and isinstance(node.tail_water, Free | NormalDepth)
        if not free:
            yield Finding(
                "head-regained", "look", id_, "exit_loss",
                f"{conduit.name} has an exit loss of {conduit.exit_loss:g} into {node.name}: the rest of its velocity "
                "head is regained there",
                "let it lose the whole velocity head, as water that runs into still water does",
                setting("take the start value of the exit loss", "links", id_, "exit_loss", None),
            )  # fmt: skip


def _beside(id_: str, conduit: Conduit, arriving: list[Conduit], network: Network) -> Iterator[Finding]:
    for above in arriving:
        if above.height > conduit.height + 1e-9:
            yield Finding(
                "smaller-downstream", "look", id_, "section", f"{conduit.name} is smaller than {above.name} above it",
                "choose a size at least as large",
            )  # fmt: skip
    if arriving and not isinstance(network.nodes[conduit.upstream], Store):
        lowest = min(arriving, key=lambda above: above.downstream_invert)
        if conduit.upstream_invert > lowest.downstream_invert + _STEP:
            yield Finding(
                "leaves-higher", "look", id_, "upstream_invert",
                said(
                    f"{conduit.name} leaves ", Quantity(conduit.upstream_invert - lowest.downstream_invert, "m", 2),
                    f" above where {lowest.name} arrives: water stands there",
                ),
                "lower its upstream invert",
            )  # fmt: skip


def _usual(id_: str, pipe: Pipe, limits: CheckLimits, unit_speed: float) -> Iterator[Finding]:
    if not limits.min_roughness <= pipe.roughness <= limits.max_roughness:
        yield Finding(
            "unusual-roughness", "look", id_, "roughness",
            f"{pipe.name}: n = {pipe.roughness:g} is outside {limits.min_roughness:g} to {limits.max_roughness:g}",
            "type Manning's n of the pipe's material",
        )  # fmt: skip
    if pipe.gradient <= 0.0:
        return
    speed = unit_speed / pipe.roughness * pipe.gradient**0.5  # Manning
    if speed < limits.min_velocity:
        yield Finding(
            "slow",
            "look",
            id_,
            "downstream_invert",
            said(f"{pipe.name} runs at ", Quantity(speed, "m/s", 2), " when full: silt may stay"),
            said("lay it steeper, for ", Quantity(limits.min_velocity, "m/s")),
        )
    elif speed > limits.max_velocity:
        yield Finding(
            "fast",
            "look",
            id_,
            "downstream_invert",
            said(f"{pipe.name} runs at ", Quantity(speed, "m/s", 2), " when full"),
            said("lay it flatter, for ", Quantity(limits.max_velocity, "m/s"), ", or take the fall in a drop shaft"),
        )
