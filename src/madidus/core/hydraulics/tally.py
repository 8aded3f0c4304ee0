"""What stores give back and what passes by given times: counted as the storm runs."""

from typing import NamedTuple

import numpy as np

from ..compiled import routine

__all__ = ["Tally", "make_tally", "note_tally"]

_HALF = 0.5


class Tally(NamedTuple):
    """Stores by row: volumes at rest, at the peak and at the end of the last step, m3; time by which half of the rise
    was given back, s, nan until then. marks : s; passed : float64[mark, flow], m3 by then.
    """

    stores: np.ndarray
    rest: np.ndarray
    peak: np.ndarray
    last: np.ndarray
    half: np.ndarray
    marks: np.ndarray
    passed: np.ndarray


def make_tally(stores: np.ndarray, rest: np.ndarray, marks: np.ndarray, flows: int) -> Tally:
    """Nothing counted yet. stores : rows; rest : float64[row], m3; marks : s, rising."""
    own = rest[stores]
    return Tally(
        stores, own.copy(), own.copy(), own.copy(), np.full(stores.size, np.nan), marks,
        np.full((marks.size, flows), np.nan),
    )  # fmt: skip


@routine
def note_tally(tally, ledger, passed, t, used):  # type: ignore[no-untyped-def]
    """Note the step of `used` s that ended at t, after its results have become the state."""
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
    for m in range(tally.marks.size):
        if t == tally.marks[m]:
            tally.passed[m] = passed
