"""Elements drawn anew: nodes, links and catchments with start values, runs of pipes."""

import math
from collections.abc import Mapping
from typing import Any, Literal
from uuid import uuid4

from ..elements import DRAWN_LINKS, DRAWN_NODES, Conduit, Node, Outfall, Reach, Spot
from ..errors import ModelError
from ..model.catalogue import Catalogue
from ..model.defaults import Defaults
from ..model.network import Network
from .changed import CATCHMENT, LINK, NODE, found, made, with_elements
from .names import between, free_name, fresh_name

__all__ = ["draw_catchment", "draw_link", "draw_node", "draw_run"]

Fields = Mapping[str, Any]
_GROUND, _DEPTH = 10.0, 1.5  # m, where nothing is drawn yet


def _top_of(node: Node) -> float:
    """Level of the ground at a node, m."""
    if isinstance(node, Outfall):
        return node.invert + 1.0 if node.ground is None else node.ground
    return node.cover


def _levels_at(network: Network, x: float, y: float) -> tuple[float, float]:
    """Levels of the ground and of an invert at a place: those of the nearest node, m."""
    near = min(network.nodes.values(), key=lambda node: math.hypot(node.x - x, node.y - y), default=None)
    if near is None:
        return _GROUND, _GROUND - _DEPTH
    top = _top_of(near)
    return (top, near.invert) if top > near.invert else (near.invert + _DEPTH, near.invert)


def draw_node(
    network: Network, drawn: str, x: float, y: float, ground: float | None = None, fields: Fields | None = None
) -> tuple[Network, str]:
    """A new node, and its id. Levels as at the nearest node there is, or as deep below the ground where that is known.

    drawn : one of DRAWN_NODES. x, y, ground : m. fields : that someone has said, by their paths below the element.

    Raises
    ------
    ModelError
        Names the field that is not valid.
    """
    kind = DRAWN_NODES[drawn]
    near, invert = _levels_at(network, x, y)
    top = near if ground is None else ground
    spot = Spot(round(x, 2), round(y, 2), round(top, 3), round(invert + top - near, 3))
    start = {"kind": kind.model_fields["kind"].default, "name": fresh_name(network, kind.DRAWN[drawn])}
    node = made(NODE, {**start, **kind.start(spot, drawn)}, fields)
    id_ = str(uuid4())
    return with_elements(network, nodes={id_: node}), id_


def draw_link(
    network: Network, drawn: str, upstream: str, downstream: str, fields: Fields | None = None
) -> tuple[Network, str]:
    """A new link between two nodes, and its id: as long as it is drawn, its inverts those of the nodes.

    drawn : one of DRAWN_LINKS. fields : that someone has said, by their paths below the element.

    Raises
    ------
    ModelError
        When an end is not there, both are one, or a field is not valid.
    """
    kind = DRAWN_LINKS[drawn]
    a, b = found(network.nodes, upstream, "node"), found(network.nodes, downstream, "node")
    name = fresh_name(network, kind.DRAWN[drawn])
    if upstream == downstream:
        raise ModelError(f"{drawn} {name}", "downstream", "both ends are the same node", "choose another node")
    top = a.invert + _DEPTH if isinstance(a, Outfall) else a.cover
    reach = Reach(round(math.hypot(a.x - b.x, a.y - b.y), 2), a.invert, top, b.invert)
    ends = {"kind": drawn, "name": name, "upstream": upstream, "downstream": downstream}
    id_ = str(uuid4())
    return with_elements(network, links={id_: made(LINK, {**ends, **kind.start(reach)}, fields)}), id_


def draw_catchment(network: Network, area: float, fields: Fields | None = None) -> tuple[Network, str]:
    """A new catchment of an area in m2, and its id. fields : that someone has said, by their paths below the element.

    Raises
    ------
    ModelError
        Names the field that is not valid.
    """
    name = free_name({catchment.name for catchment in network.catchments.values()}, "Area 0")
    id_ = str(uuid4())
    return with_elements(network, catchments={id_: made(CATCHMENT, {"name": name, "area": area}, fields)}), id_


def draw_run(
    network: Network,
    defaults: Defaults,
    catalogue: Catalogue,
    begins: str | None,
    to: str | tuple[float, float],
    ground: float | None = None,
    drawn: Literal["manhole", "outfall"] = "manhole",
) -> tuple[Network, str]:
    """One step along a run of pipes, and the node where the run now ends.

    A manhole, or the outfall that it is to end at, where there is none, and a pipe to it from the node before. The
    invert falls by the wanted gradient, or further where the cover over the pipe would be too little; a pipe is no
    smaller than those that arrive at its head; where a conduit already leads there, the run just goes on. begins :
    node before, none at the head. to : a node, or a place in m. ground : its level there where it is known, m.

    Raises
    ------
    ModelError
        When a node is not there, or what would be drawn is not valid.
    """
    above = None if begins is None else found(network.nodes, begins, "node")
    existing: Node | None = None
    if isinstance(to, str):
        existing = found(network.nodes, to, "node")
        x, y = existing.x, existing.y
    else:
        x, y = to
    arriving = [
        link.height for link in network.links.values() if isinstance(link, Conduit) and link.downstream == begins
    ]
    diameter = max(defaults.diameter, *arriving, 0.0)
    top = _top_of(existing) if existing is not None else _levels_at(network, x, y)[0] if ground is None else ground
    deepest = round(top - defaults.cover - diameter, 3)
    length = 0.0 if above is None else max(round(math.hypot(above.x - x, above.y - y), 2), 0.1)
    fallen = deepest if above is None else round(above.invert - defaults.gradient * length, 3)
    end = min(fallen, deepest) if existing is None else max(existing.invert, fallen)
    at = to if isinstance(to, str) else str(uuid4())
    if existing is None:
        taken = {node.name for node in network.nodes.values()}
        place: dict[str, Any] = {"kind": drawn, "x": round(x, 2), "y": round(y, 2), "invert": end}
        if drawn == "outfall":
            place |= {"name": fresh_name(network, DRAWN_NODES[drawn].DRAWN[drawn]), "ground": round(top, 3)}
        else:
            name = fresh_name(network, "M") if above is None else free_name(taken, above.name)
            ring = catalogue.ring_for(diameter, top - end)
            place |= {"name": name, "cover": round(top, 3), "diameter": ring}
        network = with_elements(network, nodes={at: made(NODE, place)})
    if begins is None or above is None or begins == at or _joined(network, begins, at):
        return network, at
    pipe = {
        "kind": "pipe", "name": between(network, begins, at), "upstream": begins, "downstream": at, "length": length,
        "upstream_invert": above.invert, "downstream_invert": end,
        "section": {"shape": "circular", "diameter": diameter}, "material": defaults.material,
        "roughness": defaults.roughness,
    }  # fmt: skip
    return with_elements(network, links={str(uuid4()): made(LINK, pipe)}), at


def _joined(network: Network, upstream: str, downstream: str) -> bool:
    """Whether a conduit leads from one node to the other."""
    return any(
        isinstance(link, Conduit) and (link.upstream, link.downstream) == (upstream, downstream)
        for link in network.links.values()
    )
