"""The same semi-discrete equations of one storm by a general stiff solver: SciPy's BDF with a sparse Jacobian.

Unknowns are the level of every cell and the velocity of every pipe face. The right side comes from the solver's own
kernels: the closed form of the momentum equation over a very short time is its rate of change.
"""

import time
from dataclasses import dataclass

import numpy as np
from numba import njit
from scipy.integrate import solve_ivp
from scipy.sparse import coo_matrix

from madidus.core.ensemble import Plan
from madidus.core.hydraulics.advection import advect
from madidus.core.hydraulics.controls import control_flow
from madidus.core.hydraulics.inflow import Inflow
from madidus.core.hydraulics.layout import AFTER, BEFORE, FLOOR, INITIAL
from madidus.core.hydraulics.momentum import discharging_ends, entering_ends, inner_faces, note_resting
from madidus.core.hydraulics.volumes import volumes
from madidus.core.hydraulics.work import (
    ARRIVING,
    BARE,
    FLOW,
    INERTIA,
    INFLOW,
    JOINING,
    MOVED,
    RESTING,
    SPEED,
    SURFACE,
    U_HAT,
    VOLUME,
    WEIGHT,
    make_work,
)

_SHORT = 0.02  # s, over which momentum is advanced to give its rate


@njit(cache=True, nogil=True, error_model="numpy")
def _rates(grid, work, levels, u, entering, rates):  # type: ignore[no-untyped-def]
    """dh/dt and du/dt into `rates`; leaves the present flows in work.face[FLOW]."""
    cell, face, n, pipes = work.cell, work.face, grid.cells, grid.face.shape[1]
    speed, flow, moved = face[SPEED], face[FLOW], cell[MOVED]
    cell[INFLOW, :n] = entering
    moved[:] = np.inf
    volumes(grid, levels, moved, cell[VOLUME], cell[SURFACE])
    for short in (1e-9, _SHORT):  # first the flows of the present velocities, then where momentum carries them
        face[WEIGHT, :] = short
        face[BARE, :pipes] = u
        if short < _SHORT:
            face[INERTIA, :] = 1.0
            face[U_HAT, :pipes] = u
        else:
            advect(grid, work, u, flow, cell[VOLUME], moved)
            rates[:n] = entering
            for f in range(flow.size):
                if grid.left[f] < n:
                    rates[grid.left[f]] -= flow[f]
                if grid.right[f] < n:
                    rates[grid.right[f]] += flow[f]
        moved[:] = np.inf
        before = flow.copy()
        inner_faces(grid, levels, moved, face, speed, flow)
        count = discharging_ends(grid, levels, moved, face, speed, flow, work.entering)
        note_resting(grid, flow, cell[INFLOW], 1.0, cell[ARRIVING], cell[JOINING], cell[RESTING])
        entering_ends(grid, levels, face, speed, flow, cell[RESTING], work.entering[:count])
        if short < _SHORT:
            for k in range(grid.parameters.shape[0]):
                f = pipes + k
                flow[f], _, _ = control_flow(grid, k, work.state[k], levels[grid.left[f]], levels[grid.right[f]])
        else:
            flow[:] = before
    for i in range(n):
        rates[i] /= cell[SURFACE, i]
    for f in range(pipes):
        rates[n + f] = (speed[f] - u[f]) / _SHORT


@dataclass(frozen=True)
class Stiff:
    """Peaks and cost of a run: flow by pipe face and level by cell, s of wall time."""

    flow: np.ndarray
    level: np.ndarray
    seconds: float
    evaluations: int


def _pattern(plan: Plan) -> coo_matrix:
    """Which unknown each rate depends on."""
    grid = plan.flat.grid
    n, pipes = grid.cells, grid.face.shape[1]
    pairs: set[tuple[int, int]] = {(i, i) for i in range(n + pipes)}
    faces_of: dict[int, list[int]] = {}
    for f in range(pipes):
        for row in (int(grid.left[f]), int(grid.right[f])):
            faces_of.setdefault(row, []).append(f)
    for f in range(grid.left.size):
        a, b = int(grid.left[f]), int(grid.right[f])
        rows = [row for row in (a, b) if row < n]
        pairs |= {(i, j) for i in rows for j in rows}
        if f < pipes:
            pairs |= {(row, n + f) for row in rows} | {(n + f, row) for row in rows}
            near = [f]
            for _ in range(2):
                near += [g - 1 for g in near if grid.face_index[BEFORE, g] >= 0]
                near += [g + 1 for g in near if grid.face_index[AFTER, g] >= 0]
            for g in near:
                pairs.add((n + f, n + g))
                pairs |= {(n + f, int(r)) for r in (grid.left[g], grid.right[g]) if r < n}
    rows_, columns = np.array(sorted(pairs)).T
    return coo_matrix((np.ones(rows_.size), (rows_, columns)), shape=(n + pipes, n + pipes))


def run_stiff(plan: Plan, inflow: Inflow, until: float, tolerance: float) -> Stiff:
    """One storm from rest. tolerance : relative; 1e-2 of it in m and m/s absolute."""
    grid = plan.flat.grid
    work, n = make_work(grid), grid.cells
    work.cell[MOVED] = np.inf
    levels, rates = grid.cell[INITIAL].copy(), np.zeros(n + grid.face.shape[1])
    rows = np.array([plan.flat.node_row[node] for node in inflow.nodes])
    entering, floor = np.zeros(n), grid.cell[FLOOR, :n]

    def right_side(t: float, y: np.ndarray) -> np.ndarray:
        entering[:] = 0.0
        for j, row in enumerate(rows):
            entering[row] += np.interp(t, inflow.times, inflow.flow[:, j], right=inflow.after[j])
        levels[:n] = np.maximum(y[:n], floor)
        _rates(grid, work, levels, y[n:], entering, rates)
        return rates.copy()

    start = np.concatenate([levels[:n], np.zeros(grid.face.shape[1])])
    right_side(0.0, start)
    began = time.perf_counter()
    found = solve_ivp(
        right_side, (0.0, until), start, method="BDF", rtol=tolerance, atol=1e-2 * tolerance,
        jac_sparsity=_pattern(plan), max_step=60.0,
    )  # fmt: skip
    seconds = time.perf_counter() - began
    if not found.success:
        raise RuntimeError(found.message)
    flow = np.full(grid.left.size, -np.inf)
    for t, y in zip(found.t, found.y.T, strict=True):
        right_side(t, y)
        flow = np.maximum(flow, work.face[FLOW])
    return Stiff(flow, found.y[:n].max(axis=1), seconds, found.nfev)
