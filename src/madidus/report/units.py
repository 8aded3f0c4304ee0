"""The units in which a project is read, for what is exported: sheets are made in SI and turned here."""

import re
from collections.abc import Callable
from dataclasses import replace
from typing import Any

from ..core.model.project import Project
from .schedules import Sheet

__all__ = ["Units"]

_FOOT, _INCH = 0.3048, 0.0254
_GALLON = 231.0 * _INCH**3  # US liquid
_FLOWS = {
    "L/s": ("L/s", 1e3), "m3/s": ("m³/s", 1.0), "m3/h": ("m³/h", 3600.0), "ML/d": ("ML/d", 86.4),
    "ft3/s": ("ft³/s", _FOOT**-3), "gal/min": ("gal/min", 60.0 / _GALLON), "Mgal/d": ("Mgal/d", 0.0864 / _GALLON),
}  # fmt: skip
_US = {
    "m": ("ft", 1.0 / _FOOT), "mm": ("in", 1e-3 / _INCH), "m²": ("ft²", _FOOT**-2), "m³": ("ft³", _FOOT**-3),
    "m½/s": ("ft½/s", _FOOT**-0.5),
}  # fmt: skip
_WORDS = {"Size", "Size mm", "Coefficient"}  # headings of columns whose texts hold sizes
_HEADED = re.compile(r"^(.*) (mm|m|m²|m³|L/s)$")


class Units:
    """Turns figures, and words that hold some, from m, mm, m², m³ and L/s into the project's units."""

    def __init__(self, project: Project):
        us = project.units == "us"
        unit, factor = _FLOWS[project.flow_unit or ("ft3/s" if us else "L/s")]
        self._of = {**(_US if us else {}), "L/s": (unit, factor * 1e-3)}

    def figure(self, value: float, unit: str) -> tuple[float, str]:
        """A number and its unit, as they are read."""
        turned, factor = self._of.get(unit, (unit, 1.0))
        return value * factor, turned

    def margin(self, value: float, unit: str) -> tuple[float, str]:
        """A margin in m, m3 or m3/s."""
        return self.figure(value * 1e3, "L/s") if unit == "m3/s" else self.figure(value, {"m3": "m³"}.get(unit, unit))

    def words(self, text: str) -> str:
        """Sizes in a text: Ø300, 1200 × 800 and 2.5 m, 3.1 L/s."""

        def turned(unit: str, digits: int, after: str = "") -> Callable[[re.Match[str]], str]:
            return lambda found: f"{found[1]}{self.figure(float(found[2]), unit)[0]:.{digits}f}{after}"

        for unit, digits in (("m", 2), ("L/s", 2), ("m½/s", 3)):
            if unit in self._of:
                named = self._of[unit][0]
                text = re.sub(rf"()\b(\d+(?:\.\d+)?) {re.escape(unit)}\b", turned(unit, digits, f" {named}"), text)
        if "mm" in self._of:
            text = re.sub(r"(Ø)(\d+)", turned("mm", 1), text)
            text = re.sub(
                r"\b(\d+) × (\d+)\b",
                lambda m: " × ".join(f"{self.figure(float(m[k]), 'mm')[0]:.1f}" for k in (1, 2)), text,
            )  # fmt: skip
        return text

    def sheet(self, sheet: Sheet) -> Sheet:
        """A sheet with its headings and figures turned."""
        header, ways = [], []
        for heading in sheet.header:
            found = _HEADED.match(heading)
            unit = found[2] if found else ""
            header.append(f"{found[1]} {self.figure(0.0, unit)[1]}" if found else heading)
            ways.append(unit if unit in self._of or heading in _WORDS else None)

        def cell(value: Any, way: str | None) -> Any:
            if way is None or isinstance(value, bool):
                return value
            if isinstance(value, int | float):
                return self.figure(float(value), way)[0]
            return self.words(value) if isinstance(value, str) else value

        rows = [[cell(value, way) for value, way in zip(row, ways, strict=True)] for row in sheet.rows]
        return replace(sheet, header=header, rows=rows)
