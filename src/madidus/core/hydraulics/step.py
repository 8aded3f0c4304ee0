"""One time step: two implicit stages (SDIRK2, Alexander 1977) that fall back to backward Euler where it must be smooth.

Mass is kept by a ledger: each stage's volumes follow from the flows of its last linear solve, so that they add up to
rounding whatever the tolerance of the Newton iteration; its residual is carried into the next step.
"""

import numpy as np

from ..constants import GAMMA, RATIO
from ..numerics.compiled import kernel
from .elimination import solve_again
from .layout import CROWN, FLOOR, PRESSED, REFERENCE, SURGE
from .newton import newton
from .work import (
    BARE,
    BASE,
    BENT,
    DIAGONAL,
    FLOW,
    FLOW_1,
    FLOW_2,
    INFLOW,
    INFLOW_END,
    LEDGER,
    LEVEL,
    LEVEL_1,
    LEVEL_2,
    NET,
    RATE,
    SPEED,
    SPEED_1,
    SPEED_2,
    SURFACE,
    THETA,
    WEIGHT,
)  # fmt: skip

__all__ = ["STEP_TOLERANCE", "end_rate", "held_rate", "start_rate", "try_step"]

STEP_TOLERANCE = 0.008  # of a cell's reference volume
_LEAST_CHANGE = 0.005  # m, level changes in a step that are not judged for smoothness
_LEAST_CHANGE_OF_STORE = 0.1  # m
_SAFETY = 12.0  # on the second-order error
_FIRST_ORDER = 0.6  # of the first-order error counts where the step is of second order: it errs by far less
_CARE = 1.4  # more of it where a cell has fallen back to backward Euler
_FILLING = 2.0  # more of it while a cell fills up to its crown: most of what steps do to a peak, they do there


@kernel
def try_step(grid, work, dt):
    """Advance by dt from LEVEL, LEDGER, SPEED, FLOW into LEVEL_2, BASE, SPEED_2, FLOW_2.

    Returns the iterations (0: did not settle) and the estimated error, as a fraction of a cell's reference volume.
    """
    cell, face, n = work.cell, work.face, grid.cells
    level, level_1, ledger, base = cell[LEVEL], cell[LEVEL_1], cell[LEDGER], cell[BASE]
    weight, theta, crown, floor = face[WEIGHT], cell[THETA], grid.cell[CROWN], grid.cell[FLOOR]
    speed, speed_1, speed_2 = face[SPEED], face[SPEED_1], face[SPEED_2]
    flow, flow_1, flow_2, bare = face[FLOW], face[FLOW_1], face[FLOW_2], face[BARE]
    step = GAMMA * dt
    weight[:] = step
    for i in range(n):
        base[i] = ledger[i] + step * _early_inflow(cell, i, dt)
        level_1[i] = _guess(level[i], step * cell[RATE, i], crown[i], floor[i])
    for i in range(n, base.size):
        base[i] = ledger[i]
    for f in range(flow.size):
        bare[f] = speed_1[f] = speed[f]
        flow_1[f] = flow[f]
    iterations = newton(grid, work, dt, level_1, speed_1, flow_1)
    if iterations == 0:
        return 0, 0.0

    _net_inflow(grid, flow_1, cell[NET])
    _limit(grid, work, dt)
    for i in range(n):
        base[i] = ledger[i] + cell[INFLOW, i]
        cell[LEVEL_2, i] = _guess(level_1[i], RATIO * (level_1[i] - level[i]), crown[i], floor[i])
    for i in range(n, base.size):
        base[i] = ledger[i]
    lefts, rights = grid.left, grid.right
    for f in range(weight.size):
        left, right = lefts[f], rights[f]
        smooth = min(theta[left], theta[right])
        late = 1.0 - (1.0 - GAMMA) * smooth
        weight[f] = late * dt
        moved = (1.0 - late) * dt * flow_1[f]
        base[left] -= moved
        base[right] += moved
        bare[f] = speed[f] + (1.0 - late) / GAMMA * (speed_1[f] - speed[f])
        speed_2[f] = speed_1[f] + smooth * RATIO * (speed_1[f] - speed[f])
        flow_2[f] = flow_1[f] + smooth * RATIO * (flow_1[f] - flow[f])
    second = newton(grid, work, dt, cell[LEVEL_2], speed_2, flow_2)
    if second == 0:
        return 0, 0.0
    return iterations + second, _error(grid, work, dt)


@kernel
def _early_inflow(cell, i, dt):
    """Inflow of the first stage that, with the inflow at its end in the second, makes up the volume of the step."""
    return max(0.0, cell[INFLOW, i] / dt - GAMMA * cell[INFLOW_END, i]) / (1.0 - GAMMA)


@kernel
def end_rate(cell, i, dt):
    """Rate of the level at the end of a step: the second stage's own, or the step's mean at backward Euler."""
    mean, early = (cell[LEVEL_2, i] - cell[LEVEL, i]) / dt, (cell[LEVEL_1, i] - cell[LEVEL, i]) / (GAMMA * dt)
    return mean + cell[THETA, i] * (1.0 - GAMMA) / GAMMA * (mean - early)


@kernel
def held_rate(rate, early, dt):
    """Rate at the start of a step, for what is read within it: behind a kink that of the step before holds no more.

    early : change of the level over the first stage, which it may exceed threefold.
    """
    most = 3.0 * abs(early) / (GAMMA * dt)
    return min(max(rate, -most), most)


@kernel
def start_rate(cell, i, dt, kink):
    """Rate of the level at the start of a step that is not yet accepted. kink : inflow jumped there."""
    if kink:
        return 2.0 * (cell[LEVEL_2, i] - cell[LEVEL, i]) / dt - end_rate(cell, i, dt)
    return held_rate(cell[RATE, i], cell[LEVEL_1, i] - cell[LEVEL, i], dt)


@kernel
def _guess(at, moved, crown, floor):
    """First guess of a level; one on the other side of the crown is not used."""
    new = at + moved
    if (new > crown) != (at > crown):
        new = at
    return max(new, floor)


@kernel
def _net_inflow(grid, flow, net):
    net[:] = 0.0
    left, right = grid.left, grid.right
    for f in range(flow.size):
        net[left[f]] -= flow[f]
        net[right[f]] += flow[f]


@kernel
def _limit(grid, work, dt):
    """θ of each cell: 1 where second order holds, 0 where backward Euler must take over."""
    cell, pressed, surge = work.cell, grid.cell[PRESSED], grid.cell[SURGE]
    theta, level, level_1, rate = cell[THETA], cell[LEVEL], cell[LEVEL_1], cell[RATE]
    net, inflow, ledger = cell[NET], cell[INFLOW], cell[LEDGER]
    for i in range(grid.cells):
        a = level_1[i] - level[i]
        p = rate[i] * GAMMA * dt
        share = 1.0
        # the level of a store turns smoothly, however long the step: neither front nor pressure wave passes there
        least = _LEAST_CHANGE_OF_STORE if pressed[i] == np.inf and surge[i] == np.inf else _LEAST_CHANGE
        bend, smooth = abs(a - p), least + 0.5 * (abs(a) + abs(p))
        if bend > smooth:
            share = 2.0 - bend / smooth
        drawn, held = -(1.0 - GAMMA) * dt * net[i] - min(inflow[i], 0.0), max(ledger[i] + max(inflow[i], 0.0), 1e-9)
        if drawn > 0.75 * held:
            share = min(share, 4.0 * (1.0 - drawn / held))
        if level_1[i] > pressed[i] and abs(net[i]) > surge[i]:
            share = min(share, 2.0 - abs(net[i]) / surge[i])
        theta[i] = max(share, 0.0)
    # a pipe under pressure moves as one: weights that differ along it would start pressure waves
    inner, left, right = grid.inner, grid.left, grid.right
    for k in range(inner.size):
        _share_theta(theta, level_1, pressed, left[inner[k]], right[inner[k]])
    for k in range(inner.size - 1, -1, -1):
        _share_theta(theta, level_1, pressed, left[inner[k]], right[inner[k]])


@kernel
def _share_theta(theta, level, pressed, left, right):
    if level[left] > pressed[left] and level[right] > pressed[right]:
        theta[left] = theta[right] = min(theta[left], theta[right])


@kernel
def _near_crown(depth, closing):
    """1 where a cell is about to fill or has just done so, 0 far from it. closing : depth at which the crown closes.

    There the level leaps with the volume: what a slow filling leaves out in every step adds up to centimetres.
    """
    share = depth / closing
    return min(max(5.0 * min(share - 0.7, 1.4 - share), 0.0), 1.0)


@kernel
def _error(grid, work, dt):
    """Largest of the first-order error, and of the second-order one raised to the order of the step control.

    The second-order estimate passes the linear system of the last iteration, so that cells whose level follows their
    inflow at once do not hold the step (Hosea and Shampine, 1996).
    """
    cell, face, reference = work.cell, work.face, grid.cell[REFERENCE]
    crown, floor = grid.cell[CROWN], grid.cell[FLOOR]
    jump, bent, theta, surface = cell[NET], cell[BENT], cell[THETA], cell[SURFACE]
    for i in range(grid.cells):
        jump[i] = cell[INFLOW_END, i] - _early_inflow(cell, i, dt)
    jump[grid.cells :] = 0.0
    bent[:] = 0.0
    flow, flow_1, flow_2, left, right = face[FLOW], face[FLOW_1], face[FLOW_2], grid.left, grid.right
    for f in range(flow.size):
        a, b = left[f], right[f]
        risen = flow_2[f] - flow_1[f]
        bend = -0.0690 * flow[f] + 0.0976 * flow_1[f] - 0.0286 * flow_2[f]
        jump[a] -= risen
        jump[b] += risen
        bent[a] -= bend
        bent[b] += bend
    first, second = 0.0, 0.0
    first_at, second_at = 0, 0
    for i in range(grid.cells):
        filling = _near_crown(cell[LEVEL_2, i] - floor[i], crown[i] - floor[i])
        own = (_FIRST_ORDER + _CARE * (1.0 - theta[i]) + _FILLING * filling) * GAMMA * dt * abs(jump[i]) / reference[i]
        if own > first:
            first, first_at = own, i
        bent[i] *= theta[i] * dt
    solve_again(grid.start, grid.column, cell[DIAGONAL], work.matrix, bent)
    for i in range(grid.cells):
        own = abs(bent[i]) * surface[i] / reference[i]
        if own > second:
            second, second_at = own, i
    second = STEP_TOLERANCE * (_SAFETY * second / STEP_TOLERANCE) ** (2.0 / 3.0)
    work.worst[0] = first_at if first > second else second_at
    return max(first, second)
