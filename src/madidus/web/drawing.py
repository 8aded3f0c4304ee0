"""Questions of the plan that are answered with geometry: outlines, terrain, backgrounds."""

from collections.abc import Callable
from typing import Annotated, Any
from uuid import UUID

from fastapi import FastAPI
from pydantic import BaseModel, Field

from ..core.model.base import Level
from ..core.model.project import Project
from ..core.outline import Outlined, outlined
from ..core.shaping import How, shape
from ..runs.manager import Answer
from ..store.projects import Revision, Shelf
from .layers import ground_of

__all__ = ["install"]

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


def install(app: FastAPI, shelf: Shelf, current: Callable[[UUID], tuple[Project, Revision, Answer]]) -> None:
    """Add the routes. current : project, revision and answer by id."""

    @app.post("/api/projects/{project_id}/outline")
    def outline(project_id: UUID, given: OutlineIn) -> Outlined:
        """What a drawn catchment would be: cut by its neighbours, with its area and receiving node. Nothing changes."""
        project, _, _ = current(project_id)
        return outlined(project.option.network, given.ring, ground_of(shelf, project_id, project))

    @app.post("/api/projects/{project_id}/shape")
    def shape_run(project_id: UUID, given: ShapeIn) -> list[dict[str, Any]]:
        """The edit, relative to the network, that gives a run of conduits its levels. Nothing changes."""
        project, _, _ = current(project_id)
        path = [str(id_) for id_ in given.path]
        return shape(project.option.network, path, given.how, given.gradient, given.cover, given.levels)
