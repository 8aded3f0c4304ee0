"""Times of concentration and flows by the rational method."""

from collections.abc import Callable
from typing import Annotated
from uuid import UUID

from fastapi import FastAPI, Query
from pydantic import BaseModel

from ..core.model.project import Project
from ..core.rational import Preliminary, preliminary
from ..core.runoff.catchments import ground_of, time_of
from ..core.runoff.timing import stretches
from ..runs.manager import Answer
from ..store.projects import Missing, Revision

__all__ = ["install"]


class TimeOut(BaseModel):
    """stretches : min, of the flow path or of the whole; used : s; paved : share, creep included."""

    stretches: dict[str, float]
    used: float
    paved: float


def install(app: FastAPI, current: Callable[[UUID], tuple[Project, Revision, Answer]]) -> None:
    """Add the routes. current : project, revision and answer by id."""

    @app.get("/api/projects/{project_id}/catchments/{catchment}/time")
    def time(project_id: UUID, catchment: UUID) -> TimeOut:
        """A catchment's time of concentration and the stretches that make it, and its paved share with creep."""
        project, _, _ = current(project_id)
        ground = project.option.network.catchments.get(str(catchment))
        if ground is None:
            raise Missing("no such catchment")
        values = project.rain.runoff
        return TimeOut(
            stretches=stretches(ground.timing, ground.area) if ground.timing else {},
            used=time_of(ground, values), paved=ground_of(ground, values).paved,
        )  # fmt: skip

    @app.get("/api/projects/{project_id}/rational")
    def rational(
        project_id: UUID,
        return_period: Annotated[float, Query(gt=0, le=10_000)],
        allowance: Annotated[float, Query(ge=0, le=2)] = 0.0,
    ) -> list[Preliminary]:
        """A first flow for every conduit by the rational method, in flow order: for sizing, no simulation."""
        project, _, _ = current(project_id)
        return preliminary(project, return_period, allowance)
