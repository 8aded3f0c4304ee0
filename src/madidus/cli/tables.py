"""Results as tables, in Parquet and CSV."""

from collections import Counter
from collections.abc import Mapping
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.csv
import pyarrow.parquet

from ..core.ensemble import Plan
from ..core.figures import Figures
from ..core.model.network import Network

__all__ = ["peaks_table", "series_table", "write"]


def peaks_table(network: Network, figures: Mapping[str, Figures]) -> pa.Table:
    """One row for each storm and element."""
    figured = ("level", "level_time", "flooded", "flow", "flow_time", "speed", "spare")
    rows: dict[str, list[Any]] = {name: [] for name in ("storm", "element", "name", "kind", *figured)}
    for key, f in sorted(figures.items()):
        for ids, elements, arrays in (
            (sorted(network.nodes), network.nodes, {"level": f.level, "level_time": f.level_time, "flooded": f.flooded,
                                              "flow": f.outflow, "flow_time": f.outflow_time}),
            (sorted(network.links), network.links, {"flow": f.flow, "flow_time": f.flow_time, "speed": f.speed,
                                              "spare": f.spare}),
        ):  # fmt: skip
            for i, id_ in enumerate(ids):
                rows["storm"].append(key)
                rows["element"].append(id_)
                rows["name"].append(elements[id_].name)
                rows["kind"].append(elements[id_].kind)
                for column in figured:
                    value = float(arrays[column][i]) if column in arrays else None
                    rows[column].append(value if value is not None and np.isfinite(value) else None)
    return pa.table(rows)


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
