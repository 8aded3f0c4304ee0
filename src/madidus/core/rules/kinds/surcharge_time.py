"""Water stands above soffits for a short time at most."""

from typing import Literal

import numpy as np

from ..measured import Drawn, Measured, conduits, untimed
from ..rule import OfStorms, Start

__all__ = ["SurchargeTime"]


class SurchargeTime(OfStorms):
    """Water stands above the soffit of a conduit, anywhere along it, for at most this time of a storm, s."""

    UNIT = "s"
    SENSE = "at most"
    LOOKS_AT = "conduits"
    START = Start(
        "time above soffit", "Surcharged for a short time", "For at most", "water stands above the soffit of", 3600.0,
        "middle",
    )  # fmt: skip
    BY_LEVEL = True
    MENDED_BY = ("pipes",)

    kind: Literal["surcharge_time"] = "surcharge_time"

    def look(self, limit: float, network: Drawn) -> Measured:
        """Of the time of each conduit, to the solver's step."""
        elements, index, _found = conduits(network)
        count = len(elements)
        return Measured(
            elements, np.full(count, limit), lambda figures: limit - figures.surcharged[index], untimed(count)
        )  # fmt: skip
