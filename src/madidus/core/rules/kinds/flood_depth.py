"""How deep a flood may be."""

from typing import Literal

import numpy as np

from ..measured import Drawn, Measured, covered
from ..rule import OfStorms, Start

__all__ = ["FloodDepth"]


class FloodDepth(OfStorms):
    """A flood stands at most this deep over the cover of a node, m."""

    UNIT = "m"
    SENSE = "at most"
    LOOKS_AT = "nodes"
    START = Start("flood depth", "Shallow floods", "A flood stands at most", "deep at", 0.1)
    BY_LEVEL = True
    MENDED_BY = ("pipes",)

    kind: Literal["flood_depth"] = "flood_depth"

    def look(self, limit: float, network: Drawn) -> Measured:
        """Of the water that stands over the covers; a sealed manhole has none in the open."""
        nodes = covered(network, in_the_open=True)
        return nodes.flood(limit, lambda figures: np.maximum(0.0, figures.level[nodes.index] - nodes.cover))
