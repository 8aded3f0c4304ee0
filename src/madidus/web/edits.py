"""Edits of a network: one request, one step to undo."""

from typing import Annotated
from uuid import UUID

from fastapi import Body, Response

from ..core.edit import Edit, apply
from ..core.model.project import parse_project
from ..store.project_store import Conflict
from .context import Current, Projects, Running, option_router
from .layers import on_the_ground
from .projects import Expected, ProjectOut, out

__all__ = ["router"]

router = option_router()


class EditedOut(ProjectOut):
    """made : ids of the elements that the edits made, in their order."""

    made: list[str]


@router.post("/edits")
def edit_network(
    revision: Current,
    option: UUID,
    expected: Expected,
    edits: Annotated[list[Edit], Body(min_length=1, max_length=20_000)],
    projects: Projects,
    runs: Running,
    response: Response,
) -> EditedOut:
    """Edit an option's network, made from the revision named by If-Match: all of the edits, or none."""
    if revision.number != expected:
        raise Conflict
    before = parse_project(revision.document)
    project, made = apply(before, str(option), edits)
    if project == before:  # no step to undo
        return EditedOut(**dict(out(revision, response)), made=made)
    edited = on_the_ground(projects, revision.project_id, parse_project(project.model_dump(mode="json")))
    saved = projects.save(revision.project_id, edited, expected)
    runs.edited(saved)
    return EditedOut(**dict(out(saved, response)), made=made)
