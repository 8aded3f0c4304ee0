"""A sheet of SVG in millimetres. What is drawn survives a copier: ink, hatches and dashes, never a colour alone."""

from collections.abc import Iterable, Sequence
from html import escape
from typing import Literal

__all__ = [
    "FILLS", "INK", "MADDER", "OCHRE", "PALE", "QUIET", "RULE", "WATER", "Anchor", "Box", "Canvas", "Labels", "Point",
    "text_width",
]  # fmt: skip

INK, QUIET, RULE, WATER, PALE, MADDER, OCHRE = (
    "#1D2427", "#4E5050", "#A39A86", "#25727D", "#DCE9E3", "#9E2A3B", "#7D540C",
)  # fmt: skip
FILLS = {"surcharged": "url(#lean)", "flooded": "url(#cross)"}
"""Hatches by state: they differ without their colour."""

Point = tuple[float, float]
Box = tuple[float, float, float, float]  # left, top, right, bottom, mm
Anchor = Literal["start", "middle", "end"]

_HATCHES = (
    f'<pattern id="lean" width="1.6" height="1.6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">'
    f'<rect width="1.6" height="1.6" fill="white"/>'
    f'<line x1="0.4" y1="0" x2="0.4" y2="1.6" stroke="{OCHRE}" stroke-width="0.35"/></pattern>'
    f'<pattern id="cross" width="1.4" height="1.4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">'
    f'<rect width="1.4" height="1.4" fill="white"/>'
    f'<path d="M0.4 0V1.4M0 0.4H1.4" stroke="{MADDER}" stroke-width="0.4"/></pattern>'
    f'<pattern id="earth" width="2.4" height="2.4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">'
    f'<line x1="0.3" y1="0" x2="0.3" y2="1.4" stroke="{QUIET}" stroke-width="0.18"/></pattern>'
)
# of a sans of the width of DejaVu: narrow, middling and wide letters, by em
_SQUARE = 8.0  # mm
_NARROW, _WIDE = frozenset("iljI.,:;|!'()[] 1tfr"), frozenset("mwMWQO@%+−–≥≤")


def text_width(text: str, size: float) -> float:
    """About how wide a text is, mm; never much less than it is."""
    return size * sum(0.42 if c in _NARROW else 0.92 if c in _WIDE else 0.66 for c in text)


def _n(value: float) -> str:
    return f"{value:.3f}".rstrip("0").rstrip(".")


class Canvas:
    """Collects what is drawn. All lengths in mm from the upper left corner."""

    def __init__(self, wide: float, high: float):
        self.wide, self.high = wide, high
        self._parts: list[str] = []
        self._clips = 0

    def line(
        self, points: Iterable[Point], stroke: float = 0.25, colour: str = INK, dash: str = "", closed: bool = False,
        fill: str = "none",
    ) -> None:  # fmt: skip
        """A line through points, or an outline. stroke : mm; dash : lengths on and off, mm."""
        told = " ".join(f"{_n(x)},{_n(y)}" for x, y in points)
        dashed = f' stroke-dasharray="{dash}"' if dash else ""
        pen = f'stroke="{colour}" stroke-width="{_n(stroke)}"{dashed}' if stroke else 'stroke="none"'
        self._parts.append(
            f'<{"polygon" if closed else "polyline"} points="{told}" fill="{fill}" {pen} stroke-linejoin="round"/>'
        )

    def box(self, box: Box, stroke: float = 0.25, fill: str = "none", colour: str = INK) -> None:
        """A rectangle."""
        x0, y0, x1, y1 = box
        self.line([(x0, y0), (x1, y0), (x1, y1), (x0, y1)], stroke, colour, closed=True, fill=fill)

    def circle(self, at: Point, radius: float, stroke: float = 0.25, fill: str = "white", colour: str = INK) -> None:
        """A circle."""
        self._parts.append(
            f'<circle cx="{_n(at[0])}" cy="{_n(at[1])}" r="{_n(radius)}" fill="{fill}" stroke="{colour}" '
            f'stroke-width="{_n(stroke)}"/>'
        )

    def text(
        self, at: Point, text: str, size: float = 2.2, anchor: Anchor = "start", colour: str = INK,
        strong: bool = False, turned: float = 0.0, halo: bool = False,
    ) -> None:  # fmt: skip
        """A line of text from its baseline. size : mm; turned : degrees clockwise; halo : white behind it."""
        x, y = at
        turn = f' transform="rotate({_n(turned)} {_n(x)} {_n(y)})"' if turned else ""
        weight = ' font-weight="bold"' if strong else ""
        plain = f'x="{_n(x)}" y="{_n(y)}" font-size="{_n(size)}" text-anchor="{anchor}"{weight}{turn}'
        shown = escape("".join(c for c in text if c.isprintable())[:400])
        if halo:
            wide = text_width(text, size)
            left = x - {"start": 0.0, "middle": wide / 2, "end": wide}[anchor]
            self._parts.append(
                f'<rect x="{_n(left - 0.2)}" y="{_n(y - 0.82 * size)}" width="{_n(wide)}" height="{_n(1.05 * size)}" '
                f'fill="white" fill-opacity="0.8"{turn}/>'
            )
        self._parts.append(f'<text {plain} fill="{colour}">{shown}</text>')

    def picture(self, box: Box, media: str, base64: str) -> None:
        """A picture within a box, its proportions kept."""
        x0, y0, x1, y1 = box
        self._parts.append(
            f'<image x="{_n(x0)}" y="{_n(y0)}" width="{_n(x1 - x0)}" height="{_n(y1 - y0)}" '
            f'href="data:{media};base64,{base64}"/>'
        )

    def clip(self, box: Box) -> None:
        """What follows is cut at a box, until `unclip`."""
        self._clips += 1
        x0, y0, x1, y1 = box
        self._parts.append(
            f'<clipPath id="cut{self._clips}"><rect x="{_n(x0)}" y="{_n(y0)}" width="{_n(x1 - x0)}" '
            f'height="{_n(y1 - y0)}"/></clipPath><g clip-path="url(#cut{self._clips})">'
        )

    def unclip(self) -> None:
        """Ends the last `clip`."""
        self._parts.append("</g>")

    def svg(self) -> str:
        """The whole, with its size in mm."""
        return (
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{_n(self.wide)}mm" height="{_n(self.high)}mm" '
            f'viewBox="0 0 {_n(self.wide)} {_n(self.high)}" font-family="DejaVu Sans">'
            f"<defs>{_HATCHES}</defs>{''.join(self._parts)}</svg>"
        )


class Labels:
    """Places texts so that none lies on another: the first free of several places around a point, or none."""

    def __init__(self, within: Box):
        self._within = within
        self._taken: dict[tuple[int, int], list[Box]] = {}  # by squares of paper
        self.left_out: list[str] = []

    def take(self, box: Box) -> None:
        """Keep a box free of texts."""
        for square in _squares(box):
            self._taken.setdefault(square, []).append(box)

    def place(self, canvas: Canvas, at: Point, lines: Sequence[str], size: float, gap: float = 1.4) -> bool:
        """Write lines near a point where there is room. What has none is remembered as left out."""
        wide = max(text_width(line, size) for line in lines)
        high = 1.2 * size * len(lines)
        x, y = at
        for dx, dy in (
            (gap, -gap - high), (gap, gap), (-gap - wide, -gap - high), (-gap - wide, gap), (gap * 1.3, -high / 2),
            (-wide / 2, -high - gap * 1.3), (-wide / 2, gap * 1.3), (-gap * 1.3 - wide, -high / 2),
            (gap * 3, -gap * 3 - high), (gap * 3, gap * 3), (-gap * 3 - wide, -gap * 3 - high),
            (-gap * 3 - wide, gap * 3),
        ):  # fmt: skip
            box = (x + dx, y + dy, x + dx + wide, y + dy + high)
            if self._free(box):
                self.take(box)
                if abs(dx) > 2 * gap and dy in (gap * 3, -gap * 3 - high):
                    near = (box[0] if dx > 0 else box[2], box[1] if dy > 0 else box[3])
                    canvas.line([at, near], 0.1, QUIET)
                for k, line in enumerate(lines):
                    canvas.text((box[0], box[1] + size * (0.95 + 1.2 * k)), line, size, halo=True)
                return True
        self.left_out.append(lines[0])
        return False

    def _free(self, box: Box) -> bool:
        left, top, right, bottom = self._within
        if box[0] < left or box[1] < top or box[2] > right or box[3] > bottom:
            return False
        return all(
            box[2] <= other[0] or box[0] >= other[2] or box[3] <= other[1] or box[1] >= other[3]
            for square in _squares(box) for other in self._taken.get(square, ())
        )  # fmt: skip


def _squares(box: Box) -> list[tuple[int, int]]:
    left, top, right, bottom = (int(edge // _SQUARE) for edge in box)
    return [(i, j) for i in range(left, right + 1) for j in range(top, bottom + 1)]
