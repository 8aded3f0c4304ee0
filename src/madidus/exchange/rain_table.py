"""A rainfall table as pasted or as CSV: durations one way, return periods or AEP the other."""

import csv
import io
import re
from collections import Counter
from collections.abc import Callable
from typing import Literal

import numpy as np
from pydantic import BaseModel, ValidationError

from ..core.errors import ModelError
from ..core.model.refused import problem_of
from ..core.rainfall.methods import DepthTable
from .texts import text_of

__all__ = ["Choices", "ReadTable", "read_table"]

_MOST_ROWS, _MOST_COLUMNS = 250, 250
_INCH = 25.4
_TIME = {"min": 1.0, "h": 60.0, "d": 1440.0}
_TIME_WORDS = re.compile(
    r"\b(?:(min(?:ute)?s?|mins?\.|m)|(h(?:ou)?rs?|h|hrs?\.)|(d(?:ay)?s?))(?![\w/])|(?<=\d)(?:(min|m)|(h|hr)|(d))\b",
    re.I,
)
_YEARS = re.compile(r"\b(?:yr|year|years|yrs|return|ari|t)\b|\b1\s*(?:in|:)\s*\d|(?<=\d)yr", re.I)
_CHANCE = re.compile(r"%|aep|exceedance|chance|probab", re.I)


class Choices(BaseModel):
    """What is known of a table beyond what it says itself; what is None is read from it."""

    durations: Literal["across", "down"] | None = None
    time: Literal["min", "h"] | None = None
    probability: Literal["years", "aep"] | None = None
    measure: Literal["depth", "intensity"] | None = None
    unit: Literal["mm", "in"] | None = None


class ReadTable(BaseModel):
    """The table in min, years and mm; how it was understood; and what of that was neither said nor chosen.

    other : the same numbers with durations the other way, where nothing decides between the two: somebody has to.
    """

    table: DepthTable
    other: DepthTable | None = None
    understood: Choices
    assumed: list[Literal["durations", "time", "probability", "measure", "unit"]]


class _Axis:
    """Headings along one side. places : (row, column), counted from 1, of each."""

    def __init__(self, cells: list[str], places: list[tuple[int, int]]):
        self.cells, self.places = cells, places
        text = " ".join(cells)
        self.rare = bool(_YEARS.search(text) or _CHANCE.search(text))
        self.timed = not self.rare and bool(_TIME_WORDS.search(text))


def _wrong(place: tuple[int, int], problem: str, remedy: str = "correct this cell") -> ModelError:
    return ModelError("rainfall table", f"row {place[0]}, column {place[1]}", problem, remedy)


def _cells(text: str) -> list[list[str]]:
    sample = text[:20_000]
    if any(mark in sample for mark in "\t;"):
        mark = "\t" if "\t" in sample else ";"
    elif re.search(r",", sample) and not re.search(r"\d,\d+ +\d", sample):
        mark = ","
    else:
        mark = ""
    lines = io.StringIO(text, newline="")
    rows: list[list[str]] = []
    # cells of a page are often apart by blanks alone
    source = (
        csv.reader(lines, delimiter=mark)
        if mark
        else (re.split(r"\s{2,}|\t|(?<=\d)\s(?=\d)", x.strip()) for x in lines)
    )
    try:
        for row in source:
            cells = [cell.replace("\u00a0", " ").strip() for cell in row]
            if len(rows) >= _MOST_ROWS:
                raise ModelError(
                    "rainfall table", f"row {_MOST_ROWS + 1}", f"is one more than the {_MOST_ROWS} that can be read",
                    "paste the table alone; recorded rain is imported below",
                )  # fmt: skip
            if len(cells) > _MOST_COLUMNS:
                raise _wrong((len(rows) + 1, _MOST_COLUMNS + 1), "is too far right", f"give {_MOST_COLUMNS} at most")
            rows.append(cells)
    except csv.Error as error:
        raise ModelError("rainfall table", f"row {len(rows) + 1}", str(error), "correct this row") from error
    while rows and not any(rows[-1]):
        rows.pop()
    return rows


def _reader(rows: list[list[str]]) -> Callable[[str], float | None]:
    """Reads a number. A comma is the decimal sign where no cell has a point, and parts thousands where one has."""
    numbers = [cell for row in rows for cell in row if re.fullmatch(r"[-+]?[\d.,' ]*\d[\d.,]*\D{0,12}", cell)]
    pointed, comma = any("." in n for n in numbers), any("," in n for n in numbers)
    decimal_comma = comma and (not pointed or any(re.search(r"\.\d{3},\d", n) for n in numbers))

    def read(cell: str) -> float | None:
        plain = cell.replace(" ", "").replace("'", "")
        plain = plain.replace(".", "").replace(",", ".") if decimal_comma and "," in plain else plain.replace(",", "")
        try:
            value = float(plain)
        except ValueError:
            return None
        return value if np.isfinite(value) else None

    return read


def read_table(content: bytes, chosen: Choices, assume: Literal["mm", "in"] = "mm") -> ReadTable:  # noqa: C901
    """Read a table with one row and one column of headings. Depths (mm, in) or intensities (mm/h, in/h).

    chosen : overrules what the table says. assume : the unit where neither says one.

    Raises
    ------
    ModelError
        Names row and column, counted from 1, what is wrong there and what to do.
    """
    rows = _cells(text_of(content, "rainfall table"))
    begin = _heading(rows)
    title = " ".join(cell for row in rows[: begin or 0] for cell in row)
    if begin is None or len(rows) - begin < 2:
        raise ModelError(
            "rainfall table", "rows", "has no row of depths under a row of headings",
            "paste headings and all: durations one way, return periods the other",
        )  # fmt: skip
    body = [(i + 1, row) for i, row in enumerate(rows) if i > begin and any(row)]
    head = rows[begin]
    width = max(k + 1 for k, cell in enumerate(head) if cell)
    across = _Axis(head[1:width], [(begin + 1, k + 1) for k in range(1, width)])
    down = _Axis([row[0] if row else "" for _, row in body], [(i, 1) for i, _ in body])
    words = f"{title} {head[0]}"
    read = _reader(rows)
    assumed: list[Literal["durations", "time", "probability", "measure", "unit"]] = []

    way = chosen.durations or _way_said(head[0], across, down) or _way_of_sizes(across, down, read)
    if way is None:
        return _either_way(content, chosen, assume)
    durations, probabilities = (down, across) if way == "down" else (across, down)

    values = np.zeros((len(body), width - 1))
    for r, (number, row) in enumerate(body):
        for c in range(1, width):
            cell = row[c] if c < len(row) else ""
            value = read(cell)
            if value is None:
                raise _wrong((number, c + 1), f"“{cell[:30]}” is no number" if cell else "is empty")
            if value <= 0.0:
                raise _wrong((number, c + 1), f"{value:g} is not above 0")
            values[r, c - 1] = value
        extra = next((c for c in range(width, len(row)) if row[c]), None)
        if extra is not None:
            raise _wrong((number, extra + 1), "stands right of the last heading", "give its column a heading")

    time = chosen.time or _time_said(words)
    if time is None:
        time = "min"
        if not durations.timed:
            assumed.append("time")
    minutes = [_minutes(cell, place, time, read) for cell, place in zip(durations.cells, durations.places, strict=True)]
    probability = chosen.probability
    if probability is None:
        said = " ".join(probabilities.cells)
        probability = "aep" if _CHANCE.search(said) else "years" if _YEARS.search(said) else None
    if probability is None:
        probability = "aep" if _CHANCE.search(words) else "years"
        if not (_CHANCE.search(words) or _YEARS.search(words)):
            assumed.append("probability")
    years = [
        _years(cell, place, probability, read)
        for cell, place in zip(probabilities.cells, probabilities.places, strict=True)
    ]

    grid = values.T if way == "down" else values  # by return period, then duration
    by_time, by_years = np.argsort(minutes, kind="stable"), np.argsort(years, kind="stable")
    grid = grid[np.ix_(by_years, by_time)]
    measure = chosen.measure
    if measure is None and re.search(r"intensit|/\s*(?:h|hr|hour)\b", words, re.I):
        measure = "intensity"
    elif measure is None and re.search(r"\bdepth", words, re.I):
        measure = "depth"
    if measure is None:
        falls = len(minutes) > 1 and bool((np.diff(grid, axis=1) < 0).all())
        measure = "intensity" if falls else "depth"
        assumed.append("measure")
    unit = chosen.unit or ("in" if re.search(r"\bin(?:ch(?:es)?)?\b", words, re.I) else None)
    unit = unit or ("mm" if re.search(r"\bmm\b", words, re.I) else None)
    if unit is None:
        unit = assume
        assumed.append("unit")
    spread = np.array(minutes)[by_time]
    depths = grid * (_INCH if unit == "in" else 1.0) * (spread / 60.0 if measure == "intensity" else 1.0)
    try:
        table = DepthTable(
            durations=[float(t) for t in spread], return_periods=[float(years[k]) for k in by_years],
            depths=[[float(f"{d:.7g}") for d in row] for row in depths],
        )  # fmt: skip
    except ValidationError as error:
        told = problem_of(error).removeprefix("rainfall table, ")
        place, _, problem = told.partition(": ")
        raise ModelError(
            "rainfall table", place if problem else "table", problem or told,
            "correct it, or say otherwise what the table holds",
        ) from error  # fmt: skip
    understood = Choices(
        durations=way, time="h" if time == "h" else "min", probability=probability, measure=measure, unit=unit
    )
    return ReadTable(table=table, understood=understood, assumed=assumed)


_DURATION = re.compile(r"\bdur|\bminutes?\b|\bmins?\b|\bhours?\b|\bhrs?\b|^\W*[hD]\W*$", re.I)
_PROBABILITY = re.compile(r"return|period|\byears?\b|\byrs?\b|\bari\b|\baep\b|chance|probab|^\W*T\W*$", re.I)
_USUAL_YEARS = {
    1,
    1.01,
    1.58,
    2,
    3,
    5,
    10,
    20,
    25,
    30,
    40,
    50,
    75,
    100,
    150,
    200,
    250,
    300,
    500,
    1000,
    2000,
    5000,
    10_000,
}


def _way_said(corner: str, across: _Axis, down: _Axis) -> Literal["across", "down"] | None:
    """Which way durations run, as the headings or the corner say it: 'Duration [min]' heads the column below it, and of
    'yr \\ min' the first word does.
    """
    if down.timed or across.rare:
        return "down"
    if across.timed or down.rare:
        return "across"
    bare = re.sub(r"\b(?:mm|in)\s*/\s*h\w*", "", corner)
    below, *right = re.split(r"\\|/|\|", bare, maxsplit=1)
    if _DURATION.search(below) or (right and _PROBABILITY.search(right[0])):
        return "down"
    if _PROBABILITY.search(below) or (right and _DURATION.search(right[0])):
        return "across"
    return None


def _way_of_sizes(across: _Axis, down: _Axis, read: Callable[[str], float | None]) -> Literal["across", "down"] | None:
    """Which way durations run by their size: usual return periods along one side, and none along the other."""

    def usual(axis: _Axis) -> bool:
        return all(read(cell) in _USUAL_YEARS for cell in axis.cells)

    if usual(across) == usual(down):
        return None
    return "down" if usual(across) else "across"


def _either_way(content: bytes, chosen: Choices, assume: Literal["mm", "in"]) -> ReadTable:
    """Read both ways: that in which depths grow with duration and return period, or both, for somebody to choose."""
    found: list[ReadTable] = []
    problem: ModelError | None = None
    for way in ("across", "down"):
        try:
            found.append(read_table(content, chosen.model_copy(update={"durations": way}), assume))
        except ModelError as error:
            problem = problem or error
    if not found:
        assert problem is not None
        raise problem
    first, *rest = found
    if not rest:
        return first
    return first.model_copy(update={"other": rest[0].table, "assumed": ["durations", *first.assumed]})


def _heading(rows: list[list[str]]) -> int | None:
    """The first row that is as wide as most are: lines of a title above are narrower."""
    widths = [max((k + 1 for k, cell in enumerate(row) if cell), default=0) for row in rows]
    counts = Counter(width for width in widths if width >= 2)
    if not counts:
        return None
    usual = min(counts, key=lambda width: (-counts[width], width))
    return next(i for i, width in enumerate(widths) if width >= usual)


def _time_said(words: str) -> Literal["min", "h"] | None:
    found = re.search(
        r"\b(?:(min(?:ute)?s?)|(h(?:ou)?rs?|h))\b(?!\s*\^)", re.sub(r"(mm|in)\s*/\s*h\w*", "", words), re.I
    )
    return None if found is None else "min" if found[1] else "h"


def _minutes(cell: str, place: tuple[int, int], time: str, read: Callable[[str], float | None]) -> float:
    hours = re.fullmatch(r"(\d+):([0-5]\d)", cell)
    if hours:
        return float(hours[1]) * 60.0 + float(hours[2])
    found = re.fullmatch(r"(.*?\d)\s*([a-z]*)\.?", cell, re.I)
    value = read(found[1]) if found else None
    if found is None or value is None or value <= 0.0:
        raise _wrong(place, f"“{cell[:30]}” is no duration" if cell else "is empty", "give it like 15, 15 min or 6 h")
    word = found[2].lower()
    if word and word[0] not in "mhd":
        raise _wrong(place, f"“{cell[:30]}” is no duration", "give it like 15, 15 min or 6 h")
    return round(value * _TIME[{"m": "min", "h": "h", "d": "d"}[word[0]] if word else time], 9)


def _years(cell: str, place: tuple[int, int], probability: str, read: Callable[[str], float | None]) -> float:
    """Return period of a heading: '30', '30 yr', '1 in 30', '3.3 %', '0.01' as AEP."""
    one_in = re.match(r"\s*1\s*(?:in|:)\s*(\S+)", cell, re.I)
    found = one_in or re.search(r"([\d][\d.,]*)", cell)
    value = read(found[1].rstrip(".,")) if found else None
    if value is None or value <= 0.0:
        raise _wrong(
            place,
            f"“{cell[:30]}” is no return period" if cell else "is empty",
            "give it like 30, 30 yr, 1 in 30 or 3.3 %",
        )
    if one_in or probability == "years":
        return value
    share = value if value < 1.0 and "%" not in cell else value / 100.0
    if share >= 1.0:
        raise _wrong(place, f"“{cell[:30]}” is no AEP", "give a share below 100 %")
    return round(1.0 / share, 4)
