"""An inlet."""

from typing import Any, ClassVar, Literal

from pydantic import Field

from .document import ElementId, Positive
from .node import Spot
from .shaft import Shaft

__all__ = ["USUAL_CAPACITY", "Inlet"]

USUAL_CAPACITY = 0.02  # m3/s, of one of which nobody says it


class Inlet(Shaft):
    """A gully or grating over a shaft: takes surface water up to its capacity, the rest runs on to `bypass`."""

    DRAWN: ClassVar[dict[str, str]] = {"inlet": "G"}

    kind: Literal["inlet"] = "inlet"
    plan_area: float = Field(0.3, ge=0.05, le=10_000, description="m2")
    capacity: Positive = Field(description="m3/s, the most that enters from the surface")
    bypass: ElementId | None = Field(None, description="the node that receives the rest; none: it is lost")

    @classmethod
    def start(cls, spot: Spot, drawn: str) -> dict[str, Any]:
        return {**super().start(spot, drawn), "capacity": USUAL_CAPACITY}

    @property
    def area(self) -> float:
        return self.plan_area
