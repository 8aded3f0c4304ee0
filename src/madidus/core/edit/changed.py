"""How edits are made: an element or a network with something changed, the old one left as it was."""

from collections.abc import Collection, Mapping
from typing import Any, TypeVar

from pydantic import TypeAdapter, ValidationError

from ..elements import Link, Node
from ..elements.document import DocumentModel
from ..errors import ModelError
from ..model.network import Catchment, Network
from ..model.refused import problem_of, remedy_of

__all__ = ["CATCHMENT", "LINK", "NODE", "found", "made", "with_elements", "with_fields"]

_D = TypeVar("_D", bound=DocumentModel)
_E = TypeVar("_E")

NODE: TypeAdapter[Any] = TypeAdapter(Node)
LINK: TypeAdapter[Any] = TypeAdapter(Link)
CATCHMENT: TypeAdapter[Any] = TypeAdapter(Catchment)


def made(kind: TypeAdapter[Any], fields: Mapping[str, Any], given: Mapping[str, Any] | None = None) -> Any:
    """An element of fields. given : further ones by their paths below the element, such as `section/diameter`.

    Raises
    ------
    ModelError
        Names the element and the field that is not valid, by its path in a project.
    """
    whole: dict[str, Any] = dict(fields)
    for path, value in (given or {}).items():
        *above, last = path.split("/")
        part = whole
        for step in above:
            inner = part.get(step)
            part[step] = part = dict(inner) if isinstance(inner, dict) else {}
        part[last] = value
    try:
        return kind.validate_python(whole)
    except ValidationError as error:
        first = error.errors()[0]
        group = "catchments" if kind is CATCHMENT else "nodes" if kind is NODE else "links"
        raise ModelError(
            f"{whole.get('form') or whole.get('kind') or 'catchment'} {whole.get('name')}",
            "/".join(("options/…/network", group, "…", *(str(step) for step in first["loc"]))),
            problem_of(error), remedy_of(error),
        ) from error  # fmt: skip


def with_fields(element: _D, given: Mapping[str, Any]) -> _D:
    """The element with some fields of other values, by their paths below it.

    Raises
    ------
    ModelError
        Names the field that is not valid.
    """
    kind = CATCHMENT if isinstance(element, Catchment) else NODE if hasattr(element, "x") else LINK
    changed: _D = made(kind, element.model_dump(), given)
    return changed


def with_elements(
    network: Network,
    nodes: Mapping[str, Node] | None = None,
    links: Mapping[str, Link] | None = None,
    catchments: Mapping[str, Catchment] | None = None,
    without: Collection[str] = (),
) -> Network:
    """The network with some elements new or changed, and without others. Whoever calls keeps references right."""

    def put(old: Mapping[str, Any], new: Mapping[str, Any] | None) -> dict[str, Any]:
        whole = {**old, **(new or {})}
        return {id_: one for id_, one in whole.items() if id_ not in without} if without else whole

    return Network.model_construct(
        nodes=put(network.nodes, nodes), links=put(network.links, links),
        catchments=put(network.catchments, catchments),
    )  # fmt: skip


def found(elements: Mapping[str, _E], id_: str, what: str) -> _E:
    """An element that an edit names.

    Raises
    ------
    ModelError
        When it is not there.
    """
    if id_ not in elements:
        raise ModelError(what, id_, "is not in the network", "load the project again")
    return elements[id_]
