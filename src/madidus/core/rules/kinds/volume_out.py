"""A permitted volume."""

from typing import Literal

import numpy as np
from pydantic import Field

from ...elements.document import ElementId
from ...elements.figures import Figures
from ..measured import Drawn, Measured, place
from ..rule import Demand, OfStorms, Start

__all__ = ["VolumeOut"]

_SAME = 1e-6  # s


class VolumeOut(OfStorms):
    """At most this volume leaves by an outfall or passes a link within a time from the beginning of the storm, m3."""

    UNIT = "m3"
    SENSE = "at most"
    LOOKS_AT = "place"
    START = Start("volume", "Volume", "At most", "leaves by", 100.0)
    MENDED_BY = ("stores",)

    kind: Literal["volume"] = "volume"
    element: ElementId = Field(description="the outfall or link")
    within: float = Field(86_400.0, ge=60, le=1_209_600, description="s from the beginning of the storm")

    def look(self, limit: float, network: Drawn) -> Measured:
        """Of what has left by an outfall, or passed a link, within a time."""
        of_link, k = place(self.element, network)
        column = len(network.nodes) + k if of_link else k

        def spare(figures: Figures) -> np.ndarray:
            at = np.nonzero(np.abs(figures.marks - self.within) < _SAME)[0]
            passed = figures.passed_at[at[0], column] if at.size else np.nan
            return np.array([limit - passed])

        return Measured(
            [self.element], np.array([limit]), spare, lambda _: np.array([self.within]),
            unknown=f"the volume after {self.within / 3600:g} h is known of the storms that it judges alone",
        )  # fmt: skip

    def allowed(self, value: float, unit: str) -> str:
        """In words: 'at most 100 m3 within 24 h'."""
        return f"{super().allowed(value, unit)} within {self.within / 3600:g} h"

    def demand(self, limit: float) -> Demand:
        """The volume noted at the end of the time."""
        return Demand(marks=(self.within,))
