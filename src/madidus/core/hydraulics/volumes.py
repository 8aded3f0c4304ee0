"""Volume of water in the cells, and its slope, as functions of the level."""

import numpy as np

from ..constants import INTERVALS, NEARLY_STILL
from ..numerics.compiled import kernel
from .layout import AREA, BED, CLOSING, DEPTH, FOLD, FULL, LENGTH, MISSING, VOLUME_AT

__all__ = ["volumes"]


@kernel
def volumes(grid, level, moved, volume, surface):
    """Volume (m3) and surface area (m2) of every cell at its level.

    moved : change of the levels since the last call; where it is less than `NEARLY_STILL`, the tangent is followed.
    """
    _pipe_volumes(
        level, moved, volume, surface, grid.pipe_row, grid.pipe_section, grid.pipe, grid.section_height,
        grid.section_per, grid.section_area,
    )  # fmt: skip
    _node_volumes(level, moved, volume, surface, grid.node_row, grid.node_bed, grid.node_table, grid.node)


@kernel
def _pipe_volumes(level, moved, volume, surface, row, section, pipe, heights, pers, areas):
    """Up to the depth of closing the section's own area counts. Above it the crown closes smoothly instead of through a
    slot; the extra storage is at most 0.6 %.
    """
    length, bed, closing = pipe[LENGTH], pipe[BED], pipe[CLOSING]
    for c in range(row.size):
        r, s = row[c], section[c]
        if abs(moved[r]) < NEARLY_STILL:
            volume[r] += surface[r] * moved[r]
            continue
        y = level[r] - bed[c]
        height = heights[s]
        if y > closing[c]:
            x = y - closing[c]
            shut = pipe[MISSING, c] * np.exp(-x / pipe[FOLD, c])
            late = 0.005 * height * np.exp(-x / height)
            thin = 1e-5 * height
            volume[r] = length[c] * (pipe[FULL, c] - shut + thin * x + 0.005 * height * height - late * height)
            surface[r] = length[c] * (shut / pipe[FOLD, c] + thin + late)
        else:
            per = pers[s]
            position = max(y, 0.0) * per
            i = min(int(position), INTERVALS - 1)
            low = areas[s, i]
            step = areas[s, i + 1] - low
            volume[r] = length[c] * (low + (position - i) * step)
            surface[r] = length[c] * step * per


@kernel
def _node_volumes(level, moved, volume, surface, row, bed, table, node):
    """Area is linear between the rows of a node's table and constant above the last."""
    depth, area, held = node[DEPTH], node[AREA], node[VOLUME_AT]
    for c in range(row.size):
        r = row[c]
        if abs(moved[r]) < NEARLY_STILL:
            volume[r] += surface[r] * moved[r]
            continue
        k, last = table[c], table[c + 1] - 1
        y = max(level[r] - bed[c], 0.0)
        while k < last and depth[k + 1] <= y:
            k += 1
        x = y - depth[k]
        slope = 0.0
        if k < last:
            slope = (area[k + 1] - area[k]) / (depth[k + 1] - depth[k])
        volume[r] = held[k] + (area[k] + 0.5 * slope * x) * x
        surface[r] = area[k] + slope * x
