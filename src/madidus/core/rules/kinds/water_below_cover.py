"""Water stays below covers."""

from typing import Literal

from ..measured import Drawn, Measured, covered
from ..rule import OfStorms, Start
from .words import not_above

__all__ = ["WaterBelowCover"]


class WaterBelowCover(OfStorms):
    """Water stays a distance below the cover of nodes: 0 m is 'no flooding', 0.3 m a near-flood margin."""

    UNIT = "m"
    SENSE = "at least"
    LOOKS_AT = "nodes"
    START = Start("below cover", "Below cover", "Water stays", "below the cover of", 0.0, "middle")
    BY_LEVEL = True
    MENDED_BY = ("pipes",)

    kind: Literal["cover"] = "cover"

    def look(self, limit: float, network: Drawn) -> Measured:
        """Between the water and the covers."""
        return covered(network).below(limit)

    def allowed(self, value: float, unit: str) -> str:
        """In words: 'at least 0.300 m below cover'."""
        return not_above("cover", value, unit)
