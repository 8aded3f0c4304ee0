"""Flow order: from the heads of runs to the outfall, each run kept together."""

from ..elements import Conduit
from .network import Network

__all__ = ["flow_order", "lowest_out", "main_path", "reaching"]


def flow_order(network: Network) -> list[str]:
    """Ids of nodes so that every node comes after all that drain to it, runs kept together, by name where free."""
    below = {link.upstream: link.downstream for link in network.links.values()}
    above: dict[str, list[str]] = {}
    for link in network.links.values():
        above.setdefault(link.downstream, []).append(link.upstream)
    order: list[str] = []
    seen: set[str] = set()
    roots = sorted((i for i in network.nodes if i not in below), key=lambda i: network.nodes[i].name)
    for root in [*roots, *sorted(network.nodes)]:
        stack = [(root, False)]
        while stack:
            node, ready = stack.pop()
            if ready:
                order.append(node)
                continue
            if node in seen:
                continue
            seen.add(node)
            stack.append((node, True))
            feeders = sorted(set(above.get(node, [])), key=lambda i: network.nodes[i].name, reverse=True)
            stack.extend((feeder, False) for feeder in feeders)
    return order


def main_path(network: Network) -> list[str]:
    """Links of the longest way down to an outfall, from its head."""
    order = flow_order(network)
    out = {link.upstream: id_ for id_, link in sorted(network.links.items(), key=lambda kv: kv[1].kind != "pipe")[::-1]}
    best: dict[str, tuple[float, list[str]]] = {node: (0.0, []) for node in network.nodes}
    for node in reversed(order):
        link_id = out.get(node)
        if link_id is not None:
            link = network.links[link_id]
            length, path = best[link.downstream]
            best[node] = (length + getattr(link, "length", 0.0) * (link.kind == "pipe"), [link_id, *path])
    return max(best.values(), key=lambda item: item[0])[1]


def lowest_out(network: Network) -> dict[str, str]:
    """By node, the link by which water leaves it first: a conduit from its invert, a control from where it acts."""
    out: dict[str, tuple[float, str]] = {}
    for id_, link in sorted(network.links.items()):
        level = link.upstream_invert if isinstance(link, Conduit) else link.acts_from
        if link.upstream not in out or level < out[link.upstream][0]:
            out[link.upstream] = (level, id_)
    return {node: id_ for node, (_, id_) in out.items()}


def reaching(network: Network, node: str) -> set[str]:
    """Ids of a node and of all whose water comes to it."""
    into: dict[str, list[str]] = {}
    for link in network.links.values():
        into.setdefault(link.downstream, []).append(link.upstream)
    reached, front = {node}, [node]
    while front:
        for above in into.get(front.pop(), []):
            if above not in reached:
                reached.add(above)
                front.append(above)
    return reached
