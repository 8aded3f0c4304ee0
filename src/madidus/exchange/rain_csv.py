"""Recorded rain as CSV: a column `time` (ISO 8601), and one of depths or intensities with its unit in the heading.

Commas, semicolons or tabs part the columns; with the latter two a comma may be the decimal sign.
"""

import io
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute
import pyarrow.csv

from ..core.errors import ModelError
from ..core.rainfall.recorded import RainSeries
from .texts import ANSI, marked

__all__ = ["read_rain"]

_INCH = 25.4
# heading to mm, and whether it is a rate per hour
_COLUMNS = {"depth mm": (1.0, False), "depth in": (_INCH, False), "intensity mm/h": (1.0, True),
            "intensity in/h": (_INCH, True)}  # fmt: skip
_MOST_ROWS = 20_000_000


def _refuse(row: int | None, field: str, problem: str, remedy: str) -> ModelError:
    return ModelError("recorded rain" if row is None else f"recorded rain, row {row}", field, problem, remedy)


def _time(text: str) -> datetime:
    found = datetime.fromisoformat(text)
    if found.tzinfo is not None:
        raise ValueError("a zone")
    return found


def _column(table: pa.Table, name: str, kind: pa.DataType, convert: Callable[[str], Any], remedy: str) -> np.ndarray:
    """A column converted at one go; only when that fails is each cell tried, to name the first that is wrong."""
    column = pa.compute.utf8_trim_whitespace(table.column(name))
    try:
        return np.asarray(column.cast(kind).to_numpy())
    except pa.ArrowInvalid:
        values = []
        for row, cell in enumerate(column, start=2):
            text = cell.as_py()
            if text == "":
                raise _refuse(row, name, "is empty", remedy) from None
            try:
                values.append(convert(text))
            except ValueError as error:
                raise _refuse(row, name, f"“{text[:40]}” is not read", remedy) from error
        # what the quick way does not know, such as 20240531T1405
        return np.asarray(pa.array(values, kind).to_numpy(zero_copy_only=False))


def _read(source: Path | bytes, encoding: str | None) -> tuple[pa.Table, str]:
    """The cells as text, and what parts the columns. encoding : None is by the byte order mark, else UTF-8."""
    with source.open("rb") if isinstance(source, Path) else io.BytesIO(source) as file:
        head = file.readline()
        encoding = encoding or marked(head) or "utf-8"
        mark = max(";\t,", key=head.decode(encoding, errors="replace").count)
        file.seek(0)
        table = pa.csv.read_csv(
            file, pa.csv.ReadOptions(encoding=encoding), pa.csv.ParseOptions(delimiter=mark),
            pa.csv.ConvertOptions(default_column_type=pa.string(), strings_can_be_null=False),
        )  # fmt: skip
        return table.rename_columns([column.strip().lower() for column in table.column_names]), mark


def read_rain(source: Path | bytes) -> tuple[RainSeries, list[str]]:
    """A record, and remarks on what was put right or is missing.

    The text is by its byte order mark, else UTF-8, else Windows-1252, which is remarked on.

    The interval is the most common distance of two rows. A row that repeats the one before is left out; times without
    a row count as dry, and are remarked on where the record otherwise writes zeros.

    Raises
    ------
    ModelError
        Names the row and the column: not a time, not a number, negative, out of order, the same time twice.
    """
    name = source.name if isinstance(source, Path) else "file"
    remarks = []
    try:
        try:
            table, mark = _read(source, None)
        except (pa.ArrowInvalid, UnicodeDecodeError) as error:
            if "utf8" not in str(error).lower() and not isinstance(error, UnicodeDecodeError):
                raise
            table, mark = _read(source, ANSI)
            remarks.append("its text is not UTF-8 and was read as Windows-1252")
    except (OSError, UnicodeError, pa.ArrowInvalid) as error:
        text = str(error).splitlines()[0][:120]
        raise _refuse(None, name, f"cannot be read ({text})", "choose a CSV file") from error
    if table.num_rows > _MOST_ROWS:
        raise _refuse(None, name, f"has {table.num_rows} rows", f"take {_MOST_ROWS} at most")
    unit = next((column for column in table.column_names if column in _COLUMNS), None)
    if "time" not in table.column_names or unit is None:
        wanted = ", ".join(_COLUMNS)
        raise _refuse(
            None, "headings", f"are {', '.join(table.column_names)[:120]}", f"write time and one of: {wanted}"
        )
    times = _column(table, "time", pa.timestamp("s"), _time, "write 2024-05-31T14:05, without a zone")
    # a bare number, such as a spreadsheet's day count, would be read as a year
    odd = (times < np.datetime64("1800-01-01")) | (times > np.datetime64("2200-01-01"))
    for row in np.nonzero(odd)[0][:1]:
        text = str(table.column("time")[int(row)])[:40]
        raise _refuse(int(row) + 2, "time", f"“{text}” is no time of a record", "write 2024-05-31T14:05")
    if mark != ",":  # a comma is then the decimal sign
        commas = pa.compute.replace_substring(table.column(unit), ",", ".")
        table = table.set_column(table.column_names.index(unit), unit, commas)
    values = _column(table, unit, pa.float64(), float, "write a number with a decimal point")
    if times.size < 2:
        raise _refuse(None, name, "has fewer than two rows", "choose a longer record")
    for row in np.nonzero(~np.isfinite(values) | (values < 0.0))[0][:1]:
        raise _refuse(int(row) + 2, unit, f"{values[row]:g} is no rain", "correct it, or leave the row out")
    seconds = (times - times[0]).astype(np.int64)
    steps = np.diff(seconds)
    for row in np.nonzero(steps < 0)[0][:1]:
        raise _refuse(int(row) + 3, "time", "is earlier than the row above", "sort the record by time")
    for row in np.nonzero((steps == 0) & (np.diff(values) != 0.0))[0][:1]:
        raise _refuse(int(row) + 3, "time", "is there twice with different rain", "remove one of both rows")
    keep = np.append(True, steps > 0)
    if not keep.all():
        remarks.append(f"{int((~keep).sum())} rows that repeat the one above were left out")
    seconds, values = seconds[keep], values[keep]
    steps = np.diff(seconds)
    found, counts = np.unique(steps, return_counts=True)
    interval = float(found[counts.argmax()])
    short = np.nonzero(steps < interval)[0]
    if short.size:
        raise _refuse(None, "time", f"{short.size} rows follow in less than the usual {interval / 60:g} min",
                      "bring the record to one interval")  # fmt: skip
    holes = steps[steps > interval]
    if holes.size and np.any(values == 0.0):
        hours = float((holes - interval).sum()) / 3600.0
        remarks.append(f"{holes.size} gaps, {hours:g} h in all, count as dry; the longest is {holes.max() / 3600:g} h")
    scale, is_rate = _COLUMNS[unit]
    depth = values * scale * (interval / 3600.0 if is_rate else 1.0)
    wet = depth > 0.0
    series = RainSeries(
        times[0].astype(datetime), interval, seconds[wet].astype(float), depth[wet], float(seconds[-1] + interval)
    )
    return series, remarks
