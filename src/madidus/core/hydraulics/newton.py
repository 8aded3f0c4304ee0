"""The levels of one stage: Newton's iteration on the volumes of all cells at once."""

import numpy as np

from ..elements import BY_CURVE
from ..numerics.compiled import kernel
from .advection import advect
from .controls import control_flow
from .elimination import solve
from .layout import CROWN, FINE, FLOOR, KIND, TAPERED
from .momentum import discharging_ends, entering_ends, inner_faces, note_resting
from .volumes import volumes
from .work import (
    ARRIVING,
    BASE,
    CHANGE,
    D_LEFT,
    D_RIGHT,
    DIAGONAL,
    INFLOW,
    JOINING,
    LAST,
    MOVED,
    RESTING,
    SURFACE,
    U_LEFT,
    U_RIGHT,
    VOLUME,
    WEIGHT,
)

__all__ = ["newton"]

_FIRST = 0.15  # of the tolerance, that lets the first correction stand: more keeps water that comes to rest in motion
_MOST_ITERATIONS = 12
_DEEP, _CALM = 0.4, 0.2  # of the height above the crown, from where a pipe takes no more water: tolerance five times
_TAPER = 0.01  # m of depth over a floor, from which what is drawn from below it ceases


@kernel
def _shallow(flow, by_own, by_other, depth):
    """Flow that is drawn from a depth, m, and its derivatives by the level there and the other: none from no depth."""
    if depth >= _TAPER:
        return flow, by_own, by_other
    share = max(depth, 0.0) / _TAPER
    return share * flow, share * by_own + flow / _TAPER, share * by_other


@kernel
def _passed(grid, k, state, level, a, b):
    """Flow of control k from row a to row b and its derivatives, with no more drawn than there is above a floor."""
    flow, by_a, by_b = control_flow(grid, k, state, level[a], level[b])
    if grid.control[TAPERED, k]:
        n, floor = grid.cells, grid.cell[FLOOR]
        if flow > 0.0 and a < n:
            flow, by_a, by_b = _shallow(flow, by_a, by_b, level[a] - floor[a])
        elif flow < 0.0 and b < n:
            flow, by_b, by_a = _shallow(flow, by_b, by_a, level[b] - floor[b])
    return flow, by_a, by_b


@kernel
def newton(grid, work, dt, level, speed, flow):
    """Solve V(h) + Σ w Q(h) = base for the levels, in place. Returns iterations, or 0 when it does not settle.

    dt : s, of the whole step. level, speed, flow : come as a guess. The flows are those of the last linear solve, so
    that they close the balance of every cell to rounding. A level that turns back by more than half of its last change
    goes half of the way: across a steep reach of the law of an end, between two flat ones, the whole way would lead to
    and fro. Advection follows the iteration: taken from the guess at first, then from the velocities that the last
    correction of the levels leads to.
    """
    n, controls, pipes = grid.cells, grid.parameters.shape[0], grid.face.shape[1]
    left, right, upper, lower = grid.left, grid.right, grid.entry[0], grid.entry[1]
    cell = work.cell
    volume, surface, base = cell[VOLUME], cell[SURFACE], cell[BASE]
    diagonal, change, matrix = cell[DIAGONAL], cell[CHANGE], work.matrix
    weight, d_left, d_right = work.face[WEIGHT], work.face[D_LEFT], work.face[D_RIGHT]
    u_left, u_right = work.face[U_LEFT], work.face[U_RIGHT]
    crown, floor, moved = grid.cell[CROWN], grid.cell[FLOOR], cell[MOVED]
    fine, last = grid.cell[FINE], cell[LAST]
    moved[:] = np.inf
    for iteration in range(1, _MOST_ITERATIONS + 1):
        volumes(grid, level, moved, volume, surface)
        advect(grid, work, speed, flow, volume, moved)
        entering = discharging_ends(grid, level, moved, work.face, speed, flow, work.entering)
        note_resting(grid, flow, cell[INFLOW], dt, cell[ARRIVING], cell[JOINING], cell[RESTING])
        entering_ends(grid, level, work.face, speed, flow, cell[RESTING], work.entering[:entering])
        inner_faces(grid, level, moved, work.face, speed, flow)
        for k in range(controls):
            f = pipes + k
            flow[f], d_left[f], d_right[f] = _passed(grid, k, work.state[k], level, left[f], right[f])
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
            finely = fine[i]
            if new - crown[i] > _DEEP * (crown[i] - floor[i]) and iteration > 1:
                finely *= _CALM
            turns = change[i] * last[i] < -0.5 * last[i] * last[i]
            if turns and iteration > 2 and abs(change[i]) * finely > 1.0:
                new = old + 0.5 * change[i]
                held = True
            if not free and old > crown[i] and new < crown[i]:
                new = crown[i]
                held = True
            new = max(new, floor[i])
            # the flows follow the whole change: where the level could not, they are computed anew
            moved[i] = change[i] if new == old + change[i] else np.inf
            largest = max(largest, abs(new - old) * finely)
            last[i] = new - old
            level[i] = new
        moved[n:] = 0.0
        for f in range(flow.size):
            flow[f] += d_left[f] * change[left[f]] + d_right[f] * change[right[f]]
        for f in range(pipes):
            speed[f] += u_left[f] * change[left[f]] + u_right[f] * change[right[f]]
        if largest < (1.0 if iteration > 1 else _FIRST) and not held:
            for k in range(controls):
                f = pipes + k
                if grid.control[KIND, k] == BY_CURVE and flow[f] > 0.0:
                    # past a bend of its curve a tangent shows more than the curve: it never passes that
                    flow[f] = min(flow[f], _passed(grid, k, work.state[k], level, left[f], right[f])[0])
            return iteration
    return 0
