"""Sentences that hold figures: who reads them chooses the units, and nobody searches prose for numbers."""

import math
from typing import NamedTuple, Self

__all__ = ["FOOT", "INCH", "LEAST_VOLUME", "Quantity", "Said", "Units", "digits_of", "said"]

FOOT, INCH = 0.3048, 0.0254
"""m."""
_GALLON = 231.0 * INCH**3  # US liquid
_FLOWS = {
    "L/s": ("L/s", 1e3), "m3/s": ("m³/s", 1.0), "m3/h": ("m³/h", 3600.0), "ML/d": ("ML/d", 86.4),
    "ft3/s": ("ft³/s", FOOT**-3), "gal/min": ("gal/min", 60.0 / _GALLON), "Mgal/d": ("Mgal/d", 0.0864 / _GALLON),
}  # fmt: skip
_US = {
    "m": ("ft", 1.0 / FOOT), "mm": ("in", 1e-3 / INCH), "m²": ("ft²", FOOT**-2), "m³": ("ft³", FOOT**-3),
    "m/s": ("ft/s", 1.0 / FOOT), "m½/s": ("ft½/s", FOOT**-0.5), "mm/h": ("in/h", 1e-3 / INCH),
}  # fmt: skip
_MARGINS = {"s": ("h", 1.0 / 3600.0), "m/m": ("%", 100.0)}


LEAST_VOLUME = 1e-4
"""m³ or ft³, below which a figure is a rounding of the computation."""
_VOLUMES = ("m³", "ft³")


def digits_of(value: float, unit: str, digits: int) -> int:
    """Digits after the point with which a figure is shown: a volume that is some is never shown as none."""
    if unit in _VOLUMES and abs(value) >= LEAST_VOLUME and round(value, digits) == 0.0:
        return -math.floor(math.log10(abs(value)))
    return digits


class Quantity(NamedTuple):
    """A figure in a sentence.

    unit : m, mm, m², m³, L/s, m/s, mm/h or m½/s. digits : after the point, in SI; None: as many as it has, six at most.
    bare : the unit is not written, since another one follows or what it is is plain.
    """

    value: float
    unit: str
    digits: int | None = None
    bare: bool = False

    def written(self, value: float, unit: str, digits: int | None) -> str:
        """The figure in a unit."""
        if digits is None:
            shown = f"{value:.6f}".rstrip("0").rstrip(".")
        else:
            shown = f"{value:.{digits_of(value, unit, digits)}f}"
        return shown if self.bare else f"{shown} {unit}"


class Said(str):
    """A sentence in SI units that knows its figures. `parts` : its pieces in order."""

    parts: tuple["str | Quantity", ...]

    def __new__(cls, parts: tuple["str | Quantity", ...]) -> Self:
        """A text of the parts in SI."""
        made = super().__new__(
            cls, "".join(p if isinstance(p, str) else p.written(p.value, p.unit, p.digits) for p in parts)
        )
        made.parts = parts
        return made

    def __reduce__(self) -> tuple[type["Said"], tuple[tuple["str | Quantity", ...]]]:
        return Said, (self.parts,)


def said(*parts: "str | Quantity") -> Said:
    """A sentence of texts and figures; sentences within it keep theirs."""
    flat: list[str | Quantity] = []
    for part in parts:
        flat += part.parts if isinstance(part, Said) else [part]
    return Said(tuple(flat))


class Units:
    """Turns figures, and sentences that hold some, into the units in which a project is read.

    units, flow_unit : of the project.
    """

    def __init__(self, units: str, flow_unit: str | None):
        us = units == "us"
        unit, factor = _FLOWS[flow_unit or ("ft3/s" if us else "L/s")]
        self._of = {**(_US if us else {}), "L/s": (unit, factor * 1e-3)}

    def figure(self, value: float, unit: str) -> tuple[float, str]:
        """A number and its unit, as they are read."""
        turned, factor = self._of.get(unit, (unit, 1.0))
        return value * factor, turned

    def turns(self, unit: str) -> bool:
        """Whether figures in this unit are read in another one."""
        return unit in self._of

    def margin(self, value: float, unit: str) -> tuple[float, str]:
        """A margin in m, m of size, m3, m3/s, m/s, s or m/m: of sizes in mm, of times in h, of gradients in %."""
        if unit == "m of size":
            return self.figure(value * 1e3, "mm")
        if unit == "m3/s":
            return self.figure(value * 1e3, "L/s")
        if unit in _MARGINS:
            turned, factor = _MARGINS[unit]
            return value * factor, turned
        return self.figure(value, {"m3": "m³"}.get(unit, unit))

    def words(self, text: str) -> str:
        """A sentence with its figures as they are read; a text that knows of none as it is."""
        if not isinstance(text, Said):
            return text
        return "".join(part if isinstance(part, str) else self._written(part) for part in text.parts)

    def _written(self, part: Quantity) -> str:
        value, unit = self.figure(part.value, part.unit)
        if unit == part.unit:
            return part.written(value, unit, part.digits)
        if part.digits is None:  # a typed figure: what is lost in another unit is no part of it
            size = math.floor(math.log10(abs(value))) if value else 0
            return part.written(round(value, max(3, 3 - size)), unit, None)
        # a figure tells about as much in a smaller unit with a digit less, in a larger one with a digit more
        return part.written(value, unit, {"in": part.digits + 1, "ft³/s": 3, "m³/s": 4}.get(unit, part.digits))
