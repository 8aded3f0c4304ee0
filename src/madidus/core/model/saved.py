"""What somebody saved to find again by name: views, graphs, and selections of elements."""

from typing import Literal

from pydantic import Field

from ..elements.document import DocumentModel, ElementId, Name

__all__ = ["DrawnPicture", "Extent", "Eye", "Graph", "PlanLook", "SavedView", "Selection"]

_Quantity = Literal["level", "depth", "volume", "fill", "flow", "speed", "entering", "leaving"]


class PlanLook(DocumentModel):
    """What the plan shows by tone and label."""

    theme: Literal["water", "state", "full", "speed", "flood", "left", "duration"] = Field(
        "water", description="the water at the moment, or a result over storms"
    )
    row: str = Field("", max_length=200, description="the return period whose storms count; empty: all storms")
    labels: bool = Field(True, description="results are written beside their elements")


class Extent(DocumentModel):
    """How much of the plan is in sight."""

    x: float = Field(ge=-1e8, le=1e8, description="m, of the middle")
    y: float = Field(ge=-1e8, le=1e8, description="m, of the middle")
    resolution: float = Field(gt=0, le=1e5, description="m for a pixel")


class Eye(DocumentModel):
    """From where the network is seen in 3D."""

    x: float = Field(ge=-1e8, le=1e8, description="m, of what is looked at")
    y: float = Field(ge=-1e8, le=1e8, description="m, of what is looked at")
    level: float = Field(ge=-1e5, le=1e5, description="m, of what is looked at")
    bearing: float = Field(ge=0, le=360, description="degrees clockwise from north, of the eye")
    tilt: float = Field(ge=-90, le=90, description="degrees above the horizon, of the eye")
    distance: float = Field(gt=0, le=1e8, description="m, of the eye")
    upward: float = Field(1.0, gt=0, le=100, description="times by which heights are drawn larger")


class DrawnPicture(DocumentModel):
    """A view in 3D as the browser drew it when it was saved: what a report prints of it."""

    file: str = Field(pattern=r"^[0-9a-f]{64}$", description="SHA-256 of a picture kept with the project")
    inputs: str = Field(max_length=64, description="fingerprint of the inputs whose results it shows")
    storm: str = Field("", max_length=200, description="as people say it")


class SavedView(DocumentModel):
    """What is looked at, not what is computed: a saved view changes no fingerprint."""

    name: Name
    option: ElementId = Field(description="the option that it shows")
    stage: Literal["brief", "network", "rain", "storms", "verdict", "options", "deliver"]
    view: Literal["plan", "graphs", "3d"] = Field("plan", description="of the Network stage")
    element: ElementId | None = None
    storm: str | None = Field(None, max_length=200)
    moment: float = Field(0.0, ge=0, le=1e8, description="s")
    rule: int = Field(0, ge=0, le=1000)
    plan: PlanLook = Field(default_factory=PlanLook)
    extent: Extent | None = Field(None, description="none: the whole network")
    eye: Eye | None = Field(None, description="none: the whole network from the south")
    picture: DrawnPicture | None = Field(None, description="of a view in 3D")


class Graph(DocumentModel):
    """Quantities of elements over time, one against another, or their peaks by duration; changes no fingerprint."""

    name: Name
    title: str = Field("", max_length=200, description="written over it; empty: none")
    elements: list[ElementId] = Field(min_length=1, max_length=100)
    quantities: list[_Quantity] = Field(["flow", "level"], min_length=1, max_length=8)
    storms: Literal["picked", "duration", "row", "all"] = Field(
        "picked", description="the picked storm, those of its return period and duration, of its return period, or all"
    )
    against: _Quantity | Literal["duration"] | None = Field(
        None, description="a quantity across, or the duration that peaks are spread over; none is time"
    )


class Selection(DocumentModel):
    """Elements that are reported together, or that a rule is asked of."""

    name: Name
    elements: list[ElementId] = Field(min_length=1, max_length=20_000)
