"""Series of one storm, recomputed on demand and sent as Arrow IPC."""

from functools import lru_cache

import numpy as np
import pyarrow as pa

from ..core.ensemble import Plan
from ..core.errors import ModelError
from ..core.figures import Figures

__all__ = ["storm_series"]

FRAMES = 361
_AGREEMENT = 1e-6  # m, between kept peaks and those of the same storm computed again


class _Key:
    """A plan and a storm, equal when the solver would see the same."""

    def __init__(self, plan: Plan, storm: str):
        self.plan, self.storm = plan, storm
        # ids matter too: they name the columns
        self._identity = (plan.digests[storm], tuple(plan.nodes), tuple(plan.links))

    def __hash__(self) -> int:
        return hash(self._identity)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Key) and self._identity == other._identity


@lru_cache(maxsize=48)
def _compute(key: _Key) -> tuple[bytes, Figures]:
    plan, storm = key.plan, next(s for s in key.plan.storms if s.key == key.storm)
    flat = plan.flat
    first = plan.simulate(storm.key)
    interval = first.end_time / (FRAMES - 1)
    run = plan.simulate(storm.key, until=first.end_time, frames=FRAMES, interval=interval)
    figures = plan.reduction.figures(storm.key, first)
    series = run.series
    count = int(series.filled[0])
    time = series.time[:count]
    columns: dict[str, np.ndarray] = {"time": time}
    mean = np.zeros(count)
    inside = (time[:, None] >= storm.times[None, :-1]) & (time[:, None] < storm.times[None, 1:])
    rows, steps = np.nonzero(inside)
    mean[rows] = storm.intensity[steps]
    columns["rain"] = mean
    for id_ in plan.nodes:
        columns[f"level:{id_}"] = series.level[:count, flat.node_row[id_]]
    for id_ in plan.links:
        if id_ in flat.pipe_faces:
            columns[f"flow:{id_}"] = series.flow[:count, flat.pipe_faces[id_][1]]
            cells = flat.pipe_rows[id_]
            columns[f"head:{id_}"] = series.level[:count, cells[0]]
            columns[f"foot:{id_}"] = series.level[:count, cells[-1]]
        else:
            columns[f"flow:{id_}"] = series.flow[:count, flat.control_face[id_]]
    table = pa.table({name: pa.array(values.astype(np.float32)) for name, values in columns.items()})
    table = table.replace_schema_metadata({"end": str(first.end_time), "peak": str(float(np.nanmax(figures.level)))})
    sink = pa.BufferOutputStream()
    with pa.ipc.new_stream(sink, table.schema) as writer:
        writer.write_table(table)
    return bytes(sink.getvalue()), figures


def storm_series(plan: Plan, storm: str, kept: Figures | None) -> bytes:
    """Levels at nodes, levels at both ends of pipes and flows of links, 361 equal moments, as an Arrow stream.

    Raises
    ------
    ModelError
        When the storm, computed again, does not have the peaks that were kept: the verdict would rest on other numbers.
    """
    stream, figures = _compute(_Key(plan, storm))
    if kept is not None:
        off = float(np.nanmax(np.abs(figures.level - kept.level), initial=0.0))
        if off > _AGREEMENT:
            raise ModelError(
                f"storm {storm}", "peaks", f"differ by {off * 1000:.1f} mm from those kept of an earlier run",
                "edit any value to compute the ensemble anew, and report this",
            )  # fmt: skip
    return stream
