"""A network without coordinates laid out along its flow, so that it can be looked at."""

from .elements import Conduit
from .model.network import Network
from .order import flow_order

__all__ = ["places_along_flow"]

_STEP, _LANE = 40.0, 30.0  # m between nodes of a run where it has no length, and between runs


def places_along_flow(network: Network) -> dict[str, tuple[float, float]]:
    """East and north of every node, m: outfalls in the east, each run on a line of its own, as long as its conduits.

    The longest way up from an outfall is straight; others join it from above.
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
    lanes = 0
    for node in reversed(order):
        next_down, apart = below.get(node, ("", 0.0))
        x, y = places.get(next_down, (0.0, 0.0))
        if next_down in places and main.get(next_down) == node:
            places[node] = (x - apart, y)
        else:
            places[node], lanes = (x - apart, -_LANE * lanes), lanes + 1
    return {node: (round(x, 2), round(-y, 2)) for node, (x, y) in places.items()}
