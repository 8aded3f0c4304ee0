"""The levels of one stage: Newton's iteration on the volumes of all cells at once."""

import numpy as np
from numba import njit

from .advection import advect
from .controls import control_flow
from .elimination import solve
from .layout import CROWN, FLOOR
from .momentum import end_faces, inner_faces
from .volumes import volumes
from .work import BARE, BASE, BEND, CHANGE, D_LEFT, D_RIGHT, DIAGONAL, INERTIA, MOVED, SURFACE, U_HAT, VOLUME, WEIGHT

__all__ = ["newton"]

_TOLERANCE = 1e-4  # m, last correction of any level
_NEAR = 1e-3  # m, a correction after which another one may be foreseen to be negligible
_NEGLIGIBLE = 1e-5  # m
_PATIENCE, _MOST_ITERATIONS = 6, 12


@njit(cache=True, nogil=True, error_model="numpy")
def newton(grid, work, level, speed, flow, volume_before):  # type: ignore[no-untyped-def]
    """Solve V(h) + Σ w Q(h) = base for the levels, in place. Returns iterations, or 0 when it does not settle.

    level, speed, flow : come as a guess. The flows are those of the last linear solve, so that they close the balance
    of every cell to rounding. volume_before : that goes with the guess of the flows. Advection is taken from the guess
    at first, and once more from the result of the first iteration.
    """
    n, controls, pipes = grid.cells, grid.parameters.shape[0], grid.face.shape[1]
    left, right, upper, lower = grid.left, grid.right, grid.entry[0], grid.entry[1]
    volume, surface, base = work.cell[VOLUME], work.cell[SURFACE], work.cell[BASE]
    diagonal, change, matrix = work.cell[DIAGONAL], work.cell[CHANGE], work.matrix
    weight, d_left, d_right = work.face[WEIGHT], work.face[D_LEFT], work.face[D_RIGHT]
    inertia, u_hat, bare = work.face[INERTIA], work.face[U_HAT], work.face[BARE]
    crown, floor, bend = grid.cell[CROWN], grid.cell[FLOOR], work.newton
    moved = work.cell[MOVED]
    advect(grid, work, speed, flow, volume_before, moved)
    moved[:] = np.inf
    before = 0.0
    for iteration in range(1, _MOST_ITERATIONS + 1):
        volumes(grid, level, moved, volume, surface)
        if iteration == 2:
            advect(grid, work, speed, flow, volume, moved)
        inner_faces(grid, level, moved, weight, inertia, u_hat, speed, flow, d_left, d_right)
        end_faces(grid, level, moved, weight, inertia, u_hat, bare, speed, flow, d_left, d_right)
        for k in range(controls):
            f = pipes + k
            flow[f], d_left[f], d_right[f] = control_flow(grid, k, work.state[k], level[left[f]], level[right[f]])
        for i in range(diagonal.size):
            diagonal[i] = surface[i]
            change[i] = base[i] - volume[i]
        matrix[:] = 0.0
        for f in range(flow.size):
            a, b, w = left[f], right[f], weight[f]
            passed, by_left, by_right = w * flow[f], w * d_left[f], w * d_right[f]
            change[a] -= passed
            change[b] += passed
            diagonal[a] += by_left
            diagonal[b] -= by_right
            matrix[upper[f]] += by_right
            matrix[lower[f]] -= by_left
        solve(grid.start, grid.column, grid.pair_start, grid.target, diagonal, matrix, change)
        change[n:] = 0.0
        if not np.isfinite(change.sum()):
            return 0
        largest, held = 0.0, False
        free = iteration > _MOST_ITERATIONS - 3
        for i in range(n):
            old = level[i]
            new = old + change[i]
            if not free and old > crown[i] and new < crown[i]:
                new = crown[i]
                held = True
            new = max(new, floor[i])
            # the flows follow the whole change: where the level could not, they are computed anew
            moved[i] = change[i] if new == old + change[i] else np.inf
            largest = max(largest, abs(new - old))
            level[i] = new
        moved[n:] = 0.0
        for f in range(flow.size):
            gained = d_left[f] * change[left[f]] + d_right[f] * change[right[f]]
            if f < pipes and abs(gained) < 0.5 * abs(flow[f]):
                speed[f] *= 1.0 + gained / flow[f]  # as if the section stayed
            flow[f] += gained
        if iteration > 2 and before > 0.1 * _TOLERANCE and not held:
            bend[BEND] = max(largest / (before * before), 0.9 * bend[BEND])
        before = largest
        # near a kink the iteration may turn in a circle of some tenths of a millimetre: the ledger carries what is left
        settled = largest < (_TOLERANCE if iteration < _PATIENCE else _NEAR)
        settled |= largest < _NEAR and bend[BEND] * largest * largest < _NEGLIGIBLE
        if settled and not held and iteration > 1:
            return iteration
    return 0
