"""Momentum that the water of a pipe carries from face to face: second order upwind, its slope limited.

None is carried through a node; losses stand for it there. Within a step the terms follow the iteration (see `newton`):
taken from the stage before, or extrapolated, they let a flood wave steepen by some percent on its way through a long
network.
"""

import numpy as np

from ..numerics.compiled import kernel
from .layout import AFTER, BEFORE, LENGTH, PER_DX
from .work import BARE, INERTIA, NARROW, U_HAT, WEIGHT

__all__ = ["advect"]

_NEGLIGIBLE = 2e-4  # m/s


@kernel
def advect(grid, work, speed, flow, volume, moved):
    """INERTIA and U_HAT of the momentum equation from BARE and the present velocities, flows and volumes.

    moved : of the cells beside a face that has changed by this, becomes infinite: its flow must be computed anew.
    """
    before, after, left, length = grid.face_index[BEFORE], grid.face_index[AFTER], grid.left, grid.pipe[LENGTH]
    row, first, per_dx, face = grid.pipe_row, grid.pipe_face, grid.face[PER_DX], work.face
    narrow = face[NARROW]
    above, by_above, with_above = 0.0, 0.0, 0.0
    for c in range(row.size):
        area = volume[row[c]] / length[c]
        a = first[c]
        b = a + 1
        if before[a] < 0:
            above, by_above, with_above = area, 0.0, 0.0
        # flow into the momentum cells of both faces, and the momentum that it brings
        into_a, into_b, with_a, with_b = 0.0, 0.0, 0.0, 0.0
        u_a, u_b = speed[a] * narrow[a], speed[b] * narrow[b]
        q, rise = flow[a] + flow[b], u_b - u_a  # twice the mean flow
        if q > 0.0:
            half = _half_slope(rise, u_a - speed[a - 1] * narrow[a - 1]) if before[a] >= 0 else 0.0
            into_b, with_b, with_a = q, q * (u_a + half), -q * half
        else:
            half = _half_slope(-rise, u_b - speed[b + 1] * narrow[b + 1]) if after[b] >= 0 else 0.0
            into_a, with_a, with_b = -q, -q * (u_b + half), q * half
        _carry(face, per_dx[a], speed[a], a, 0.5 * (above + area), by_above + into_a, with_above + with_a, moved, left)
        above, by_above, with_above = area, into_b, with_b
        if after[b] < 0:
            _carry(face, per_dx[b], speed[b], b, area, into_b, with_b, moved, left)


@kernel
def _carry(face, per_dx, speed, f, area, taken, brought, moved, left):
    """Terms of one face, into whose momentum cell of a mean `area` the flow `taken` brings the momentum `brought`."""
    m = 0.5 * face[WEIGHT, f] * per_dx / max(area, 1e-6)
    c, u = 1.0 + m * taken * face[NARROW, f], face[BARE, f] + m * brought
    if abs(u - face[U_HAT, f] - speed * (c - face[INERTIA, f])) > _NEGLIGIBLE * c:
        moved[left[f]] = np.inf
    face[INERTIA, f] = c
    face[U_HAT, f] = u


@kernel
def _half_slope(rise, before):
    """Half the rise of the velocity over a cell, limited by the rise before it (van Leer, 1974)."""
    if rise * before <= 0.0:
        return 0.0
    half = rise * before / (rise + before)
    return half if abs(half) < 0.5 * abs(rise) else 0.5 * rise
