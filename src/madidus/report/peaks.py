"""Peaks of every storm and element as one long table, for other programs."""

from collections.abc import Mapping
from typing import Any

import numpy as np
import pyarrow as pa

from ..core.elements.figures import Figures
from ..core.model.network import Network
from ..core.model.saved import Selection

__all__ = ["peaks_table"]


def peaks_table(network: Network, figures: Mapping[str, Figures], only: Selection | None = None) -> pa.Table:
    """One row for each storm and element. only : the elements that are told of; none is all."""
    told = set(only.elements) if only else {*network.nodes, *network.links}
    figured = ("level", "level_time", "flooded", "flow", "flow_up", "flow_down", "flow_time", "speed", "clearance")
    rows: dict[str, list[Any]] = {name: [] for name in ("storm", "element", "name", "kind", *figured)}
    for key, f in sorted(figures.items()):
        for ids, elements, arrays in (
            (sorted(network.nodes), network.nodes, {"level": f.level, "level_time": f.level_time, "flooded": f.flooded,
                                              "flow": f.outflow, "flow_time": f.outflow_time}),
            (sorted(network.links), network.links, {"flow": f.flow, "flow_up": f.flow_up, "flow_down": f.flow_down,
                                              "flow_time": f.flow_time, "speed": f.speed, "clearance": f.clearance}),
        ):  # fmt: skip
            for i, id_ in enumerate(ids):
                if id_ not in told:
                    continue
                rows["storm"].append(key)
                rows["element"].append(id_)
                rows["name"].append(elements[id_].name)
                rows["kind"].append(elements[id_].kind)
                for column in figured:
                    value = float(arrays[column][i]) if column in arrays else None
                    rows[column].append(value if value is not None and np.isfinite(value) else None)
    text, number = pa.string(), pa.float64()
    return pa.table(rows, schema=pa.schema([(name, number if name in figured else text) for name in rows]))
