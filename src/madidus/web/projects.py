"""Projects: the list, and each as one document that is edited by patches."""

from datetime import datetime
from typing import Annotated, Any
from uuid import UUID, uuid4

import jsonpatch
from fastapi import APIRouter, Body, Depends, Header, Query, Response
from pydantic import BaseModel, Field

from ..core.errors import ModelError
from ..core.hydraulics.version import SOLVER
from ..core.model.card import Thumbnail
from ..core.model.project import FORMAT_VERSION, Project, parse_project
from ..store.project_store import Conflict, LastVerdict, Listed, Revision
from .context import Current, Projects, Running, project_router
from .layers import on_the_ground

__all__ = ["Expected", "ProjectOut", "listing", "out", "router"]

listing, router = APIRouter(prefix="/api/projects"), project_router()


class ProjectOut(BaseModel):
    """A project at a revision. can_undo, can_redo : whether there is one before it, or one that was made from it."""

    id: UUID
    revision: int
    fingerprint: str
    can_undo: bool
    can_redo: bool
    document: Project


class ListedOut(BaseModel):
    """option : name of the option in view, one of `options`. verdict : the last that was reached; current : of the
    present inputs of the option in view by this solver, else it is of what was there before.
    """

    id: UUID
    name: str
    units: str
    flow_unit: str | None
    opened: datetime
    changed: datetime
    option: str
    options: int
    picture: Thumbnail
    verdict: LastVerdict | None
    current: bool


class ListOut(BaseModel):
    """A page of the list. whole : how many projects there are."""

    whole: int
    projects: list[ListedOut]


class NewProject(BaseModel):
    name: str = Field(min_length=1, max_length=80)


def out(revision: Revision, response: Response) -> ProjectOut:
    """A project as it is answered, with its revision as the entity tag."""
    response.headers["ETag"] = f'"{revision.number}"'
    return ProjectOut(
        id=revision.project_id, revision=revision.number, fingerprint=revision.fingerprint,
        can_undo=revision.can_undo, can_redo=revision.can_redo, document=Project.model_validate(revision.document),
    )  # fmt: skip


def _expected(if_match: Annotated[str, Header()]) -> int:
    """The revision that an edit was made from."""
    text = if_match.strip().strip('"')
    if not text.isdigit() or len(text) > 9:
        raise Conflict
    return int(text)


Expected = Annotated[int, Depends(_expected)]


def _listed(one: Listed) -> ListedOut:
    card, verdict = one.card, one.verdict
    current = verdict is not None and (verdict.option, verdict.inputs, verdict.solver) == (
        card.option, card.inputs, SOLVER,
    )  # fmt: skip
    return ListedOut(
        id=one.id, name=one.name, units=card.units, flow_unit=card.flow_unit, opened=one.opened, changed=one.changed,
        option=card.name, options=card.options, picture=card.picture, verdict=verdict, current=current,
    )  # fmt: skip


@listing.get("")
def list_projects(
    projects: Projects,
    first: Annotated[int, Query(ge=0, le=1_000_000)] = 0,
    most: Annotated[int, Query(ge=1, le=200)] = 60,
) -> ListOut:
    """A page of the projects, the last opened first. Nothing is planned or computed for it."""
    whole, listed = projects.list(first, most)
    return ListOut(whole=whole, projects=[_listed(one) for one in listed])


def _created(project: Project, projects: Projects, runs: Running, response: Response) -> ProjectOut:
    revision = projects.create(project)
    runs.edited(revision)
    return out(revision, response)


@listing.post("", status_code=201)
def create_project(new: NewProject, projects: Projects, runs: Running, response: Response) -> ProjectOut:
    """A project with one empty option."""
    document = {
        "format": "madidus-project", "version": FORMAT_VERSION, "name": new.name,
        "options": {str(uuid4()): {"name": "A"}},
    }  # fmt: skip
    return _created(parse_project(document), projects, runs, response)


@listing.post("/import", status_code=201)
def import_project(
    document: Annotated[dict[str, Any], Body()], projects: Projects, runs: Running, response: Response
) -> ProjectOut:
    """A project from a project file of this or an earlier format version."""
    return _created(parse_project(document), projects, runs, response)


@router.get("")
def get_project(project_id: UUID, projects: Projects, response: Response) -> ProjectOut:
    """A project as it is now; it counts as opened."""
    projects.touch(project_id)
    return out(projects.get(project_id), response)


@router.patch("")
def edit_project(
    revision: Current,
    expected: Expected,
    patch: Annotated[list[dict[str, Any]], Body()],
    projects: Projects,
    runs: Running,
    response: Response,
) -> ProjectOut:
    """Apply a JSON Patch (RFC 6902) to the revision named by If-Match."""
    if revision.number != expected:
        raise Conflict
    try:
        document = jsonpatch.apply_patch(revision.document, patch)
    except (jsonpatch.JsonPatchException, jsonpatch.JsonPointerException, TypeError, KeyError) as error:
        raise ModelError("edit", "patch", f"cannot be applied: {error}", "load the project again") from error
    project = parse_project(document)
    if project == parse_project(revision.document):  # no step to undo
        return out(revision, response)
    saved = projects.save(revision.project_id, on_the_ground(projects, revision.project_id, project), expected)
    runs.edited(saved)
    return out(saved, response)


@router.delete("", status_code=204)
def remove_project(project_id: UUID, projects: Projects, runs: Running) -> None:
    """Remove a project with its revisions, runs and files."""
    runs.cancel(project_id)
    projects.remove(project_id)


@router.post("/undo")
def undo(project_id: UUID, expected: Expected, projects: Projects, runs: Running, response: Response) -> ProjectOut:
    """Go back to the revision that this one was made from."""
    revision = projects.undo(project_id, expected)
    runs.edited(revision)
    return out(revision, response)


@router.post("/redo")
def redo(project_id: UUID, expected: Expected, projects: Projects, runs: Running, response: Response) -> ProjectOut:
    """Go on to the newest revision that was made from this one."""
    revision = projects.redo(project_id, expected)
    runs.edited(revision)
    return out(revision, response)


@router.post("/duplicate", status_code=201)
def duplicate(revision: Current, projects: Projects, runs: Running, response: Response) -> ProjectOut:
    """A copy with the files beside it. It shares the results: they belong to what the solver sees."""
    document = {**revision.document, "name": f"{revision.document['name'][:70]}, copy"}
    copy = projects.create(parse_project(document))
    projects.copy_files(revision.project_id, copy.project_id)
    runs.edited(copy)
    return out(copy, response)
