"""Where things lie on the plan: names and nodes that are there twice, drawn lengths, pipes that cross."""

import itertools
import math
from collections import Counter
from collections.abc import Iterator

import numpy as np
import shapely

from ..elements import Conduit, Pipe
from ..ground.schematic import places_along_flow
from ..model.network import Network
from ..model.project import Project
from ..quantities import Quantity, said
from .finding import Finding, Fix, setting

__all__ = ["places"]

_ABSURD = 50.0  # times the typed length: then the place is wrong, and not the length
_SAME_PLACE = 0.3  # m
_LENGTH_SHARE, _LENGTH = 0.25, 2.0  # of the drawn length, and m, by which a typed one may differ


def places(project: Project) -> Iterator[Finding]:
    """Findings of names, coordinates, lengths and crossings."""
    network = project.option.network
    yield from _names(network)
    yield from _without_places(network)
    yield from _coincident(network)
    yield from _lengths(network)
    yield from _crossings(network)


def _names(network: Network) -> Iterator[Finding]:
    for collection, elements in (("nodes", network.nodes), ("links", network.links)):
        counts = Counter(element.name for element in elements.values())
        met: Counter[str] = Counter()
        for id_, element in elements.items():
            met[element.name] += 1
            if met[element.name] < 2:
                continue
            fresh = next(name for k in range(2, 10_000) if (name := f"{element.name[:70]}-{k}") not in counts)
            counts[fresh] += 1
            yield Finding(
                "name-twice", "look", id_, "name", f"{element.kind} {element.name} is there more than once",
                "give each its own name", setting(f"call it {fresh}", collection, id_, "name", fresh),
            )  # fmt: skip


def _without_places(network: Network) -> Iterator[Finding]:
    """A network of which every node lies at one point: it came from tables without coordinates."""
    if len(network.nodes) < 2 or len({(node.x, node.y) for node in network.nodes.values()}) > 1:
        return
    patch = tuple(
        {"op": "add", "path": f"/nodes/{id_}/{axis}", "value": value}
        for id_, place in places_along_flow(network).items() for axis, value in zip("xy", place, strict=True)
    )  # fmt: skip
    yield Finding(
        "no-places", "look", None, "x", f"all {len(network.nodes)} nodes lie at one point: they have no coordinates",
        "type or paste their coordinates, or lay them out along the flow",
        Fix("lay them out along the flow", patch),
    )  # fmt: skip


def _coincident(network: Network) -> Iterator[Finding]:
    placed = list(network.nodes.items())
    if len(placed) < 2 or len({(node.x, node.y) for _, node in placed}) == 1:
        return
    points = shapely.points([(node.x, node.y) for _, node in placed])
    first, second = shapely.STRtree(points).query(points, predicate="dwithin", distance=_SAME_PLACE)
    told: set[int] = set()
    for a, b in sorted(zip(first.tolist(), second.tolist(), strict=True)):
        if a < b and b not in told:
            told.add(b)
            yield Finding(
                "same-place", "look", placed[b][0], "x",
                f"{placed[b][1].name} lies at the place of {placed[a][1].name}", "remove one of them, or move it",
            )  # fmt: skip


def _drawn(network: Network, conduit: Conduit) -> float:
    """Length on the plan, m."""
    if not conduit.bends:
        a, b = network.nodes[conduit.upstream], network.nodes[conduit.downstream]
        return math.hypot(a.x - b.x, a.y - b.y)
    return sum(math.dist(a, b) for a, b in itertools.pairwise(network.course(conduit)))


def _lengths(network: Network) -> Iterator[Finding]:
    for id_, conduit in network.links.items():
        if not isinstance(conduit, Conduit):
            continue
        drawn = _drawn(network, conduit)
        off = abs(drawn - conduit.length)
        if drawn > 0.0 and off > _LENGTH_SHARE * drawn and off > _LENGTH:
            absurd = drawn > _ABSURD * conduit.length
            yield Finding(
                "length-against-drawing", "look", id_, "length",
                said(f"{conduit.name}: typed ", Quantity(conduit.length, "m", 1), ", drawn ", Quantity(drawn, "m", 1)),
                "look at the coordinates of its ends" if absurd else "type the right length; it overrules the drawing",
                None
                if absurd
                else setting(said("take the drawn ", Quantity(drawn, "m", 2)), "links", id_, "length", round(drawn, 3)),
            )  # fmt: skip


def _crossings(network: Network) -> Iterator[Finding]:
    """Pipes whose outsides meet where they cross on the plan; joined ones do not count."""
    pipes = [
        (id_, link) for id_, link in network.links.items() if isinstance(link, Pipe) and _drawn(network, link) > 0.0
    ]
    if len(pipes) < 2:
        return
    courses = [network.course(pipe) for _, pipe in pipes]
    owner = np.repeat(np.arange(len(pipes)), [len(course) for course in courses])
    lines = np.asarray(shapely.linestrings(np.array(list(itertools.chain.from_iterable(courses))), indices=owner))
    tree = shapely.STRtree(lines)
    first, second = tree.query(lines, predicate="crosses")
    for a, b in zip(first, second, strict=True):
        (_, one), (id_, other) = pipes[a], pipes[b]
        if a >= b or {one.upstream, one.downstream} & {other.upstream, other.downstream}:
            continue
        at = shapely.intersection(lines[a], lines[b])
        if at.geom_type != "Point":
            continue
        bottoms = []
        for k, pipe in ((a, one), (b, other)):
            share = shapely.line_locate_point(lines[k], at) / max(shapely.length(lines[k]), 1e-9)
            bottoms.append(pipe.upstream_invert + share * (pipe.downstream_invert - pipe.upstream_invert))
        gap = max(bottoms[0] - (bottoms[1] + other.height), bottoms[1] - (bottoms[0] + one.height))
        if gap < 0.0:
            yield Finding(
                "pipes-clash", "look", id_, "upstream_invert",
                f"{one.name} and {other.name} cross at the same depth", "lower or raise one of them",
            )  # fmt: skip
