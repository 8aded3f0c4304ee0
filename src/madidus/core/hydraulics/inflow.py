"""What enters a network at its nodes during a storm."""

from dataclasses import dataclass

import numpy as np
from numba import njit

__all__ = ["Inflow", "inflow_until"]


@dataclass(frozen=True)
class Inflow:
    """Flows into nodes, linear between `times`; a time given twice is a jump.

    times : float64[t], s, rising. flow : float64[t, node], m3/s. nodes : ids, one for each column. after :
    float64[node], m3/s that goes on when the times have ended. passed_by : m3 that no inlet and no node took.
    """

    times: np.ndarray
    flow: np.ndarray
    nodes: list[str]
    after: np.ndarray
    passed_by: float = 0.0

    @classmethod
    def steady(cls, flows: dict[str, float]) -> "Inflow":
        """A flow into each node without end."""
        values = np.array(list(flows.values()), dtype=np.float64)
        return cls(np.array([0.0, 1.0]), np.stack([values, values]), list(flows), values)

    def stops(self) -> np.ndarray:
        """Times on which steps must land: jumps above a tenth of the greatest inflow, and peaks of the total."""
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
        return np.unique(np.array([*jumps, *peaks, self.times[-1]] if len(self.times) else [], dtype=np.float64))


@njit(cache=True, nogil=True, error_model="numpy")
def inflow_until(times, flow, after, cumulative, pointer, t, out_volume, out_flow, rows):  # type: ignore[no-untyped-def]
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
