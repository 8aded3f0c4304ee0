"""Conduits that clean themselves."""

from typing import Literal

import numpy as np

from ..measured import Drawn, Measured, conduits, untimed
from ..rule import OfStorms, Start

__all__ = ["VelocityLeast"]


class VelocityLeast(OfStorms):
    """Water runs at least once so fast in a conduit that it carries silt away, m/s."""

    UNIT = "m/s"
    SENSE = "at least"
    LOOKS_AT = "conduits"
    START = Start("least velocity", "Cleans itself", "Water reaches at least", "in", 0.75, "commonest")

    kind: Literal["velocity_least"] = "velocity_least"

    def look(self, limit: float, network: Drawn) -> Measured:
        """Of the greatest velocity in each conduit."""
        elements, index, _found = conduits(network)
        count = len(elements)
        return Measured(elements, np.full(count, limit), lambda figures: figures.speed[index] - limit, untimed(count))
