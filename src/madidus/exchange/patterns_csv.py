"""Temporal patterns as CSV: a row for each, `duration` in min, `pattern`, then its increments."""

import csv
import io

from pydantic import ValidationError

from ..core.errors import ModelError
from ..core.model.refused import problem_of
from ..core.rainfall.ensemble import TemporalPattern
from .texts import text_of

__all__ = ["read_patterns"]

_MOST = 1000


def read_patterns(content: bytes) -> list[TemporalPattern]:
    """Patterns of a file with commas, semicolons or tabs; headings are optional. Increments are shares or per cent.

    Raises
    ------
    ModelError
        Names the row, and what is wrong with it: not a number, increments that do not sum to 1 (or 100).
    """
    text = text_of(content, "patterns")
    first = text.split("\n", 1)[0]
    separator = max("\t;,", key=first.count)
    found: list[TemporalPattern] = []
    for number, row in enumerate(csv.reader(io.StringIO(text, newline=""), delimiter=separator), start=1):
        cells = [cell.strip() for cell in row]
        while cells and not cells[-1]:
            cells.pop()
        if not cells or (number == 1 and not _is_number(cells[0])):
            continue
        if len(found) >= _MOST:
            raise ModelError(
                "patterns", "file", f"holds more than {_MOST}", "import those of the durations that you run"
            )
        if len(cells) < 3:
            raise _wrong(number, "has fewer than three cells", "give duration, pattern and increments")
        for column, cell in enumerate((cells[0], *cells[2:])):
            if not _is_number(cell):
                at = 1 if column == 0 else column + 2
                raise _wrong(number, f"column {at}: “{cell[:30]}” is no number", "correct this cell")
        values = [float(cell.replace(",", ".")) for cell in cells[2:]]
        scale = 100.0 if abs(sum(values) - 100.0) < 0.2 else 1.0
        name = cells[1] if not _is_number(cells[1]) else f"pattern {float(cells[1]):g}"
        try:
            pattern = TemporalPattern(
                duration=float(cells[0].replace(",", ".")), name=name, increments=[v / scale for v in values]
            )
        except ValidationError as error:
            raise _wrong(number, problem_of(error), "correct this row") from error
        found.append(pattern)
    if not found:
        raise ModelError("patterns", "file", "holds no rows", "give a row for each pattern")
    return found


def _wrong(number: int, problem: str, remedy: str) -> ModelError:
    return ModelError(f"patterns, row {number}", "row", problem, remedy)


def _is_number(text: str) -> bool:
    try:
        float(text.replace(",", "."))
    except ValueError:
        return False
    return True
