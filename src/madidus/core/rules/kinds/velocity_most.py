"""Conduits that are not worn."""

from typing import Literal

import numpy as np

from ..measured import Drawn, Measured, conduits, untimed
from ..rule import OfStorms, Start

__all__ = ["VelocityMost"]


class VelocityMost(OfStorms):
    """Water never runs faster than this in a conduit, m/s."""

    UNIT = "m/s"
    SENSE = "at most"
    LOOKS_AT = "conduits"
    START = Start("greatest velocity", "Does not wear", "Water runs at most at", "in", 3.0, "commonest")

    kind: Literal["velocity_most"] = "velocity_most"

    def look(self, limit: float, network: Drawn) -> Measured:
        """Of the greatest velocity in each conduit."""
        elements, index, _found = conduits(network)
        count = len(elements)
        return Measured(elements, np.full(count, limit), lambda figures: limit - figures.speed[index], untimed(count))
