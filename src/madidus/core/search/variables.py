"""What of an element a search may change: read, and laid into a network again."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from ..elements import Basin, FlowCurve, Orifice, Riser, SluiceGate, Stone, Storage, Store, Weir, held
from ..errors import ModelError
from ..model.network import Network
from ..quantities import Quantity, said

__all__ = ["Change", "Changeable", "Variable", "changeable", "laid", "patch_between", "volume_of"]

Change = Literal["area", "depth", "slope", "size", "level", "length", "flow"]


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
    """A figure that may change. value : as drawn. step : to which it is made, 0 where any will do. even : a step of it
    weighs the same wherever it is (a level), else in proportion (a size).
    """

    what: Change
    value: float
    low: float
    high: float
    step: float = 0.0
    even: bool = False


@dataclass(frozen=True)
class _Kind:
    """low, high : of the bounds to begin with, times the value as drawn or, of a level, m from it."""

    read: Callable[[Any], float]
    write: Callable[[Any, float], dict[str, Any]]
    low: float = 0.3
    high: float = 3.0
    step: float = 0.001
    even: bool = False


def _deeper(node: Any, depth: float) -> dict[str, Any]:
    """The base stays, and with it the outlet: the bank rises or falls."""
    return {"cover": round(node.invert + depth, 4)}


def _table(node: Storage, areas: float = 1.0, depths: float = 1.0) -> list[dict[str, float]]:
    return [{"depth": round(row.depth * depths, 4), "area": round(row.area * areas, 2)} for row in node.table]


def _scaled(node: Basin, factor: float) -> list[tuple[float, float]]:
    """The outline about its middle, as large by `factor`."""
    points = np.array(node.outline)
    middle = points.mean(axis=0)
    return [(round(float(x), 3), round(float(y), 3)) for x, y in middle + (points - middle) * np.sqrt(factor)]


def _opening(link: Orifice, size: float) -> dict[str, Any]:
    field = "diameter" if link.section.shape == "circular" else "height"
    return {"section": {**link.section.model_dump(), field: round(size, 4)}}


def _one(_: Any) -> float:
    return 1.0


def _depth(node: Any) -> float:
    return float(node.cover - node.invert)


def _level(field: str) -> _Kind:
    return _Kind(
        lambda link: float(getattr(link, field)), lambda _, z: {field: round(z, 4)}, -0.5, 0.5, even=True
    )  # fmt: skip


def _size(field: str) -> _Kind:
    return _Kind(lambda link: float(getattr(link, field)), lambda _, x: {field: round(x, 4)})


_KINDS: dict[type, dict[Change, _Kind]] = {
    Storage: {
        "area": _Kind(_one, lambda node, f: {"table": _table(node, areas=f)}, step=0.0),
        "depth": _Kind(
            _depth, lambda node, d: {**_deeper(node, d), "table": _table(node, depths=d / _depth(node))}, 0.5, 2.0,
        ),
    },
    Basin: {
        "area": _Kind(_one, lambda node, f: {node.drawn: _scaled(node, f)}, step=0.0),
        "depth": _Kind(_depth, _deeper, 0.5, 2.0),
        "slope": _Kind(lambda node: node.side_slope, lambda _, s: {"side_slope": round(s, 3)}, 0.5, 2.0),
    },
    Stone: {
        "area": _Kind(_one, lambda node, f: {"width": round(node.width * f, 3)}, step=0.0),
        "depth": _Kind(
            lambda node: node.stone_depth,
            lambda node, d: {"stone_depth": round(d, 4), "cover": round(node.cover + d - node.stone_depth, 4)},
            0.5, 2.0,
        ),
    },
    Orifice: {"size": _Kind(lambda link: link.section.height, _opening), "level": _level("invert")},
    Weir: {"length": _size("length"), "level": _level("crest")},
    Riser: {"size": _size("diameter"), "level": _level("crest")},
    SluiceGate: {"size": _size("opening"), "level": _level("sill")},
    FlowCurve: {
        "flow": _Kind(
            _one,
            lambda link, f: {"rows": [{"head": r.head, "flow": float(f"{r.flow * f:.6g}")} for r in link.rows]},
            step=0.0,
        ),
        "level": _level("invert"),
    },
}  # fmt: skip


def _told(what: Change, value: float) -> str:
    """A figure in a sentence."""
    if what in ("area", "flow", "slope"):
        return f"{'1:' if what == 'slope' else '× '}{value:.3g}"
    return said(Quantity(value, "m", 3))


def changeable(network: Network, id_: str, least_opening: float = 0.0) -> list[Changeable]:
    """What may change of an element, with bounds to begin with; nothing of one that no search knows.

    least_opening : m of an orifice, so that it stays free: the bounds begin there, unless it is smaller as drawn.
    """
    element, found = network.nodes.get(id_) or network.links.get(id_), []
    for what, kind in _KINDS.get(type(element), {}).items():
        value = kind.read(element)
        if value <= 0.0 and not kind.even:
            continue  # a V-notch has no crest to lengthen
        low, high = (value + kind.low, value + kind.high) if kind.even else (value * kind.low, value * kind.high)
        if what == "size" and isinstance(element, Orifice):
            low = max(low, min(least_opening, value))
        found.append(Changeable(what, value, low, high, kind.step, kind.even))
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
        kind = _KINDS.get(type(element), {}).get(variable.what)
        if element is None or kind is None:
            raise ModelError("fit", "may change", "an element is gone, or has no such figure", "choose again")
        try:
            group[variable.element] = type(element).model_validate(
                {**element.model_dump(), **kind.write(element, value)}
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
