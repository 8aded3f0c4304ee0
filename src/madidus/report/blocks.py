"""What a report is made of before it is set: sections of texts, tables, pictures and whole sheets."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Any, Literal

from ..core.quantities import Units, digits_of

__all__ = [
    "CLOCK",
    "Block",
    "Column",
    "Columns",
    "Contents",
    "Page",
    "Picture",
    "Section",
    "Subheading",
    "Table",
    "Text",
    "in_units",
]


@dataclass(frozen=True)
class Text:
    """A paragraph. strong : what matters most on its page; title : the project's name on a cover."""

    text: str
    look: Literal["plain", "strong", "quiet", "title"] = "plain"


@dataclass(frozen=True)
class Subheading:
    """A heading within a section, found among the bookmarks."""

    text: str


@dataclass(frozen=True)
class Contents:
    """The table of contents, of what follows and where it stands."""


CLOCK = "hh:mm"
"""Unit of a column of moments, s from the beginning of the rain: read as on a clock, 26:05 after a day and more."""
_DIGITS = {
    "m/s": 3, "m": 3, "m²": 1, "m³": 1, "mm": 1, "L/s": 2, "m³/s": 4, "m³/h": 1, "ML/d": 3, "h": 2, "%": 1, "ft/s": 3,
    "ft": 3, "ft²": 1, "ft³": 1, "in": 2, "ft³/s": 3, "gal/min": 1, "Mgal/d": 3, "kWh": 1,
}  # fmt: skip


@dataclass(frozen=True)
class Column:
    """A column of a table. unit : of its figures, SI where `Units` turns it; CLOCK of moments; empty of words.

    figures : digits after the point; None: as its unit has them, or as many as a figure has.
    """

    name: str
    unit: str = ""
    figures: int | None = None

    @property
    def heading(self) -> str:
        """What stands over it."""
        return f"{self.name} {self.unit}" if self.unit and self.unit != CLOCK else self.name

    def digits(self, value: float) -> int | None:
        """Digits after the point of one of its figures; None: as many as it has."""
        usual = _DIGITS.get(self.unit) if self.figures is None else self.figures
        return usual if usual is None else digits_of(value, self.unit, usual)


Columns = list[Column | str]


@dataclass(frozen=True)
class Table:
    """A titled table: `rows` of values in the order of its columns, in SI until it is set. A text is a column of words.

    Sentences that hold figures are `Said`.
    """

    title: str
    columns: Sequence[Column | str]
    rows: list[list[Any]]

    @property
    def told(self) -> list[Column]:
        """Its columns."""
        return [Column(one) if isinstance(one, str) else one for one in self.columns]

    @property
    def header(self) -> list[str]:
        """Their headings."""
        return [one.heading for one in self.told]


@dataclass(frozen=True)
class Picture:
    """A drawing of stated size among texts, mm. says : what it shows, for those who do not see it."""

    svg: str
    wide: float
    high: float
    says: str


@dataclass(frozen=True)
class Page:
    """A whole sheet of paper, mm, frame and title block included. says : as of a picture."""

    svg: str
    wide: float
    high: float
    says: str


Block = Text | Subheading | Contents | Table | Picture | Page


@dataclass(frozen=True)
class Section:
    """A part of the report under its heading. part : its place in the layout."""

    part: int
    heading: str
    blocks: list[Block] = field(default_factory=list)


def in_units(table: Table, units: Units) -> Table:
    """A table with its columns, figures and sentences turned into the units in which the project is read."""
    columns = [replace(one, unit=units.figure(0.0, one.unit)[1] if one.unit else "") for one in table.told]
    rows = [[_turned(value, one.unit, units) for value, one in zip(row, table.told, strict=True)] for row in table.rows]
    return replace(table, columns=columns, rows=rows)


def _turned(value: Any, unit: str, units: Units) -> Any:
    """A figure or a sentence, turned."""
    if isinstance(value, str):
        return units.words(value)
    if isinstance(value, bool) or not isinstance(value, int | float) or not units.turns(unit):
        return value
    return units.figure(float(value), unit)[0]
