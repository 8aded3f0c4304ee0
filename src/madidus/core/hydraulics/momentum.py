"""Velocity and flow at the faces of pipe cells: the momentum equation in closed form.

At each face  c u + w (f_r + k_l) u|u| = u_hat + g w (h_L − h_R)/dx  is solved exactly for u; c and u_hat hold advection
(from the previous stage), f_r = g n²/R^(4/3) friction at the upwind depth, k_l local losses, w the stage's time weight.
"""

import numpy as np
from numba import njit

from .constants import GRAVITY, INTERVALS

__all__ = ["end_faces", "inner_faces"]


@njit(cache=True, nogil=True, error_model="numpy")
def _wetted(y, height, wetted, s):  # type: ignore[no-untyped-def]
    """Area, its slope, R^(4/3) and its slope at depth y. wetted : float64[section, INTERVALS + 1, 2]."""
    if y >= height:
        return wetted[s, INTERVALS, 0], 0.0, wetted[s, INTERVALS, 1], 0.0
    per = INTERVALS / height
    position = y * per
    i = min(int(position), INTERVALS - 1)
    part = position - i
    low, low_r = wetted[s, i, 0], wetted[s, i, 1]
    step, step_r = wetted[s, i + 1, 0] - low, wetted[s, i + 1, 1] - low_r
    return low + part * step, step * per, max(low_r + part * step_r, 1e-9), step_r * per


@njit(cache=True, nogil=True, error_model="numpy")
def inner_faces(grid, h, weight, inertia, u_hat, u, flow, d_left, d_right):  # type: ignore[no-untyped-def]
    """Flow between the cells of one pipe, and its derivatives by both levels."""
    wetted, heights, section = grid.section_wetted, grid.section_height, grid.face_section
    for k in range(grid.inner.size):
        f = grid.inner[k]
        left, right = grid.face_left[f], grid.face_right[f]
        w, c = weight[f], inertia[f]
        pull = GRAVITY * w * grid.face_per_dx[f]
        drive = u_hat[f] + pull * (h[left] - h[right])
        forward = drive >= 0.0
        y = h[left] - grid.face_bed_left[f] if forward else h[right] - grid.face_bed_right[f]
        if y <= 0.0:
            u[f] = flow[f] = d_left[f] = d_right[f] = 0.0
            continue
        s = section[f]
        area, breadth, r43, r43_slope = _wetted(y, heights[s], wetted, s)
        friction = w * grid.face_gn2[f] / r43
        root = np.sqrt(c * c + 4.0 * friction * abs(drive))
        v = 2.0 * drive / (c + root)
        by_depth = breadth * v + area * v * abs(v) * friction * r43_slope / (r43 * root)
        by_level = area * pull / root
        u[f] = v
        flow[f] = area * v
        d_left[f] = by_level + max(by_depth, 0.0) if forward else by_level
        d_right[f] = -by_level if forward else min(by_depth, 0.0) - by_level


@njit(cache=True, nogil=True, error_model="numpy")
def _speed(drive, inertia, resistance):  # type: ignore[no-untyped-def]
    """Root of inertia u + resistance u|u| = drive, and the discriminant s: du = d(drive)/s."""
    s = np.sqrt(inertia * inertia + 4.0 * resistance * abs(drive))
    return 2.0 * drive / (inertia + s), s


@njit(cache=True, nogil=True, error_model="numpy")
def end_faces(grid, h, weight, inertia, u_hat, u, flow, d_left, d_right):  # type: ignore[no-untyped-def]
    """Flow between the ends of pipes and their nodes or outfalls; inside, out of the pipe counts as positive.

    A pipe that pours into a lower level leaves at critical depth (free fall): the velocity is that of the actual tail
    water, but no more than the greater of the undisturbed one and the critical one. A normal-depth outfall draws with
    the gradient of the pipe. A flap (`end_flap`) passes flow out of the pipe only.
    """
    wetted, heights = grid.section_wetted, grid.section_height
    for e in range(grid.end_face.size):
        f = grid.end_face[e]
        cell, node, sign = grid.end_cell[e], grid.end_node[e], grid.end_sign[e]
        s_index = grid.face_section[f]
        height = heights[s_index]
        per_dx, w, c = grid.face_per_dx[f], weight[f], inertia[f]
        pull = GRAVITY * w * per_dx
        z, normal = grid.end_bed[e], grid.end_normal[e]
        level, tail = h[cell], max(h[node], z)
        start = sign * u_hat[f]
        drop = level - tail
        by_tail = 1.0 if h[node] > z else 0.0
        by_cell = 1.0
        if normal > 0.0:
            by_tail = 0.0
            if drop > normal:
                drop, by_cell = normal, 0.0
        drive = start + pull * drop
        out = drive >= 0.0
        y = level - grid.end_cell_bed[e] if out else h[node] - z
        if y <= 0.0 or (grid.end_flap[e] and not out):
            u[f] = flow[f] = d_left[f] = d_right[f] = 0.0
            continue
        area, breadth, r43, r43_slope = _wetted(y, height, wetted, s_index)
        friction = w * grid.face_gn2[f] / r43
        resistance = friction + w * grid.end_loss[e]
        v, s = _speed(drive, c, resistance)
        filled = min(y, height)
        if out and normal <= 0.0 and tail < z + filled:
            open_surface = 1.0 if y < height else 0.0
            v_even, s_even = _speed(start + pull * (level - z - filled), c, resistance)
            y_low = min(y, 0.8 * height)
            area_low, breadth_low, _, _ = _wetted(y_low, height, wetted, s_index)
            extra = w * per_dx / 3.0 * breadth_low * y_low / area_low
            v_critical, s_critical = _speed(start + pull * (level - z - filled * (2.0 / 3.0)), c, resistance + extra)
            v_free, s_free, share = v_critical, s_critical, 2.0 / 3.0
            if v_even >= v_critical:
                v_free, s_free, share = v_even, s_even, 1.0
            if v_free < v:
                v, s = v_free, s_free
                by_cell, by_tail = 1.0 - share * open_surface, 0.0
        by_depth = breadth * v + area * v * abs(v) * friction * r43_slope / (r43 * s)
        by_level = area * pull / s
        d_cell, d_node = by_level * by_cell, -by_level * by_tail
        if out:
            d_cell += max(by_depth, 0.0)
        else:
            d_node += min(by_depth, 0.0)
        u[f] = sign * v
        flow[f] = sign * area * v
        # a cell on the right (an upstream end) sees both derivatives with the other sign
        d_left[f] = d_cell if sign > 0.0 else -d_node
        d_right[f] = d_node if sign > 0.0 else -d_cell
