"""The sparse solver against a dense one."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from madidus.core.hydraulics.elimination import minimum_degree_order, plan, solve


@settings(max_examples=30, deadline=None)
@given(n=st.integers(2, 25), extra=st.integers(0, 10), seed=st.integers(0, 9999))
def test_solves_any_connected_pattern(n, extra, seed):
    rng = np.random.default_rng(seed)
    edges = [(k, int(rng.integers(0, k))) for k in range(1, n)]
    edges += [tuple(rng.choice(n, 2, replace=False).tolist()) for _ in range(extra)]
    rank = np.argsort(minimum_degree_order(n, edges))
    edges = [(int(rank[a]), int(rank[b])) for a, b in edges]
    scheme = plan(n, edges)
    dense = np.zeros((n, n))
    for a, b in edges:
        dense[a, b], dense[b, a] = -rng.uniform(0.1, 1), -rng.uniform(0.1, 1)
    dense[np.diag_indices(n)] = np.abs(dense).sum(axis=0) + np.abs(dense).sum(axis=1) + 0.1
    below = scheme.column.size
    matrix = np.zeros(2 * below + 1)
    for i in range(n):
        for p in range(scheme.start[i], scheme.start[i + 1]):
            matrix[p], matrix[below + p] = dense[i, scheme.column[p]], dense[scheme.column[p], i]
    right = rng.normal(size=n)
    answer = right.copy()
    solve(scheme.start, scheme.column, scheme.pair_start, scheme.target, dense.diagonal().copy(), matrix, answer)
    assert dense @ answer == pytest.approx(right, abs=1e-9)


def test_a_tree_has_no_fill():
    edges = [(k, (k - 1) // 2) for k in range(1, 63)]
    rank = np.argsort(minimum_degree_order(63, edges))
    assert plan(63, [(int(rank[a]), int(rank[b])) for a, b in edges]).column.size == 62
