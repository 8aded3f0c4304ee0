"""What stores take and give back, what passes by given times, how long conduits are surcharged: counted as a storm
runs.
"""

from typing import NamedTuple

import numpy as np

from ..numerics.compiled import routine
from .layout import Flattened
from .work import INFLOW, LEDGER, LEVEL

__all__ = ["Tally", "make_tally", "note_tally"]

_HALF = 0.5


class Tally(NamedTuple):
    """Stores by row: volumes at rest, at the peak and at the end of the last step, m3; time by which half of the rise
    was given back, s, nan until then. entering, leaving : float64[2, store], greatest flow in and out, m3/s, and when,
    s; without infiltration and lost floods. joined : int64[3, place], faces that end at a store, its place, and +1
    where they lead into it, −1 out of it. marks : s; passed : float64[mark, flow], m3 by then. energy :
    float64[station], J, in the order of `Grid.power`. place, soffit, start : as in `Soffits`; above : float64[conduit],
    m by which water stood above the soffit at most at the end of the last step; surcharged : float64[conduit], s during
    which it did.
    """

    stores: np.ndarray
    rest: np.ndarray
    peak: np.ndarray
    last: np.ndarray
    half: np.ndarray
    entering: np.ndarray
    leaving: np.ndarray
    joined: np.ndarray
    marks: np.ndarray
    passed: np.ndarray
    energy: np.ndarray
    place: np.ndarray
    soffit: np.ndarray
    start: np.ndarray
    above: np.ndarray
    surcharged: np.ndarray


def make_tally(flat: Flattened, level: np.ndarray, rest: np.ndarray, marks: np.ndarray, flows: int) -> Tally:
    """Nothing counted yet. level : float64[row], m; rest : float64[row], m3; marks : s, rising. flows : in all, of
    faces and outfalls.
    """
    stores = np.array([flat.node_row[id_] for id_ in flat.storage], dtype=np.int64)
    own, soffits = rest[stores], flat.soffits
    counts = np.zeros(len(soffits.conduits))
    above = counts.copy()
    if counts.size:
        above = np.maximum.reduceat(level[soffits.row] - soffits.level, soffits.start[:-1])
    return Tally(
        stores, own.copy(), own.copy(), own.copy(), np.full(stores.size, np.nan), np.zeros((2, stores.size)),
        np.zeros((2, stores.size)), _joined(flat, stores), marks, np.full((marks.size, flows), np.nan),
        np.zeros(flat.grid.power.shape[1]), soffits.row, soffits.level, soffits.start, above, counts,
    )  # fmt: skip


def _joined(flat: Flattened, stores: np.ndarray) -> np.ndarray:
    """Ends of conduits and controls at stores, as in `Tally.joined`."""
    grid = flat.grid
    place = np.full(grid.left.size + grid.cells + 1, -1)
    place[stores] = np.arange(stores.size)
    spans = np.array(list(flat.pipe_faces.values()), dtype=np.int64).reshape(-1, 2)
    first, last = spans[:, 0], spans[:, 1]
    controls = np.array(list(flat.control_face.values()), dtype=np.int64)
    out_of, into = np.concatenate([first, controls]), np.concatenate([last, controls])
    leaving, entering = place[grid.left[out_of]], place[grid.right[into]]
    faces = np.concatenate([out_of[leaving >= 0], into[entering >= 0]])
    own = np.concatenate([leaving[leaving >= 0], entering[entering >= 0]])
    sign = np.repeat([-1, 1], [int((leaving >= 0).sum()), int((entering >= 0).sum())])
    return np.array([faces, own, sign], dtype=np.int64).reshape(3, -1)


@routine
def _note_surcharge(tally, level, used):
    for c in range(tally.above.size):
        now, before = -np.inf, tally.above[c]
        for p in range(tally.start[c], tally.start[c + 1]):
            now = max(now, level[tally.place[p]] - tally.soffit[p])
        if now > 0.0 and before > 0.0:
            tally.surcharged[c] += used
        elif now > 0.0 or before > 0.0:  # it passed the soffit on the way
            tally.surcharged[c] += used * max(now, before) / abs(now - before)
        tally.above[c] = now


@routine
def note_tally(tally, cell, flow, passed, t, used):
    """Note the step of `used` s that ended at t, after its results have become the state."""
    ledger = cell[LEDGER]
    enters, leaves = np.zeros(tally.stores.size), np.zeros(tally.stores.size)
    for k in range(tally.stores.size):
        enters[k] = cell[INFLOW, tally.stores[k]] / used
    for j in range(tally.joined.shape[1]):
        k, into = tally.joined[1, j], tally.joined[2, j] * flow[tally.joined[0, j]]
        if into > 0.0:
            enters[k] += into
        else:
            leaves[k] -= into
    for k in range(tally.stores.size):
        now, before = ledger[tally.stores[k]], tally.last[k]
        if now > tally.peak[k]:
            tally.peak[k] = now
            tally.half[k] = np.nan
        elif np.isnan(tally.half[k]):
            half = tally.rest[k] + _HALF * (tally.peak[k] - tally.rest[k])
            if now <= half < before:
                tally.half[k] = t - used * (half - now) / (before - now)
        tally.last[k] = now
        if enters[k] > tally.entering[0, k]:
            tally.entering[0, k], tally.entering[1, k] = enters[k], t
        if leaves[k] > tally.leaving[0, k]:
            tally.leaving[0, k], tally.leaving[1, k] = leaves[k], t
    _note_surcharge(tally, cell[LEVEL], used)
    for m in range(tally.marks.size):
        if t == tally.marks[m]:
            tally.passed[m] = passed
