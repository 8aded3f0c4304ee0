"""What somebody saved to find again by name: views, graphs, and selections of elements."""

from typing import Literal

from pydantic import Field

from ..document import DocumentModel, ElementId, Name

__all__ = ["Graph", "SavedView", "Selection"]

_Quantity = Literal["level", "depth", "volume", "fill", "flow", "speed"]


class SavedView(DocumentModel):
    """What is looked at, not what is computed: a saved view changes no fingerprint."""

    name: Name
    option: ElementId = Field(description="the option that it shows")
    stage: Literal["brief", "network", "rain", "storms", "verdict", "deliver"]
    view: Literal["plan", "graphs", "3d"] = Field("plan", description="of the Network stage")
    element: ElementId | None = None
    storm: str | None = Field(None, max_length=200)
    moment: float = Field(0.0, ge=0, le=1e8, description="s")
    rule: int = Field(0, ge=0, le=1000)


class Graph(DocumentModel):
    """Quantities of elements over time, or one against another; changes no fingerprint."""

    name: Name
    elements: list[ElementId] = Field(min_length=1, max_length=100)
    quantities: list[_Quantity] = Field(["flow", "level"], min_length=1, max_length=6)
    storms: Literal["picked", "duration", "row", "all"] = Field(
        "picked", description="the picked storm, those of its return period and duration, of its return period, or all"
    )
    against: _Quantity | None = Field(None, description="a quantity across; none is time")


class Selection(DocumentModel):
    """Elements that are reported together, or that a rule is asked of."""

    name: Name
    elements: list[ElementId] = Field(min_length=1, max_length=20_000)
