"""Results as tables, in Parquet and CSV."""

from collections import Counter
from pathlib import Path

import pyarrow as pa
import pyarrow.csv
import pyarrow.parquet

from ..core.ensemble import Plan

__all__ = ["series_table", "write"]


def series_table(plan: Plan, key: str, end: float) -> pa.Table:
    """A storm over time, at the moments that say all of it to 2 mm and 0.5 % of each peak. end : s to run to."""
    series = plan.series(key, until=end)
    columns_of = dict(zip(plan.layout.columns, series.values, strict=True))
    names = Counter([e.name for e in (*plan.network.nodes.values(), *plan.network.links.values())])
    label = lambda id_, e: e.name if names[e.name] == 1 else f"{e.name} ({id_})"  # noqa: E731
    columns = {"time s": series.time}
    for id_, node in plan.network.nodes.items():
        columns[f"{label(id_, node)} level m"] = columns_of[f"level:{id_}"]
    for id_, link in plan.network.links.items():
        columns[f"{label(id_, link)} flow m3/s"] = columns_of[f"flow:{id_}"]
    return pa.table(columns)


def write(table: pa.Table, stem: Path, csv: bool) -> None:
    """`stem`.parquet, and `stem`.csv when asked for."""
    pa.parquet.write_table(table, stem.with_name(stem.name + ".parquet"))
    if csv:
        pa.csv.write_csv(table, stem.with_name(stem.name + ".csv"))
