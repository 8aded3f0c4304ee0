"""How soon a store has room for the next storm."""

from typing import Literal

import numpy as np

from ...elements.figures import Figures
from ..measured import Drawn, Measured, covered
from ..rule import Demand, OfStorms, Start

__all__ = ["HalfDrain"]

_TAKEN = 1e-3  # m3; a store that took less has nothing to give back


class HalfDrain(OfStorms):
    """A pond or tank has given back half of what it took, within a time from its peak, s."""

    UNIT = "s"
    SENSE = "at most"
    LOOKS_AT = "stores"
    START = Start(
        "half-drain time", "Half empty in a day", "Within", "of the peak half is gone from", 86_400.0, "middle"
    )
    MENDED_BY = ("stores",)

    kind: Literal["half_drain"] = "half_drain"

    def look(self, limit: float, network: Drawn) -> Measured:
        """From the peak of a store until half of what it took is gone.

        A store that is not so far when the run of its storm ends has taken at least the time since its peak: that may
        break the rule, and cannot show that it is met.
        """
        stores = covered(network, stores=True)
        index = stores.index

        def spare(figures: Figures) -> np.ndarray:
            took, half = figures.taken[index], figures.half_drain[index]
            since = float(figures.summary["end_time"]) - figures.level_time[index]
            lasting = np.where(since > limit, since, np.nan)
            return limit - np.where(took < _TAKEN, 0.0, np.where(np.isfinite(half), half, lasting))

        return Measured(
            stores.elements, np.full(len(stores.elements), limit), spare, lambda figures: figures.level_time[index],
            unknown="a store had not given back half when the run of its storm ended",
        )  # fmt: skip

    def demand(self, limit: float) -> Demand:
        """A run that goes on until the rule can be judged."""
        return Demand(after=limit)
