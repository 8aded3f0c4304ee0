"""Questions of rain: a fitted formula, patterns of a file, and what a storm gives to a catchment."""

from collections.abc import Callable
from typing import Annotated
from uuid import UUID

import numpy as np
from fastapi import FastAPI, Query, Request
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel

from ..core.ensemble import Plan
from ..core.model.project import Project
from ..core.model.rain import DepthTable, IntensityFormula, TemporalPattern
from ..core.rainfall.depth import fit_formula
from ..core.runoff.catchments import ground_of
from ..core.runoff.methods import yield_of
from ..exchange.patterns_csv import read_patterns
from ..runs.manager import Answer
from ..store.projects import Missing, Revision
from .files import limited

__all__ = ["install"]


class FitOut(BaseModel):
    """residuals : depth of the formula over that of the table, less 1; by return period and duration."""

    formula: IntensityFormula
    residuals: list[list[float]]


class CatchmentRunoff(BaseModel):
    """What a storm gives to a catchment. times : s; flow : m3/s; ran : mm run off by each time; the rest : mm."""

    name: str
    times: list[float]
    flow: list[float]
    ran: list[float]
    runoff: float
    lost: float
    kept: float


class StormRain(BaseModel):
    """times : s, edges of the intervals; intensity : mm/h within them; fallen : mm at the edges."""

    label: str
    times: list[float]
    intensity: list[float]
    fallen: list[float]
    catchment: CatchmentRunoff | None


def install(
    app: FastAPI,
    current: Callable[[UUID], tuple[Project, Revision, Answer]],
    plan_of: Callable[[Answer], Plan],
) -> None:
    """Add the routes. current : project, revision and answer by id; plan_of : the plan of an answer, or its problem."""

    @app.post("/api/rain/fit")
    def fit(table: DepthTable) -> FitOut:
        """The formula a/(t+b)^c that lies nearest to a depth table, and by how much it is off at each depth."""
        formula, residuals = fit_formula(table)
        return FitOut(formula=formula, residuals=residuals.tolist())

    @app.post("/api/rain/patterns")
    async def patterns(request: Request) -> list[TemporalPattern]:
        """Temporal patterns of a CSV (the body); nothing changes."""
        return await run_in_threadpool(read_patterns, await limited(request))

    @app.get("/api/projects/{project_id}/storms/{storm}/rain")
    def storm_rain(project_id: UUID, storm: str, catchment: Annotated[UUID | None, Query()] = None) -> StormRain:
        """A storm's hyetograph and, for a catchment, the runoff that it gives and where the rest of the rain stays."""
        project, _, answer = current(project_id)
        found = next((s for s in plan_of(answer).storms if s.key == storm), None)
        if found is None:
            raise Missing("no such storm in the ensemble")
        fallen = np.concatenate([[0.0], np.cumsum(found.intensity * np.diff(found.times) / 3600.0)])
        runoff = None
        if catchment is not None:
            ground = project.option.network.catchments.get(str(catchment))
            if ground is None:
                raise Missing("no such catchment")
            one = yield_of(ground_of(ground, project.rain.runoff), project.rain.runoff, found)
            steps = 0.5 * (one.flow[1:] + one.flow[:-1]) * np.diff(one.times)
            runoff = CatchmentRunoff(
                name=ground.name, times=one.times.tolist(), flow=(one.flow * ground.area).tolist(),
                ran=(1e3 * np.concatenate([[0.0], np.cumsum(steps)])).tolist(),
                runoff=1e3 * one.runoff, lost=1e3 * one.lost, kept=1e3 * one.kept,
            )  # fmt: skip
        return StormRain(
            label=found.label, times=found.times.tolist(), intensity=found.intensity.tolist(), fallen=fallen.tolist(),
            catchment=runoff,
        )  # fmt: skip
