"""Direct solution of the sparse linear systems: order and fill found once for each network.

Minimum-degree order (Tinney and Walker, 1967); the matrix has a symmetric pattern and dominates by its diagonal, so no
pivoting is needed. A tree has no fill. Unknowns are renumbered in elimination order before the solver starts.
"""

import heapq
from typing import NamedTuple

import numpy as np

from ..numerics.compiled import kernel

__all__ = ["Elimination", "minimum_degree_order", "plan", "solve", "solve_again"]


class Elimination(NamedTuple):
    """The pattern after elimination, unknowns numbered in elimination order."""

    start: np.ndarray  # int32[n + 1], range of the off-diagonal entries of row i
    column: np.ndarray  # int32[entry], column > row of the entry
    pair_start: np.ndarray  # int32[entry + 1], range of the updates that an entry causes
    target: np.ndarray  # int32[pair], entry changed by the pair (entry, later entry of the same row)


def minimum_degree_order(n: int, edges: list[tuple[int, int]]) -> list[int]:
    """Elimination order of `n` unknowns coupled by `edges`; ties go to the lower number, so the order is stable."""
    neighbours: list[set[int]] = [set() for _ in range(n)]
    for a, b in edges:
        if a != b:
            neighbours[a].add(b)
            neighbours[b].add(a)
    heap = [(len(s), i) for i, s in enumerate(neighbours)]
    heapq.heapify(heap)
    done = [False] * n
    order: list[int] = []
    while heap:
        degree, i = heapq.heappop(heap)
        if done[i] or degree != len(neighbours[i]):
            continue
        done[i] = True
        order.append(i)
        around = neighbours[i]
        for j in around:
            neighbours[j].discard(i)
            neighbours[j] |= around - {j}
            heapq.heappush(heap, (len(neighbours[j]), j))
    return order


def plan(n: int, edges: list[tuple[int, int]]) -> Elimination:
    """Symbolic elimination of a system already numbered in elimination order."""
    later: list[set[int]] = [set() for _ in range(n)]
    for a, b in edges:
        if a != b:
            later[min(a, b)].add(max(a, b))
    for i in range(n):
        for j in later[i]:
            later[j] |= {k for k in later[i] if k > j}
    start = np.zeros(n + 1, np.uint32)
    columns: list[int] = []
    entry_of: dict[tuple[int, int], int] = {}
    for i in range(n):
        for j in sorted(later[i]):
            entry_of[i, j] = len(columns)
            columns.append(j)
        start[i + 1] = len(columns)
    pair_start = np.zeros(len(columns) + 1, np.uint32)
    targets: list[int] = []
    for i in range(n):
        row = sorted(later[i])
        for position, j in enumerate(row):
            targets.extend(entry_of[j, k] for k in row[position + 1 :])
            pair_start[entry_of[i, j] + 1] = len(targets)
    return Elimination(start, np.array(columns, np.uint32), pair_start, np.array(targets, np.uint32))


@kernel
def solve(start, column, pair_start, target, diagonal, matrix, rhs):
    """Eliminate and substitute back in place; the solution replaces `rhs`.

    diagonal, rhs : float64[n or more]; matrix : float64[2 entry + 1], first a[i, j] for j > i, then a[j, i].
    """
    n, below = start.size - 1, column.size
    for i in range(n):
        inverse = 1.0 / diagonal[i]
        diagonal[i] = inverse
        for p in range(start[i], start[i + 1]):
            j = column[p]
            factor = matrix[below + p] * inverse
            matrix[below + p] = factor
            diagonal[j] -= factor * matrix[p]
            rhs[j] -= factor * rhs[i]
            pairs = pair_start[p]
            for q in range(p + 1, start[i + 1]):
                t = target[pairs + q - p - 1]
                matrix[t] -= factor * matrix[q]
                matrix[below + t] -= matrix[below + q] * inverse * matrix[p]
    _back(start, column, diagonal, matrix, rhs)


@kernel
def _back(start, column, diagonal, matrix, rhs):
    for i in range(start.size - 2, -1, -1):
        total = rhs[i]
        for p in range(start[i], start[i + 1]):
            total -= matrix[p] * rhs[column[p]]
        rhs[i] = total * diagonal[i]


@kernel
def solve_again(start, column, diagonal, matrix, rhs):
    """Another right-hand side for the system that `solve` left factorised in `diagonal` and `matrix`."""
    below = column.size
    for i in range(start.size - 1):
        for p in range(start[i], start[i + 1]):
            rhs[column[p]] -= matrix[below + p] * rhs[i]
    _back(start, column, diagonal, matrix, rhs)
