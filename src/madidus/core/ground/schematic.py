"""A network without coordinates laid out along its flow, so that it can be looked at."""

from ..elements import Conduit
from ..model.flow_order import flow_order
from ..model.network import Network

__all__ = ["places_along_flow"]

_STEP, _LANE = 40.0, 30.0  # m between nodes of a run where it has no length, and between runs
_CLEAR = 20.0  # m kept free at both ends of a run


def places_along_flow(network: Network) -> dict[str, tuple[float, float]]:
    """East and north of every node, m: outfalls in the east, each run on a line of its own, as long as its conduits.

    The longest way up from an outfall is straight; others join it from both sides, each on the nearest lane with room.
    """
    below: dict[str, tuple[str, float]] = {}
    for link in network.links.values():
        length = link.length if isinstance(link, Conduit) else _STEP / 4.0
        below.setdefault(link.upstream, (link.downstream, max(length, _STEP / 4.0)))
    order = flow_order(network)
    upward: dict[str, float] = dict.fromkeys(network.nodes, 0.0)
    main: dict[str, str] = {}
    for node in order:
        if node in below:
            down, length = below[node]
            if upward[node] + length > upward[down]:
                upward[down], main[down] = upward[node] + length, node
    places: dict[str, tuple[float, float]] = {}
    lanes = _Lanes()
    for node in reversed(order):
        next_down, apart = below.get(node, ("", 0.0))
        x, y = places.get(next_down, (0.0, 0.0))
        if next_down in places and main.get(next_down) == node:
            places[node] = (x - apart, y)
        else:
            at = lanes.take(round(y / _LANE), x - apart - upward[node], x, next_down in places)
            places[node] = (x - apart, _LANE * at)
    return {node: (round(x, 2), round(y, 2)) for node, (x, y) in places.items()}


class _Lanes:
    """Which stretches of which lanes are taken; lanes count upwards from that of the first outfall."""

    def __init__(self) -> None:
        self._taken: dict[int, list[tuple[float, float]]] = {}

    def take(self, beside: int, head: float, foot: float, joins: bool) -> int:
        """The nearest free lane for a run from head to foot, m: one from which the way down to the run that it joins
        crosses no other, where there is one. A run that joins none begins beyond all others.
        """
        used = sorted(self._taken) or [0]
        near = [beside + side * off for off in range(1, used[-1] - used[0] + 2) for side in (1, -1)]
        free = [lane for lane in near if joins and self._free(lane, head, foot)]
        beyond = used[-1] + 1 if self._taken else 0
        lane = next((lane for lane in free if self._open(beside, lane, foot)), free[0] if free else beyond)
        self._taken.setdefault(lane, []).append((head - _CLEAR, foot + _CLEAR))
        return lane

    def _free(self, lane: int, head: float, foot: float) -> bool:
        return all(foot <= a or head >= b for a, b in self._taken.get(lane, []))

    def _open(self, beside: int, lane: int, at: float) -> bool:
        between = range(min(beside, lane) + 1, max(beside, lane))
        return all(self._free(other, at, at) for other in between)
