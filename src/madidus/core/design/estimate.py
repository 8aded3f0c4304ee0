"""Storage from a limiting flow, before anything is designed: a lower bound, and what an orifice would need.

What runs off above the store enters it at once, unrouted. Least is what is left over when the limiting flow leaves from
the first drop on: no control does that, it passes its full rate only at full head. More is held where an orifice in the
floor of a store with upright sides lets it out, Q = Qmax (V / Vmax)^0.5, so that it passes the limiting flow just when
it is full.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import brentq

from ..elements import Store
from ..hydraulics.inflow import Inflow
from ..model.flow_order import reaching
from ..model.network import Network
from ..rainfall.storms import Storm
from .holding import most_by_orifice, most_by_rate

__all__ = ["Estimate", "estimates", "held_by_orifice", "held_least", "stores_above"]

_LONG = 3.0  # times that an inflow lasts, over which a store is followed
_PARTS = 2000  # of it


@dataclass(frozen=True)
class Estimate:
    """Of the storms of a row of the matrix: m3 at least, and with an orifice; each by the storm that needs most."""

    row: str
    least: float
    orifice: float
    least_storm: str
    orifice_storm: str


def estimates(
    network: Network, store: str, storms: Sequence[Storm], inflow: Mapping[str, Inflow], rate: float
) -> list[Estimate]:  # fmt: skip
    """Storage needed at a store by a limiting flow (m3/s), row by row. inflow : into nodes, by a storm's key."""
    nodes = reaching(network, store)
    found: dict[str, list[tuple[float, float, str]]] = {}
    for storm in storms:
        own = inflow[storm.key]
        columns = [j for j, node in enumerate(own.nodes) if node in nodes]
        flow = own.flow[:, columns].sum(axis=1) if columns else np.zeros(own.times.size)
        volumes = (held_least(own.times, flow, rate), held_by_orifice(own.times, flow, rate))
        found.setdefault(storm.row, []).append((*volumes, storm.key))
    rows = []
    for row, all_ in found.items():
        least, most = max(all_, key=lambda one: one[0]), max(all_, key=lambda one: one[1])
        rows.append(Estimate(row, least[0], most[1], least[2], most[2]))
    return rows


def stores_above(network: Network, store: str) -> list[str]:
    """Ids of other stores whose water comes to one: what they hold back it need not hold, and an estimate from runoff
    alone is no lower bound then.
    """
    return sorted(id_ for id_ in reaching(network, store) - {store} if isinstance(network.nodes[id_], Store))


def _even(times: np.ndarray, flow: np.ndarray) -> tuple[float, np.ndarray]:
    """Length of even parts, s, and what enters in each of them, m3. times : s; flow : m3/s, straight between."""
    if times.size < 2:
        return 1.0, np.zeros(1)
    entered = np.concatenate([[0.0], np.cumsum(0.5 * (flow[1:] + flow[:-1]) * np.diff(times))])
    edges = np.linspace(times[0], times[0] + _LONG * (times[-1] - times[0]), _PARTS + 1)
    return float(edges[1] - edges[0]), np.diff(np.interp(edges, times, entered))


def held_least(times: np.ndarray, flow: np.ndarray, rate: float) -> float:
    """The most that is held where `rate` leaves whenever there is so much, m3."""
    step, entering = _even(times, flow)
    return float(most_by_rate(entering, rate * step))


def held_by_orifice(times: np.ndarray, flow: np.ndarray, rate: float) -> float:
    """What a store with upright sides and an orifice holds that passes `rate` when it is just full, m3."""
    step, entering = _even(times, flow)
    whole = float(entering.sum())
    if whole <= 0.0 or float(flow.max(initial=0.0)) <= rate:
        return 0.0

    def beyond(full: float) -> float:
        return float(most_by_orifice(entering, rate * step, full)) - full

    low, high = 1e-6 * whole, whole
    return float(brentq(beyond, low, high, rtol=1e-6)) if beyond(low) > 0.0 else 0.0
