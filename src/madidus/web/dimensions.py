"""Stores by their dimensions, one of them solved from the others."""

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from ..core.elements.offset import area_of, figures_of, turned
from ..core.errors import ModelError
from ..core.ground.prismoid import Prismoid, Unknown, rectangle, solved
from .context import Current, project_router

__all__ = ["router"]

_Size = Annotated[float, Field(gt=0, le=1e5, allow_inf_nan=False)]
_LEAST = 0.05  # m2
_Coordinate = Annotated[float, Field(ge=-1e8, le=1e8, allow_inf_nan=False)]


class DimensionsIn(BaseModel):
    """A store by its dimensions, m and m3; `unknown` is worked out from the others, and what is given of it is a guess.

    ring : corners of its outline, m; none where it is a rectangle of length and width.
    """

    at: Literal["base", "top"]
    length: _Size = 1.0
    width: _Size = 1.0
    ring: list[tuple[_Coordinate, _Coordinate]] | None = Field(None, min_length=3, max_length=1000)
    slope: Annotated[float, Field(ge=0, le=50)]
    depth: Annotated[float, Field(gt=0, le=100)]
    volume: Annotated[float, Field(gt=0, le=1e8)] = 1.0
    unknown: Unknown


class DimensionsOut(BaseModel):
    """scale : by which the outline has grown. base, top : areas, m2. table : depth (m) and area (m2)."""

    scale: float
    slope: float
    depth: float
    volume: float
    base: float
    top: float
    table: list[tuple[float, float]]


router = project_router()


@router.post("/stores/dimensions")
def dimensions(_: Current, given: DimensionsIn) -> DimensionsOut:
    """A store with its unknown solved from its other dimensions; what is refused, in the project's units."""
    if given.ring is None:
        store = rectangle(given.at, given.length, given.width, given.slope, given.depth)
    else:
        corners = turned(given.ring)
        if area_of(corners) < _LEAST:
            raise ModelError("store", "ring", "has no area", "draw its corners in order, without crossing")
        store = Prismoid(given.at, *figures_of(corners), given.slope, given.depth)
    found = solved(store, given.volume, given.unknown)
    return DimensionsOut(
        scale=found.scale, slope=found.slope, depth=found.depth, volume=found.volume, base=found.area_at(0.0),
        top=found.area_at(found.depth), table=found.table(),
    )  # fmt: skip
