"""Questions of rain: tables, records and patterns of files, a fitted formula, what a storm gives to a catchment."""

from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Annotated, Literal
from uuid import UUID

import numpy as np
from fastapi import APIRouter, Body, Query, Request
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel

from ..core.rainfall.ensemble import GivenStorm, TemporalPattern
from ..core.rainfall.methods import DepthTable, IntensityFormula, Rainfall, fit_formula
from ..core.rainfall.rain import Rain
from ..core.rainfall.recorded import RainEvent, as_given, events
from ..core.rainfall.start import start_rain
from ..core.rainfall.storms import Storm
from ..core.runoff.catchments import unit_runoff_at
from ..exchange.growth import GrowthTable, growth_tables
from ..exchange.patterns_csv import read_patterns
from ..exchange.rain_csv import read_rain
from ..exchange.rain_table import Choices, ReadTable, read_table
from ..store.project_store import Missing
from .context import Seen, option_router
from .files import limited

__all__ = ["plain", "router"]

_DRAWN = 120  # parts of a storm drawn small
_SHOWN = 40  # events of a record, by rank


class FitOut(BaseModel):
    """residuals : depth of the formula over that of the table, less 1; by return period and duration."""

    formula: IntensityFormula
    residuals: list[list[float]]


class CurvesOut(BaseModel):
    """Depths in mm by return period (years) and duration (min); None where the rainfall holds no answer."""

    durations: list[float]
    return_periods: list[float]
    depths: list[list[float | None]]


class RainEventOut(BaseModel):
    """An event of a record. depth, within : mm, in all and within the asked span; peak : mm/h. storm : to import."""

    began: datetime
    hours: float
    depth: float
    within: float
    peak: float
    storm: GivenStorm


class RecordOut(BaseModel):
    """A record of rain: what it holds, its events by rank, and remarks on what was put right. interval : min."""

    began: datetime
    ended: datetime
    interval: float
    depth: float
    found: int
    events: list[RainEventOut]
    remarks: list[str]


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


def _drawn(storm: Storm) -> list[float]:
    edges = np.linspace(storm.times[0], storm.times[-1], min(len(storm.intensity), _DRAWN) + 1)
    first = np.searchsorted(storm.times, edges[:-1] + 1e-6, side="right") - 1
    last = np.searchsorted(storm.times, edges[1:] - 1e-6, side="left")
    return [float(storm.intensity[a:b].max().round(3)) for a, b in zip(first, last, strict=True)]


def _record(content: bytes, inter_event: float, least: float, span: float, by: str) -> RecordOut:
    series, remarks = read_rain(content)
    found = [event for event in events(series, inter_event * 3600.0) if event.depth >= least]
    rank: dict[str, Callable[[RainEvent], float]] = {
        "depth": lambda event: event.depth,
        "peak": lambda event: event.peak,
        "within": lambda event: event.most_within(span * 60.0),
    }
    first = sorted(found, key=rank[by], reverse=True)[:_SHOWN]
    return RecordOut(
        began=series.began, ended=series.began + timedelta(seconds=series.until), interval=series.interval / 60.0,
        depth=float(series.depth.sum()), found=len(found), remarks=remarks,
        events=[
            RainEventOut(
                began=series.began + timedelta(seconds=event.start), hours=(event.end - event.start) / 3600.0,
                depth=event.depth, within=event.most_within(span * 60.0), peak=event.peak,
                storm=as_given(series, event),
            )
            for event in first
        ],
    )  # fmt: skip


router, plain = option_router(), APIRouter(prefix="/api/rain")


@plain.get("/start")
def start(units: Literal["metric", "us"] = "metric") -> Rain:
    """Rain to begin with, of no place."""
    return start_rain(units)


@plain.post("/fit")
def fit(table: DepthTable) -> FitOut:
    """The formula a/(t+b)^c that lies nearest to a depth table, and by how much it is off at each depth."""
    formula, residuals = fit_formula(table)
    return FitOut(formula=formula, residuals=residuals.tolist())


@plain.post("/curves")
def curves(rainfall: Annotated[Rainfall, Body()]) -> CurvesOut:
    """Depths by duration and return period, whatever the rainfall is given by."""
    durations, periods, depths = rainfall.sampled()
    return CurvesOut(durations=durations, return_periods=periods, depths=depths)


@router.get("/rain")
def hyetographs(seen: Seen) -> dict[str, list[float]]:
    """Intensities in mm/h of every storm, by its key, to be drawn small: the highest of each of 120 parts."""
    return {storm.key: _drawn(storm) for storm in seen.plan.storms}


@plain.get("/growth")
def growth() -> list[GrowthTable]:
    """Growth factors of regions, with their sources."""
    return growth_tables()


@plain.post("/table")
async def table(request: Request, chosen: Annotated[Choices, Query()], assume: Literal["mm", "in"]) -> ReadTable:
    """A depth or intensity table as text or CSV (the body), how it was understood and what was assumed."""
    return await run_in_threadpool(read_table, await limited(request), chosen, assume)


@plain.post("/recorded")
async def recorded(
    request: Request,
    inter_event: Annotated[float, Query(gt=0, le=240)] = 6.0,
    least: Annotated[float, Query(ge=0, le=1000)] = 5.0,
    span: Annotated[float, Query(gt=0, le=14_400)] = 60.0,
    by: Literal["depth", "within", "peak"] = "depth",
) -> RecordOut:
    """Events of a record (the body) that `inter_event` h without rain part, of `least` mm at least. span : min."""
    return await run_in_threadpool(_record, await limited(request), inter_event, least, span, by)


@plain.post("/patterns")
async def patterns(request: Request) -> list[TemporalPattern]:
    """Temporal patterns of a CSV (the body); nothing changes."""
    return await run_in_threadpool(read_patterns, await limited(request))


@router.get("/storms/{storm}/rain")
def storm_rain(seen: Seen, storm: str, catchment: Annotated[UUID | None, Query()] = None) -> StormRain:
    """A storm's hyetograph and, for a catchment, the runoff that it gives and where the rest of the rain stays."""
    found = next((s for s in seen.plan.storms if s.key == storm), None)
    if found is None:
        raise Missing("no such storm in the ensemble")
    fallen = np.concatenate([[0.0], np.cumsum(found.intensity * np.diff(found.times) / 3600.0)])
    runoff = None
    if catchment is not None:
        asked = seen.catchment(catchment)
        one = unit_runoff_at(seen.network, str(catchment), seen.project.rain.runoff, found)
        steps = 0.5 * (one.flow[1:] + one.flow[:-1]) * np.diff(one.times)
        runoff = CatchmentRunoff(
            name=asked.name, times=one.times.tolist(), flow=(one.flow * asked.area).tolist(),
            ran=(1e3 * np.concatenate([[0.0], np.cumsum(steps)])).tolist(),
            runoff=1e3 * one.runoff, lost=1e3 * one.lost, kept=1e3 * one.kept,
        )  # fmt: skip
    return StormRain(
        label=found.label, times=found.times.tolist(), intensity=found.intensity.tolist(), fallen=fallen.tolist(),
        catchment=runoff,
    )  # fmt: skip
