"""Several elements at once: moved, removed, pasted."""

import re
from collections.abc import Collection
from typing import Any
from uuid import uuid4

from ..elements import Basin, Conduit, Inlet
from ..model.network import Network
from .changed import with_elements, with_fields
from .course import drawn_length, follows
from .names import between, free_name

__all__ = ["move", "paste", "remove"]

_LEAST = 0.1  # m, of a conduit's length
_SEEN = 0.005  # m, below which a drawn length has not changed


def move(network: Network, elements: Collection[str], east: float, north: float) -> Network:
    """Elements moved on the plan by distances in m, with the conduits that hang on them.

    Bends go with both of their conduit's nodes or with the conduit; lengths that follow the drawing go on to do so.

    Raises
    ------
    ModelError
        When a place would lie beyond what is allowed.
    """

    def by(at: tuple[float, float]) -> tuple[float, float]:
        return round(at[0] + east, 2), round(at[1] + north, 2)

    nodes: dict[str, Any] = {}
    for id_ in network.nodes.keys() & set(elements):
        node = network.nodes[id_]
        x, y = by((node.x, node.y))
        base: dict[str, Any] = {node.drawn: [by(corner) for corner in node.outline]} if isinstance(node, Basin) else {}
        nodes[id_] = with_fields(node, {"x": x, "y": y, **base})
    catchments = {
        id_: with_fields(catchment, {"polygon": [by(corner) for corner in catchment.polygon]})
        for id_, catchment in network.catchments.items() if id_ in elements and catchment.polygon
    }  # fmt: skip
    moved = with_elements(network, nodes=nodes, catchments=catchments)
    links: dict[str, Any] = {}
    for id_, link in network.links.items():
        ends = {link.upstream, link.downstream}
        if not isinstance(link, Conduit) or not (id_ in elements or ends & nodes.keys()):
            continue
        goes = id_ in elements or ends <= nodes.keys()
        bends = [by(bend) for bend in link.bends] if goes else link.bends
        drawn = drawn_length(network.course(link))
        now = drawn_length(moved.course(link.model_copy(update={"bends": bends})))
        given: dict[str, Any] = {"bends": bends}
        if abs(now - drawn) > _SEEN and follows(link.length, drawn):
            given["length"] = max(round(now, 2), _LEAST)
        links[id_] = with_fields(link, given)
    return with_elements(moved, links=links)


def remove(network: Network, elements: Collection[str]) -> Network:
    """The network without elements, and without the links of removed nodes. What names them elsewhere is let go."""
    gone = set(elements)
    gone |= {id_ for id_, link in network.links.items() if {link.upstream, link.downstream} & gone}
    return with_elements(
        network,
        nodes={
            id_: node.model_copy(update={"bypass": None})
            for id_, node in network.nodes.items() if isinstance(node, Inlet) and node.bypass in gone
        },
        catchments={
            id_: catchment.model_copy(update={
                "node": None if catchment.node in gone else catchment.node,
                "over": None if catchment.over in gone else catchment.over,
            })
            for id_, catchment in network.catchments.items() if {catchment.node, catchment.over} & gone
        },
        without=gone,
    )  # fmt: skip


def paste(network: Network, clip: Network) -> tuple[Network, list[str]]:
    """A copied network pasted where it stands, under ids and names of its own; and those ids.

    Conduits that are called after their nodes go on to be.
    """
    ids = {id_: str(uuid4()) for group in (clip.nodes, clip.links, clip.catchments) for id_ in group}
    taken = [
        {element.name for element in group.values()} for group in (network.nodes, network.links, network.catchments)
    ]

    def named(names: set[str], wanted: str) -> dict[str, str]:
        name = free_name(names, wanted) if wanted in names else wanted
        names.add(name)
        return {"name": name}

    nodes: dict[str, Any] = {}
    for id_, node in sorted(clip.nodes.items(), key=lambda item: _in_order(item[1].name)):
        past = {"bypass": ids[node.bypass]} if isinstance(node, Inlet) and node.bypass else {}
        nodes[ids[id_]] = node.model_copy(update={**named(taken[0], node.name), **past})
    whole = with_elements(network, nodes=nodes)
    links: dict[str, Any] = {}
    for id_, link in clip.links.items():
        ends = {"upstream": ids[link.upstream], "downstream": ids[link.downstream]}
        called = link.name == between(clip, link.upstream, link.downstream)
        wanted = between(whole, *ends.values()) if called else link.name
        links[ids[id_]] = link.model_copy(update={**named(taken[1], wanted), **ends})
    catchments = {
        ids[id_]: catchment.model_copy(update={
            **named(taken[2], catchment.name),
            "node": catchment.node and ids[catchment.node], "over": catchment.over and ids[catchment.over],
        })
        for id_, catchment in clip.catchments.items()
    }  # fmt: skip
    return with_elements(whole, links=links, catchments=catchments), list(ids.values())


def _in_order(name: str) -> list[tuple[int, str]]:
    """Key by which M2 comes before M10."""
    return [(int(part), "") if part.isdigit() else (-1, part.casefold()) for part in re.split(r"(\d+)", name)]
