"""The state of one simulation and its scratch space, and the names of the rows in its arrays."""

from typing import NamedTuple

import numpy as np

from .layout import INITIAL, Grid
from .volumes import volumes

__all__ = ["Work", "make_work"]

# rows of Work.cell, by row of the level vector; _1 is the first stage of a step, _2 the second
LEVEL, LEDGER, RATE, LEVEL_1, LEVEL_2, VOLUME, SURFACE, BASE = range(8)
THETA, NET, DIAGONAL, CHANGE, MOVED, BENT, INFLOW, INFLOW_END = range(8, 16)
ARRIVING, JOINING, RESTING, LAST = range(16, 20)
# rows of Work.face, by face
FLOW, FLOW_1, FLOW_2, WEIGHT, D_LEFT, D_RIGHT, SPEED, SPEED_1, SPEED_2, INERTIA, U_HAT, BARE = range(12)
U_LEFT, U_RIGHT, ENTERED, NARROW = range(12, 16)


class Work(NamedTuple):
    """Levels, volumes, flows and scratch space of one simulation.

    cell : LEVEL m; LEDGER volume that adds up to rounding, m3; RATE of rise at the end of the last step, m/s; LEVEL_1,
    LEVEL_2; VOLUME, SURFACE at the last iterate; BASE volume before the implicit flows; THETA share of the second
    order; NET flow into the cell in the first stage; DIAGONAL, CHANGE, BENT of linear systems; MOVED change of the
    level in an iteration; INFLOW volume that enters in the step; INFLOW_END flow that enters at its end; ARRIVING and
    JOINING flows by conduits and otherwise, m3/s, and RESTING the share of the latter; LAST what the level moved by in
    the iteration before.
    face : FLOW m3/s and SPEED m/s at three times; WEIGHT of the stage, s; derivatives of the flow by the levels on both
    sides; INERTIA, U_HAT and BARE (U_HAT without advection) of the momentum equation;
    U_LEFT, U_RIGHT derivatives of the velocity by the levels; ENTERED depth at an end, m; NARROW ratio of the areas of
    cell and face at an end with tail water: SPEED × NARROW is the velocity there.
    """

    cell: np.ndarray
    face: np.ndarray
    matrix: np.ndarray  # entries above the diagonal, then below it, then one that nobody reads
    outlet: np.ndarray  # flow into each outfall, and into the sink of lost floods
    outlet_early: np.ndarray  # the same at the first stage of the last step
    state: np.ndarray  # int64[control], one bit for each pump that runs
    worst: np.ndarray  # row whose error was largest in the last step
    entering: np.ndarray  # int32[end], scratch space: ends that water enters by


def make_work(grid: Grid) -> Work:
    """Work arrays at the initial levels, everything at rest."""
    cell = np.zeros((20, grid.cell.shape[1]))
    cell[RESTING] = 1.0
    cell[[LEVEL, LEVEL_1, LEVEL_2]] = grid.cell[INITIAL]
    cell[THETA] = 1.0  # of outfalls for good
    volumes(grid, cell[LEVEL], np.full(cell.shape[1], np.inf), cell[LEDGER], cell[SURFACE])
    face = np.zeros((16, grid.left.size))
    face[NARROW] = 1.0
    return Work(
        cell, face, np.zeros(2 * grid.column.size + 1),
        np.zeros(grid.cell.shape[1] - grid.cells), np.zeros(grid.cell.shape[1] - grid.cells),
        np.zeros(grid.parameters.shape[0], np.int64), np.zeros(1, np.int64),
        np.zeros(grid.end_index.shape[1], np.int32),
    )  # fmt: skip
