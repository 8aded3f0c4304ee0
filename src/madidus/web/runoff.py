"""Times of concentration and flows by the rational method."""

from typing import Annotated
from uuid import UUID

from fastapi import Query
from pydantic import BaseModel

from ..core.runoff.catchments import counted_area, surface_of, time_of
from ..core.runoff.rational import Preliminary, preliminary
from ..core.surface.stretches import stretches
from .context import Seen, option_router

__all__ = ["router"]


class TimeOut(BaseModel):
    """stretches : min, of the flow path or of the whole; used : s; paved : share, creep included; area : m2 that run
    off, grown by creep beyond the outline where all of it is paved.
    """

    stretches: dict[str, float]
    used: float
    paved: float
    area: float


router = option_router()


@router.get("/catchments/{catchment}/time")
def time(seen: Seen, catchment: UUID) -> TimeOut:
    """A catchment's time of concentration and the stretches that make it, and its paved share with creep."""
    project = seen.project
    one = seen.catchment(catchment)
    values = project.rain.runoff
    return TimeOut(
        stretches=stretches(one.timing, one.area) if one.timing else {},
        used=time_of(one, values), paved=surface_of(one, values).paved, area=counted_area(one, values),
    )  # fmt: skip


@router.get("/rational")
def rational(
    seen: Seen,
    return_period: Annotated[float, Query(gt=0, le=10_000)],
    allowance: Annotated[float, Query(ge=0, le=2)] = 0.0,
) -> list[Preliminary]:
    """A first flow for every conduit by the rational method, in flow order: for sizing, no simulation."""
    project = seen.project
    return preliminary(project, return_period, allowance)
