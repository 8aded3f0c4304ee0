"""What routes are asked about: a project, an option of it, and the answer to that option."""

from dataclasses import dataclass
from functools import cached_property
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Depends, Request

from ..core.elements.figures import Figures
from ..core.ensemble import Plan
from ..core.errors import ModelError
from ..core.model.network import Catchment, Network
from ..core.model.project import Project
from ..core.quantities import Units
from ..runs.answer import Answer
from ..runs.runs import Runs
from ..store.project_store import Missing, ProjectStore, Revision

__all__ = ["Current", "Projects", "Running", "Seen", "Shown", "option_router", "project_router"]


def _projects(request: Request) -> ProjectStore:
    found: ProjectStore = request.app.state.projects
    return found


def _runs(request: Request) -> Runs:
    found: Runs = request.app.state.runs
    return found


Projects = Annotated[ProjectStore, Depends(_projects)]
Running = Annotated[Runs, Depends(_runs)]


@dataclass
class Shown:
    """An option of a project at its current revision. Looking starts nothing."""

    projects: ProjectStore
    runs: Runs
    revision: Revision
    option: str

    @cached_property
    def answer(self) -> Answer:
        """Where the option stands."""
        return self.runs.answer(self.revision, self.option)

    @property
    def project(self) -> Project:
        """The project with the option in view."""
        return self.answer.project

    @property
    def units(self) -> Units:
        """In which the project is read."""
        return Units(self.project.units, self.project.flow_unit)

    @property
    def network(self) -> Network:
        """The network of the option."""
        return self.project.option.network

    def catchment(self, id_: UUID) -> Catchment:
        """A catchment of the option.

        Raises
        ------
        Missing
            When there is none of this id.
        """
        found = self.network.catchments.get(str(id_))
        if found is None:
            raise Missing("no such catchment")
        return found

    @property
    def plan(self) -> Plan:
        """What there is to compute.

        Raises
        ------
        ModelError
            What the option cannot be computed for.
        """
        if self.answer.plan is None:
            raise self.answer.problem or ModelError("project", "network", "cannot run", "see the checks")
        return self.answer.plan

    def figures_of(self, storm: str) -> Figures:
        """Figures of a storm that is in.

        Raises
        ------
        ModelError
            When it is not.
        """
        found = self.answer.figures.get(storm)
        if self.plan is None or found is None:
            raise ModelError("storm", storm, "is not in", "run it, or pick another from the storm matrix")
        return found


def _current(project_id: UUID, projects: Projects) -> Revision:
    return projects.get(project_id)


Current = Annotated[Revision, Depends(_current)]


def _shown(project_id: UUID, option: UUID, projects: Projects, runs: Running) -> Shown:
    return Shown(projects, runs, projects.get(project_id), str(option))


Seen = Annotated[Shown, Depends(_shown)]


def project_router() -> APIRouter:
    """Routes that are about a project as a whole."""
    return APIRouter(prefix="/api/projects/{project_id}")


def option_router() -> APIRouter:
    """Routes that are about one option of a project."""
    return APIRouter(prefix="/api/projects/{project_id}/options/{option}")
