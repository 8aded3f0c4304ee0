"""Elements that become another kind where they stand, and keep what both kinds have."""

from typing import Any

from pydantic import BaseModel, TypeAdapter, ValidationError

from ..elements import DRAWN_LINKS, DRAWN_NODES, Conduit, Outfall, Reach, Spot
from ..elements.control import ControlBase
from ..errors import ModelError
from ..model.network import Network
from .changed import LINK, NODE, found, made, with_elements

__all__ = ["become"]

_OWN = {"kind", "form"}  # what says which kind it is


def become(network: Network, element: str, drawn: str) -> Network:
    """The network with an element of another kind: name, place, levels and all that both have stay, the rest starts
    anew.

    drawn : what it could be drawn as: a node stays a node, a conduit a conduit, a control a control.

    Raises
    ------
    ModelError
        When the element is not there, cannot become that, or the outcome is not valid.
    """
    if element in network.nodes:
        return with_elements(network, nodes={element: _node(network, element, drawn)})
    link = found(network.links, element, "element")
    kind = DRAWN_LINKS.get(drawn)
    if kind is None or issubclass(kind, ControlBase) != isinstance(link, ControlBase):
        raise ModelError(network.label(element), "kind", f"cannot become a {drawn}", "draw that beside it")
    above, below = network.nodes[link.upstream], network.nodes[link.downstream]
    cover = above.invert if isinstance(above, Outfall) else above.cover
    start = kind.start(Reach(link.length if isinstance(link, Conduit) else 0.0, above.invert, cover, below.invert))
    fields = _kept(link.model_dump(), {**start, "upstream": link.upstream, "downstream": link.downstream}, kind)
    if isinstance(link, ControlBase) and issubclass(kind, ControlBase) and link.LEVEL and kind.LEVEL:
        fields[kind.LEVEL] = link.acts_from
    return with_elements(network, links={element: made(LINK, {**fields, "kind": kind.model_fields["kind"].default})})


def _node(network: Network, element: str, drawn: str) -> Any:
    node, kind = network.nodes[element], DRAWN_NODES.get(drawn)
    if kind is None:
        raise ModelError(network.label(element), "kind", f"cannot become a {drawn}", "choose a kind of node")
    top = node.cover if not isinstance(node, Outfall) else node.ground
    spot = Spot(node.x, node.y, node.invert + 1.0 if top is None else top, node.invert)
    if issubclass(kind, Outfall):
        _leads_nowhere(network, element)
    fields = _kept(node.model_dump(), kind.start(spot, drawn), kind)
    return made(NODE, {**fields, "kind": kind.model_fields["kind"].default})


def _kept(old: dict[str, Any], start: dict[str, Any], kind: type[BaseModel]) -> dict[str, Any]:
    """Start values of a kind, with the fields that the element had before and that fit it."""
    own = {name: value for name, value in old.items() if name in kind.model_fields and name not in _OWN}
    fields = {**start, **own}
    if "section" in start and "section" in own and not _fits(kind, own["section"]):
        fields["section"] = start["section"]
    return fields


def _fits(kind: type[BaseModel], section: dict[str, Any]) -> bool:
    """Whether a kind may have a section of this shape."""
    try:
        TypeAdapter(kind.model_fields["section"].rebuild_annotation()).validate_python(section)
    except ValidationError:
        return False
    return True


def _leads_nowhere(network: Network, element: str) -> None:
    """An outfall ends what comes to it: nothing leaves it, and no ground drains straight to it."""
    name = network.label(element)
    leaving = next((link.name for link in network.links.values() if link.upstream == element), None)
    if leaving is not None:
        raise ModelError(name, "kind", f"cannot become an outfall: {leaving} leaves it", "lead that elsewhere first")
    draining = next((c.name for c in network.catchments.values() if c.node == element), None)
    if draining is not None:
        raise ModelError(
            name, "kind", f"cannot become an outfall: {draining} drains to it", "let it drain to a node upstream first"
        )
