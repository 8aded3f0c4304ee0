"""Where water may stand above the soffit of a conduit: in its cells, and at its ends at nodes that hold water."""

from collections.abc import Mapping, Sequence
from typing import NamedTuple

import numpy as np

from ..elements import Conduit
from ..model.network import Network

__all__ = ["Soffits", "soffits_of"]


class Soffits(NamedTuple):
    """Places of conduits, one conduit after the other.

    conduits : ids. row : int64[place], of the level vector; level : float64[place], m, of the soffit there; start :
    int64[conduit + 1], the first place of each conduit, and the end.
    """

    conduits: list[str]
    row: np.ndarray
    level: np.ndarray
    start: np.ndarray


def soffits_of(
    network: Network, pipe_rows: Mapping[str, Sequence[int]], node_row: Mapping[str, int], cells: int
) -> Soffits:
    """pipe_rows : of each conduit's cells, in the order in which they are wanted. cells : rows of what holds water."""
    row: list[int] = []
    level: list[float] = []
    start = [0]
    for id_, rows in pipe_rows.items():
        conduit = network.links[id_]
        assert isinstance(conduit, Conduit)
        floor = conduit.bed_levels(len(rows))
        row.extend(rows)
        level.extend(0.5 * (floor[1:] + floor[:-1]) + conduit.height - conduit.sediment)
        for end, invert in (
            (conduit.upstream, conduit.upstream_invert), (conduit.downstream, conduit.downstream_invert),
        ):  # fmt: skip
            if node_row[end] < cells:
                row.append(node_row[end])
                level.append(invert + conduit.height)
        start.append(len(row))
    return Soffits(list(pipe_rows), np.array(row, dtype=np.int64), np.array(level, float), np.array(start, np.int64))
