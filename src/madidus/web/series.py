"""Series of storms as Arrow streams: everything of one storm for the replay, or some figures of some elements."""

from collections.abc import Callable
from typing import Annotated
from uuid import UUID

import numpy as np
import pyarrow as pa
from fastapi import FastAPI, Query, Response

from ..core.ensemble import Plan
from ..core.errors import ModelError
from ..core.model.project import Project
from ..core.rainfall.storms import Storm
from ..core.series import Quantity, StormSeries
from ..runs.manager import Answer, RunManager
from ..store.projects import Revision

__all__ = ["install"]

_ARROW = "application/vnd.apache.arrow.stream"
_MOST = 5000  # traces of a graph


def install(
    app: FastAPI,
    current: Callable[[UUID], tuple[Project, Revision, Answer]],
    plan_of: Callable[[Answer], Plan],
    runs: RunManager,
) -> None:
    """Add the routes. current : project, revision and answer by id; plan_of : the plan of an answer, or its problem."""

    @app.get("/api/projects/{project_id}/storms/{storm}", response_class=Response)
    def storm(project_id: UUID, storm: str) -> Response:
        """Every series of a storm: rain (mm/h), `Layout.columns` and speeds in conduits (m/s), a row each.

        Values stand at equal moments.

        Metadata: `interval` in s.
        """
        _, _, answer = current(project_id)
        plan = plan_of(answer)
        own = _storm_of(plan, storm)
        series = runs.series(answer, [storm])[0]
        speeds = plan.layout.speeds(series.values)
        rows = np.vstack([_rain(own, series)[None], series.values, *speeds.values()]).astype(np.float32)
        table = pa.table({
            "name": ["rain", *plan.layout.columns, *(f"speed:{id_}" for id_ in speeds)],
            "values": pa.FixedSizeListArray.from_arrays(pa.array(rows.ravel()), rows.shape[1]),
        })  # fmt: skip
        return _stream(table.replace_schema_metadata({"interval": str(series.interval)}))

    @app.get("/api/projects/{project_id}/traces", response_class=Response)
    def traces(
        project_id: UUID,
        element: Annotated[list[UUID], Query(max_length=100)],
        quantity: Annotated[list[Quantity], Query(max_length=6)],
        storm: Annotated[list[str], Query(max_length=2000)],
    ) -> Response:
        """Quantities of elements in storms: a row for each that there is, with its values `interval` s apart."""
        _, _, answer = current(project_id)
        plan = plan_of(answer)
        for key in storm:
            _storm_of(plan, key)
            if key not in answer.figures:
                raise ModelError("storm", key, "is not in", "run it, or pick another from the storm matrix")
        asked = [(id_, q) for id_ in map(str, element) for q in quantity if plan.layout.has(id_, q)]
        if len(asked) * len(storm) > _MOST:
            raise ModelError("graph", "storms", f"more than {_MOST} lines", "ask for fewer elements or storms")
        found: list[tuple[str, str, Quantity, StormSeries]] = []
        needed = {(id_, each): plan.layout.needed(id_, each) for id_, each in asked}
        columns = sorted({column for own in needed.values() for column in own})
        place = {column: k for k, column in enumerate(columns)}
        for key, one in zip(storm, runs.series(answer, storm, columns), strict=True):
            for (id_, each), own in needed.items():
                values = plan.layout.derive(id_, each, one.values[[place[column] for column in own]])
                found.append((key, id_, each, StormSeries(one.interval, values[None])))
        return _stream(pa.table({
            "storm": pa.array([key for key, _, _, _ in found], pa.string()),
            "element": pa.array([id_ for _, id_, _, _ in found], pa.string()),
            "quantity": pa.array([each for _, _, each, _ in found], pa.string()),
            "interval": pa.array([one.interval for *_, one in found], pa.float64()),
            "values": pa.array([one.values[0].astype(np.float32) for *_, one in found], pa.list_(pa.float32())),
        }))  # fmt: skip


def _storm_of(plan: Plan, key: str) -> Storm:
    found = next((storm for storm in plan.storms if storm.key == key), None)
    if found is None:
        raise ModelError("storm", key, "is not in the ensemble", "pick one from the storm matrix")
    return found


def _rain(storm: Storm, series: StormSeries) -> np.ndarray:
    """Mean intensity from each frame to the next, mm/h."""
    fallen = np.concatenate([[0.0], np.cumsum(storm.intensity * np.diff(storm.times))])
    edges = np.append(series.time, series.time[-1] + series.interval)
    return np.asarray(np.diff(np.interp(edges, storm.times, fallen)) / series.interval)


def _stream(table: pa.Table) -> Response:
    sink = pa.BufferOutputStream()
    with pa.ipc.new_stream(sink, table.schema) as writer:
        writer.write_table(table)
    return Response(sink.getvalue().to_pybytes(), media_type=_ARROW)
