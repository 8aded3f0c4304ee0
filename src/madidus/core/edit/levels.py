"""Levels along a run of conduits, set for all of it at once: a gradient, cover, matched soffits, losses made good."""

import itertools
from collections.abc import Callable, Sequence
from operator import attrgetter
from typing import Literal

from ..constants import GRAVITY
from ..elements import Conduit, Link, Node, Shaft
from ..errors import ModelError
from ..hydraulics.conduits import arrivals, manhole_loss
from ..model.network import Network
from .changed import with_elements, with_fields

__all__ = ["How", "set_levels", "standing_on"]

How = Literal["gradient", "soffits", "cover", "losses", "levels"]
_ROUND = 3
_AT_THE_BOTTOM = 1e-6  # m
_upper, _lower = attrgetter("upstream"), attrgetter("downstream")
_STANDS = (("upstream_invert", _upper), ("downstream_invert", _lower), ("invert", _upper), ("sill", _upper))


def set_levels(
    network: Network,
    links: Sequence[str],
    how: How,
    gradient: float = 0.01,
    cover: float = 1.0,
    levels: Sequence[tuple[float, float]] = (),
) -> Network:
    """A run of conduits given its levels, all of it at once. Bottoms of manholes follow.

    links : ids of conduits, each ending where the next begins.
    how :
        'gradient': one gradient from the invert at the head of the run.
        'soffits': every conduit is moved so that its soffit meets the lowest that arrives in the run.
        'cover': from the head, the gradient or steeper where less than `cover` m of ground would lie on the soffit.
        'levels': those given, upstream and downstream invert of each conduit (m).
        'losses': from the foot upstream, each arriving invert is raised by the manhole's loss at full-bore velocity.

    Raises
    ------
    ModelError
        When the links are no run of conduits, or not as many levels are given as there are conduits.
    """
    run = _run(network, links)
    if how == "levels" and len(levels) != len(run):
        raise ModelError("run", "levels", f"are {len(levels)} for {len(run)} conduits", "give two for each")
    found = list(levels) if how == "levels" else _WAYS[how](network, run, gradient, cover)
    set_ = {
        id_: with_fields(conduit, {"upstream_invert": round(up, _ROUND), "downstream_invert": round(down, _ROUND)})
        for id_, conduit, (up, down) in zip(links, run, found, strict=True)
    }
    return _bottoms(network, run, with_elements(network, links=set_))


def standing_on(network: Network, node: str, level: float) -> dict[str, Link]:
    """What stands on the invert of a node, as it is when that is at `level`, m: ends of conduits, bottoms of controls.

    Raises
    ------
    ModelError
        When one of them cannot be there.
    """
    now = network.nodes[node].invert
    moved: dict[str, Link] = {}
    for id_, link in network.links.items():
        fields = {
            field: level for field, end in _STANDS for at in [getattr(link, field, None)]
            if end(link) == node and at is not None and abs(at - now) < _AT_THE_BOTTOM
        }  # fmt: skip
        if fields:
            moved[id_] = with_fields(link, fields)
    return moved


def _run(network: Network, links: Sequence[str]) -> list[Conduit]:
    run: list[Conduit] = []
    for id_ in links:
        link = network.links.get(id_)
        if not isinstance(link, Conduit):
            name = network.label(id_) if link else f"element {id_}"
            raise ModelError(name, "run", "is no conduit", "choose a run of pipes, channels or trenches")
        run.append(link)
    for a, b in itertools.pairwise(run):
        if a.downstream != b.upstream:
            raise ModelError(
                b.name, "run", f"does not begin where {a.name} ends", "choose conduits that follow one another"
            )
    if not run:
        raise ModelError("run", "conduits", "there are none", "pick a pipe of the run first")
    return run


Levels = list[tuple[float, float]]


def _gradient(_network: Network, run: list[Conduit], gradient: float, _cover: float) -> Levels:
    found, level = [], run[0].upstream_invert
    for link in run:
        found.append((level, level - gradient * link.length))
        level = found[-1][1]
    return found


def _soffits(_network: Network, run: list[Conduit], _gradient: float, _cover: float) -> Levels:
    found = [(run[0].upstream_invert, run[0].downstream_invert)]
    for above, link in itertools.pairwise(run):
        up = found[-1][1] + above.height - link.height
        found.append((up, up - (link.upstream_invert - link.downstream_invert)))
    return found


def _ground(network: Network, node: str) -> float | None:
    found = network.nodes[node]
    return getattr(found, "cover", None) if found.kind != "outfall" else getattr(found, "ground", None)


def _keep_cover(network: Network, run: list[Conduit], gradient: float, cover: float) -> Levels:
    def deepest(node: str, height: float, level: float) -> float:
        ground = _ground(network, node)
        return level if ground is None else min(level, ground - cover - height)

    found: Levels = []
    level = deepest(run[0].upstream, run[0].height, float("inf"))
    if level == float("inf"):
        level = run[0].upstream_invert
    for link in run:
        up = deepest(link.upstream, link.height, level)
        level = deepest(link.downstream, link.height, up - gradient * link.length)
        found.append((up, level))
    return found


def _losses(network: Network, run: list[Conduit], _gradient: float, _cover: float) -> Levels:
    found: Levels = [(run[-1].upstream_invert, run[-1].downstream_invert)]
    arriving = arrivals(network)
    for link, below in zip(run[-2::-1], run[:0:-1], strict=True):
        down = found[0][0] + manhole_loss(network, below, arriving) * _full_bore_head(below)
        found.insert(0, (down + link.upstream_invert - link.downstream_invert, down))
    return found


_WAYS: dict[str, Callable[[Network, list[Conduit], float, float], Levels]] = {
    "gradient": _gradient, "soffits": _soffits, "cover": _keep_cover, "losses": _losses,
}  # fmt: skip


def _full_bore_head(link: Conduit) -> float:
    """Velocity head at full bore, m; 0 where there is none."""
    return (link.full_velocity() or 0.0) ** 2 / (2.0 * GRAVITY)


def _bottoms(before: Network, run: list[Conduit], after: Network) -> Network:
    """A manhole whose bottom was at its lowest conduit keeps it there; none stays above a conduit."""
    nodes: dict[str, Node] = {}
    for id_ in dict.fromkeys(end for conduit in run for end in (conduit.upstream, conduit.downstream)):
        node = before.nodes[id_]
        if not isinstance(node, Shaft):
            continue
        lowest = _lowest(after, id_)
        if (abs(node.invert - _lowest(before, id_)) < _AT_THE_BOTTOM or node.invert > lowest) and node.invert != lowest:
            nodes[id_] = with_fields(node, {"invert": lowest})
    return with_elements(after, nodes=nodes)


def _lowest(network: Network, node: str) -> float:
    """Level of the lowest conduit that meets a node, m."""
    conduits = [link for link in network.links.values() if isinstance(link, Conduit)]
    ends = [(c.upstream, c.upstream_invert) for c in conduits] + [(c.downstream, c.downstream_invert) for c in conduits]
    return min(level for end, level in ends if end == node)
