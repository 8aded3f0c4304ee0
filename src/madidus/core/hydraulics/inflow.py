"""What enters a network at its nodes during a storm."""

import hashlib
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..numerics.compiled import routine

__all__ = ["Inflow", "inflow_until"]


@dataclass(frozen=True)
class Inflow:
    """Flows into nodes, linear between `times`; a time given twice is a jump.

    times : float64[t], s, rising. flow : float64[t, node], m3/s. nodes : ids, one for each column. after :
    float64[node], m3/s that goes on when the times have ended. passed_by : m3 that no inlet and no node took. ceases :
    s, before which a storm does not end; the last time, unless what follows is no part of the storm (a daily pattern).
    """

    times: np.ndarray
    flow: np.ndarray
    nodes: list[str]
    after: np.ndarray
    passed_by: float = 0.0
    ceases: float | None = None

    @classmethod
    def steady(cls, flows: dict[str, float]) -> "Inflow":
        """A flow into each node without end."""
        values = np.array(list(flows.values()), dtype=np.float64)
        return cls(np.array([0.0, 1.0]), np.stack([values, values]), list(flows), values)

    @cached_property
    def digest(self) -> str:
        """Of all but the names of its nodes."""
        h = hashlib.sha256(repr((self.passed_by, self.ceases)).encode())
        for array in (self.times, self.flow, self.after):
            h.update(repr(array.shape).encode())
            h.update(array.tobytes())
        return h.hexdigest()

    def at(self, node: str, times: np.ndarray) -> np.ndarray:
        """Flow into a node at times (s), m3/s: what comes after a jump at the moment of the jump."""
        if node not in self.nodes or not self.times.size:
            return np.zeros(times.size)
        j = self.nodes.index(node)
        return np.asarray(np.interp(times, self.times, self.flow[:, j], right=float(self.after[j])))

    @cached_property
    def stops(self) -> tuple[np.ndarray, np.ndarray]:
        """Times on which steps must land: jumps above a tenth of the greatest inflow, peaks of the total, sharp bends.

        And for each whether it is such a jump.
        """
        total = self.flow.sum(axis=1)
        top = float(np.abs(self.flow).max(initial=0.0))
        jumps = [
            self.times[k]
            for k in range(1, len(self.times))
            if self.times[k] == self.times[k - 1] and np.abs(self.flow[k] - self.flow[k - 1]).max() > 0.1 * top
        ]
        peaks, best, least = [], 0, total[0] if len(total) else 0.0
        for k in range(1, len(total)):
            if total[k] > total[best]:
                best = k
            elif total[best] - total[k] > 0.02 * total.max() and total[best] - least > 0.02 * total.max():
                peaks.append(self.times[best])
                best, least = k, total[k]
            least = min(least, total[k])
            if total[k] < total[best] and total[k] <= least:
                best = k
        if not len(self.times):
            return np.zeros(0), np.zeros(0, dtype=bool)
        stops = np.unique(np.array([*jumps, *peaks, *self._bends(total), self.times[-1]], dtype=np.float64))
        return stops, np.isin(stops, jumps)

    def _bends(self, total: np.ndarray) -> np.ndarray:
        """Times at which the total lies 4 % of its maximum or more off the line between its neighbours."""
        if len(total) < 3:
            return np.zeros(0)
        span = np.maximum(self.times[2:] - self.times[:-2], 1e-9)
        chord = total[:-2] + (total[2:] - total[:-2]) * (self.times[1:-1] - self.times[:-2]) / span
        return np.asarray(self.times[1:-1][np.abs(total[1:-1] - chord) > 0.04 * total.max()])


@routine
def inflow_until(times, flow, after, cumulative, pointer, t, out_volume, out_flow, rows):
    """Cumulative inflow of each node up to t, and the flow just before t; returns the interval that t lies in."""
    k = pointer
    while k < times.size - 2 and times[k + 1] < t:
        k += 1
    inside = times.size > 1 and t <= times[-1]
    for j in range(rows.size):
        r = rows[j]
        if inside:
            span = times[k + 1] - times[k]
            part = (t - times[k]) / span if span > 0.0 else 0.0
            value = flow[k, j] + part * (flow[k + 1, j] - flow[k, j])
            out_flow[r] = value
            out_volume[r] = cumulative[k, j] + 0.5 * (flow[k, j] + value) * (t - times[k])
        else:
            out_flow[r] = after[j]
            out_volume[r] = cumulative[-1, j] + after[j] * (t - times[-1])
    return k
