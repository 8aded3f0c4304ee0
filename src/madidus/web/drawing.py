"""Questions of the plan that are answered with geometry: outlines, terrain, backgrounds."""

from typing import Annotated

from pydantic import BaseModel, Field

from ..core.ground.outline import Outlined, outlined
from .context import Seen, option_router
from .layers import ground_level

__all__ = ["router"]

_Coordinate = Annotated[float, Field(ge=-1e8, le=1e8, allow_inf_nan=False)]


class OutlineIn(BaseModel):
    """Corners in m, around the ground; the last is joined to the first."""

    ring: list[tuple[_Coordinate, _Coordinate]] = Field(min_length=3, max_length=5000)


router = option_router()


@router.post("/outline")
def outline(seen: Seen, given: OutlineIn) -> Outlined:
    """What a drawn catchment would be: cut by its neighbours, with its area and receiving node. Nothing changes."""
    return outlined(seen.network, given.ring, ground_level(seen))
