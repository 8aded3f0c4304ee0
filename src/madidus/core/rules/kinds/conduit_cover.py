"""The ground over a pipe."""

from typing import Literal

from ...elements import Outfall, Pipe
from ..measured import Drawn, Measured, of_drawing
from ..rule import OfDrawing, Start

__all__ = ["ConduitCover"]


class ConduitCover(OfDrawing):
    """At least so much ground lies over the soffit of a pipe at its ends, m."""

    UNIT = "m"
    SENSE = "at least"
    LOOKS_AT = "pipes"
    START = Start("least cover", "Least cover", "At least", "of ground lies over", 0.9, None)

    kind: Literal["conduit_cover"] = "conduit_cover"

    def look(self, limit: float, network: Drawn) -> Measured:
        """Of the ground over the soffit at the shallower end of pipes; outfalls have no cover, and count where they
        have ground.
        """
        elements, left = [], []
        for id_, pipe in sorted(network.links.items()):
            if not isinstance(pipe, Pipe):
                continue
            over = []
            for node_id, invert in ((pipe.upstream, pipe.upstream_invert), (pipe.downstream, pipe.downstream_invert)):
                node = network.nodes[node_id]
                ground = node.ground if isinstance(node, Outfall) else node.cover
                if ground is not None:
                    over.append(ground - invert - pipe.height)
            if over:
                elements.append(id_)
                left.append(min(over) - limit)
        return of_drawing(elements, left, [limit] * len(elements), "there is no pipe")
