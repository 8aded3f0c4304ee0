"""All that enters at nodes during a storm: runoff, inflows of the nodes' own, and what inlets pass on."""

from dataclasses import dataclass

import numpy as np

from ..elements import Constant, Hydrograph, Inlet, Outfall, Pattern
from ..errors import ModelError
from ..hydraulics.inflow import Inflow
from ..model.network import Network

__all__ = ["add_inflows", "base_flows", "pass_inlets", "swing"]

_DAY = 86_400.0
_PATTERN_DAYS = 3  # over which a daily pattern is followed; its mean goes on after them


@dataclass(frozen=True)
class _Line:
    """Flow joined by straight lines; a time given twice is a jump; nothing before, `after` behind."""

    times: np.ndarray
    flow: np.ndarray
    after: float = 0.0

    def sides(self, at: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Flow just before and just after each time."""
        padded_t = np.concatenate([[-np.inf], self.times, [np.inf]])
        padded_q = np.concatenate([[0.0], self.flow, [self.after]])
        first = np.searchsorted(padded_t, at, side="left")
        last = np.searchsorted(padded_t, at, side="right") - 1
        hit = padded_t[first] == at
        lower, upper = last, np.minimum(last + 1, len(padded_t) - 1)
        finite = np.isfinite(padded_t[lower]) & np.isfinite(padded_t[upper])
        span = np.where(finite, padded_t[upper] - padded_t[lower], 1.0)
        part = np.where(finite, (at - padded_t[lower]) / span, 0.0)
        inside = padded_q[lower] + part * (padded_q[upper] - padded_q[lower])
        between = np.where(finite, inside, np.where(np.isfinite(padded_t[lower]), self.after, 0.0))
        left = np.where(hit & (first > 1), padded_q[first], np.where(hit, 0.0, between))
        right = np.where(hit & (last < len(padded_t) - 2), padded_q[last], np.where(hit, self.after, between))
        return left, right


def _line(inflow: Constant | Hydrograph | Pattern, began: float = 0.0) -> _Line:
    """An inflow as it goes on from `began` s."""
    if isinstance(inflow, Constant):
        return _Line(np.array([0.0]), np.array([inflow.flow]), inflow.flow)
    if isinstance(inflow, Hydrograph):
        times, flow = np.array([r.time for r in inflow.rows]) - began, np.array([r.flow for r in inflow.rows])
        if times[0] < 0.0 <= times[-1]:
            times, flow = np.append(0.0, times[times > 0.0]), np.append(np.interp(0.0, times, flow), flow[times > 0.0])
        return _Line(times, flow) if times[-1] >= 0.0 else _Line(np.zeros(1), np.zeros(1))
    part = _DAY / len(inflow.factors)
    begin = (inflow.start * 3600.0 + began) % _DAY
    edges = np.arange(0, _PATTERN_DAYS * len(inflow.factors) + 1) * part - begin % part
    which = (np.arange(len(edges) - 1) + int(begin // part)) % len(inflow.factors)
    flow = inflow.mean * np.array(inflow.factors)[which]
    times = np.repeat(edges, 2)[1:-1]
    keep = times >= 0.0
    mean = inflow.mean * float(np.mean(inflow.factors))
    return _Line(np.append(0.0, times[keep]), np.append(flow[0], np.repeat(flow, 2)[keep]), mean)


def base_flows(network: Network) -> dict[str, float]:
    """Flow into each node that runs before a storm begins: constants, and patterns at their first hour."""
    base: dict[str, float] = {}
    for id_, node in network.nodes.items():
        if isinstance(node, Outfall):
            continue
        total = sum(float(_line(inflow).flow[0]) for inflow in node.inflows if not isinstance(inflow, Hydrograph))
        if total > 0.0:
            base[id_] = total
    return base


def swing(network: Network) -> float:
    """The most that daily patterns bring above what they bring in the hour in which a storm begins, m3/s."""
    patterns = [
        _line(inflow).flow
        for node in network.nodes.values()
        if not isinstance(node, Outfall)
        for inflow in node.inflows
        if isinstance(inflow, Pattern)
    ]
    return float(sum(flow.max() - flow[0] for flow in patterns))


def add_inflows(network: Network, runoff: Inflow, began: float = 0.0) -> Inflow:
    """Runoff and the inflows of the nodes' own from `began` s, on one row of times."""
    own = {
        id_: [_line(inflow, began) for inflow in node.inflows]
        for id_, node in sorted(network.nodes.items())
        if not isinstance(node, Outfall) and node.inflows
    }
    if not own:
        return runoff
    nodes = sorted({*runoff.nodes, *own})
    lines = {node: list(own.get(node, [])) for node in nodes}
    for j, node in enumerate(runoff.nodes):
        lines[node].append(_Line(runoff.times, runoff.flow[:, j], float(runoff.after[j])))
    marks = np.unique(np.concatenate([[0.0], *(line.times for group in lines.values() for line in group)]))
    marks = marks[marks >= 0.0]
    left, right = np.zeros((len(marks), len(nodes))), np.zeros((len(marks), len(nodes)))
    after = np.zeros(len(nodes))
    for j, node in enumerate(nodes):
        for line in lines[node]:
            a, b = line.sides(marks)
            left[:, j] += a
            right[:, j] += b
            after[j] += line.after
    left[0] = right[0]  # a storm begins with what already runs
    jumps = np.any(np.abs(left - right) > 1e-12, axis=1)
    order = np.sort(np.concatenate([np.arange(len(marks)) * 2, np.nonzero(jumps)[0] * 2 + 1]))
    both = np.empty((2 * len(marks), len(nodes)))
    both[0::2], both[1::2] = left, right
    ends = [line.times[-1] for group in own.values() for line in group if line.after == 0.0]
    ceases = float(max([*ends, runoff.times[-1] if runoff.times.size else 0.0]))
    return Inflow(np.repeat(marks, 2)[order], both[order], nodes, after, runoff.passed_by, ceases)


def _in_order(network: Network) -> list[str]:
    """Inlets, each before the one that it passes on to."""
    inlets = {id_: node for id_, node in network.nodes.items() if isinstance(node, Inlet)}
    order: list[str] = []
    for id_ in sorted(inlets):
        chain: list[str] = []
        at: str | None = id_
        while at in inlets and at not in order:
            if at in chain:
                raise ModelError(
                    network.label(at), "bypass", "its bypass leads back to itself", "let one of them pass on elsewhere"
                )
            chain.append(at)
            at = inlets[at].bypass
        order = [*chain, *order]
    return order


def pass_inlets(network: Network, inflow: Inflow) -> Inflow:
    """Cut the inflow of every inlet at its capacity and pass the rest on, at once, to the node it names.

    Raises
    ------
    ModelError
        When inlets pass on in a circle.
    """
    times, after = inflow.times, dict(zip(inflow.nodes, inflow.after, strict=True))
    flows = {node: inflow.flow[:, j] for j, node in enumerate(inflow.nodes)}
    passed_by = inflow.passed_by
    for id_ in _in_order(network):
        inlet = network.nodes[id_]
        assert isinstance(inlet, Inlet)
        if id_ not in flows or not np.any(flows[id_] > inlet.capacity):
            continue
        over = flows[id_] - inlet.capacity
        cross = np.nonzero((over[:-1] * over[1:] < 0.0) & (np.diff(times) > 0.0))[0]
        part = over[cross] / (over[cross] - over[cross + 1])
        extra = times[cross] + part * np.diff(times)[cross]
        for node, flow in flows.items():
            flows[node] = np.insert(flow, cross + 1, flow[cross] + part * (flow[cross + 1] - flow[cross]))
        times = np.insert(times, cross + 1, extra)
        rest = np.maximum(flows[id_] - inlet.capacity, 0.0)
        flows[id_] = flows[id_] - rest
        if inlet.bypass is None or isinstance(network.nodes[inlet.bypass], Outfall):
            passed_by += float(np.trapezoid(rest, times))
        else:
            flows[inlet.bypass] = flows.get(inlet.bypass, np.zeros(len(times))) + rest
            after.setdefault(inlet.bypass, 0.0)
    nodes = sorted(flows)
    columns = np.array([flows[node] for node in nodes]).T.reshape(len(times), len(nodes))
    return Inflow(times, columns, nodes, np.array([after[node] for node in nodes]), passed_by, inflow.ceases)
