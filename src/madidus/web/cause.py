"""Why an element is surcharged or flooded in a storm."""

from collections.abc import Callable
from typing import Annotated
from uuid import UUID

from fastapi import FastAPI, Query

from ..core.cause import Cause, cause
from ..core.ensemble import Plan
from ..core.errors import ModelError
from ..core.model.project import Project
from ..runs.manager import Answer
from ..store.projects import Missing, Revision

__all__ = ["install"]


def install(
    app: FastAPI,
    current: Callable[[UUID], tuple[Project, Revision, Answer]],
    plan_of: Callable[[Answer], Plan],
) -> None:
    """Add the routes. current : project, revision and answer by id; plan_of : the plan of an answer, or its problem."""

    @app.get("/api/projects/{project_id}/elements/{element}/cause")
    def cause_of(project_id: UUID, element: UUID, storm: Annotated[str, Query(max_length=200)]) -> Cause | None:
        """Whether an element's own capacity or the water below it surcharges it in a storm, and the way there."""
        _, _, answer = current(project_id)
        plan, id_ = plan_of(answer), str(element)
        if id_ not in plan.network.nodes and id_ not in plan.network.links:
            raise Missing("no such node or link")
        if storm not in answer.figures:
            raise ModelError("storm", storm, "is not in", "run it, or pick another from the storm matrix")
        return cause(plan.network, plan.nodes, plan.links, answer.figures[storm], id_)
