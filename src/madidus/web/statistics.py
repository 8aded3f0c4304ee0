"""How peaks of one element, and of all, spread over patterns and durations."""

from typing import Annotated
from uuid import UUID

import numpy as np
from fastapi import Query
from pydantic import BaseModel

from ..core.elements import Outfall
from ..core.elements.figures import Figures
from ..core.ensemble import Plan
from ..core.results.patterns import Statistic
from ..core.results.statistics import Critical, Measure, critical, peak_in, peaks_by_duration, spread, usual_measure
from ..store.project_store import Missing
from .context import Seen, option_router

__all__ = ["router"]

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


router = option_router()


@router.get("/elements/{element}/spread")
def spread_of(
    seen: Seen,
    element: UUID,
    row: Annotated[str, Query(max_length=200)],
    by: Statistic = "mean",
    measure: Measure | None = None,
) -> SpreadOut:
    """Peaks of an element in the storms of one row of the matrix, by duration. measure : none is its usual one."""
    plan, id_ = seen.plan, str(element)
    if id_ not in plan.network.nodes and id_ not in plan.network.links:
        raise Missing("no such node or link")
    own = measure or usual_measure(plan.network, id_)
    peaks = _peaks(plan, dict(seen.answer.figures), row, own, id_)
    return SpreadOut(
        measure=own,
        durations=[_duration(duration, here) for duration, here in sorted(peaks.items())],
        critical=critical(peaks, by, _alone(plan)) if peaks else None,
    )


@router.get("/critical")
def critical_of_all(
    seen: Seen, row: Annotated[str, Query(max_length=200)], by: Statistic = "mean"
) -> dict[str, Critical]:
    """The critical duration of every node and link in the storms of one row of the matrix, by its usual measure."""
    plan = seen.plan
    figures, alone = dict(seen.answer.figures), _alone(plan)
    found = {}
    for id_ in (*plan.nodes, *plan.links):
        peaks = _peaks(plan, figures, row, usual_measure(plan.network, id_), id_)
        if peaks:
            found[id_] = critical(peaks, by, alone)
    return found


@router.get("/peaks")
def peaks(seen: Seen, measure: Measure, element: UUID | None = None) -> dict[str, PeakOut]:
    """A measure in every storm that is in, by storm: of an element, or of the worst of all.

    The worst level is that nearest to its cover, or highest over it.
    """
    plan = seen.plan
    place = None if element is None else _place(plan, measure, str(element))
    ids = plan.nodes if measure in _OF_NODES else plan.links
    above: np.ndarray | float = 0.0
    if measure == "level" and place is None:
        nodes = [plan.network.nodes[id_] for id_ in ids]
        above = np.array([np.nan if isinstance(node, Outfall) else node.spill_level for node in nodes])
    found = {key: peak_in(known, measure, place, above) for key, known in dict(seen.answer.figures).items()}
    return {
        key: PeakOut(value=peak.value, element=ids[peak.place], time=peak.time)
        for key, peak in found.items() if peak is not None
    }  # fmt: skip


def _alone(plan: Plan) -> set[str]:
    """Storms that are no temporal patterns."""
    return {storm.key for storm in plan.storms if not storm.pattern}


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
