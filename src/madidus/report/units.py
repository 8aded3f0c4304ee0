"""Headings and figures in the units in which a project is read: tables are made in SI and turned here."""

import re
from typing import Any

from ..core.quantities import Units

__all__ = ["heading_in", "value_in"]

_HEADED = re.compile(r"^(.*) (mm|m|m²|m³|L/s|m/s|m½/s)$")


def heading_in(heading: str, units: Units) -> tuple[str, str]:
    """A heading with its unit turned, and the unit that its figures are made in (empty: none that turns)."""
    found = _HEADED.match(heading)
    return (f"{found[1]} {units.figure(0.0, found[2])[1]}", found[2]) if found else (heading, "")


def value_in(value: Any, unit: str, units: Units) -> Any:
    """A figure or a sentence, turned."""
    if isinstance(value, str):
        return units.words(value)
    if isinstance(value, bool) or not isinstance(value, int | float) or not units.turns(unit):
        return value
    return units.figure(float(value), unit)[0]
