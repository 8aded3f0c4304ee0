"""Water stays below soffits."""

from typing import Literal

import numpy as np

from ..measured import Drawn, Measured, conduits
from ..rule import OfStorms, Start
from .words import not_above

__all__ = ["Surcharge"]


class Surcharge(OfStorms):
    """Water stays a distance below the soffit of conduits, m."""

    UNIT = "m"
    SENSE = "at least"
    LOOKS_AT = "conduits"
    START = Start("no surcharge", "No surcharge", "Water stays", "below the soffit of", 0.0, "commonest")
    BY_LEVEL = True
    MENDED_BY = ("pipes",)

    kind: Literal["surcharge"] = "surcharge"

    def look(self, limit: float, network: Drawn) -> Measured:
        """Between the water and the soffits."""
        elements, index, found = conduits(network)
        return Measured(
            elements, np.array([conduit.height for conduit in found]),
            lambda figures: figures.clearance[index] - limit, lambda figures: figures.clearance_time[index],
        )  # fmt: skip

    def allowed(self, value: float, unit: str) -> str:
        """In words: 'not above soffit'."""
        return not_above("soffit", value, unit)
