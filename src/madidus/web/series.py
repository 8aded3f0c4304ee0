"""Series of storms as Arrow streams: everything of one storm for the replay, or some figures of some elements."""

import json
from typing import Annotated
from uuid import UUID

import numpy as np
import pyarrow as pa
from fastapi import Query, Response
from pydantic import BaseModel

from ..core.ensemble import Plan
from ..core.errors import ModelError
from ..core.hydraulics.record import LEVEL_TOLERANCE
from ..core.rainfall.storms import Storm
from ..core.results.series import Quantity, StormSeries
from .context import Seen, option_router

__all__ = ["router"]

_ARROW = "application/vnd.apache.arrow.stream"
_MOST = 5000  # traces of a graph
_BARS = 480  # of the rain of a storm


router = option_router()


@router.get("/storms/{storm}", response_class=Response)
def storm(seen: Seen, storm: str) -> Response:
    """Every series of a storm: time (s), `Layout.columns` and speeds in conduits (m/s), a row each.

    Straight lines join the moments, which follow the water. Metadata: `rain`, JSON of `times` (s) and `intensity`
    (mm/h between them); `tolerance`, by how much lines may miss levels (m).
    """
    plan = seen.plan
    own = _storm_of(plan, storm)
    series = seen.runs.series(seen.answer, [storm])[0]
    speeds = plan.layout.speeds(series.values)
    rows = np.vstack([series.time[None], series.values, *speeds.values()]).astype(np.float32)
    table = pa.table({
        "name": ["time", *plan.layout.columns, *(f"speed:{id_}" for id_ in speeds)],
        "values": pa.FixedSizeListArray.from_arrays(pa.array(rows.ravel()), rows.shape[1]),
    })  # fmt: skip
    about = {"rain": json.dumps(_rain(own)), "tolerance": str(2.0 * LEVEL_TOLERANCE * series.scale)}
    return _stream(table.replace_schema_metadata(about))


@router.get("/traces", response_class=Response)
def traces(
    seen: Seen,
    element: Annotated[list[UUID], Query(max_length=100)],
    quantity: Annotated[list[Quantity], Query(max_length=8)],
    storm: Annotated[list[str], Query(max_length=2000)],
) -> Response:
    """Quantities of elements in storms: a row for each that there is, its values at the times (s) beside them."""
    plan = seen.plan
    for key in storm:
        _storm_of(plan, key)
        seen.figures_of(key)
    asked = [(id_, q) for id_ in map(str, element) for q in quantity if plan.layout.has(id_, q)]
    if len(asked) * len(storm) > _MOST:
        raise ModelError("graph", "storms", f"more than {_MOST} lines", "ask for fewer elements or storms")
    found: list[tuple[str, str, Quantity, StormSeries]] = []
    needed = {(id_, each): plan.layout.needed(id_, each) for id_, each in asked}
    columns = sorted({column for own in needed.values() for column in own})
    place = {column: k for k, column in enumerate(columns)}
    for key, one in zip(storm, seen.runs.series(seen.answer, storm, columns), strict=True):
        for (id_, each), own in needed.items():
            values = plan.trace(key, id_, each, one.time, one.values[[place[column] for column in own]])
            found.append((key, id_, each, StormSeries(one.time, values[None], one.scale)))
    return _stream(pa.table({
        "storm": pa.array([key for key, _, _, _ in found], pa.string()),
        "element": pa.array([id_ for _, id_, _, _ in found], pa.string()),
        "quantity": pa.array([each for _, _, each, _ in found], pa.string()),
        "tolerance": pa.array([2.0 * LEVEL_TOLERANCE * one.scale for *_, one in found], pa.float64()),
        "times": pa.array([one.time.astype(np.float32) for *_, one in found], pa.list_(pa.float32())),
        "values": pa.array([one.values[0].astype(np.float32) for *_, one in found], pa.list_(pa.float32())),
    }))  # fmt: skip


class Along(BaseModel):
    """Of conduits, by id. chainage : m from the upstream end, where values stand. highest : m, of the water over all
    storms that are in; rows : the same by return period.
    """

    chainage: dict[str, list[float]]
    highest: dict[str, list[float]]
    rows: dict[str, dict[str, list[float]]]


_Links = Annotated[list[UUID], Query(max_length=1000)]


@router.get("/highest")
def highest(seen: Seen, link: _Links) -> Along:
    """The highest water along conduits: at both ends and the middles of cells."""
    plan, figures = seen.plan, dict(seen.answer.figures)
    conduits = _conduits(plan, link)

    def over(storms: list[Storm]) -> dict[str, list[float]]:
        there = [figures[s.key] for s in storms if s.key in figures]
        return {id_: levels.tolist() for id_, levels in plan.highest_along(conduits, there).items()}

    rows = dict.fromkeys(s.row for s in plan.storms if not s.given and s.key in figures)
    return Along(
        chainage={id_: plan.layout.profiles.chainage(id_).tolist() for id_ in conduits},
        highest=over(plan.storms), rows={row: over([s for s in plan.storms if s.row == row]) for row in rows},
    )  # fmt: skip


@router.get("/storms/{storm}/profile", response_class=Response)
def profile(seen: Seen, storm: str, link: _Links) -> Response:
    """Water and energy along conduits over a storm: rows `water:id:k` and `energy:id:k`, m, k from the upstream end.

    Metadata: `chainage`, JSON by id of where values stand, m from the upstream end.
    """
    plan = seen.plan
    _storm_of(plan, storm)
    seen.figures_of(storm)
    conduits = _conduits(plan, link)
    needed = {id_: plan.layout.profile_columns(id_) for id_ in conduits}
    columns = sorted({column for own in needed.values() for column in own})
    place = {column: k for k, column in enumerate(columns)}
    series = seen.runs.series(seen.answer, [storm], columns)[0]
    names, rows = ["time"], [series.time[None]]
    for id_, own in needed.items():
        water, energy = plan.layout.profile(id_, series.values[[place[column] for column in own]])
        names += [f"water:{id_}:{k}" for k in range(len(water))] + [f"energy:{id_}:{k}" for k in range(len(energy))]
        rows += [water, energy]
    values = np.vstack(rows).astype(np.float32)
    table = pa.table({
        "name": names, "values": pa.FixedSizeListArray.from_arrays(pa.array(values.ravel()), values.shape[1]),
    })  # fmt: skip
    chainage = {id_: plan.layout.profiles.chainage(id_).tolist() for id_ in conduits}
    return _stream(table.replace_schema_metadata({"chainage": json.dumps(chainage)}))


def _conduits(plan: Plan, links: list[UUID]) -> list[str]:
    return [id_ for id_ in dict.fromkeys(map(str, links)) if id_ in plan.flat.pipe_rows]


def _storm_of(plan: Plan, key: str) -> Storm:
    found = next((storm for storm in plan.storms if storm.key == key), None)
    if found is None:
        raise ModelError("storm", key, "is not in the ensemble", "pick one from the storm matrix")
    return found


def _rain(storm: Storm) -> dict[str, list[float]]:
    """Rain to be drawn: mean intensities of at most `_BARS` parts of the storm."""
    edges = storm.times
    if len(edges) - 1 > _BARS:
        edges = np.linspace(edges[0], edges[-1], _BARS + 1)
    fallen = np.concatenate([[0.0], np.cumsum(storm.intensity * np.diff(storm.times))])
    mean = np.diff(np.interp(edges, storm.times, fallen)) / np.diff(edges)
    return {"times": edges.round(3).tolist(), "intensity": mean.round(3).tolist()}


def _stream(table: pa.Table) -> Response:
    sink = pa.BufferOutputStream()
    with pa.ipc.new_stream(sink, table.schema) as writer:
        writer.write_table(table)
    return Response(sink.getvalue().to_pybytes(), media_type=_ARROW)
