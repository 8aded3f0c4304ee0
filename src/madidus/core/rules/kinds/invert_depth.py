"""How deep a node may be dug."""

from typing import Literal

from ...elements import Outfall
from ..measured import Drawn, Measured, of_drawing
from ..rule import OfDrawing, Start

__all__ = ["InvertDepth"]


class InvertDepth(OfDrawing):
    """The invert of a node lies at most so deep below its cover, m."""

    UNIT = "m"
    SENSE = "at most"
    LOOKS_AT = "nodes"
    START = Start("greatest depth", "Greatest depth", "At most", "below its cover lies", 5.0, None)

    kind: Literal["invert_depth"] = "invert_depth"

    def look(self, limit: float, network: Drawn) -> Measured:
        """Of inverts below their covers."""
        nodes = {id_: node for id_, node in sorted(network.nodes.items()) if not isinstance(node, Outfall)}
        left = [limit - (node.cover - node.invert) for node in nodes.values()]
        return of_drawing(list(nodes), left, [limit] * len(nodes), "there is no node with a cover")
