"""Sets sections as a tagged PDF: fonts embedded, bookmarks, text that can be searched and read aloud (PDF/UA-1)."""

import importlib.resources
import json
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from ..core.quantities import Units
from .blocks import CLOCK, Block, Column, Contents, Page, Picture, Section, Subheading, Table, Text, in_units
from .separate_process import set_here, typeset_separately

__all__ = ["Setting", "typeset"]

_WIDEST = 34.0  # characters that a column is given room for
_HALF = 36  # lines, of a page
_MANY = 20_000  # cells of tables, from which a document is set in a process of its own
_LONGEST = 20_000  # characters of one text; what is more is left out, and said
_TEMPLATE = importlib.resources.files(__package__).joinpath("report.typ")


@dataclass(frozen=True)
class Setting:
    """What stands on every page. paper : mm; day : of printing; foot : text at the foot; banner : what is not whole."""

    title: str
    author: str
    keywords: tuple[str, ...]
    day: date
    said_day: str
    foot: str
    banner: str
    paper: tuple[float, float]


def _shown(value: Any, column: Column) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if column.unit == CLOCK and isinstance(value, int | float):
        minutes = round(value / 60.0)
        return f"{minutes // 60:02d}:{minutes % 60:02d}"
    if isinstance(value, float):
        digits = column.digits(value) if math.isfinite(value) and abs(value) < 1e9 else None
        if digits is None:
            return f"{value:.5g}"
        return f"{value:.{digits}f}"
    return _cut(str(value))


def _cut(text: str) -> str:
    kept = "".join(c for c in text if c in "\n\t" or c.isprintable())
    return kept if len(kept) <= _LONGEST else f"{kept[:_LONGEST]} … ({len(kept) - _LONGEST} characters left out)"


def _tabled(table: Table, level: int) -> dict[str, Any]:
    rows = [[_shown(value, column) for value, column in zip(row, table.told, strict=True)] for row in table.rows]
    columns = range(len(table.header))
    longest = [max((len(row[c]) for row in rows), default=0) for c in columns]
    heads = [max((len(word) for word in heading.split()), default=0) for heading in table.header]
    figures = [
        any(_is_figure(row[c]) for row in table.rows) and all(_is_figure(row[c]) or row[c] == "" for row in table.rows)
        for c in columns
    ]
    widths = [min(max(a, b + 1, 4), _WIDEST) for a, b in zip(longest, heads, strict=True)]
    head = [_cut(heading) for heading in table.header]
    title = _cut(table.title)
    return {
        "is": "table",
        "title": title,
        "level": level,
        "head": head,
        "rows": rows,
        "widths": widths,
        "right": figures,
    }


def _is_figure(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)


class _Files:
    """What the template reads, by name."""

    def __init__(self) -> None:
        self.held: dict[str, bytes] = {}

    def section(self, section: Section, units: Units) -> list[dict[str, Any]]:
        """Its blocks. The title of a table stands one level under the heading that it follows."""
        found, level = [], 2
        for block in section.blocks:
            level = 3 if isinstance(block, Subheading) else level
            found.append(self._block(block, units, level))
        return found

    def _block(self, block: Block, units: Units, level: int) -> dict[str, Any]:
        if isinstance(block, Table):
            return _tabled(in_units(block, units), level)
        if isinstance(block, Text):
            return {"is": "text", "text": _cut(units.words(block.text)), "look": block.look}
        if isinstance(block, Subheading):
            return {"is": "subheading", "text": _cut(block.text)}
        if isinstance(block, Contents):
            return {"is": "contents"}
        name = f"drawing{len(self.held)}.svg"
        self.held[name] = block.svg.encode()
        kind = "page" if isinstance(block, Page) else "picture"
        return {"is": kind, "file": name, "wide": block.wide, "high": block.high, "says": _cut(block.says)}


def typeset(
    setting: Setting,
    sections: Sequence[Section],
    units: Units,
    checked: bool = True,
    wanted: Callable[[], None] = lambda: None,
) -> bytes:
    """A PDF of sections in order. The same sections and setting give the same bytes.

    checked : held against PDF/UA-1 as it is written, which takes three times as long; its pages are the same without.
    wanted : is called while a large one is set, and raises to stop it.

    Every text is data to the typesetter, never markup; it is given the files that it may read, and no others.
    """
    files, fresh = _Files(), _fresh(sections)
    parts: list[dict[str, Any]] = [
        {
            "part": section.part, "heading": _cut(section.heading), "listed": not _titled(section), "fresh": fresh[k],
            "blocks": files.section(section, units),
        }
        for k, section in enumerate(sections)
    ]  # fmt: skip
    day = setting.day
    report = {
        "title": _cut(setting.title), "author": _cut(setting.author), "keywords": setting.keywords,
        "date": [day.year, day.month, day.day], "day": setting.said_day, "foot": _cut(setting.foot),
        "banner": _cut(setting.banner), "paper": setting.paper, "sections": parts,
    }  # fmt: skip
    given = {"main": _TEMPLATE.read_bytes(), "report.json": json.dumps(report).encode(), **files.held}
    stamp = int((day - date(1970, 1, 1)).total_seconds())
    standards = ["ua-1"] if checked else []
    if sum(len(b["rows"]) * len(b["head"]) for part in parts for b in part["blocks"] if b["is"] == "table") > _MANY:
        return typeset_separately(given, standards, stamp, wanted)
    return set_here(given, standards, stamp)


def _fresh(sections: Sequence[Section]) -> list[bool]:
    """Whether each section begins a page: long ones, and what follows a cover, a long one or a drawing."""
    long = [_titled(section) or sum(map(_lines, section.blocks)) > _HALF for section in sections]
    return [k == 0 or long[k] or long[k - 1] for k in range(len(sections))]


def _lines(block: Block) -> int:
    """About as many lines of text as a block takes."""
    if isinstance(block, Table):
        return len(block.rows) + 3
    return 200 if isinstance(block, Page) else 8 if isinstance(block, Picture) else 2


def _titled(section: Section) -> bool:
    """Whether a section is a cover, which shows its title instead of its heading."""
    return any(isinstance(block, Text) and block.look == "title" for block in section.blocks)
