"""Rules about the network as it is drawn: sizes, gradients, cover and depth."""

from collections.abc import Sequence

import numpy as np

from ..elements import Conduit, Outfall, Pipe, Store
from ..hydraulics.conduits import arrivals
from ..model.brief import ConduitCover, Gradient, InvertDepth, NoneSmaller, PipeSize
from ..model.network import Network
from .measured import Measured, NotMeasured, untimed

__all__ = ["conduit_cover", "gradient", "invert_depth", "none_smaller", "pipe_size"]


def _drawn(elements: list[str], left: Sequence[float], scale: Sequence[float], none: str) -> Measured:
    if not elements:
        raise NotMeasured(none)
    drawn, when = np.array(left, float), untimed(len(elements))
    return Measured(elements, np.array(scale, float), lambda _: drawn, when, drawn=drawn)


def _pipes(network: Network) -> dict[str, Pipe]:
    return {id_: link for id_, link in sorted(network.links.items()) if isinstance(link, Pipe)}


def pipe_size(_: PipeSize, limit: float, network: Network) -> Measured:
    """Of the height of pipes."""
    pipes = _pipes(network)
    left = [pipe.height - limit for pipe in pipes.values()]
    return _drawn(list(pipes), left, [limit] * len(pipes), "there is no pipe")


def gradient(_: Gradient, limit: float, network: Network) -> Measured:
    """Of the fall of conduits over their length."""
    conduits = {id_: link for id_, link in sorted(network.links.items()) if isinstance(link, Conduit)}
    left = [conduit.gradient - limit for conduit in conduits.values()]
    return _drawn(list(conduits), left, [limit] * len(conduits), "there is no pipe or channel")


def conduit_cover(_: ConduitCover, limit: float, network: Network) -> Measured:
    """Of the ground over the soffit at the shallower end of pipes; outfalls have no cover, and count where they have
    ground.
    """
    elements, left = [], []
    for id_, pipe in _pipes(network).items():
        over = []
        for node_id, invert in ((pipe.upstream, pipe.upstream_invert), (pipe.downstream, pipe.downstream_invert)):
            node = network.nodes[node_id]
            ground = node.ground if isinstance(node, Outfall) else node.cover
            if ground is not None:
                over.append(ground - invert - pipe.height)
        if over:
            elements.append(id_)
            left.append(min(over) - limit)
    return _drawn(elements, left, [limit] * len(elements), "there is no pipe")


def invert_depth(_: InvertDepth, limit: float, network: Network) -> Measured:
    """Of inverts below their covers."""
    nodes = {id_: node for id_, node in sorted(network.nodes.items()) if not isinstance(node, Outfall)}
    left = [limit - (node.cover - node.invert) for node in nodes.values()]
    return _drawn(list(nodes), left, [limit] * len(nodes), "there is no node with a cover")


def none_smaller(_: NoneSmaller, limit: float, network: Network) -> Measured:
    """Of each pipe against the highest one that arrives at its upstream end; below a store a smaller one is usual."""
    arriving = arrivals(network)
    elements, left, scale = [], [], []
    for id_, pipe in _pipes(network).items():
        if isinstance(network.nodes[pipe.upstream], Store):
            continue
        above = [conduit.height for _, conduit in arriving.get(pipe.upstream, []) if isinstance(conduit, Pipe)]
        if above:
            elements.append(id_)
            left.append(limit - max(0.0, max(above) - pipe.height))
            scale.append(limit)
    return _drawn(elements, left, scale, "no pipe follows another")
