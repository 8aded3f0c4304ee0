"""How much may flood."""

from typing import Literal

from ..measured import Drawn, Measured, covered
from ..rule import OfStorms, Start

__all__ = ["FloodVolume"]


class FloodVolume(OfStorms):
    """At most this volume stands above (or is lost over) the cover of a node, m3."""

    UNIT = "m3"
    SENSE = "at most"
    LOOKS_AT = "nodes"
    START = Start("flood volume", "Contained", "At most", "floods at", 0.0)
    BY_LEVEL = True
    MENDED_BY = ("pipes",)

    kind: Literal["flood_volume"] = "flood_volume"

    def look(self, limit: float, network: Drawn) -> Measured:
        """Of what stands over the covers, or has run away."""
        nodes = covered(network)
        return nodes.flood(limit, lambda figures: figures.flooded[nodes.index])
