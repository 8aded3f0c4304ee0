"""What lies under the network on the plan: pictures, drawings, map services, and the ground itself."""

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..elements.document import DocumentModel, Name, Positive, Share

__all__ = ["FileDigest", "Layer", "Lines", "MapService", "Picture", "TerrainLayer"]

FileDigest = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{64}$")]
"""SHA-256 of a file that is kept beside the document."""

_Place = Annotated[float, Field(ge=-1e8, le=1e8)]


class _Layer(DocumentModel):
    name: Name
    shown: bool = True
    opacity: Share = 1.0


class Picture(_Layer):
    """A picture, north up."""

    kind: Literal["picture"] = "picture"
    file: FileDigest
    extent: tuple[_Place, _Place, _Place, _Place] = Field(description="west, south, east, north, m")


class Lines(_Layer):
    """Lines and words of a drawing, as GeoJSON in the project's grid."""

    kind: Literal["lines"] = "lines"
    file: FileDigest


class MapService(_Layer):
    """A map by address. xyz : a pattern with {x}, {y}, {z}; wms, wmts : the service, and which of its layers."""

    kind: Literal["map"] = "map"
    service: Literal["xyz", "wms", "wmts"]
    address: Annotated[str, StringConstraints(pattern=r"^https?://[^\s\"'<>]{1,480}$")]
    layer: str = Field("", max_length=200)
    credit: str = Field("", max_length=200, description="who made the map, shown on the plan")


Layer = Annotated[Picture | Lines | MapService, Field(discriminator="kind")]


class TerrainLayer(DocumentModel):
    """Levels of the ground on a grid, and how they are drawn."""

    name: Name
    file: FileDigest
    contours: bool = True
    interval: Positive | None = Field(None, le=1000, description="m between contours; none: what reads well")
    shade: bool = True
