"""What a report is made of before it is set: sections of texts, tables, pictures and whole sheets."""

from dataclasses import dataclass, field, replace
from typing import Any, Literal

from ..core.quantities import Units
from .units import heading_in, value_in

__all__ = ["Block", "Contents", "Page", "Picture", "Section", "Subheading", "Table", "Text", "in_units"]


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


@dataclass(frozen=True)
class Table:
    """A titled table: `header` names with units, `rows` of values in that order, in SI until it is set."""

    title: str
    header: list[str]
    rows: list[list[Any]]


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
    """A table with its headings, figures and sentences turned into the units in which the project is read."""
    heads = [heading_in(heading, units) for heading in table.header]
    ways = [unit for _, unit in heads]
    rows = [[value_in(value, unit, units) for value, unit in zip(row, ways, strict=True)] for row in table.rows]
    return replace(table, header=[heading for heading, _ in heads], rows=rows)
