"""Momentum that the water of a pipe carries from face to face: second order upwind, its slope limited.

None is carried through a node; losses stand for it there. Within a step the terms follow the iteration (see `newton`):
taken from the stage before, or extrapolated, they let a flood wave steepen by some percent on its way through a long
network.
"""

import numpy as np
from numba import njit

from .layout import AFTER, BEFORE, LENGTH, PER_DX
from .work import BARE, INERTIA, U_HAT, WEIGHT

__all__ = ["advect"]

_NEGLIGIBLE = 1e-4  # m/s


@njit(cache=True, nogil=True, error_model="numpy")
def advect(grid, work, speed, flow, volume, moved):  # type: ignore[no-untyped-def]
    """INERTIA and U_HAT of the momentum equation from BARE and the present velocities, flows and volumes.

    moved : of the cells beside a face that has changed by this, becomes infinite: its flow must be computed anew.
    """
    face, wet, bare, weight = work.face, work.wet, work.face[BARE], work.face[WEIGHT]
    taken, brought, per_dx, length = work.taken, work.brought, grid.face[PER_DX], grid.pipe[LENGTH]
    before, after, left, inertia, u_hat = (
        grid.face_index[BEFORE],
        grid.face_index[AFTER],
        grid.left,
        face[INERTIA],
        face[U_HAT],
    )
    row, first = grid.pipe_row, grid.pipe_face
    taken[:] = 0.0
    brought[:] = 0.0
    for c in range(row.size):
        wet[c] = volume[row[c]] / length[c]
        a = first[c]
        b = a + 1
        q, rise = flow[a] + flow[b], speed[b] - speed[a]  # twice the mean flow
        if q > 0.0:
            half = _half_slope(rise, speed[a] - speed[a - 1]) if before[a] >= 0 else 0.0
            taken[b] += q
            brought[b] += q * (speed[a] + half)
            brought[a] -= q * half
        else:
            half = _half_slope(-rise, speed[b] - speed[b + 1]) if after[b] >= 0 else 0.0
            taken[a] -= q
            brought[a] -= q * (speed[b] + half)
            brought[b] += q * half
    for f in range(per_dx.size):
        a, b = before[f], after[f]
        area = 0.5 * (wet[a if a >= 0 else b] + wet[b if b >= 0 else a])
        m = 0.5 * weight[f] * per_dx[f] / max(area, 1e-6)
        c, u = 1.0 + m * taken[f], bare[f] + m * brought[f]
        if abs(u - u_hat[f] - speed[f] * (c - inertia[f])) > _NEGLIGIBLE * c:
            moved[left[f]] = np.inf
        inertia[f] = c
        u_hat[f] = u


@njit(cache=True, nogil=True, error_model="numpy")
def _half_slope(rise, before):  # type: ignore[no-untyped-def]
    """Half the rise of the velocity over a cell, limited by the rise before it (van Leer, 1974)."""
    if rise * before <= 0.0:
        return 0.0
    half = rise * before / (rise + before)
    return half if abs(half) < 0.5 * abs(rise) else 0.5 * rise
