"""Water stays below banks."""

from typing import Literal

from ..measured import Drawn, Measured, covered
from ..rule import OfStorms, Start
from .words import not_above

__all__ = ["Freeboard"]


class Freeboard(OfStorms):
    """Water stays a distance below the bank of ponds and tanks, m."""

    UNIT = "m"
    SENSE = "at least"
    LOOKS_AT = "stores"
    START = Start("freeboard", "Freeboard", "Water stays", "below the bank of", 0.3)
    BY_LEVEL = True
    MENDED_BY = ("stores",)

    kind: Literal["freeboard"] = "freeboard"

    def look(self, limit: float, network: Drawn) -> Measured:
        """Between the water and the banks of stores, or lower ground on their rims."""
        return covered(network, stores=True).below(limit)

    def allowed(self, value: float, unit: str) -> str:
        """In words: 'at least 0.300 m below bank'."""
        return not_above("bank", value, unit)
