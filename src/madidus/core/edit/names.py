"""Names of new elements."""

import re
from collections.abc import Collection

from ..model.network import Network

__all__ = ["between", "free_name", "fresh_name"]


def free_name(taken: Collection[str], name: str) -> str:
    """The next free name of a row: A3 after A2, or the first free one behind it."""
    stem, digits = re.fullmatch(r"(.*?)(\d*)", name, re.DOTALL).groups()  # type: ignore[union-attr]  # anything matches
    number = int(digits or 1) + 1
    while f"{stem}{number}" in taken:
        number += 1
    return f"{stem}{number}"


def fresh_name(network: Network, begins: str) -> str:
    """The first free name of a kind: M1, M2, … begins : what its names begin with."""
    taken = {element.name for element in (*network.nodes.values(), *network.links.values())}
    return free_name(taken, f"{begins}0")


def between(network: Network, upstream: str, downstream: str) -> str:
    """What a conduit is called after its nodes."""
    return f"{network.nodes[upstream].name}–{network.nodes[downstream].name}"
