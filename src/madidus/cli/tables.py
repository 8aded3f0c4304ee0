"""Results as tables, in Parquet and CSV."""

from collections import Counter
from pathlib import Path

import pyarrow as pa
import pyarrow.csv
import pyarrow.parquet

from ..core.ensemble import Plan

__all__ = ["series_table", "write"]


def series_table(plan: Plan, key: str, end: float) -> pa.Table:
    frames = 361
    result = plan.simulate(key, until=end, frames=frames, interval=end / (frames - 1))
    count = int(result.series.filled[0])
    names = Counter([e.name for e in (*plan.network.nodes.values(), *plan.network.links.values())])
    label = lambda id_, e: e.name if names[e.name] == 1 else f"{e.name} ({id_})"  # noqa: E731
    columns = {"time s": result.series.time[:count]}
    for id_, node in plan.network.nodes.items():
        columns[f"{label(id_, node)} level m"] = result.series.level[:count, plan.flat.node_row[id_]]
    for id_, link in plan.network.links.items():
        k = plan.flat.pipe_faces[id_][1] if id_ in plan.flat.pipe_faces else plan.flat.control_face[id_]
        columns[f"{label(id_, link)} flow m3/s"] = result.series.flow[:count, k]
    return pa.table(columns)


def write(table: pa.Table, stem: Path, csv: bool) -> None:
    """`stem`.parquet, and `stem`.csv when asked for."""
    pa.parquet.write_table(table, stem.with_name(stem.name + ".parquet"))
    if csv:
        pa.csv.write_csv(table, stem.with_name(stem.name + ".csv"))
