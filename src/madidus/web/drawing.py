"""Questions of the plan that are answered with geometry: outlines, terrain, backgrounds."""

from typing import Annotated, Any
from uuid import UUID

from pydantic import BaseModel, Field

from ..core.document import Level
from ..core.outline import Outlined, outlined
from ..core.shaping import How, shape
from .asked import Seen, option_router
from .layers import ground_level

__all__ = ["router"]

_Coordinate = Annotated[float, Field(ge=-1e8, le=1e8, allow_inf_nan=False)]


_Level = Annotated[Level, Field(allow_inf_nan=False)]


class OutlineIn(BaseModel):
    """Corners in m, around the ground; the last is joined to the first."""

    ring: list[tuple[_Coordinate, _Coordinate]] = Field(min_length=3, max_length=5000)


class ShapeIn(BaseModel):
    """Ids of conduits that follow one another, and how their levels are to be set."""

    path: list[UUID] = Field(min_length=1, max_length=5000)
    how: How
    gradient: float = Field(0.01, gt=0, le=1, allow_inf_nan=False, description="fall per length")
    cover: float = Field(1.0, ge=0, le=20, allow_inf_nan=False, description="m of ground over the soffits")
    levels: list[tuple[_Level, _Level]] = Field(default_factory=list, max_length=5000, description="m, of each conduit")


router = option_router()


@router.post("/outline")
def outline(seen: Seen, given: OutlineIn) -> Outlined:
    """What a drawn catchment would be: cut by its neighbours, with its area and receiving node. Nothing changes."""
    return outlined(seen.network, given.ring, ground_level(seen))


@router.post("/shape")
def shape_run(seen: Seen, given: ShapeIn) -> list[dict[str, Any]]:
    """The edit, relative to the network, that gives a run of conduits its levels. Nothing changes."""
    path = [str(id_) for id_ in given.path]
    return shape(seen.network, path, given.how, given.gradient, given.cover, given.levels)
