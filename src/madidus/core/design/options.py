"""Options side by side: what each is made of, and where it differs from another one."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from ..elements import Outfall, Pipe, Store, held
from ..elements.sections import Circular
from ..model.network import Network
from ..model.sizing import SizingRules
from .trench import cost, excavation

__all__ = ["Bill", "Difference", "bill", "differences"]

Group = Literal["nodes", "links", "catchments"]
GROUPS: tuple[Group, ...] = ("nodes", "links", "catchments")


@dataclass(frozen=True)
class Bill:
    """What an option is made of. storage : m3 of all stores to their banks. pipes : m; by_diameter : m of round pipes,
    all barrels, by diameter in m, rising. excavation : m3 of their trenches; cost : of pipes and trenches by the
    project's rates. unknown : pipes whose ground is not known at both ends, and that are no part of what is dug.
    """

    storage: float
    pipes: float
    by_diameter: list[tuple[float, float]]
    excavation: float
    cost: float
    unknown: list[str]


@dataclass(frozen=True)
class Difference:
    """An element that is another one in two options, by its id. fields : that differ, of one that is in both."""

    group: Group
    element: str
    name: str
    what: Literal["added", "removed", "changed"]
    fields: list[str]


def bill(network: Network, rules: SizingRules) -> Bill:
    """Quantities of a network. Trenches go by the rules of sizing, from the ground at both ends of a pipe."""
    storage, long, dug, price = 0.0, 0.0, 0.0, 0.0
    diameters: dict[float, float] = {}
    unknown = []
    for node in network.nodes.values():
        if isinstance(node, Store):
            storage += held(node)
    for pipe in network.links.values():
        if not isinstance(pipe, Pipe):
            continue
        length = pipe.length * pipe.barrels
        long += length
        if isinstance(pipe.section, Circular):
            diameters[pipe.section.diameter] = diameters.get(pipe.section.diameter, 0.0) + length
        tops = [_ground(network, id_) for id_ in (pipe.upstream, pipe.downstream)]
        if tops[0] is None or tops[1] is None:
            unknown.append(pipe.name)
            continue
        size = np.array(pipe.height)
        own = excavation(
            rules, size, pipe.length, np.array(tops[0] - pipe.upstream_invert),
            np.array(tops[1] - pipe.downstream_invert),
        )  # fmt: skip
        dug += float(own)
        price += float(cost(rules, size, length, own))
    return Bill(storage, long, sorted(diameters.items()), dug, price, unknown)


def _ground(network: Network, id_: str) -> float | None:
    node = network.nodes[id_]
    return node.ground if isinstance(node, Outfall) else node.cover


def differences(base: Network, other: Network) -> list[Difference]:
    """What is added, removed or changed in another network against the base, element by element."""
    return [one for group in GROUPS for one in _of(group, getattr(base, group), getattr(other, group))]


def _of(group: Group, base: Mapping[str, Any], other: Mapping[str, Any]) -> Iterator[Difference]:
    for id_, element in other.items():
        if id_ not in base:
            yield Difference(group, id_, element.name, "added", [])
        elif element != base[id_]:
            was, now = base[id_].model_dump(), element.model_dump()
            fields = sorted(name for name in {*was, *now} if was.get(name) != now.get(name))
            yield Difference(group, id_, element.name, "changed", fields)
    for id_, element in base.items():
        if id_ not in other:
            yield Difference(group, id_, element.name, "removed", [])
