"""A framed sheet: paper, title block, north arrow, scale bar, legend."""

from base64 import b64encode
from collections.abc import Sequence
from dataclasses import dataclass

from ...core.model.report import PAPERS, Paper
from .canvas import INK, QUIET, Box, Canvas, text_width
from .symbols import sample

__all__ = ["Drawn", "Key", "TitleBlock", "framed", "legend", "north_arrow", "scale_bar", "size_of"]

_MARGIN, _BLOCK = 8.0, 17.0  # mm
_BAR = (1, 2, 5, 10, 20, 25, 50, 100, 200, 250, 500, 1000, 2000)  # m


@dataclass(frozen=True)
class TitleBlock:
    """What stands at the foot of every sheet. logo : media type and content, where there is one."""

    project: str
    option: str
    number: str
    organisation: str
    client: str
    author: str
    checker: str
    status: str
    day: str
    fingerprint: str
    banner: str
    logo: tuple[str, bytes] | None


@dataclass(frozen=True)
class Drawn:
    """A finished sheet, mm. left_out : labels that found no room, by name."""

    svg: str
    wide: float
    high: float
    says: str
    left_out: tuple[str, ...] = ()


Key = tuple[str, str]
"""A row of a legend: what is drawn, and what it means."""


def size_of(paper: Paper, lying: bool) -> tuple[float, float]:
    """Width and height of a paper, mm."""
    short, long = PAPERS[paper]
    return (long, short) if lying else (short, long)


def framed(
    paper: Paper, lying: bool, block: TitleBlock, title: str, facts: Sequence[tuple[str, str]]
) -> tuple[Canvas, Box]:
    """A sheet with frame and title block, and the box that is free for the drawing. facts : scales, number of sheet."""
    wide, high = size_of(paper, lying)
    canvas = Canvas(wide, high)
    canvas.box((0, 0, wide, high), 0.0, "white")
    frame = (_MARGIN, _MARGIN, wide - _MARGIN, high - _MARGIN)
    canvas.box(frame, 0.7)
    top = frame[3] - _BLOCK
    canvas.line([(frame[0], top), (frame[2], top)], 0.5)
    people = " · ".join(
        part for part in (block.author, block.checker and f"checked {block.checker}", block.organisation) if part
    )
    columns: list[tuple[float, str, str, str]] = [
        (0.30, f"{block.project}{f', {block.number}' if block.number else ''}", title, f"option {block.option}"),
        (0.26, block.client and f"for {block.client}", people, block.status),
        (0.22, f"inputs {block.fingerprint}", block.day, f"{paper} {'lying' if lying else 'upright'}"),
    ]
    left = frame[0]
    if block.logo:
        media, content = block.logo
        canvas.picture((left + 2, top + 2, left + 24, frame[3] - 2), media, b64encode(content).decode())
        left += 26
    across = frame[2] - left
    for share, *lines in columns:
        right = left + share * across
        canvas.line([(right, top), (right, frame[3])], 0.25)
        canvas.clip((left, top, right - 0.5, frame[3]))
        for k, line in enumerate(lines):
            strong = k == 1 and share == 0.30
            canvas.text((left + 2, top + 4.6 + 4.9 * k), line, 2.9 if strong else 2.3, strong=strong)
        canvas.unclip()
        left = right
    for k, (name, value) in enumerate(facts[:3]):
        canvas.text((left + 2, top + 4.6 + 4.9 * k), name, 2.3, colour=QUIET)
        canvas.text((frame[2] - 2, top + 4.6 + 4.9 * k), value, 2.6, "end", strong=True)
    if block.banner:
        canvas.text(((frame[0] + frame[2]) / 2, frame[1] + 4), f"▲ {block.banner}", 2.8, "middle", strong=True)
    return canvas, (frame[0] + 3, frame[1] + (7 if block.banner else 3), frame[2] - 3, top - 3)


def north_arrow(canvas: Canvas, x: float, y: float) -> None:
    """North is up. x, y : its foot, mm."""
    canvas.line([(x, y), (x - 2.2, y + 1.0), (x, y - 9), (x + 2.2, y + 1.0)], 0.3, closed=True, fill="white")
    canvas.line([(x, y), (x, y - 9), (x + 2.2, y + 1.0)], 0.3, closed=True, fill=INK)
    canvas.text((x, y - 10.2), "N", 3.2, "middle", strong=True)


def scale_bar(canvas: Canvas, x: float, y: float, scale: int, unit: tuple[float, str]) -> None:
    """A bar of round length. unit : figure of a metre as it is read, and its name."""
    factor, name = unit
    millimetre = 1000.0 / scale / factor  # of paper for a unit
    step = next((s for s in _BAR if s * millimetre >= 9.0), _BAR[-1])
    for k in range(4):
        canvas.box(
            (x + k * step * millimetre, y, x + (k + 1) * step * millimetre, y + 1.4),
            0.2,
            INK if k % 2 == 0 else "white",
        )
    for k in range(5):
        last = f" {name}" if k == 4 else ""
        canvas.text((x + k * step * millimetre, y - 0.9), f"{k * step:g}{last}", 2.0, "middle")
    canvas.text((x, y + 4.4), f"1 : {scale}", 2.4, strong=True)


def legend(canvas: Canvas, box: Box, keys: Sequence[Key]) -> None:
    """A key in columns, within a box; what has no room is not drawn."""
    x, top, right, bottom = box
    rows = max(int((bottom - top) / 4.2), 1)
    for first in range(0, len(keys), rows):
        column = keys[first : first + rows]
        wide = 11.0 + max(text_width(means, 2.2) for _, means in column)
        if x + wide > right:
            return
        for k, (drawn, means) in enumerate(column):
            sample(canvas, drawn, (x + 4, top + 2.0 + 4.2 * k))
            canvas.text((x + 9, top + 2.8 + 4.2 * k), means, 2.2)
        x += wide + 2
