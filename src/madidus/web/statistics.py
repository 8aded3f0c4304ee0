"""How peaks of one element, and of all, spread over patterns and durations."""

from collections.abc import Callable
from typing import Annotated
from uuid import UUID

import numpy as np
from fastapi import FastAPI, Query
from pydantic import BaseModel

from ..core.ensemble import Plan
from ..core.figures import Figures
from ..core.model.nodes import Outfall
from ..core.model.project import Project
from ..core.statistics import (
    Critical,
    Measure,
    Statistic,
    critical,
    envelopes,
    peak_in,
    peaks_by_duration,
    spread,
    usual_measure,
)
from ..runs.manager import Answer
from ..store.projects import Missing, Revision

__all__ = ["install"]

_OF_NODES = ("level", "outflow", "flooded")


class DurationOut(BaseModel):
    """Peaks of one duration (min): their spread, and each by storm."""

    duration: float
    mean: float
    median: float
    quartiles: tuple[float, float]
    whiskers: tuple[float, float]
    lowest: float
    highest: float
    outliers: list[float]
    peaks: dict[str, float]


class PeakOut(BaseModel):
    """value : in SI; time : s, None where it is not kept."""

    value: float
    element: str
    time: float | None


class SpreadOut(BaseModel):
    measure: Measure
    durations: list[DurationOut]
    critical: Critical | None


def install(
    app: FastAPI,
    current: Callable[[UUID], tuple[Project, Revision, Answer]],
    plan_of: Callable[[Answer], Plan],
) -> None:
    """Add the routes. current : project, revision and answer by id; plan_of : the plan of an answer, or its problem."""

    @app.get("/api/projects/{project_id}/elements/{element}/spread")
    def spread_of(
        project_id: UUID,
        element: UUID,
        row: Annotated[str, Query(max_length=200)],
        by: Statistic = "mean",
        measure: Measure | None = None,
    ) -> SpreadOut:
        """Peaks of an element in the storms of one row of the matrix, by duration. measure : none is its usual one."""
        _, _, answer = current(project_id)
        plan, id_ = plan_of(answer), str(element)
        if id_ not in plan.network.nodes and id_ not in plan.network.links:
            raise Missing("no such node or link")
        own = measure or usual_measure(plan.network, id_)
        peaks = _peaks(plan, dict(answer.figures), row, own, id_)
        return SpreadOut(
            measure=own,
            durations=[_duration(duration, here) for duration, here in sorted(peaks.items())],
            critical=critical(peaks, by) if peaks else None,
        )

    @app.get("/api/projects/{project_id}/critical")
    def critical_of_all(
        project_id: UUID, row: Annotated[str, Query(max_length=200)], by: Statistic = "mean"
    ) -> dict[str, Critical]:
        """The critical duration of every node and link in the storms of one row of the matrix, by its usual measure."""
        _, _, answer = current(project_id)
        plan = plan_of(answer)
        figures = dict(answer.figures)
        found = {}
        for id_ in (*plan.nodes, *plan.links):
            peaks = _peaks(plan, figures, row, usual_measure(plan.network, id_), id_)
            if peaks:
                found[id_] = critical(peaks, by)
        return found

    @app.get("/api/projects/{project_id}/peaks")
    def peaks(project_id: UUID, measure: Measure, element: UUID | None = None) -> dict[str, PeakOut]:
        """A measure in every storm that is in, by storm: of an element, or of the worst of all.

        The worst level is that nearest to its cover, or highest over it.
        """
        _, _, answer = current(project_id)
        plan = plan_of(answer)
        place = None if element is None else _place(plan, measure, str(element))
        ids = plan.nodes if measure in _OF_NODES else plan.links
        above: np.ndarray | float = 0.0
        if measure == "level" and place is None:
            nodes = [plan.network.nodes[id_] for id_ in ids]
            above = np.array([np.nan if isinstance(node, Outfall) else node.cover for node in nodes])
        found = {key: peak_in(known, measure, place, above) for key, known in dict(answer.figures).items()}
        return {
            key: PeakOut(value=peak.value, element=ids[peak.place], time=peak.time)
            for key, peak in found.items() if peak is not None
        }  # fmt: skip

    @app.get("/api/projects/{project_id}/envelopes")
    def envelopes_of(project_id: UUID) -> dict[str, dict[str, float]]:
        """The highest level of every node among the storms of each rarity, by row of the matrix and node."""
        _, _, answer = current(project_id)
        plan = plan_of(answer)
        found = envelopes(plan.storms, dict(answer.figures))
        return {
            row: {id_: float(level) for id_, level in zip(plan.nodes, levels, strict=True) if np.isfinite(level)}
            for row, levels in found.items()
        }


def _place(plan: Plan, measure: Measure, id_: str) -> int:
    places = plan.nodes if measure in _OF_NODES else plan.links
    if id_ not in places:
        raise Missing("no such figure of this element")
    return places.index(id_)


def _peaks(
    plan: Plan, figures: dict[str, Figures], row: str, measure: Measure, id_: str
) -> dict[float, dict[str, float]]:
    return peaks_by_duration(plan.storms, figures, row, measure, _place(plan, measure, id_))


def _duration(duration: float, peaks: dict[str, float]) -> DurationOut:
    one = spread(np.array(list(peaks.values())))
    return DurationOut(
        duration=duration, mean=one.mean, median=one.median, quartiles=one.quartiles, whiskers=one.whiskers,
        lowest=one.lowest, highest=one.highest, outliers=list(one.outliers), peaks=peaks,
    )  # fmt: skip
