"""One time step: two implicit stages (SDIRK2, Alexander 1977) that fall back to backward Euler where it must be smooth.

Mass is kept by a ledger: each stage's volumes follow from the flows of its last linear solve, so that they add up to
rounding whatever the tolerance of the Newton iteration; its residual is carried into the next step.
"""

from typing import NamedTuple

import numpy as np
from numba import njit

from .constants import GAMMA, RATIO
from .controls import control_flow
from .elimination import solve
from .momentum import end_faces, inner_faces
from .volumes import volumes

__all__ = ["Work", "make_work", "try_step"]

TOLERANCE = 0.0001  # m, last Newton correction of any level
LEAST_CHANGE = 0.005  # m, level changes in a step that are not judged for smoothness
_MOST_ITERATIONS = 12


class Work(NamedTuple):
    """Levels, flows and scratch space of one simulation. Rows and faces as in `Grid`; `_1` is the first stage."""

    level: np.ndarray
    ledger: np.ndarray
    rate: np.ndarray  # rise of the level at the end of the last step, m/s
    speed: np.ndarray
    flow: np.ndarray
    control: np.ndarray  # flow of controls
    level_1: np.ndarray
    speed_1: np.ndarray
    flow_1: np.ndarray
    control_1: np.ndarray
    level_2: np.ndarray
    speed_2: np.ndarray
    flow_2: np.ndarray
    control_2: np.ndarray
    volume: np.ndarray
    surface: np.ndarray
    base: np.ndarray
    theta: np.ndarray
    net: np.ndarray  # sum of flows into a cell
    weight: np.ndarray  # by face, s
    weight_control: np.ndarray
    inertia: np.ndarray
    u_hat: np.ndarray
    d_left: np.ndarray
    d_right: np.ndarray
    d_up: np.ndarray
    d_down: np.ndarray
    diagonal: np.ndarray
    matrix: np.ndarray  # entries above the diagonal, then below it, then one that nobody reads
    change: np.ndarray
    inflow: np.ndarray  # volume that enters in the step
    inflow_end: np.ndarray  # flow that enters at its end
    outlet: np.ndarray  # flow into each outfall, and into the sink of lost floods


def make_work(grid) -> Work:  # type: ignore[no-untyped-def]
    """Work arrays at the initial levels, everything at rest."""
    rows, faces, controls = grid.initial.size, grid.face_left.size, grid.control_kind.size
    sizes = {
        **dict.fromkeys(
            [
                "speed",
                "flow",
                "speed_1",
                "flow_1",
                "speed_2",
                "flow_2",
                "weight",
                "inertia",
                "u_hat",
                "d_left",
                "d_right",
            ],
            faces,
        ),
        **dict.fromkeys(["control", "control_1", "control_2", "weight_control", "d_up", "d_down"], controls),
        "outlet": rows - grid.cells,
        "matrix": 2 * grid.column.size + 1,
    }
    work = Work(**{name: np.zeros(sizes.get(name, rows)) for name in Work._fields})
    work.level[:] = grid.initial
    work.level_1[:] = grid.initial
    work.level_2[:] = grid.initial
    work.theta[:] = 1.0  # of outfalls for good
    volumes(grid, work.level, work.ledger, work.surface)
    return work


@njit(cache=True, nogil=True, error_model="numpy")
def _newton(grid, work, level, speed, flow, control):  # type: ignore[no-untyped-def]
    """Solve V(h) + Σ w Q(h) = base for the levels. Returns iterations, or 0 when it does not settle."""
    n = grid.cells
    diagonal, matrix, change = work.diagonal, work.matrix, work.change
    for iteration in range(1, _MOST_ITERATIONS + 1):
        volumes(grid, level, work.volume, work.surface)
        inner_faces(grid, level, work.weight, work.inertia, work.u_hat, speed, flow, work.d_left, work.d_right)
        end_faces(grid, level, work.weight, work.inertia, work.u_hat, speed, flow, work.d_left, work.d_right)
        diagonal[:] = work.surface
        change[:] = work.base - work.volume
        matrix[:] = 0.0
        for f in range(flow.size):
            left, right, w = grid.face_left[f], grid.face_right[f], work.weight[f]
            moved, by_left, by_right = w * flow[f], w * work.d_left[f], w * work.d_right[f]
            change[left] -= moved
            change[right] += moved
            diagonal[left] += by_left
            diagonal[right] -= by_right
            matrix[grid.face_entry[f, 0]] += by_right
            matrix[grid.face_entry[f, 1]] -= by_left
        for k in range(control.size):
            up, down, w = grid.control_up[k], grid.control_down[k], work.weight_control[k]
            control[k], work.d_up[k], work.d_down[k] = control_flow(
                grid.control_kind[k], grid.control_flap[k], level[up], level[down], grid.control_parameters[k]
            )
            change[up] -= w * control[k]
            change[down] += w * control[k]
            diagonal[up] += w * work.d_up[k]
            diagonal[down] -= w * work.d_down[k]
            matrix[grid.control_entry[k, 0]] += w * work.d_down[k]
            matrix[grid.control_entry[k, 1]] -= w * work.d_up[k]
        solve(grid.start, grid.column, grid.pair_start, grid.target, diagonal, matrix, change)
        change[n:] = 0.0
        if not np.isfinite(change.sum()):
            return 0
        largest, held = 0.0, False
        free = iteration > _MOST_ITERATIONS - 3
        for i in range(n):
            old = level[i]
            new = old + change[i]
            if not free and old > grid.crown[i] and new < grid.crown[i]:
                new = grid.crown[i]
                held = True
            new = max(new, grid.floor[i])
            largest = max(largest, abs(new - old))
            level[i] = new
        if largest < TOLERANCE and not held:
            # the flows that belong to the last linear solve: they close the balance exactly
            for f in range(flow.size):
                flow[f] += work.d_left[f] * change[grid.face_left[f]] + work.d_right[f] * change[grid.face_right[f]]
            for k in range(control.size):
                control[k] += work.d_up[k] * change[grid.control_up[k]] + work.d_down[k] * change[grid.control_down[k]]
            return iteration
    return 0


@njit(cache=True, nogil=True, error_model="numpy")
def _advect(grid, work, dt, second, flow, volume):  # type: ignore[no-untyped-def]
    """Coefficients of the momentum equation: c (inertia) and u_hat, upwind advection within each pipe.

    The first stage starts from uⁿ; the second adds the explicit share of the first. flow, volume : of the stage before.
    """
    for f in range(flow.size):
        w = work.weight[f]
        before, after = grid.face_cell_before[f], grid.face_cell_after[f]
        area = 0.0
        if before >= 0:
            area += volume[grid.pipe_row[before]] / grid.pipe_length[before]
        if after >= 0:
            area += volume[grid.pipe_row[after]] / grid.pipe_length[after]
        if before >= 0 and after >= 0:
            area *= 0.5
        area = max(area, 1e-6)
        m = 0.5 * w * grid.face_per_dx[f] / area
        c = 1.0
        base = work.speed[f]
        if second:
            base += (1.0 - w / dt) / GAMMA * (work.speed_1[f] - work.speed[f])
        if before >= 0:
            q = flow[f] + flow[f - 1]
            if q > 0.0:
                c += m * q
                base += m * q * _carried(work, f - 1, grid.face_left[f], second)
        if after >= 0:
            q = -(flow[f] + flow[f + 1])
            if q > 0.0:
                c += m * q
                base += m * q * _carried(work, f + 1, grid.face_right[f], second)
        work.inertia[f] = c
        work.u_hat[f] = base


@njit(cache=True, nogil=True, error_model="numpy")
def _carried(work, f, row, second):  # type: ignore[no-untyped-def]
    """Velocity that advection brings from face f: uⁿ, or in the second stage extrapolated from both."""
    if not second:
        return work.speed[f]
    return work.speed_1[f] + work.theta[row] * RATIO * (work.speed_1[f] - work.speed[f])


@njit(cache=True, nogil=True, error_model="numpy")
def _net_inflow(grid, flow, control, net):  # type: ignore[no-untyped-def]
    net[:] = 0.0
    for f in range(flow.size):
        net[grid.face_left[f]] -= flow[f]
        net[grid.face_right[f]] += flow[f]
    for k in range(control.size):
        net[grid.control_up[k]] -= control[k]
        net[grid.control_down[k]] += control[k]


@njit(cache=True, nogil=True, error_model="numpy")
def _limit(grid, work, dt):  # type: ignore[no-untyped-def]
    """θ of each cell: 1 where second order holds, 0 where backward Euler must take over."""
    for i in range(grid.cells):
        a = work.level_1[i] - work.level[i]
        p = work.rate[i] * GAMMA * dt
        theta = 2.0 - abs(a - p) / (LEAST_CHANGE + 0.5 * (abs(a) + abs(p)))
        drawn = (1.0 - GAMMA) * dt * work.net[i] + min(work.inflow[i], 0.0)
        if drawn < 0.0:
            theta = min(theta, (1.0 + drawn / max(work.ledger[i], 1e-9)) / 0.5)
        if work.level_1[i] > grid.pressed[i]:
            theta = min(theta, 2.0 - abs(work.net[i]) / grid.surge[i])
        work.theta[i] = min(max(theta, 0.0), 1.0)
    # a column under pressure moves as one: weights that differ along it would start pressure waves
    for f in range(work.weight.size):
        _share_theta(grid, work, f)
    for f in range(work.weight.size - 1, -1, -1):
        _share_theta(grid, work, f)


@njit(cache=True, nogil=True, error_model="numpy")
def _share_theta(grid, work, f):  # type: ignore[no-untyped-def]
    left, right = grid.face_left[f], grid.face_right[f]
    if work.level_1[left] > grid.pressed[left] and work.level_1[right] > grid.pressed[right]:
        least = min(work.theta[left], work.theta[right])
        work.theta[left] = work.theta[right] = least


@njit(cache=True, nogil=True, error_model="numpy")
def try_step(grid, work, dt):  # type: ignore[no-untyped-def]
    """Advance by dt from `level`, `ledger`, `speed`, `flow` into `level_2`, `base`, `speed_2`, `flow_2`.

    Returns the iterations (0: did not settle) and the estimated error, as a fraction of a cell's reference volume.
    """
    n = grid.cells
    step = GAMMA * dt
    for f in range(work.weight.size):
        work.weight[f] = step
    for k in range(work.weight_control.size):
        work.weight_control[k] = step
    for i in range(n):
        early = max(0.0, (work.inflow[i] - step * work.inflow_end[i]) / (1.0 - GAMMA)) * GAMMA
        work.base[i] = work.ledger[i] + early
        guess = work.level[i] + work.rate[i] * step
        if (guess > grid.crown[i]) != (work.level[i] > grid.crown[i]):
            guess = work.level[i]
        work.level_1[i] = max(guess, grid.floor[i])
    work.base[n:] = work.ledger[n:]
    _advect(grid, work, dt, False, work.flow, work.ledger)
    iterations = _newton(grid, work, work.level_1, work.speed_1, work.flow_1, work.control_1)
    if iterations == 0:
        return 0, 0.0

    _net_inflow(grid, work.flow_1, work.control_1, work.net)
    _limit(grid, work, dt)
    work.base[n:] = work.ledger[n:]
    for i in range(n):
        work.base[i] = work.ledger[i] + work.inflow[i]
        guess = work.level_1[i] + RATIO * (work.level_1[i] - work.level[i])
        if (guess > grid.crown[i]) != (work.level_1[i] > grid.crown[i]):
            guess = work.level_1[i]
        work.level_2[i] = max(guess, grid.floor[i])
    for f in range(work.weight.size):
        left, right = grid.face_left[f], grid.face_right[f]
        theta = min(work.theta[left], work.theta[right])
        late = 1.0 - (1.0 - GAMMA) * theta
        work.weight[f] = late * dt
        moved = (1.0 - late) * dt * work.flow_1[f]
        work.base[left] -= moved
        work.base[right] += moved
    for k in range(work.weight_control.size):
        up, down = grid.control_up[k], grid.control_down[k]
        theta = min(work.theta[up], work.theta[down])
        late = 1.0 - (1.0 - GAMMA) * theta
        work.weight_control[k] = late * dt
        moved = (1.0 - late) * dt * work.control_1[k]
        work.base[up] -= moved
        work.base[down] += moved
    _advect(grid, work, dt, True, work.flow_1, work.volume)
    second = _newton(grid, work, work.level_2, work.speed_2, work.flow_2, work.control_2)
    if second == 0:
        return 0, 0.0
    return iterations + second, _error(grid, work, dt)


@njit(cache=True, nogil=True, error_model="numpy")
def _error(grid, work, dt):  # type: ignore[no-untyped-def]
    """Largest of the first-order error, and of the second-order one raised to the order of the step control."""
    n = grid.cells
    tolerance = STEP_TOLERANCE
    net_1 = work.net  # of the first stage still
    first, second = 0.0, 0.0
    work.change[:] = 0.0
    work.diagonal[:] = 0.0
    for f in range(work.flow.size):
        jump = work.flow_2[f]
        bend = -0.0690 * work.flow[f] + 0.0976 * work.flow_1[f] - 0.0286 * work.flow_2[f]
        left, right = grid.face_left[f], grid.face_right[f]
        work.change[left] -= jump
        work.diagonal[left] -= bend
        work.change[right] += jump
        work.diagonal[right] += bend
    for k in range(work.control.size):
        jump = work.control_2[k]
        bend = -0.0690 * work.control[k] + 0.0976 * work.control_1[k] - 0.0286 * work.control_2[k]
        up, down = grid.control_up[k], grid.control_down[k]
        work.change[up] -= jump
        work.diagonal[up] -= bend
        work.change[down] += jump
        work.diagonal[down] += bend
    for i in range(n):
        first = max(first, GAMMA * dt * abs(work.change[i] - net_1[i]) / grid.reference[i])
        second = max(second, work.theta[i] * dt * abs(work.diagonal[i]) / grid.reference[i])
    return max(first, tolerance * (12.0 * second / tolerance) ** (2.0 / 3.0))


STEP_TOLERANCE = 0.008  # of a cell's reference volume
