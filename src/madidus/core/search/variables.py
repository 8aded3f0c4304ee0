"""What of an element a search may change: read, and laid into a network again."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..elements import Store, held
from ..elements.changes import Change
from ..errors import ModelError
from ..model.network import Network
from ..quantities import Quantity, said

__all__ = ["Changeable", "Variable", "changeable", "laid", "patch_between", "volume_of"]


@dataclass(frozen=True)
class Variable:
    """A figure of an element that is searched for, between two bounds.

    what : area, flow: times what is drawn; depth, slope, size, level, length: the figure itself, m (slope: horizontal
    per vertical).
    """

    element: str
    what: Change
    low: float
    high: float


@dataclass(frozen=True)
class Changeable:
    """A figure that may change, as its kind has it (`Adjustable`). value : as drawn. low, high : to begin with."""

    what: Change
    word: str
    value: float
    low: float
    high: float
    step: float = 0.0
    even: bool = False


def _told(what: Change, value: float) -> str:
    """A figure in a sentence."""
    if what in ("area", "flow", "slope"):
        return f"{'1:' if what == 'slope' else '× '}{value:.3g}"
    return said(Quantity(value, "m", 3))


def changeable(network: Network, id_: str, least_opening: float = 0.0) -> list[Changeable]:
    """What may change of an element, with bounds to begin with; nothing of one that no search may change.

    least_opening : m of what a leaf may close: the bounds begin there, unless it is smaller as drawn.
    """
    element, found = network.nodes.get(id_) or network.links.get(id_), []
    for what, figure in element.CHANGES.items() if element else ():
        value = figure.read(element)
        if value <= 0.0 and not figure.even:
            continue  # a V-notch has no crest to lengthen
        low, high = value * figure.low, value * figure.high
        if figure.even:
            low, high = value + figure.low, value + figure.high
        if figure.blocks:
            low = max(low, min(least_opening, value))
        found.append(Changeable(what, figure.word, value, low, high, figure.step, figure.even))
    return found


def laid(network: Network, values: Mapping[Variable, float]) -> Network:
    """The network with figures changed; all others are shared with it.

    Raises
    ------
    ModelError
        When an element cannot have a figure: names it and the field.
    """
    nodes, links = dict(network.nodes), dict(network.links)
    for variable, value in values.items():
        group: dict[str, Any] = nodes if variable.element in nodes else links
        element = group.get(variable.element)
        figure = element.CHANGES.get(variable.what) if element is not None else None
        if element is None or figure is None:
            raise ModelError("fit", "may change", "an element is gone, or has no such figure", "choose again")
        try:
            group[variable.element] = type(element).model_validate(
                {**element.model_dump(), **figure.write(element, value)}
            )
        except ValueError as error:
            raise ModelError(
                f"{element.word} {element.name}", variable.what, said("cannot be ", _told(variable.what, value)),
                "give it narrower bounds",
            ) from error  # fmt: skip
    return network.model_copy(update={"nodes": nodes, "links": links})


def patch_between(before: Network, after: Network) -> list[dict[str, Any]]:
    """The JSON Patch (RFC 6902) that makes one network the other, element by element and field by field.

    Elements may be added; none is taken away.
    """
    patch: list[dict[str, Any]] = []
    for group in ("nodes", "links", "catchments"):
        own: Mapping[str, Any] = getattr(before, group)
        for id_, element in getattr(after, group).items():
            old: Any = own.get(id_)
            if old is element or old == element:
                continue
            is_ = element.model_dump(mode="json")
            if type(old) is not type(element):  # new, or of another kind
                patch.append({"op": "add", "path": f"/{group}/{id_}", "value": is_})
                continue
            was = old.model_dump(mode="json")
            patch += [
                {"op": "add", "path": f"/{group}/{id_}/{field}", "value": value}
                for field, value in is_.items() if was.get(field) != value
            ]  # fmt: skip
    return patch


def volume_of(network: Network, stores: Iterable[str]) -> tuple[float, float]:
    """Of stores to where they spill: volume, m3, and area that they take, m2."""
    volume = area = 0.0
    for id_ in stores:
        node = network.nodes[id_]
        if isinstance(node, Store):
            volume += held(node)
            area += float(node.areas()[1].max())
    return volume, area


def to_step(one: Changeable, value: float, up: bool) -> float:
    """The next figure that can be made, at or above (below) a value."""
    step = one.step
    if step <= 0.0:
        return value
    count = np.ceil(value / step - 1e-6) if up else np.floor(value / step + 1e-6)
    return float(np.round(count * step, 6))
