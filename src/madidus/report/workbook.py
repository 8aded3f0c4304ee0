"""Schedules and results as a workbook: a sheet for each table, numbers as numbers, names that formulas can use."""

import io
import re
from collections.abc import Sequence
from datetime import datetime, time
from typing import Any

import numpy as np
import xlsxwriter

from ..core.model.report import ResultKind
from ..core.quantities import Units
from ..core.verdicts import Verdict
from .blocks import CLOCK, Column, Table, in_units
from .parts.results import UNIT
from .reported import Reported
from .results import critical_tables, row_tables, states_table, statistics_tables, storms_table, water_table
from .schedules import SCHEDULES, curve_tables, findings_table, schedule
from .words import OVER_WORDS, limit_in_words, scope_in_words, state_in_words

__all__ = ["workbook"]

_EVERY: tuple[ResultKind, ...] = ("nodes", "links", "storage", "outfalls", "pumps")
_DAY = 86_400.0  # s, of which a workbook counts its times in parts
_MOST = 200  # columns of a sheet of series


def workbook(of: Reported, series_of: Sequence[str] = ()) -> bytes:
    """One sheet for the verdicts, one for each schedule, curve and result, and one for each element of `series_of`.

    Where storms are not in, the first line of every sheet says so.
    """
    network = of.project.option.network
    tables = [
        _verdicts(of),
        *(table for kind in SCHEDULES if (table := schedule(of.project, kind, of.nodes, of.links)).rows),
        *curve_tables(network, of.nodes, of.links),
    ]
    if of.rows:
        tables.append(states_table(of, list(of.rows)))
    for row in of.rows:
        tables += row_tables(of, row, _EVERY)
    tables += [*critical_tables(of), storms_table(of), water_table(of), *statistics_tables(of)]
    tables += [
        findings_table(of.project, of.plan, dict(of.figures), of.verdicts, accepted) for accepted in (False, True)
    ]
    buffer = io.BytesIO()
    # a name that begins with "=" stays a text
    options = {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False, "nan_inf_to_errors": True}
    with xlsxwriter.Workbook(buffer, options) as book:
        book.set_properties(
            {
                "title": of.project.name,
                "author": of.project.brief.author,
                "comments": f"inputs {of.fingerprint}",
                "created": datetime.combine(of.day, time()),
            }
        )
        writer = _Writer(book, of)
        for table in tables:
            writer.put(in_units(table, of.units))
        for table in _series(of, series_of):
            writer.put(table)
    return buffer.getvalue()


def _verdicts(of: Reported) -> Table:
    units, network = of.units, of.plan.network
    labels = {s.key: s.label for s in of.plan.storms}
    header = [
        "Rule", "Limit", "Asked of", "Verdict", "Why not decided", "Margin", "Grid may err by", "Unit", "Over patterns",
        "Governing storm", "Of the durations run", "Element", "Below cover, nothing floods", "Storms in", "Fingerprint",
    ]  # fmt: skip
    return Table("Verdicts", header, [[
        v.criterion.name + ("" if v.criterion.asked else " (measured, not asked)"),
        limit_in_words(v.criterion, units), scope_in_words(v.criterion, network) or "all",
        state_in_words(v, units).split(":")[0], state_in_words(v, units).partition(": ")[2], _margin(v, units),
        units.margin(v.band, v.unit)[0] if v.band is not None else "",
        units.margin(0.0, v.unit)[1] if v.governing else v.unit, OVER_WORDS[v.over] if v.patterned else "",
        labels.get(v.storm or "", ""), f"the {v.edge}: a further one may be worse" if v.edge else "",
        network.label(v.governing.element) if v.governing else "",
        "" if v.dry is None else units.margin(v.dry, "m")[0], f"{v.seen} of {v.due}", of.fingerprint[:12],
    ] for v in of.verdicts])  # fmt: skip


def _margin(verdict: Verdict, units: Units) -> float | str:
    if verdict.governing is None or not np.isfinite(verdict.governing.value):
        return ""
    return units.margin(verdict.governing.value, verdict.unit)[0]


def _series(of: Reported, elements: Sequence[str]) -> list[Table]:
    """Quantities of chosen elements over time, in the storms that govern a rule: a sheet for each element."""
    network = of.plan.network
    keys = [key for key in dict.fromkeys(v.storm for v in of.verdicts) if key in of.figures]
    labels = {s.key: s.label for s in of.plan.storms}
    tables = []
    for id_ in elements if of.trace is not None else ():
        assert of.trace is not None
        columns: list[tuple[Column, np.ndarray]] = []
        for key in keys:
            assert key is not None
            for quantity, (unit, factor) in UNIT.items():
                if of.plan.layout.has(id_, quantity) and len(columns) < _MOST:
                    figure, name = of.units.figure(factor, unit) if unit else (factor, "%")
                    times, values = of.trace(key, id_, quantity)
                    clock = Column(f"{labels[key]}, time", CLOCK)
                    if not columns or columns[-1][0] != clock:
                        columns.append((clock, np.asarray(times)))
                    columns.append((Column(quantity, name), np.asarray(values) * figure))
                    columns.append((clock, np.asarray(times)))
        columns = columns[:-1]
        if columns:
            longest = max(len(values) for _, values in columns)
            rows = [[float(values[k]) if k < len(values) else "" for _, values in columns] for k in range(longest)]
            tables.append(Table(f"Series {network.label(id_)}", [heading for heading, _ in columns], rows))
    return tables


class _Writer:
    """Puts tables onto sheets."""

    def __init__(self, book: Any, of: Reported):
        self._book, self._of = book, of
        self._bold = book.add_format({"bold": True, "bottom": 1, "text_wrap": True, "valign": "top"})
        self._formats: dict[int | None, Any] = {None: book.add_format({"num_format": "General"})}
        self._clock = book.add_format({"num_format": "[hh]:mm:ss"})
        self._names: set[str] = set()

    def _format(self, digits: int | None) -> Any:
        if digits not in self._formats:
            self._formats[digits] = self._book.add_format({"num_format": f"0.{'0' * digits}" if digits else "0"})
        return self._formats[digits]

    def put(self, table: Table) -> None:
        """A sheet: headings that stay in sight, a filter over the rows, a name for each column, set up for print."""
        book = self._book
        title = _title(table.title, [known.name for known in book.worksheets()])
        page = book.add_worksheet(title)
        top = 0
        if self._of.missing:
            page.write(0, 0, self._of.banner, self._bold)
            top = 1
        page.set_header(f"&L{_plain(self._of.project.name)}&C{_plain(self._of.banner)}&R{_plain(table.title)}")
        page.set_footer(f"&Linputs {self._of.fingerprint[:12]}&R&P of &N")
        page.write_row(top, 0, table.header, self._bold)
        page.freeze_panes(top + 1, 1)
        page.repeat_rows(0, top)
        page.set_landscape()
        page.set_paper(9)
        page.fit_to_pages(1, 0)
        columns = table.told
        for r, row in enumerate(table.rows, start=top + 1):
            for c, value in enumerate(row):
                if isinstance(value, bool):
                    page.write_string(r, c, "yes" if value else "no")
                elif isinstance(value, int | float) and columns[c].unit == CLOCK:
                    page.write_number(r, c, value / _DAY, self._clock)
                elif isinstance(value, float):
                    page.write_number(r, c, value, self._format(columns[c].digits(value)))
                elif isinstance(value, int):
                    page.write_number(r, c, value)
                elif value != "":
                    page.write_string(r, c, str(value)[:32_000])
        if table.rows:
            last = top + len(table.rows)
            page.autofilter(top, 0, last, len(table.header) - 1)
            for c, heading in enumerate(table.header):
                self._name(title, heading, top + 1, last, c)
        widest = [max([len(h) // 2 + 4, *(len(str(row[c])) for row in table.rows[:200] if isinstance(row[c], str))])
                  for c, h in enumerate(table.header)]  # fmt: skip
        for c, wide in enumerate(widest):
            page.set_column(c, c, min(max(wide, 9), 60))

    def _name(self, title: str, heading: str, first: int, last: int, column: int) -> None:
        """A name for a column's cells: 'Conduits.Length'."""
        name = f"{_word(title)}.{_word(heading)}"
        if not heading.strip() or name.casefold() in self._names:
            return
        self._names.add(name.casefold())
        letter = xlsxwriter.utility.xl_col_to_name(column, col_abs=True)
        self._book.define_name(name, f"='{title}'!{letter}${first + 1}:{letter}${last + 1}")


def _plain(text: str) -> str:
    """A text of a header or footer, in which & would begin a command; no longer than is allowed there."""
    return text.replace("&", "&&")[:70]


def _word(text: str) -> str:
    """What a name may hold: letters, digits and low lines, no digit first."""
    word = re.sub(r"\W+", "_", text.replace("²", "2").replace("³", "3").replace("½", "_half")).strip("_")
    return word if word[:1].isalpha() else f"of_{word}"


def _title(wanted: str, taken: list[str]) -> str:
    """A name that a workbook allows: 31 characters, none of a few, and no other sheet's."""
    plain = "".join(c for c in wanted if c not in "[]:*?/\\\\'")
    known = {name.casefold() for name in taken}
    for n in range(len(taken) + 2):
        tail = f" {n + 1}" if n else ""
        title = plain[: 31 - len(tail)] + tail
        if title.casefold() not in known:
            return title
    raise AssertionError("one of so many is free")
