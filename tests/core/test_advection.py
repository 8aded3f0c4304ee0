"""Momentum carried along a pipe, against the plain sum over momentum cells, and against what must be conserved."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from madidus.core.hydraulics.advection import advect
from madidus.core.hydraulics.flatten import flatten
from madidus.core.hydraulics.layout import LENGTH, PER_DX
from madidus.core.hydraulics.work import BARE, INERTIA, MOVED, U_HAT, WEIGHT, make_work
from tests.cases.build import network

STEP = 7.0


def two_pipes():
    """Four cells, a manhole, three cells: faces of both pipes stand side by side and must not see each other."""
    shaft = {"kind": "manhole", "cover": 15, "invert": 10.0}
    pipe = {"kind": "pipe", "section": {"shape": "circular", "diameter": 0.6}}
    return flatten(
        network(
            {"a": shaft, "b": shaft, "o": {"kind": "outfall", "invert": 9.0}},
            {"p": {**pipe, "upstream": "a", "downstream": "b", "length": 110, "upstream_invert": 11,
                   "downstream_invert": 10.5},
             "q": {**pipe, "upstream": "b", "downstream": "o", "length": 75, "upstream_invert": 10.5,
                   "downstream_invert": 10.1}},
        )
    )  # fmt: skip


def limited(rise, before):
    """Half the rise, limited (van Leer, 1974), at most to its half."""
    if rise * before <= 0.0:
        return 0.0
    half = rise * before / (rise + before)
    return float(np.sign(half) * min(abs(half), 0.5 * abs(rise)))


def by_hand(flat, u, q, volume, bare):
    """Terms of each face: the flow into its momentum cell, and the momentum that it brings, face by face."""
    inertia, u_hat = np.ones(u.size), bare.copy()
    for id_, (first, last) in flat.pipe_faces.items():
        rows = flat.pipe_rows[id_]
        cells = [int(np.flatnonzero(flat.grid.pipe_row == r)[0]) for r in rows]
        area = [volume[r] / flat.grid.pipe[LENGTH, c] for r, c in zip(rows, cells, strict=True)]
        for f in range(first, last + 1):
            taken = brought = 0.0
            if f > first:  # through the middle of the cell above
                mean = 0.5 * (q[f - 1] + q[f])
                if mean > 0.0:
                    before = u[f - 1] - u[f - 2] if f - 1 > first else 0.0
                    taken += mean
                    brought += mean * (u[f - 1] + limited(u[f] - u[f - 1], before))
                else:
                    before = u[f] - u[f + 1] if f < last else 0.0
                    brought += mean * limited(u[f - 1] - u[f], before)
            if f < last:
                mean = 0.5 * (q[f] + q[f + 1])
                if mean <= 0.0:
                    before = u[f + 1] - u[f + 2] if f + 1 < last else 0.0
                    taken -= mean
                    brought -= mean * (u[f + 1] + limited(u[f] - u[f + 1], before))
                else:
                    before = u[f] - u[f - 1] if f > first else 0.0
                    brought -= mean * limited(u[f + 1] - u[f], before)
            beside = area[max(f - first - 1, 0)], area[min(f - first, len(area) - 1)]
            share = STEP * flat.grid.face[PER_DX, f] / (0.5 * sum(beside))
            inertia[f] += share * taken
            u_hat[f] += share * brought
    return inertia, u_hat


def carried(flat, u, q, volume, bare):
    work = make_work(flat.grid)
    work.face[WEIGHT], work.face[BARE] = STEP, bare
    work.cell[MOVED] = np.inf
    advect(flat.grid, work, u, q, volume, work.cell[MOVED])
    return work


@settings(max_examples=60, deadline=None)
@given(seed=st.integers(0, 9999), back=st.floats(0.0, 1.0))
def test_terms_are_the_plain_sum_over_momentum_cells(seed, back):
    flat, rng = two_pipes(), np.random.default_rng(seed)
    faces = flat.grid.left.size
    u = rng.uniform(-1.0 - back, 2.0, faces)
    q, bare = 0.1 * u * rng.uniform(0.5, 1.5, faces), rng.uniform(-1, 1, faces)
    volume = rng.uniform(0.5, 6.0, flat.grid.cell.shape[1])
    work = carried(flat, u, q, volume, bare)
    inertia, u_hat = by_hand(flat, u, q, volume, bare)
    pipes = flat.grid.face.shape[1]
    assert work.face[INERTIA, :pipes] == pytest.approx(inertia[:pipes], rel=1e-12)
    assert work.face[U_HAT, :pipes] == pytest.approx(u_hat[:pipes], rel=1e-12, abs=1e-12)


def test_an_even_stream_carries_nothing_and_marks_nothing_when_nothing_has_changed():
    flat = two_pipes()
    u, q = np.full(flat.grid.left.size, 0.8), np.full(flat.grid.left.size, 0.12)
    volume = np.full(flat.grid.cell.shape[1], 4.0)
    work = carried(flat, u, q, volume, u.copy())
    pipes = flat.grid.face.shape[1]
    assert work.face[U_HAT, :pipes] / work.face[INERTIA, :pipes] == pytest.approx(0.8, rel=1e-12)
    work.cell[MOVED] = 0.0
    advect(flat.grid, work, u, q, volume, work.cell[MOVED])
    assert not work.cell[MOVED].any()
    u[2] += 0.01
    advect(flat.grid, work, u, q, volume, work.cell[MOVED])
    first = flat.pipe_faces[min(flat.pipe_faces, key=lambda i: flat.pipe_faces[i])][0]
    assert np.isinf(work.cell[MOVED, flat.grid.left[first + 3]])
    assert np.isfinite(work.cell[MOVED]).any()
