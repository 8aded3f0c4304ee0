"""What a file brings: elements by its own keys, in our fields and units, and only what it states."""

from collections import Counter
from dataclasses import dataclass, field
from typing import Any, Literal, get_args

from pydantic import BaseModel, TypeAdapter

from ..core.elements import Link, Node
from ..core.errors import ModelError
from ..core.model.network import Catchment

__all__ = ["GROUPS", "KNOWN", "REFERENCES", "Fields", "Group", "Incoming", "Remark", "refer_by_key"]

Group = Literal["nodes", "links", "catchments"]
Fields = dict[str, Any]

GROUPS: dict[Group, TypeAdapter[Any]] = {
    "nodes": TypeAdapter(Node), "links": TypeAdapter(Link), "catchments": TypeAdapter(Catchment),
}  # fmt: skip


def _by_kind(union: Any) -> dict[str, frozenset[str]]:
    models = get_args(get_args(union)[0])
    return {model.model_fields["kind"].default: frozenset(model.model_fields) | {"id"} for model in models}


KNOWN: dict[Group, dict[str, frozenset[str]]] = {
    "nodes": _by_kind(Node), "links": _by_kind(Link),
    "catchments": {"": frozenset(Catchment.model_fields) | {"id"}},
}  # fmt: skip
"""Names of fields by group and kind, `id` among them; catchments have no kind."""

_MOST_ELEMENTS = 100_000
REFERENCES = ("upstream", "downstream", "node", "bypass")


class Remark(BaseModel):
    """Something in the file that was not used, or not as it stands there."""

    where: str
    what: str


@dataclass
class Incoming:
    """Elements of a file by its own keys, in our fields and units; only what the file states. References are keys.

    An element may carry `id`, that of an element of Madidus. assumed : by group and key, fields that the file does not
    state, for elements that are new: they never change one that is here. unread : names of elements that are in the
    file and were left out. guessed : elements whose kind is only what a structure's form suggests: one that is here
    stays what it is. open_ended : keys of nodes that may be outfalls where nothing leads on from them. unsaid : kinds
    that the file has no word for, so that none of them is missing from it. sumps : m by which the floor of a chamber
    lies below its lowest pipe, by key.
    """

    nodes: dict[str, Fields] = field(default_factory=dict)
    links: dict[str, Fields] = field(default_factory=dict)
    catchments: dict[str, Fields] = field(default_factory=dict)
    remarks: list[Remark] = field(default_factory=list)
    dropped: Counter[str] = field(default_factory=Counter)
    assumed: dict[tuple[Group, str], Fields] = field(default_factory=dict)
    unread: set[str] = field(default_factory=set)
    guessed: set[tuple[Group, str]] = field(default_factory=set)
    unsaid: frozenset[str] = frozenset()
    open_ended: set[str] = field(default_factory=set)
    sumps: dict[str, float] = field(default_factory=dict)

    def leave_out(self, where: str, what: str, *names: str) -> None:
        """Remark on elements of the file that are not imported; where their names are known, they are in the file."""
        self.remarks.append(Remark(where=where, what=what))
        self.unread.update(names)

    def add(self, group: Group, key: str, fields: Fields, assumed: Fields | None = None) -> None:
        """Import an element; a key that comes twice is remarked on and the first one counts."""
        elements: dict[str, Fields] = getattr(self, group)
        if key in elements:
            self.remarks.append(Remark(where=f"{group[:-1]} {key}", what="stands in the file twice; the first counts"))
        elif len(self.nodes) + len(self.links) + len(self.catchments) >= _MOST_ELEMENTS:
            raise ModelError(
                "file", "elements", f"holds more than {_MOST_ELEMENTS:,}", "import a smaller part of the network"
            )
        else:
            elements[key] = fields
            if assumed:
                self.assumed[group, key] = assumed


def refer_by_key(incoming: Incoming) -> None:
    """What we wrote ourselves refers to nodes by id; in a file that names them otherwise, turn that into its keys."""
    key_of = {fields["id"]: key for key, fields in incoming.nodes.items() if "id" in fields}
    for elements in (incoming.nodes, incoming.links, incoming.catchments):
        for fields in elements.values():
            for reference in REFERENCES:
                if fields.get(reference) in key_of:
                    fields[reference] = key_of[fields[reference]]
