"""Questions of the plan that are answered with geometry: outlines, terrain, backgrounds."""

from collections.abc import Callable
from typing import Annotated
from uuid import UUID

from fastapi import FastAPI
from pydantic import BaseModel, Field

from ..core.model.project import Project
from ..core.outline import Outlined, outlined
from ..core.terrain import between_covers
from ..runs.manager import Answer
from ..store.projects import Revision

__all__ = ["install"]

_Coordinate = Annotated[float, Field(ge=-1e8, le=1e8, allow_inf_nan=False)]


class OutlineIn(BaseModel):
    """Corners in m, around the ground; the last is joined to the first."""

    ring: list[tuple[_Coordinate, _Coordinate]] = Field(min_length=3, max_length=5000)


def install(app: FastAPI, current: Callable[[UUID], tuple[Project, Revision, Answer]]) -> None:
    """Add the routes. current : project, revision and answer by id."""

    @app.post("/api/projects/{project_id}/outline")
    def outline(project_id: UUID, given: OutlineIn) -> Outlined:
        """What a drawn catchment would be: cut by its neighbours, with its area and receiving node. Nothing changes."""
        project, _, _ = current(project_id)
        network = project.option.network
        return outlined(network, given.ring, between_covers(network))
