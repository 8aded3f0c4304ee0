"""Of which elements a rule is asked."""

from collections.abc import Mapping, Sequence

from ..model.network import Network
from ..rules import Scope
from ..rules.measured import NotMeasured

__all__ = ["in_scope", "left_out"]


def in_scope(
    scope: Scope, elements: Sequence[str], network: Network, selections: Mapping[str, list[str]]
) -> list[int] | None:
    """Places of the elements that a rule is asked of; None for all.

    Raises
    ------
    NotMeasured
        When what the scope names is gone, or nothing that the rule looks at is in it: a rule that silently shrinks
        would be met by what nobody judged.
    """
    if scope.of == "all":
        return None
    if scope.of == "all but":
        out = set(scope.elements)
        found = [k for k, id_ in enumerate(elements) if id_ not in out]
        if not found:
            raise NotMeasured("its scope leaves every element out")
        return found
    named = _named(scope, network, selections)
    found = [k for k, id_ in enumerate(elements) if id_ in named]
    if not found:
        raise NotMeasured("nothing in its scope is of the kind that it looks at")
    return found


def _named(scope: Scope, network: Network, selections: Mapping[str, list[str]]) -> set[str]:
    if scope.of == "selection":
        if scope.selection not in selections:
            raise NotMeasured(f"the selection “{scope.selection}” is gone; choose another scope")
        named = selections[scope.selection]
    else:
        named = scope.elements
    gone = sum(id_ not in network.nodes and id_ not in network.links for id_ in named)
    if gone:
        of = f"selection “{scope.selection}”" if scope.of == "selection" else "its scope"
        count = "an element" if gone == 1 else f"{gone} elements"
        raise NotMeasured(f"{count} of {of} {'is' if gone == 1 else 'are'} not in this option; choose the scope again")
    if scope.of != "network":
        return set(named)
    link = network.links.get(named[0])
    member = named[0] if link is None else link.upstream
    part = next(part for part in network.parts() if member in part)
    return part | {id_ for id_, link in network.links.items() if link.upstream in part}


def left_out(scope: Scope, network: Network) -> list[str]:
    """Names of the elements that a rule leaves out by name, in order."""
    if scope.of != "all but":
        return []
    found = [network.nodes.get(id_) or network.links.get(id_) for id_ in scope.elements]
    return [element.name for element in found if element is not None]
