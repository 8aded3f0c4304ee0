"""Sheets in the units in which a project is read: they are made in SI and turned here."""

import re
from dataclasses import replace
from typing import Any

from ..core.quantities import Units
from .schedules import Sheet

__all__ = ["in_units"]

_HEADED = re.compile(r"^(.*) (mm|m|m²|m³|L/s|m/s)$")


def in_units(sheet: Sheet, units: Units) -> Sheet:
    """A sheet with its headings, figures and sentences turned."""
    header, ways = [], []
    for heading in sheet.header:
        found = _HEADED.match(heading)
        unit = found[2] if found else ""
        header.append(f"{found[1]} {units.figure(0.0, unit)[1]}" if found else heading)
        ways.append(unit)

    def cell(value: Any, unit: str) -> Any:
        if isinstance(value, str):
            return units.words(value)
        if isinstance(value, bool) or not isinstance(value, int | float) or not units.turns(unit):
            return value
        return units.figure(float(value), unit)[0]

    rows = [[cell(value, unit) for value, unit in zip(row, ways, strict=True)] for row in sheet.rows]
    return replace(sheet, header=header, rows=rows)
