"""A pond that conveys: the same volume as a channel between its inlets and its outlet, beside the level pool."""

from uuid import uuid4

import numpy as np

from ..elements import Basin, Channel, Conduit, Storage
from ..elements.sections import Trapezoidal
from ..errors import ModelError
from ..model.network import Network
from ..quantities import Quantity, said
from .become import become
from .changed import found, with_elements
from .draw import draw_node
from .names import fresh_name

__all__ = ["convey"]


def convey(network: Network, store: str, length: float, fall: float, roughness: float) -> tuple[Network, list[str]]:
    """The network with a pond as a channel of its length (m), fall (m) and roughness, and the ids of its head and of
    the channel.

    The pond's node stays, as the junction that its outlets leave; all that came to it comes to the head. The section is
    a trapezium with the areas of the pond at its base and its bank, over the length.

    Raises
    ------
    ModelError
        When it is no pond, keeps permanent water, is narrower at its bank than at its base, or what comes to it would
        end below its head.
    """
    pond = found(network.nodes, store, "element")
    name = network.label(store)
    if not isinstance(pond, Basin) and not (isinstance(pond, Storage) and pond.form == "pond"):
        raise ModelError(name, "kind", "is no pond", "choose a pond; draw a channel or a filter trench for others")
    if pond.initial_depth > 0.0:
        raise ModelError(name, "initial_depth", "keeps permanent water, which a channel does not", "set it to 0 first")
    depths, areas = pond.areas()
    deep, base, bank = float(depths[-1]), float(areas[0]), float(areas[-1])
    if bank < base:
        raise ModelError(name, "areas", "is narrower at its bank than at its base", "draw a channel with its section")
    head_invert = round(pond.invert + fall, 4)
    if fall >= deep:
        raise ModelError(name, "fall", "lifts its head above its bank", "give it less fall")
    for link in network.links.values():
        if link.downstream == store and isinstance(link, Conduit) and link.downstream_invert < head_invert - 1e-6:
            raise ModelError(
                name, "fall",
                said(f"lifts its head above {link.name}, which ends at ", Quantity(link.downstream_invert, "m", 3)),
                "give it less fall, or raise that end",
            )  # fmt: skip
    x, y = _head(network, store, length)
    with_head, head = draw_node(
        network, "junction", x, y, pond.cover, {"invert": head_invert, "name": fresh_name(network, f"{pond.name} in ")}
    )
    slope = (bank - base) / length / (2.0 * deep)
    section = Trapezoidal(
        base_width=round(base / length, 3), left_slope=round(slope, 4), right_slope=round(slope, 4),
        height=round(deep, 4),
    )  # fmt: skip
    channel = Channel(
        name=fresh_name(network, "C"), upstream=head, downstream=store, length=length, roughness=roughness,
        upstream_invert=head_invert, downstream_invert=pond.invert, section=section, infiltration=pond.infiltration,
    )  # fmt: skip
    led = {
        id_: link.model_copy(update={"downstream": head})
        for id_, link in network.links.items() if link.downstream == store
    }  # fmt: skip
    drained = {
        id_: one.model_copy(update={"node": head}) for id_, one in network.catchments.items() if one.node == store
    }
    after, id_ = become(with_head, store, "junction"), str(uuid4())
    return with_elements(after, links={**led, id_: channel}, catchments=drained), [head, id_]


def _head(network: Network, store: str, length: float) -> tuple[float, float]:
    """Where its head lies: towards what comes to it, as far away as it is long."""
    pond = network.nodes[store]
    above = [network.nodes[link.upstream] for link in network.links.values() if link.downstream == store]
    way = np.mean([(node.x - pond.x, node.y - pond.y) for node in above], axis=0) if above else np.array([-1.0, 0.0])
    size = float(np.hypot(*way))
    way = way / size if size > 1e-6 else np.array([-1.0, 0.0])
    return round(pond.x + length * float(way[0]), 2), round(pond.y + length * float(way[1]), 2)
