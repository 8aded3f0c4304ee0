"""Units of the fields of elements, read from what their models say of them."""

import re
from typing import Any, NamedTuple, get_args, get_origin

from pydantic import BaseModel

from ..core.elements import Link, Node
from ..core.elements.document import description_of
from ..core.model.network import Catchment
from ..core.quantities import FOOT, INCH

__all__ = ["DIMENSIONS", "FIELDS", "UNITS", "Usual"]

DIMENSIONS = {
    "m": {"m": 1.0, "mm": 1e-3, "cm": 1e-2, "km": 1e3, "ft": FOOT, "in": INCH},
    "m2": {"m2": 1.0, "ha": 1e4, "km2": 1e6, "ft2": FOOT**2, "acre": 4046.8564224},
    "m3/s": {
        "m3/s": 1.0, "L/s": 1e-3, "L/min": 1e-3 / 60, "m3/h": 1 / 3600, "ML/d": 1 / 86.4, "ft3/s": FOOT**3,
        "gal/min": 231 * INCH**3 / 60, "Mgal/d": 231e6 * INCH**3 / 86_400,
    },
    "s": {"s": 1.0, "min": 60.0, "h": 3600.0},
    "share": {"share": 1.0, "%": 0.01},
    "m0.5/s": {"m0.5/s": 1.0, "ft0.5/s": FOOT**0.5},
    "m/s": {"m/s": 1.0, "mm/h": 1e-3 / 3600, "in/h": INCH / 3600},
}  # fmt: skip
UNITS: dict[str, list[str]] = {kind: list(units) for kind, units in DIMENSIONS.items()}
"""Units that a column may be in, by the unit that we keep."""

_SAID = re.compile(rf"({'|'.join(sorted(DIMENSIONS, key=len, reverse=True))})(?![\w^/])")


def _models(annotation: Any) -> list[type[BaseModel]]:
    """What a field may hold; rows of tables have no columns of their own."""
    if get_origin(annotation) is list:
        return []
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        return [annotation]
    return [model for part in get_args(annotation) for model in _models(part)]


def _units(model: type[BaseModel], prefix: str = "") -> dict[str, str]:
    """Unit that we keep, by field: the first word of what the model says of it."""
    found = {}
    for name, field in model.model_fields.items():
        if unit := _SAID.match(description_of(field)):
            found[prefix + name] = unit[1]
        for part in _models(field.annotation):
            found |= _units(part, f"{prefix}{name}.")
    return found


_MODELS: list[type[BaseModel]] = [*_models(Node), *_models(Link), Catchment]
FIELDS: dict[str, str] = {
    name: unit
    for model in _MODELS
    for name, unit in _units(model).items() if not name.startswith(("method.", "timing."))
}  # fmt: skip
"""Unit that we keep, by field; fields without one are pure numbers or words."""


_US = {"m": "ft", "m2": "ft2", "m/s": "in/h", "m0.5/s": "ft0.5/s"}
_OF_SECTIONS = ("diameter", "width", "height")


class Usual(NamedTuple):
    """Units of figures that come without one: those in which the project is read. system, flow : of the project."""

    system: str = "metric"
    flow: str | None = None

    def of(self, field: str, figures: list[float]) -> str:
        """Unit of a field's figures; empty where it is a pure number or a word.

        Sizes of sections are in mm (in) where they cannot be in m (ft), shares are percentages where one is more than
        the whole, times are minutes unless all of them are a minute's seconds or more.
        """
        kept = FIELDS.get(field, "")
        us = self.system == "us"
        if kept == "m" and field.endswith(_OF_SECTIONS) and figures and min(figures) >= (4.0 if us else 10.0):
            return "in" if us else "mm"
        if kept == "share":
            return "%" if figures and max(figures) > 1.0 else kept
        if kept == "s":
            return kept if figures and min(figures) >= 60.0 else "min"
        if kept == "m3/s":
            return self.flow or ("ft3/s" if us else "L/s")
        if kept == "m/s" and not us:
            return "mm/h"
        return _US.get(kept, kept) if us else kept
