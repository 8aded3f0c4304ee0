"""Units of the fields of elements, read from what their models say of them."""

import re
from typing import Any, get_args, get_origin

from pydantic import BaseModel
from pydantic.fields import FieldInfo

from ..core.elements import Link, Node
from ..core.model.network import Catchment

__all__ = ["DIMENSIONS", "FIELDS", "UNITS"]

DIMENSIONS = {
    "m": {"m": 1.0, "mm": 1e-3, "cm": 1e-2, "km": 1e3, "ft": 0.3048, "in": 0.0254},
    "m2": {"m2": 1.0, "ha": 1e4, "km2": 1e6, "ft2": 0.3048**2, "acre": 4046.8564224},
    "m3/s": {"m3/s": 1.0, "L/s": 1e-3, "L/min": 1e-3 / 60, "m3/h": 1 / 3600, "ft3/s": 0.3048**3},
    "s": {"s": 1.0, "min": 60.0, "h": 3600.0},
    "share": {"share": 1.0, "%": 0.01},
    "m0.5/s": {"m0.5/s": 1.0, "ft0.5/s": 0.3048**0.5},
    "m/s": {"m/s": 1.0, "mm/h": 1e-3 / 3600, "in/h": 0.0254 / 3600},
}
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


def _told(field: FieldInfo) -> str:
    """What a field is said to be, by itself or by the type that it has."""
    parts = [field.annotation, *get_args(field.annotation), *field.metadata]
    metadata = [part for each in parts for part in (each, *getattr(each, "__metadata__", ()))]
    return field.description or next((said for part in metadata if (said := getattr(part, "description", None))), "")


def _units(model: type[BaseModel], prefix: str = "") -> dict[str, str]:
    """Unit that we keep, by field: the first word of what the model says of it."""
    found = {}
    for name, field in model.model_fields.items():
        if unit := _SAID.match(_told(field)):
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
