"""Networks as tables: a workbook with a sheet for each kind of element, or CSV; foreign tables by matched columns."""

import csv
import io
import json
import zipfile
from typing import Any

import openpyxl
import xlsxwriter
from pydantic import BaseModel

from ..core.elements import DRAWN_LINKS, DRAWN_NODES, USUAL_CAPACITY
from ..core.errors import ModelError
from ..core.model.mappings import ColumnUse, TableMapping
from ..core.model.network import Network
from .field_units import Usual
from .fields import FIELDS, GROUP_OF, WORDS, factor, guessed_field, guessed_unit, nested, rows_of
from .incoming import REFERENCES, Fields, Incoming, Remark
from .texts import text_of

__all__ = ["SheetLook", "look_at_tables", "read_tables", "write_workbook"]

_MOST_UNPACKED = 512 * 2**20
_MOST_CELLS = 5_000_000
_SAMPLE = 6
_CELL = 32_767  # characters that a cell of a workbook holds
_DRAWN = {**DRAWN_NODES, **DRAWN_LINKS}
Row = list[Any]


class SheetLook(BaseModel):
    """A table of a file: its headings, first rows and number of rows, and how it would be read."""

    sheet: str
    headings: list[str]
    sample: list[list[str]]
    rows: int
    mapping: TableMapping
    known: bool


def write_workbook(network: Network) -> bytes:
    """One sheet for each kind; headings are our own names of fields, with the unit in brackets.

    Raises
    ------
    ModelError
        When a field is longer than a cell of a workbook holds: it could not be imported again.
    """
    for kind, rows in rows_of(network).items():
        for row in rows:
            for name, value in row.items():
                if isinstance(value, str) and len(value) > _CELL:
                    raise ModelError(
                        f"{kind} {row.get('name', '')}", name, f"is longer than the {_CELL:,} characters of a cell",
                        "hand it over as GeoJSON or as the project file, or give it fewer points",
                    )  # fmt: skip
    buffer = io.BytesIO()
    book = xlsxwriter.Workbook(buffer, {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False})
    strong = book.add_format({"bold": True})
    for kind, rows in rows_of(network).items():
        sheet = book.add_worksheet(kind)
        headings = list(dict.fromkeys(name for row in rows for name in row))
        for j, name in enumerate(headings):
            sheet.write_string(0, j, f"{name} ({FIELDS[name]})" if name in FIELDS else name, strong)
        for i, row in enumerate(rows, start=1):
            for j, name in enumerate(headings):
                value = row.get(name)
                if isinstance(value, bool):
                    sheet.write_boolean(i, j, value)
                elif isinstance(value, int | float):
                    sheet.write_number(i, j, value)
                elif value is not None:
                    sheet.write_string(i, j, str(value))
        sheet.freeze_panes(1, 0)
        sheet.autofit()
    if not network.nodes:
        book.add_worksheet("empty")
    book.close()
    return buffer.getvalue()


def _tables(content: bytes) -> dict[str, list[Row]]:
    """Rows of each sheet, the first of them the headings.

    Raises
    ------
    ModelError
        When it is neither a workbook nor text, or too large unpacked.
    """
    found = _workbook(content) if content[:2] == b"PK" else {"table": _csv(content)}
    tables = {
        name: [row for row in rows if any(cell not in (None, "") for cell in row)] for name, rows in found.items()
    }
    if sum(len(row) for rows in tables.values() for row in rows) > _MOST_CELLS:
        raise ModelError("file", "table", f"holds more than {_MOST_CELLS:,} cells", "import a part of it")
    tables = {name: rows for name, rows in tables.items() if len(rows) > 1}
    if not tables:
        raise ModelError(
            "file", "table", "holds no rows under a row of headings", "put the headings into the first row"
        )
    return tables


def _workbook(content: bytes) -> dict[str, list[Row]]:
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            if sum(entry.file_size for entry in archive.infolist()) > _MOST_UNPACKED:
                raise ModelError(
                    "file", "workbook", f"unpacks to more than {_MOST_UNPACKED // 2**20} MB", "import a part of it"
                )
        book = openpyxl.load_workbook(io.BytesIO(content), read_only=True, data_only=True)
        found: dict[str, list[Row]] = {}
        cells = 0
        for sheet in book.worksheets:
            rows = []
            for values in sheet.iter_rows(values_only=True, max_col=500):
                cells += len(values)
                if cells > _MOST_CELLS:
                    raise ModelError(
                        "file", "workbook", f"holds more than {_MOST_CELLS:,} cells", "import a part of it"
                    )
                rows.append(list(values))
            found[sheet.title] = rows
        return found
    except ModelError:
        raise
    except Exception as error:  # whatever a broken archive makes the reader stumble over
        raise ModelError("file", "workbook", f"cannot be read: {error}"[:200], "write it again as .xlsx") from error


def _csv(content: bytes) -> list[Row]:
    text = text_of(content, "file")
    head = text[:20_000].split("\n", 1)[0]
    separator = max("\t;,", key=head.count)
    try:
        return [
            [cell.strip() for cell in row] for row in csv.reader(io.StringIO(text, newline=""), delimiter=separator)
        ]
    except csv.Error as error:
        raise ModelError("file", "CSV", f"cannot be read: {error}", "write it again as CSV in UTF-8") from error


def _number(cell: Any) -> float | None:
    if isinstance(cell, bool) or cell is None:
        return None
    if isinstance(cell, int | float):
        return float(cell)
    text = str(cell).strip().replace("\u2212", "-").replace("\u00a0", "").replace(" ", "")
    if text.count(",") == 1 and "." not in text:
        text = text.replace(",", ".")
    try:
        return float(text)
    except ValueError:
        return None


def _headings(row: Row) -> list[str]:
    return [str(cell).strip()[:200] if cell is not None else "" for cell in row]


def look_at_tables(
    content: bytes, kept: list[TableMapping], usual: Usual | None = None, kinds: list[str] | None = None
) -> list[SheetLook]:
    """Each table with the mapping that was kept for its headings, or else with a guess.

    usual : units of figures that come without one. kinds : those that its rows may be of, the usual one first, where
    the table that they are pasted into says it.
    """
    found = []
    for name, (head, *rows) in _tables(content).items():
        headings = _headings(head)
        known = next((m for m in kept if m.headings == headings and m.kind in (kinds or [m.kind])), None)
        sample = [[("" if c is None else str(c))[:60] for c in row] for row in rows[:_SAMPLE]]
        mapping = known or _guessed(name, headings, rows, usual or Usual(), (kinds or [""])[0])
        found.append(
            SheetLook(
                sheet=name, headings=headings, sample=sample, rows=len(rows), mapping=mapping, known=known is not None
            )
        )
    return found


def _guessed(name: str, headings: list[str], rows: list[Row], usual: Usual, kind: str) -> TableMapping:
    """kind : of the rows, where it is known; else the one that the sheet is called by, or that most headings fit."""

    def columns(kind: str) -> dict[str, ColumnUse]:
        found: dict[str, ColumnUse] = {}
        for j, heading in enumerate(headings):
            field = guessed_field(heading, kind) if heading else ""
            if field and field not in {use.field for use in found.values()}:
                cells = [row[j] for row in rows[:50] if j < len(row)]
                if field == "kind" and not all(_kind_of(cell, kind) for cell in cells):
                    continue
                figures = [n for cell in cells if (n := _number(cell)) is not None]
                found[heading] = ColumnUse(field=field, unit=guessed_unit(field, heading, figures, usual))
        return found

    if kind:
        return TableMapping(headings=headings, kind=kind, columns=columns(kind))
    if name in GROUP_OF:
        return TableMapping(headings=headings, kind=name, columns=columns(name))
    likely = ("pipe", "manhole", "catchment", "outfall")
    fields = {kind: {use.field for use in columns(kind).values()} for kind in likely}
    joined = {"upstream", "downstream"} <= fields["pipe"]
    drained = {"area"} <= fields["catchment"] and not joined
    kind = "pipe" if joined else "catchment" if drained else "manhole"
    return TableMapping(headings=headings, kind=kind, columns=columns(kind))


def read_tables(content: bytes, mappings: list[TableMapping]) -> Incoming:
    """Elements of every table whose headings have a mapping; rows that cannot be read are remarked on, one by one.

    Raises
    ------
    ModelError
        When the file holds no tables, or a mapping names a kind, field or unit that there is not.
    """
    incoming = Incoming()
    for name, (head, *rows) in _tables(content).items():
        headings = _headings(head)
        mapping = next((m for m in mappings if m.headings == headings), None)
        if mapping is None or mapping.kind == "":
            incoming.remarks.append(Remark(where=f"table {name}", what="is left out"))
            continue
        if mapping.kind not in GROUP_OF:
            raise ModelError(
                f"table {name}", "kind", f"“{mapping.kind}” is no kind of element", "choose one of the list"
            )
        _take(incoming, name, headings, rows, mapping)
    _by_key(incoming)
    return incoming


def _by_key(incoming: Incoming) -> None:
    """Nodes have the ids of ours, or their names, as keys; rows refer to them by either."""
    key_of = {str(fields.get("name", key)): key for key, fields in incoming.nodes.items()}
    for elements in (incoming.nodes, incoming.links, incoming.catchments):
        for fields in elements.values():
            for reference in REFERENCES:
                if fields.get(reference) not in incoming.nodes and fields.get(reference) in key_of:
                    fields[reference] = key_of[fields[reference]]


def _take(incoming: Incoming, name: str, headings: list[str], rows: list[Row], mapping: TableMapping) -> None:
    group = GROUP_OF[mapping.kind]
    # our own sheets are called by the kind of their rows
    stated = name == mapping.kind or any(use.field == "kind" for use in mapping.columns.values())
    uses: list[tuple[int, ColumnUse, float]] = []
    for j, heading in enumerate(headings):
        use = mapping.columns.get(heading)
        if use is None or use.field == "":
            if heading:
                incoming.dropped[f"column {heading} of {name}"] += 1
            continue
        try:
            uses.append((j, use, factor(use.field, use.unit) if use.field in FIELDS else 1.0))
        except KeyError as error:
            raise ModelError(
                f"column {heading}", "unit", f"“{use.unit}” is no unit of {use.field}", "choose one of the list"
            ) from error
    for number, row in enumerate(rows, start=2):
        where = f"{name}, row {number}"
        try:
            fields = _read_row(row, headings, uses, mapping.kind)
        except ValueError as error:
            incoming.leave_out(where, f"{error}; the row is left out", *_names(row, uses))
            continue
        if "name" not in fields and "id" not in fields:
            incoming.remarks.append(Remark(where=where, what="has no name; the row is left out"))
            continue
        key = str(fields.get("id", fields.get("name")))
        if not stated:
            incoming.guessed.add((group, key))
        incoming.add(group, key, fields, {"capacity": USUAL_CAPACITY} if fields.get("kind") == "inlet" else None)


def _read_row(row: Row, headings: list[str], uses: list[tuple[int, ColumnUse, float]], kind: str) -> Fields:
    """Fields of a row's element. Raises ValueError where a cell cannot be read."""
    flat_row: dict[str, Any] = {}
    for j, use, times in uses:
        cell = row[j] if j < len(row) else None
        if cell is None or cell == "":
            continue
        if use.field in FIELDS:
            figure = _number(cell)
            if figure is None:
                raise ValueError(f"{headings[j]}: “{str(cell)[:40]}” is no number")
            flat_row[use.field] = figure * times
        else:
            flat_row[use.field] = _word(cell) if use.field in WORDS else _plain(cell)
    try:
        fields = nested(flat_row)
    except (json.JSONDecodeError, RecursionError, AttributeError, TypeError) as error:
        raise ValueError("holds a list that cannot be read") from error
    if GROUP_OF[kind] == "catchments":
        return fields
    said = fields.get("kind", kind)
    if not (of_kind := _kind_of(said, kind)):
        raise ValueError(f"“{str(said)[:40]}” is no kind of element that can stand in this table")
    return fields | of_kind


def _kind_of(cell: Any, usual: str) -> Fields:
    """The fields by which an element is of the kind that a cell names; none where it names none of the same group."""
    word = "_".join(str(cell).split()).casefold()
    if word in GROUP_OF and GROUP_OF[word] == GROUP_OF[usual]:
        return {"kind": word}
    drawn = _DRAWN.get(word)
    if drawn is None or GROUP_OF[drawn.model_fields["kind"].default] != GROUP_OF[usual]:
        return {}
    return {"kind": drawn.model_fields["kind"].default, "form": word}


def _names(row: Row, uses: list[tuple[int, ColumnUse, float]]) -> list[str]:
    return [_word(row[j]) for j, use, _ in uses if use.field in ("id", "name") and j < len(row) and row[j]]


def _word(cell: Any) -> str:
    return str(int(cell)) if isinstance(cell, float) and cell.is_integer() else str(cell).strip()


def _plain(cell: Any) -> Any:
    """A cell of a field without a unit: a number where it is one, yes and no, or a word."""
    if isinstance(cell, bool):
        return cell
    if isinstance(cell, int | float):
        return int(cell) if float(cell).is_integer() else cell
    text = str(cell).strip()
    if text.casefold() in ("true", "yes"):
        return True
    if text.casefold() in ("false", "no"):
        return False
    number = _number(text)
    return (
        text if number is None or not any(c.isdigit() for c in text) else int(number) if number.is_integer() else number
    )
