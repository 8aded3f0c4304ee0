"""The least gradient of a conduit."""

from typing import Literal

from ..measured import Drawn, Measured, conduits, of_drawing
from ..rule import OfDrawing, Start

__all__ = ["Gradient"]


class Gradient(OfDrawing):
    """Conduits fall at least so much over their length, m/m."""

    UNIT = "m/m"
    SENSE = "at least"
    LOOKS_AT = "conduits"
    START = Start("least gradient", "Least gradient", "A gradient of at least", "has", 1.0 / 300.0, None)

    kind: Literal["gradient"] = "gradient"

    def look(self, limit: float, network: Drawn) -> Measured:
        """Of the fall of conduits over their length."""
        elements, _index, found = conduits(network)
        left = [conduit.gradient - limit for conduit in found]
        return of_drawing(elements, left, [limit] * len(left), "there is no pipe or channel")

    def allowed(self, value: float, unit: str) -> str:
        """As one in so many: 'at least 1:300'."""
        return f"at least 1:{1.0 / self.limit:.0f}" if self.limit else super().allowed(value, unit)
