"""Velocity and flow at the faces of pipe cells: the momentum equation in closed form.

At each face  c u + w (f_r + k_l) u|u| = u_hat + g w (h_L − h_R)/dx  is solved exactly for u; c and u_hat hold advection
(from the previous stage), f_r = g n²/R^(4/3) friction at the upwind depth, k_l local losses, w the stage's time weight.
"""

import numpy as np

from ..constants import END_INTERVALS, GRAVITY, INTERVALS, NEARLY_STILL
from ..numerics.compiled import kernel
from .layout import (
    AFTER,
    BED,
    BED_LEFT,
    BED_RIGHT,
    BEFORE,
    CELL,
    CELL_BED,
    END_BED,
    ENTRY,
    EXIT_PER,
    FACE,
    GN2,
    LOST_IN,
    LOST_OUT,
    MIXES,
    NODE,
    NORMAL,
    OUTWARD,
    PER_DX,
    SECTION,
    SIGN,
    STREAM,
    STREAM_PER,
)  # fmt: skip
from .work import D_LEFT, D_RIGHT, ENTERED, INERTIA, NARROW, U_HAT, U_LEFT, U_RIGHT, WEIGHT

__all__ = ["discharging_ends", "entering_ends", "inner_faces", "note_resting"]

_NOTHING = 1e-6  # m3/s, below which it does not matter how water arrives


@kernel
def _wetted(y, height, per, wetted, s):
    """Area, its slope, R^(4/3) and its slope at depth y. wetted : as in `Grid`."""
    if y >= height:
        return wetted[s, INTERVALS, 0], 0.0, wetted[s, INTERVALS, 1], 0.0
    position = y * per
    i = min(int(position), INTERVALS - 1)
    part = position - i
    low, low_r = wetted[s, i, 0], wetted[s, i, 1]
    step, step_r = wetted[s, i + 1, 0] - low, wetted[s, i + 1, 1] - low_r
    return low + part * step, step * per, max(low_r + part * step_r, 1e-9), step_r * per


@kernel
def _face_depth(own, behind, per_behind, ahead, per_ahead, height):
    """By how much the depth at a face differs from that of the upwind cell, on a slope limited after van Leer (1974).

    own : depth in the cell, at most the height; behind, ahead : depths on its other side and beyond the face; per_… : 2
    where they are half a cell away, else 1. Returns the difference and the derivatives of the depth at the face by the
    cell's own depth and by that ahead.
    """
    came, rise = per_behind * (own - min(behind, height)), per_ahead * (min(ahead, height) - own)
    if rise * came <= 0.0:
        return 0.0, 1.0, 0.0
    both = rise + came
    half, by_rise, by_came = rise * came / both, (came / both) ** 2, (rise / both) ** 2
    if abs(half) >= 0.5 * abs(rise):
        half, by_rise, by_came = 0.5 * rise, 0.5, 0.0
    by_ahead = per_ahead * by_rise
    return half, 1.0 - by_ahead + per_behind * by_came, by_ahead if ahead < height else 0.0


@kernel
def inner_faces(grid, h, moved, terms, u, flow):
    """Velocity and flow between the cells of one pipe, and their derivatives by both levels.

    terms : rows of `Work.face`; WEIGHT, INERTIA and U_HAT are read, the derivatives are written. moved : change of the
    levels since the last call; where it is less than `NEARLY_STILL`, velocity and flow keep to their tangents.
    """
    weight, inertia, u_hat = terms[WEIGHT], terms[INERTIA], terms[U_HAT]
    d_left, d_right, u_left, u_right = terms[D_LEFT], terms[D_RIGHT], terms[U_LEFT], terms[U_RIGHT]
    wetted, heights, pers = grid.section_wetted, grid.section_height, grid.section_per
    section, face = grid.face_index[SECTION], grid.face
    per_dx, gn2, bed_left, bed_right = face[PER_DX], face[GN2], face[BED_LEFT], face[BED_RIGHT]
    before, after = grid.face_index[BEFORE], grid.face_index[AFTER]
    bed, cell_row = grid.pipe[BED], grid.pipe_row
    entered, lefts, rights = terms[ENTERED], grid.left, grid.right
    for f in grid.inner:
        left, right = lefts[f], rights[f]
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
        top = heights[s]
        up, down = (before[f], after[f]) if forward else (after[f], before[f])
        own, by_own, by_ahead = min(y, top), 1.0, 0.0
        y = own
        if bed[up] == (bed_left[f] if forward else bed_right[f]):
            # the depth at the face itself: with the depth of the cell, waves and backwater err to first order
            beyond, further = (f - 1, before[f - 1]) if forward else (f + 1, after[f + 1])
            if further >= 0:
                behind, per = h[cell_row[further]] - bed[further], 1.0
            else:
                behind, per = entered[beyond], 2.0
            half, by_own, by_ahead = _face_depth(own, behind, per, h[cell_row[down]] - bed[down], 1.0, top)
            y += half
        area, breadth, r43, r43_slope = _wetted(y, heights[s], pers[s], wetted, s)
        inverse = 1.0 / r43
        friction = w * gn2[f] * inverse
        root = np.sqrt(c * c + 4.0 * friction * abs(drive))
        v, per_root = 2.0 * drive / (c + root), 1.0 / root
        by_level, eased = pull * per_root, v * abs(v) * friction * r43_slope * inverse * per_root
        by_depth = breadth * v + area * eased
        u[f] = v
        by_level_flow = by_level * area
        flow[f] = area * v
        if forward:
            u_left[f], u_right[f] = by_level + eased * by_own, eased * by_ahead - by_level
            d_left[f] = by_level_flow + max(by_depth, 0.0) * by_own
            d_right[f] = max(by_depth, 0.0) * by_ahead - by_level_flow
        else:
            u_left[f], u_right[f] = by_level + eased * by_ahead, eased * by_own - by_level
            d_left[f] = by_level_flow + min(by_depth, 0.0) * by_ahead
            d_right[f] = min(by_depth, 0.0) * by_own - by_level_flow


@kernel
def _speed(drive, inertia, resistance):
    """Root of inertia u + resistance u|u| = drive, and the discriminant s: du = d(drive)/s."""
    s = np.sqrt(inertia * inertia + 4.0 * resistance * abs(drive))
    return 2.0 * drive / (inertia + s), s


@kernel
def _bound(tables, row, position):
    """Square that a row of tables gives at a position among its intervals, and its step there; it goes on straight."""
    i = min(int(position), END_INTERVALS - 1)
    low = tables[row, i]
    step = tables[row, i + 1] - low
    return low + (position - i) * step, step


@kernel
def _choked(bound, per, row, y, resting, speed):
    """Greatest velocity of an entry at a depth of the node, and its slope by that.

    resting : share of what comes to the node that does not arrive in motion; between nothing and all of it the inverse
    of the square is straight (of a rectangle exactly so). speed : where it is below the least bound, that will do.
    """
    square, step = _bound(bound, row + 1, y * per[row + 1])
    if speed * speed <= square:
        return speed, 0.0
    by_depth = step * per[row + 1]
    if resting < 1.0:
        moving, step = _bound(bound, row, y * per[row])
        whole = max((1.0 - resting) * square + resting * moving, 1e-12)
        a, b = square / whole, moving / whole
        by_depth = resting * b * b * by_depth + (1.0 - resting) * a * a * step * per[row]
        square = square * b
    choked = np.sqrt(max(square, 1e-12))
    return choked, 0.5 * by_depth / choked


@kernel
def _brought(tables, row, position):
    """Momentum over density that a stream brings, m4/s2; beyond its table the conduit is full: as the flow's square."""
    if position < END_INTERVALS:
        return _bound(tables, row, position)[0]
    return tables[row, END_INTERVALS] * (position / END_INTERVALS) ** 2


@kernel
def _carried(choked, by_level, brought, area, breadth):
    """Greatest velocity of an entry into which a stream runs, and its slope by the node's level.

    choked : without a stream, with its slope. A stream that arrives faster brings its momentum `brought` (over
    density), shared by all that leaves: u² = brought/A. Either flow rises with the level, and so does the greater of
    both: one level for every flow. (A smooth passage between them falls on its way, and the level leaps.)
    """
    speed = np.sqrt(brought / area)
    if speed <= choked:
        return choked, by_level
    return speed, -0.5 * speed * breadth / area


@kernel
def discharging_ends(grid, h, moved, terms, u, flow, entering):
    """Velocity and flow out of the ends of pipes into nodes and outfalls, and their derivatives, as `inner_faces`.

    A pipe that pours into a lower level falls free: the velocity is that of the actual tail water, but no more than the
    greater of the undisturbed one and that of the drawdown curve. A normal-depth outfall draws with the gradient of the
    pipe; full, with its grade line at the soffit. A flap passes flow out of the pipe only. What has inertia is the flow
    of the last half cell, so the velocity is that of the cell's own area: were it that at the end, whose area follows
    the tail water, a rising level would draw more flow at once, and small manholes would swing of themselves.
    Inside, out of the pipe counts as positive. Returns how many ends water enters by, noted in `entering`, for
    `entering_ends`.
    """
    weight, inertia, u_hat = terms[WEIGHT], terms[INERTIA], terms[U_HAT]
    d_left, d_right, u_left, u_right = terms[D_LEFT], terms[D_RIGHT], terms[U_LEFT], terms[U_RIGHT]
    wetted, heights, pers, face, end = grid.section_wetted, grid.section_height, grid.section_per, grid.face, grid.end
    faces, cells, nodes = grid.end_index[FACE], grid.end_index[CELL], grid.end_index[NODE]
    before, after, bed, cell_row = grid.face_index[BEFORE], grid.face_index[AFTER], grid.pipe[BED], grid.pipe_row
    section, outward, free_exit = grid.face_index[SECTION], grid.end_index[OUTWARD], grid.exit
    count = 0
    for e in range(faces.size):
        f, sign = faces[e], end[SIGN, e]
        if abs(moved[cells[e]]) < NEARLY_STILL and abs(moved[nodes[e]]) < NEARLY_STILL:
            continue
        level, beyond = h[cells[e]], h[nodes[e]]
        s_index = section[f]
        height, per = heights[s_index], pers[s_index]
        w, c, per_dx = weight[f], inertia[f], face[PER_DX, f]
        pull = GRAVITY * w * per_dx
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
        if drive < 0.0 and beyond > z and not outward[e]:
            entering[count] = e
            count += 1
            continue
        y = level - end[CELL_BED, e]
        if drive < 0.0 or y <= 0.0:
            u[f] = flow[f] = d_left[f] = d_right[f] = u_left[f] = u_right[f] = 0.0
            terms[NARROW, f] = 1.0
            continue
        own = min(y, height)
        inside, further = (before[f], before[f - 1]) if sign > 0.0 else (after[f], after[f + 1])
        half, by_own, by_ahead = 0.0, 1.0, 0.0
        if beyond - z > own and bed[inside] == end[CELL_BED, e]:
            behind = h[cell_row[further]] - bed[further]
            half, by_own, by_ahead = _face_depth(own, behind, 1.0, beyond - z, 2.0, height)
            # no wave runs up a rapid stream: the tail water does not draw on its depth
            calm = min(max(2.0 - 2.0 * u[f] * u[f] / (GRAVITY * own), 0.0), 1.0)
            half, by_own, by_ahead = calm * half, 1.0 + calm * (by_own - 1.0), calm * by_ahead
        here, here_breadth, r43, r43_slope = _wetted(y, height, per, wetted, s_index)
        area = here
        if half != 0.0:
            area, _, _, _ = _wetted(own + half, height, per, wetted, s_index)
            _, _, r43, r43_slope = _wetted(own + 0.5 * half, height, per, wetted, s_index)
        narrow = here / area
        middle = 2.0 * narrow / (1.0 + narrow)  # the same, of the mean of both areas
        inverse = 1.0 / r43
        friction = w * face[GN2, f] * inverse * middle * middle
        lost = 0.5 * w * per_dx * end[LOST_OUT, e] * narrow * narrow
        # what the velocity head gives back follows the iteration: as a negative resistance it might have no root
        regained = max(-lost, 0.0) * u[f] * u[f]
        terms[ENTERED, f] = level - bed[inside]
        v, s = _speed(drive + regained, c, friction + max(lost, 0.0))
        if normal <= 0.0 and tail < z + own:
            square, step = _bound(free_exit, e, y * end[EXIT_PER, e])
            free = np.sqrt(square)
            if v > free:
                above = max(y - height, 0.0)
                v_even, s_even = _speed(start + pull * (level - z - y + above), c, friction)
                if v_even < v:
                    by_tail = 0.0
                    if v_even > free:
                        v, s, by_cell = v_even, s_even, (1.0 if above > 0.0 else 0.0)
                    else:
                        v, s, friction = free, 1.0, 0.0
                        by_cell = 0.5 * step * end[EXIT_PER, e] / free / pull
        eased = v * abs(v) * friction * r43_slope * inverse / s
        u_cell = pull / s * by_cell + 0.5 * (1.0 + by_own) * eased
        u_node = 0.5 * by_ahead * eased - pull / s * by_tail
        d_cell, d_node = max(here * u_cell + here_breadth * v, 0.0), min(here * u_node, 0.0)
        terms[NARROW, f] = narrow
        u[f] = sign * v
        flow[f] = sign * here * v
        # a cell on the right (an upstream end) sees both derivatives with the other sign
        d_left[f], d_right[f] = (d_cell, d_node) if sign > 0.0 else (-d_node, -d_cell)
        u_left[f], u_right[f] = (u_cell, u_node) if sign > 0.0 else (-u_node, -u_cell)
    return count


@kernel
def entering_ends(grid, h, terms, u, flow, resting, entering):
    """The same of the ends that water enters by, once what discharges is known.

    It enters at no more than the critical flow of what the node's level leaves, unless a benched node brings a faster
    stream. resting : of each row, share of what comes to it that conduits do not bring (see `note_resting`).
    """
    weight, inertia, u_hat = terms[WEIGHT], terms[INERTIA], terms[U_HAT]
    d_left, d_right, u_left, u_right = terms[D_LEFT], terms[D_RIGHT], terms[U_LEFT], terms[U_RIGHT]
    wetted, heights, pers, face, end = grid.section_wetted, grid.section_height, grid.section_per, grid.face, grid.end
    faces, cells, nodes = grid.end_index[FACE], grid.end_index[CELL], grid.end_index[NODE]
    section, entries, streams = grid.face_index[SECTION], grid.end_index[ENTRY], grid.end_index[STREAM]
    entry_bound, entry_per, stream_table = grid.entry_bound, grid.entry_per, grid.stream
    for e in entering:
        f, sign = faces[e], end[SIGN, e]
        s_index = section[f]
        height, per = heights[s_index], pers[s_index]
        w, c, per_dx = weight[f], inertia[f], face[PER_DX, f]
        pull = GRAVITY * w * per_dx
        y = h[nodes[e]] - end[END_BED, e]
        drive = sign * u_hat[f] + pull * (h[cells[e]] - h[nodes[e]])
        at_rest = resting[nodes[e]]
        lost = end[LOST_IN, e] + at_rest
        heads = lost / GRAVITY
        _, _, r43, r43_slope = _wetted(max(y - 0.5 * heads * u[f] * u[f], 0.5 * y), height, per, wetted, s_index)
        inverse = 1.0 / r43
        friction = w * face[GN2, f] * inverse
        v, s = _speed(drive, c, friction + 0.5 * w * per_dx * lost)
        eased = v * abs(v) * friction * r43_slope * inverse / s
        u_cell = pull / s
        u_node = -u_cell
        fastest, by_node = _choked(entry_bound, entry_per, entries[e], y, at_rest, -v)
        if -v > fastest:
            stream = streams[e]
            if stream >= 0:
                arrives = flow[faces[stream]] * end[SIGN, stream]
                if arrives > 0.0:
                    area, breadth, _, _ = _wetted(y, height, per, wetted, s_index)
                    brought = _brought(stream_table, stream, arrives * end[STREAM_PER, stream])
                    fastest, by_node = _carried(fastest, by_node, brought, area, breadth)
            if -v > fastest:
                v, u_cell, u_node, eased = -fastest, 0.0, -by_node, 0.0
        terms[NARROW, f] = 1.0
        terms[ENTERED, f] = entered = max(y - 0.5 * heads * v * v, 0.5 * y)
        area, breadth, _, _ = _wetted(entered, height, per, wetted, s_index)
        # the faster the water, the lower the start of the conduit
        by_speed = max(area - breadth * heads * v * v, 0.0)
        d_cell, d_node = by_speed * u_cell, by_speed * u_node + min(by_speed * eased + breadth * v, 0.0)
        u_node += eased
        u[f] = sign * v
        flow[f] = sign * area * v
        d_left[f], d_right[f] = (d_cell, d_node) if sign > 0.0 else (-d_node, -d_cell)
        u_left[f], u_right[f] = (u_cell, u_node) if sign > 0.0 else (-u_node, -u_cell)


@kernel
def note_resting(grid, flow, inflow, dt, arriving, joining, resting):
    """Share of what comes to the nodes that no conduit brings: it has no velocity along those that it leaves by.

    Of nodes in which all comes to rest, and of those where no conduit can bring anything, it is 1 from the start.
    inflow : from outside, m3 in the step of `dt` s. arriving, joining : scratch space by row, m3/s.
    """
    faces, nodes, mixes, sign = grid.end_index[FACE], grid.end_index[NODE], grid.end_index[MIXES], grid.end[SIGN]
    left, right = grid.left, grid.right
    for e in range(faces.size):
        arriving[nodes[e]], joining[nodes[e]] = 0.0, _NOTHING + max(inflow[nodes[e]], 0.0) / dt
    for f in range(grid.face.shape[1], flow.size):
        if flow[f] > 0.0:
            joining[right[f]] += flow[f]
        else:
            joining[left[f]] -= flow[f]
    for e in range(faces.size):
        arriving[nodes[e]] += max(sign[e] * flow[faces[e]], 0.0)
    for e in range(faces.size):
        if mixes[e]:
            i = nodes[e]
            resting[i] = joining[i] / (joining[i] + arriving[i])
