"""The state before a storm: what the waters outside reach stands level with them."""

import heapq

import numpy as np

from ..elements import PUMP
from .controls import control_flow
from .layout import BED_LEFT, BED_RIGHT, CELL, CELL_BED, END_BED, FACE, FLOOR, INITIAL, KIND, OUTWARD, Grid

__all__ = ["stand_at_tail_waters"]

_LEAST_FLOW = 1e-9  # m3/s through a control; less joins nothing


def stand_at_tail_waters(grid: Grid) -> bool:
    """Raise the initial levels of all cells that a tail water reaches to its level, and say whether all is at rest.

    Water spreads from an outfall over every face whose sill lies below it, and through every control that its level
    would drive a flow through; flaps let nothing in. Where two waters of different levels meet, the higher one is
    taken, and nothing is at rest until they have run together.
    """
    level, floor = grid.cell[INITIAL], grid.cell[FLOOR]
    ways = _ways(grid)
    outside = range(grid.cells, grid.cell.shape[1] - 1)
    front = [(-float(level[row]), row) for row in outside]
    heapq.heapify(front)
    pools: dict[int, float] = {}
    while front:
        negative, row = heapq.heappop(front)
        water = -negative
        for face, other in ways.get(row, []):
            if other >= grid.cells or other in pools or not _passes(grid, face, row, water, other):
                continue
            if water > floor[other]:
                pools[other] = level[other] = max(float(level[other]), water)
                heapq.heappush(front, (-pools[other], other))
    return _still(grid, ways, pools, outside)


def _ways(grid: Grid) -> dict[int, list[tuple[int, int]]]:
    """Faces at each row, with the row on their other side."""
    ways: dict[int, list[tuple[int, int]]] = {}
    for face, (a, b) in enumerate(zip(grid.left.tolist(), grid.right.tolist(), strict=True)):
        ways.setdefault(a, []).append((face, b))
        ways.setdefault(b, []).append((face, a))
    return ways


def _passes(grid: Grid, face: int, row: int, water: float, other: int) -> bool:
    """Whether water standing at a row runs over a face to the other side."""
    pipes = grid.face.shape[1]
    if face >= pipes:
        control = face - pipes
        if grid.control[KIND, control] == PUMP:
            return False
        beyond = float(grid.cell[INITIAL, other])
        if row == grid.left[face]:
            return bool(control_flow(grid, control, 0, water, beyond)[0] > _LEAST_FLOW)
        return bool(control_flow(grid, control, 0, beyond, water)[0] < -_LEAST_FLOW)
    end = np.nonzero(grid.end_index[FACE] == face)[0]
    if not end.size:
        side = BED_LEFT if row == grid.left[face] else BED_RIGHT
        return bool(water > grid.face[side, face])
    e = int(end[0])
    if row == grid.end_index[CELL, e]:
        return bool(water > grid.end[CELL_BED, e])
    return bool(water > grid.end[END_BED, e]) and not grid.end_index[OUTWARD, e]


def _still(grid: Grid, ways: dict[int, list[tuple[int, int]]], pools: dict[int, float], outside: range) -> bool:
    """Whether no two pools of different levels touch, nor a pool an outfall whose water stands lower."""
    level = grid.cell[INITIAL]
    for row, water in pools.items():
        for face, other in ways[row]:
            if (
                (other in pools or other in outside)
                and level[other] < water - 1e-9
                and _passes(grid, face, row, water, other)
            ):
                return False
    return True
