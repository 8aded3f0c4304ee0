"""Velocity and flow at the faces of pipe cells: the momentum equation in closed form.

At each face  c u + w (f_r + k_l) u|u| = u_hat + g w (h_L − h_R)/dx  is solved exactly for u; c and u_hat hold advection
(from the previous stage), f_r = g n²/R^(4/3) friction at the upwind depth, k_l local losses, w the stage's time weight.
"""

import numpy as np
from numba import njit

from .constants import GRAVITY, INTERVALS, NEARLY_STILL
from .layout import (
    BED_LEFT,
    BED_RIGHT,
    CELL,
    CELL_BED,
    END_BED,
    FACE,
    GN2,
    LOSS,
    NODE,
    NORMAL,
    OUTWARD,
    PER_DX,
    SECTION,
    SIGN,
)  # fmt: skip
from .work import BARE, D_LEFT, D_RIGHT, INERTIA, U_HAT, U_LEFT, U_RIGHT, WEIGHT

__all__ = ["end_faces", "inner_faces"]


@njit(cache=True, nogil=True, error_model="numpy")
def _wetted(y, height, per, wetted, s):  # type: ignore[no-untyped-def]
    """Area, its slope, R^(4/3) and its slope at depth y. wetted : as in `Grid`."""
    if y >= height:
        return wetted[s, INTERVALS, 0], 0.0, wetted[s, INTERVALS, 1], 0.0
    position = y * per
    i = min(int(position), INTERVALS - 1)
    part = position - i
    low, low_r = wetted[s, i, 0], wetted[s, i, 1]
    step, step_r = wetted[s, i + 1, 0] - low, wetted[s, i + 1, 1] - low_r
    return low + part * step, step * per, max(low_r + part * step_r, 1e-9), step_r * per


@njit(cache=True, nogil=True, error_model="numpy")
def inner_faces(grid, h, moved, terms, u, flow):  # type: ignore[no-untyped-def]
    """Velocity and flow between the cells of one pipe, and their derivatives by both levels.

    terms : rows of `Work.face`; WEIGHT, INERTIA and U_HAT are read, the derivatives are written. moved : change of the
    levels since the last call; where it is less than `NEARLY_STILL`, velocity and flow keep to their tangents.
    """
    weight, inertia, u_hat = terms[WEIGHT], terms[INERTIA], terms[U_HAT]
    d_left, d_right, u_left, u_right = terms[D_LEFT], terms[D_RIGHT], terms[U_LEFT], terms[U_RIGHT]
    wetted, heights, pers = grid.section_wetted, grid.section_height, grid.section_per
    section, face = grid.face_index[SECTION], grid.face
    per_dx, gn2, bed_left, bed_right = face[PER_DX], face[GN2], face[BED_LEFT], face[BED_RIGHT]
    for f in grid.inner:
        left, right = grid.left[f], grid.right[f]
        if abs(moved[left]) < NEARLY_STILL and abs(moved[right]) < NEARLY_STILL:
            continue
        high, low = h[left], h[right]
        w, c = weight[f], inertia[f]
        pull = GRAVITY * w * per_dx[f]
        drive = u_hat[f] + pull * (high - low)
        forward = drive >= 0.0
        y = high - bed_left[f] if forward else low - bed_right[f]
        if y <= 0.0:
            u[f] = flow[f] = d_left[f] = d_right[f] = u_left[f] = u_right[f] = 0.0
            continue
        s = section[f]
        area, breadth, r43, r43_slope = _wetted(y, heights[s], pers[s], wetted, s)
        inverse = 1.0 / r43
        friction = w * gn2[f] * inverse
        root = np.sqrt(c * c + 4.0 * friction * abs(drive))
        v, per_root = 2.0 * drive / (c + root), 1.0 / root
        by_level, eased = pull * per_root, v * abs(v) * friction * r43_slope * inverse * per_root
        by_depth = breadth * v + area * eased
        u[f] = v
        u_left[f] = by_level + eased if forward else by_level
        u_right[f] = -by_level if forward else eased - by_level
        by_level *= area
        flow[f] = area * v
        d_left[f] = by_level + max(by_depth, 0.0) if forward else by_level
        d_right[f] = -by_level if forward else min(by_depth, 0.0) - by_level


@njit(cache=True, nogil=True, error_model="numpy")
def _speed(drive, inertia, resistance):  # type: ignore[no-untyped-def]
    """Root of inertia u + resistance u|u| = drive, and the discriminant s: du = d(drive)/s."""
    s = np.sqrt(inertia * inertia + 4.0 * resistance * abs(drive))
    return 2.0 * drive / (inertia + s), s


@njit(cache=True, nogil=True, error_model="numpy")
def _exit_speed(y, fall, height, per, gn2, per_dx, wetted, s):  # type: ignore[no-untyped-def]
    """Velocity in the last cell when water leaves it at critical depth.

    Specific energy E has its least at critical depth, and there E'' ≈ 3B/A: where friction over the half cell loses
    ΔE more than the bed falls, the cell stands √(2ΔE/E'') above critical depth. (Without this the depth at a free exit
    errs with the root of the spacing.) Near the crown, where the width vanishes, geometry counts at 0.8 of the height.
    fall : of the bed from mid-cell to the exit, m. Returns the velocity and B y/A.
    """
    y_low = min(y, 0.8 * height)
    area, _, r43, _ = _wetted(y_low, height, per, wetted, s)
    mean = _mean_depth(y_low, per, wetted, s)
    lost = max(0.0, gn2 / r43 * mean / per_dx - max(0.0, fall))
    y_critical = max(y_low - np.sqrt(2.0 / 3.0 * lost * mean), 0.3 * y_low)
    area_critical, _, _, _ = _wetted(y_critical, height, per, wetted, s)
    speed = np.sqrt(GRAVITY * _mean_depth(y_critical, per, wetted, s)) * area_critical / area
    return speed, y_low / mean


@njit(cache=True, nogil=True, error_model="numpy")
def _mean_depth(y, per, wetted, s):  # type: ignore[no-untyped-def]
    """Hydraulic mean depth A/B at a depth y below the crown."""
    position = y * per
    i = min(int(position), INTERVALS - 1)
    return max(wetted[s, i, 2] + (position - i) * (wetted[s, i + 1, 2] - wetted[s, i, 2]), 1e-9)


@njit(cache=True, nogil=True, error_model="numpy")
def end_faces(grid, h, moved, terms, u, flow):  # type: ignore[no-untyped-def]
    """Velocity and flow between the ends of pipes and their nodes or outfalls, and their derivatives, as `inner_faces`.

    A pipe that pours into a lower level leaves at critical depth (free fall): the velocity is that of the actual tail
    water, but no more than the greater of the undisturbed one and the critical one. A normal-depth outfall draws with
    the gradient of the pipe; full, with its grade line at the soffit. A flap passes flow out of the pipe only. Inside,
    out of the pipe counts as positive.
    """
    weight, inertia, u_hat, bare = terms[WEIGHT], terms[INERTIA], terms[U_HAT], terms[BARE]
    d_left, d_right, u_left, u_right = terms[D_LEFT], terms[D_RIGHT], terms[U_LEFT], terms[U_RIGHT]
    wetted, heights, pers, face, end = grid.section_wetted, grid.section_height, grid.section_per, grid.face, grid.end
    faces, cells, nodes = grid.end_index[FACE], grid.end_index[CELL], grid.end_index[NODE]
    for e in range(faces.size):
        f, sign = faces[e], end[SIGN, e]
        left, right = grid.left[f], grid.right[f]
        if abs(moved[left]) < NEARLY_STILL and abs(moved[right]) < NEARLY_STILL:
            continue
        level, beyond = h[cells[e]], h[nodes[e]]
        s_index = grid.face_index[SECTION, f]
        height, per = heights[s_index], pers[s_index]
        w, c = weight[f], inertia[f]
        pull = GRAVITY * w * face[PER_DX, f]
        z, normal = end[END_BED, e], end[NORMAL, e]
        tail = max(beyond, z)
        start = sign * u_hat[f]
        drop = level - tail
        by_tail = 1.0 if beyond > z else 0.0
        by_cell = 1.0
        if normal > 0.0:
            by_tail = 0.0
            over = level - z - height
            if over > normal:  # more than runs free: a full pipe with its grade line at the soffit where it ends
                drop = over
            elif drop > normal:
                drop, by_cell = normal, 0.0
        drive = start + pull * drop
        out = drive >= 0.0
        y = level - end[CELL_BED, e] if out else beyond - z
        if y <= 0.0 or (not out and grid.end_index[OUTWARD, e]):
            u[f] = flow[f] = d_left[f] = d_right[f] = u_left[f] = u_right[f] = 0.0
            continue
        area, breadth, r43, r43_slope = _wetted(y, height, per, wetted, s_index)
        inverse = 1.0 / r43
        friction = w * face[GN2, f] * inverse
        resistance = friction + w * end[LOSS, e]
        v, s = _speed(drive, c, resistance)
        filled = min(y, height)
        if out and normal <= 0.0 and tail < z + filled:
            # no root is needed to see whether the actual tail water would draw faster than critical
            third, above, fall = filled / 3.0, y - filled, level - y - z
            push = sign * bare[f] + pull * (third + above)
            aim, form = _exit_speed(y, fall, height, per, face[GN2, f], face[PER_DX, f], wetted, s_index)
            critical = pull * third / (aim * aim)
            if above > 0.0:  # under pressure, friction and a full section's form count the more the higher it stands
                pressed = resistance + w * face[PER_DX, f] / 3.0 * form
                critical = (critical * third + pressed * above) / (third + above)
            if v + critical * v * abs(v) > push:
                v_even, s_even = _speed(start + pull * (level - z - filled), c, resistance)
                share = 1.0 if y < height else 0.0
                if v_even + critical * v_even * abs(v_even) >= push:
                    v, s = v_even, s_even
                else:
                    v, s = _speed(push, 1.0, critical)
                    friction = 0.0  # the speed at the exit hangs on geometry alone
                    if above > 0.0:
                        share = (pressed - critical) / (third + above) * v * abs(v) / pull
                    else:
                        step = 1e-4 * height
                        more, _ = _exit_speed(
                            y + step, fall, height, per, face[GN2, f], face[PER_DX, f], wetted, s_index
                        )
                        by_depth = 1.0 / y - 2.0 * (more - aim) / (step * aim)
                        share = 2.0 / 3.0 + critical * by_depth * v * abs(v) / pull
                if v <= 0.0:  # still running inwards against the fall: it stops here
                    u[f] = flow[f] = d_left[f] = d_right[f] = u_left[f] = u_right[f] = 0.0
                    continue
                by_cell, by_tail = 1.0 - share, 0.0
        eased = v * abs(v) * friction * r43_slope * inverse / s
        by_depth = breadth * v + area * eased
        u_cell, u_node = pull / s * by_cell, -pull / s * by_tail
        d_cell, d_node = area * u_cell, area * u_node
        if out:
            d_cell += max(by_depth, 0.0)
            u_cell += eased
        else:
            d_node += min(by_depth, 0.0)
            u_node += eased
        u[f] = sign * v
        flow[f] = sign * area * v
        # a cell on the right (an upstream end) sees both derivatives with the other sign
        d_left[f], d_right[f] = (d_cell, d_node) if sign > 0.0 else (-d_node, -d_cell)
        u_left[f], u_right[f] = (u_cell, u_node) if sign > 0.0 else (-u_node, -u_cell)
