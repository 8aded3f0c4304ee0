"""Whether water finds an outfall."""

from collections.abc import Iterator

from ..elements import Outfall
from ..model.project import Project
from .finding import Finding

__all__ = ["outlets"]


def outlets(project: Project) -> Iterator[Finding]:
    """Whether everything has a way to an outfall."""
    network = project.option.network
    if not network.links:
        yield Finding("no-links", "stops", None, "links", "the network has no pipe", "add a pipe to an outfall")
        return
    into: dict[str, list[str]] = {}
    for link in network.links.values():
        into.setdefault(link.downstream, []).append(link.upstream)
    reached = {id_ for id_, node in network.nodes.items() if isinstance(node, Outfall)}
    if not reached:
        yield Finding("no-outfall", "stops", None, "nodes", "the network has no outfall", "end a pipe at an outfall")
    front = list(reached)
    while front:
        for above in into.get(front.pop(), []):
            if above not in reached:
                reached.add(above)
                front.append(above)
    for part in network.parts():
        cut_off = sorted((network.nodes[id_].name, id_) for id_ in part if id_ not in reached)
        if not cut_off:
            continue
        if len(cut_off) == len(part) > 1:
            names = ", ".join(name for name, _ in cut_off[:4]) + (" …" if len(cut_off) > 4 else "")
            yield Finding(
                "island", "look", cut_off[0][1], "links", f"an island without an outfall: {names}",
                "join it to the network, or end it at an outfall of its own",
            )  # fmt: skip
            continue
        for name, id_ in cut_off:
            yield Finding("no-way-out", "look", id_, "links", f"{name} has no way to an outfall", "add a pipe from it")
    for id_, link in network.links.items():
        if isinstance(network.nodes[link.upstream], Outfall):
            yield Finding(
                "starts-at-outfall", "stops", id_, "upstream", f"{link.name} starts at an outfall", "turn it round"
            )
