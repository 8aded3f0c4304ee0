"""Graphs for print: lines over a quantity, steps of rain, boxes by duration. Lines differ by dashes, not by colour."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from .canvas import INK, MADDER, OCHRE, PALE, QUIET, WATER, Box, Canvas, text_width

__all__ = ["Axis", "BoxOf", "Line", "draw_graph", "graph_svg"]

_PENS = (
    (INK, ""), (WATER, "2.4 0.8"), (MADDER, "0.7 0.7"), (OCHRE, "3 0.7 0.7 0.7"), (QUIET, "1.4 1.4"), (INK, "4 1"),
    (WATER, ""), (MADDER, "2.4 0.8"),
)  # fmt: skip
_MOST = 1500  # points of a line on paper


@dataclass(frozen=True)
class Axis:
    """What runs along an axis, with its unit. marks : values and their names; empty: round figures."""

    title: str
    marks: tuple[tuple[float, str], ...] = ()
    from_zero: bool = False


@dataclass(frozen=True)
class Line:
    """A line of a graph. steps : y holds from each x to the next, and x has one more."""

    name: str
    x: np.ndarray
    y: np.ndarray
    steps: bool = False


@dataclass(frozen=True)
class BoxOf:
    """The spread at a place: least, lower quartile, median, upper quartile, greatest; mean beside."""

    x: float
    five: tuple[float, float, float, float, float]
    mean: float
    few: tuple[float, ...] = ()  # the values themselves, where they are too few to be spread: dots instead of a box


def _round_marks(low: float, high: float, most: int) -> list[float]:
    span = max(high - low, 1e-9)
    raw = span / max(most, 1)
    size = 10.0 ** math.floor(math.log10(raw))
    step = next(size * f for f in (1.0, 2.0, 2.5, 5.0, 10.0) if size * f >= raw - 1e-12)
    first = math.ceil(low / step - 1e-9)
    return [k * step for k in range(first, math.floor(high / step + 1e-9) + 1)]


def _range(values: list[np.ndarray], from_zero: bool) -> tuple[float, float]:
    found = np.concatenate([v[np.isfinite(v)] for v in values]) if values else np.zeros(0)
    if found.size == 0:
        return 0.0, 1.0
    low, high = float(found.min()), float(found.max())
    if from_zero:
        low = min(low, 0.0)
    room = 0.05 * (high - low) or max(abs(high) * 0.05, 0.5)
    return (low if from_zero and low == 0.0 else low - room), high + room


def draw_graph(
    canvas: Canvas, box: Box, x: Axis, y: Axis, lines: Sequence[Line], boxes: Sequence[BoxOf] = (), title: str = ""
) -> None:
    """Draw into a box, axes and key included."""
    names = [line.name for line in lines if line.name]
    key = 4.0 * math.ceil(len(names) / max(int((box[2] - box[0] - 14) // 45), 1)) if names else 0.0
    left, top, right, foot = box[0] + 13, box[1] + (6 if title else 2), box[2] - 3, box[3] - 8 - key
    if title:
        canvas.text((left, box[1] + 3.4), title, 2.6, strong=True)
    xs = [line.x for line in lines] + [np.array([b.x for b in boxes])] * bool(boxes) + [
        np.array([value for value, _ in x.marks])] * bool(x.marks)  # fmt: skip
    ys = [line.y for line in lines] + [np.array([v for b in boxes for v in b.five])] * bool(boxes)
    (x0, x1), (y0, y1) = _range(xs, x.from_zero), _range(ys, y.from_zero)
    if lines and not boxes and not x.marks:
        x0, x1 = min(float(v[0]) for v in xs if v.size), max(float(v.max()) for v in xs if v.size)
        x1 = x1 if x1 > x0 else x0 + 1.0

    def at(a: float, b: float) -> tuple[float, float]:
        return left + (a - x0) / (x1 - x0) * (right - left), foot - (b - y0) / (y1 - y0) * (foot - top)

    for value in _round_marks(y0, y1, max(int((foot - top) / 8), 2)):
        _, py = at(x0, value)
        canvas.line([(left, py), (right, py)], 0.1, QUIET, "0.3 1.2")
        canvas.text((left - 1, py + 0.7), f"{value:.6g}", 1.9, "end")
    marks = x.marks or tuple((v, f"{v:.6g}") for v in _round_marks(x0, x1, max(int((right - left) / 16), 2)))
    for value, name in marks:
        px, _ = at(value, y0)
        canvas.line([(px, foot), (px, foot + 0.9)], 0.2)
        canvas.text((px, foot + 3.2), name, 1.9, "middle")
    canvas.line([(left, top), (left, foot), (right, foot)], 0.3)
    canvas.text((right, foot + 6.2), x.title, 2.0, "end", QUIET)
    canvas.text((box[0] + 2.4, top), y.title, 2.0, "end", QUIET, turned=-90)
    canvas.clip((left, top - 0.5, right + 0.2, foot + 0.2))
    for k, line in enumerate(lines):
        colour, dash = _PENS[k % len(_PENS)]
        canvas.line([at(a, b) for a, b in _points(line)], 0.35, colour, dash)
    half = 0.3 * (right - left) / max(len(boxes), 4)
    for one in boxes:
        _draw_box(canvas, one, at, min(half, 5.0))
    canvas.unclip()
    _key(canvas, names, (left, foot + 9.5, right, box[3]))


def _points(line: Line) -> list[tuple[float, float]]:
    if line.steps:
        xs, ys = np.repeat(line.x, 2), np.concatenate([[0.0], np.repeat(line.y, 2), [0.0]])
    else:
        xs, ys = line.x, line.y
    seen = np.isfinite(xs) & np.isfinite(ys)
    xs, ys = xs[seen], ys[seen]
    if xs.size > _MOST:
        xs, ys = _thinned(xs, ys)
    return list(zip(xs.tolist(), ys.tolist(), strict=True))


def _thinned(xs: np.ndarray, ys: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Least and greatest of each part, in their order: no peak is lost."""
    kept: set[int] = {0, xs.size - 1}
    for part in np.array_split(np.arange(xs.size), _MOST // 2):
        kept |= {int(part[ys[part].argmin()]), int(part[ys[part].argmax()])}
    places = sorted(kept)
    return xs[places], ys[places]


def _draw_box(canvas: Canvas, one: BoxOf, at: object, half: float) -> None:
    assert callable(at)
    if one.few:
        for value in one.few:
            canvas.circle(at(one.x, value), 0.6)
        return
    low, first, middle, third, high = (at(one.x, v) for v in one.five)
    x = low[0]
    canvas.line([low, high], 0.25)
    canvas.box((x - half, third[1], x + half, first[1]), 0.3, PALE)
    canvas.line([(x - half, middle[1]), (x + half, middle[1])], 0.6)
    for end in (low, high):
        canvas.line([(x - half / 2, end[1]), (x + half / 2, end[1])], 0.25)
    canvas.circle(at(one.x, one.mean), 0.6, 0.2, INK)


def _key(canvas: Canvas, names: list[str], box: Box) -> None:
    x, y = box[0], box[1]
    for k, name in enumerate(names):
        wide = 9 + text_width(name, 2.0)
        if x + wide > box[2] and x > box[0]:
            x, y = box[0], y + 4.0
        colour, dash = _PENS[k % len(_PENS)]
        canvas.line([(x, y - 0.7), (x + 6, y - 0.7)], 0.4, colour, dash)
        canvas.text((x + 7, y), name, 2.0)
        x += max(wide + 3, 45.0)


def graph_svg(
    wide: float, high: float, x: Axis, y: Axis, lines: Sequence[Line], boxes: Sequence[BoxOf] = (), title: str = ""
) -> str:
    """A graph by itself, mm."""
    canvas = Canvas(wide, high)
    draw_graph(canvas, (0, 0, wide, high), x, y, lines, boxes, title)
    return canvas.svg()
