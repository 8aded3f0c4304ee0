"""Conduits split, joined, turned round and led elsewhere."""

from collections.abc import Sequence
from typing import Any, Literal
from uuid import uuid4

import numpy as np

from ..elements import Basin, Channel, Conduit, Inlet, Outfall, Pipe
from ..elements.offset import offset, turned
from ..errors import ModelError
from ..model.network import Network
from .changed import found, with_elements, with_fields
from .course import along, drawn_area, drawn_length, follows
from .draw import draw_node
from .names import between, fresh_name

__all__ = ["join", "moved_sides", "redraw", "reroute", "split", "turn_round"]

_LEAST = 0.1  # m, of a conduit's length


def _conduit(network: Network, link: str) -> Conduit:
    conduit = found(network.links, link, "link")
    if not isinstance(conduit, Conduit):
        raise ModelError(network.label(link), "kind", "has no length", "choose a pipe, a channel or a trench")
    return conduit


def split(
    network: Network, link: str, share: float, drawn: str = "manhole", ground: float | None = None
) -> tuple[Network, str]:
    """A node set on a conduit, and its id: the conduit ends there and a second one goes on, alike in all but length
    and levels; losses, bends and a flap stay where they were.

    share : of the conduit's length, between 0 and 1. drawn : a kind of node. ground : its level there if known, m.

    Raises
    ------
    ModelError
        When the link is not there or no conduit, or the share leaves one side without length.
    """
    conduit = _conduit(network, link)
    first = round(share * conduit.length, 2)
    if not _LEAST <= first <= conduit.length - _LEAST:
        raise ModelError(network.label(link), "length", "would leave a side shorter than 0.1 m", "split it elsewhere")
    stretch, (x, y) = along(network.course(conduit), share)
    level = round(float(conduit.invert_at(first)), 3)
    cut, at = draw_node(network, drawn, x, y, ground, {"invert": level})
    named = conduit.name == between(network, conduit.upstream, conduit.downstream)
    head: dict[str, Any] = {
        "downstream": at, "length": first, "bends": conduit.bends[:stretch], "downstream_invert": level,
        "exit_loss": None, "flap": False,
    }  # fmt: skip
    rest: dict[str, Any] = {
        "upstream": at, "length": round(conduit.length - first, 2), "bends": conduit.bends[stretch:],
        "upstream_invert": level, "entry_loss": 0.0, "bend_loss": 0.0,
        "name": between(cut, at, conduit.downstream) if named else fresh_name(network, conduit.DRAWN[conduit.kind]),
    }  # fmt: skip
    if named:
        head["name"] = between(cut, conduit.upstream, at)
    if isinstance(conduit, Channel):
        bed = [point.model_dump() for point in conduit.bed]
        head["bed"] = [point for point in bed if point["chainage"] < first]
        rest["bed"] = [
            {**point, "chainage": round(point["chainage"] - first, 2)} for point in bed if point["chainage"] > first
        ]
    pieces = {link: with_fields(conduit, head), str(uuid4()): with_fields(conduit, rest)}
    return with_elements(cut, links=pieces), at


def join(network: Network, node: str) -> Network:
    """A node taken out of a run: the pipe that arrives goes on to where the next one led.

    Catchments of the node drain to the node below, above an outfall to the node above.

    Raises
    ------
    ModelError
        Unless one pipe arrives and one leaves, alike in section, roughness, barrels and silt, and nothing enters there.
    """
    taken = found(network.nodes, node, "node")
    label = network.label(node)
    into = [id_ for id_, link in network.links.items() if link.downstream == node]
    out = [id_ for id_, link in network.links.items() if link.upstream == node]
    if len(into) != 1 or len(out) != 1:
        why = f"{len(into)} links arrive and {len(out)} leave"
        raise ModelError(label, "links", why, "only a node between two pipes can be taken out")
    above, below = network.links[into[0]], network.links[out[0]]
    if not isinstance(above, Pipe) or not isinstance(below, Pipe):
        raise ModelError(label, "links", "joins links that are not both pipes", "only pipes can be joined")
    for field in ("section", "roughness", "barrels", "silt"):
        if getattr(above, field) != getattr(below, field):
            raise ModelError(label, "links", f"its pipes differ in {field}", f"give {above.name} and {below.name} one")
    if getattr(taken, "inflows", None):
        raise ModelError(label, "inflows", "water enters here", "move its inflow to another node first")
    if above.upstream == below.downstream:
        raise ModelError(label, "links", "its pipes lead back to one node", "remove one of them")
    # the course keeps the corner where the node stood, unless it lies on the way
    length = round(above.length + below.length, 2)
    straight = [*network.course(above)[:-1], *network.course(below)[1:]]
    around = [*above.bends, (taken.x, taken.y), *below.bends]
    named = above.name == between(network, above.upstream, node)
    joined = {
        "name": between(network, above.upstream, below.downstream) if named else above.name,
        "downstream": below.downstream, "length": length,
        "bends": straight[1:-1] if follows(length, drawn_length(straight)) else around,
        "downstream_invert": below.downstream_invert, "exit_loss": below.exit_loss,
        "bend_loss": above.bend_loss + below.bend_loss, "flap": below.flap,
    }  # fmt: skip
    receiver = above.upstream if isinstance(network.nodes[below.downstream], Outfall) else below.downstream
    return with_elements(
        network,
        nodes={
            id_: other.model_copy(update={"bypass": None})
            for id_, other in network.nodes.items() if isinstance(other, Inlet) and other.bypass == node
        },
        links={into[0]: with_fields(above, joined)},
        catchments={
            id_: catchment.model_copy(update={"node": receiver})
            for id_, catchment in network.catchments.items() if catchment.node == node
        },
        without={node, out[0]},
    )  # fmt: skip


def turn_round(network: Network, link: str) -> Network:
    """A link turned round: its ends change places with all that belongs to them.

    Raises
    ------
    ModelError
        When it is not there.
    """
    old = found(network.links, link, "link")
    turned: dict[str, Any] = {"upstream": old.downstream, "downstream": old.upstream}
    if old.name == between(network, old.upstream, old.downstream):
        turned["name"] = between(network, old.downstream, old.upstream)
    if isinstance(old, Conduit):
        turned |= {
            "upstream_invert": old.downstream_invert, "downstream_invert": old.upstream_invert,
            "bends": old.bends[::-1],
            # no exit loss of its own: the start value of the other end
            "entry_loss": old.exit_loss or 0.0, "exit_loss": old.entry_loss or None,
        }  # fmt: skip
    if isinstance(old, Channel):
        turned["bed"] = [
            {"chainage": round(old.length - point.chainage, 3), "level": point.level} for point in reversed(old.bed)
        ]
    return with_elements(network, links={link: with_fields(old, turned)})


def reroute(network: Network, link: str, end: Literal["upstream", "downstream"], to: str) -> Network:
    """One end of a link moved to another node; an invert at the bottom of the old node goes to that of the new one.

    Raises
    ------
    ModelError
        When the link or the node is not there, or both ends would be one node.
    """
    old = found(network.links, link, "link")
    before, after = network.nodes[getattr(old, end)], found(network.nodes, to, "node")
    ends = {"upstream": old.upstream, "downstream": old.downstream, end: to}
    if ends["upstream"] == ends["downstream"]:
        raise ModelError(network.label(link), end, "both ends would be the same node", "choose another node")
    led: dict[str, Any] = {end: to}
    if old.name == between(network, old.upstream, old.downstream):
        led["name"] = between(network, ends["upstream"], ends["downstream"])
    if isinstance(old, Conduit):
        if follows(old.length, drawn_length(network.course(old))):
            led["length"] = max(round(drawn_length(network.course(old.model_copy(update=ends))), 2), _LEAST)
        if abs(getattr(old, f"{end}_invert") - before.invert) < 1e-6:
            led[f"{end}_invert"] = after.invert
    return with_elements(network, links={link: with_fields(old, led)})


def moved_sides(network: Network, element: str, by: float, side: int | None = None) -> Network:
    """The network with the outline of a pond or a catchment moved outward, in parallel; all of its sides, or one.

    by : m, negative inward. side : from its corner of this number, in the outline's order, to the next.

    Raises
    ------
    ModelError
        When the element has no outline or no such side, or nothing would be left of it.
    """
    node = network.nodes.get(element)
    ground = network.catchments.get(element)
    ring = node.outline if isinstance(node, Basin) else ground.polygon if ground is not None else []
    if len(ring) < 3:
        raise ModelError(network.label(element) if node or ground else "outline", "outline", "is none", "draw it first")
    if side is not None and side > len(ring):
        raise ModelError(network.label(element), "side", f"{side} of {len(ring)} is not there", "choose one of them")
    out = np.full(len(ring), by) if side is None else np.where(np.arange(1, len(ring) + 1) == side, by, 0.0)
    corners = turned(ring)
    clockwise = not np.array_equal(corners, np.array(ring, dtype=float))
    moved = offset(corners, np.roll(out[::-1], -1) if clockwise else out)
    if len(moved) == 0:
        raise ModelError(network.label(element), "outline", "would vanish", "move it by less")
    return redraw(network, element, [(float(x), float(y)) for x, y in (moved[::-1] if clockwise else moved)])


def redraw(network: Network, element: str, corners: Sequence[tuple[float, float]]) -> Network:
    """A conduit's course through other corners, or another outline of a pond's base or a catchment.

    A length or an area that follows the drawing goes on to do so; a typed one that differs stays.

    Raises
    ------
    ModelError
        When the element is not there, has nothing to redraw, or the outline is not valid.
    """
    kept = [(round(x, 2), round(y, 2)) for x, y in corners]
    if element in network.catchments:
        catchment = network.catchments[element]
        outlined: dict[str, Any] = {"polygon": kept}
        if follows(catchment.area, drawn_area(catchment.polygon)):
            outlined["area"] = round(drawn_area(kept), 2)
        return with_elements(network, catchments={element: with_fields(catchment, outlined)})
    node = network.nodes.get(element)
    if isinstance(node, Basin):
        return with_elements(network, nodes={element: with_fields(node, {node.drawn: kept})})
    if node is not None:
        raise ModelError(network.label(element), "base", "has no outline", "choose a pond with a side slope")
    conduit = _conduit(network, element)
    bent: dict[str, Any] = {"bends": kept}
    if follows(conduit.length, drawn_length(network.course(conduit))):
        course = network.course(conduit.model_copy(update=bent))
        bent["length"] = max(round(drawn_length(course), 2), _LEAST)
    return with_elements(network, links={element: with_fields(conduit, bent)})
