"""How elements and their states are drawn on paper. Shapes and hatches tell them apart, colour only helps."""

import itertools
import math

from ...core.elements import Conduit, Node, Outfall, Store
from .canvas import FILLS, INK, MADDER, OCHRE, PALE, QUIET, RULE, WATER, Canvas, Point

__all__ = ["STATES", "arrow", "height_of", "link_line", "node_symbol", "sample"]

STATES = {
    "ok": "within", "surcharged": "surcharged", "flood risk": "near its cover", "flooded": "flooded",
    "not judged": "not judged", "plain": "",
}  # fmt: skip
"""By state, as a legend says it."""
_RADIUS = 1.15  # mm


def node_symbol(canvas: Canvas, at: Point, node: Node | str, state: str) -> None:
    """A node: round, outfalls as a triangle, stores larger with water in them; hatched by state, flooded with rays."""
    x, y = at
    fill = FILLS.get(state, "white")
    store = node == "store" or isinstance(node, Store)
    if node == "outfall" or isinstance(node, Outfall):
        canvas.line([(x - 1.7, y - 1.2), (x + 1.7, y - 1.2), (x, y + 1.6)], 0.3, closed=True, fill=INK)
        return
    radius = 2.1 if store else _RADIUS
    if state == "flooded":
        for k in range(8):
            turn = k * math.pi / 4
            canvas.line(
                [(x + r * math.cos(turn), y + r * math.sin(turn)) for r in (radius + 0.4, radius + 1.5)], 0.3, MADDER
            )
    canvas.circle(at, radius, 0.3, fill)
    if store:
        canvas.line([(x - radius * 0.9, y), (x + radius * 0.9, y)], 0.3, WATER)
    if state == "flood risk":
        canvas.circle(at, radius + 0.7, 0.25, "none", OCHRE)
    if state == "not judged":
        canvas.text((x, y + 0.7), "?", 1.8, "middle", QUIET)


def link_line(canvas: Canvas, course: list[Point], size: float, state: str, is_conduit: bool) -> None:
    """A link from its upstream end, as thick as it is high; surcharged with white dashes in it; controls dotted."""
    if not is_conduit:
        canvas.line(course, 0.45, INK, "0.5 0.7")
        return
    thick = min(0.35 + 0.9 * size, 2.2)
    if state == "surcharged":
        canvas.line(course, thick + 0.45, OCHRE)
        canvas.line(course, max(0.7 * thick, 0.3), "white", "2 1.4")
    elif state == "not judged":
        canvas.line(course, max(0.6 * thick, 0.3), QUIET, "0.6 1")
    else:
        canvas.line(course, thick, WATER)


def arrow(canvas: Canvas, course: list[Point]) -> None:
    """Which way a link leads, at the middle of its longest piece, where that has room."""
    pieces = list(itertools.pairwise(course))
    (ax, ay), (bx, by) = max(pieces, key=lambda p: math.dist(*p))
    long = math.hypot(bx - ax, by - ay)
    if long < 9.0:
        return
    ux, uy = (bx - ax) / long, (by - ay) / long
    x, y = (ax + bx) / 2, (ay + by) / 2
    tip, back = (x + 1.3 * ux, y + 1.3 * uy), (x - 0.9 * ux, y - 0.9 * uy)
    canvas.line(
        [tip, (back[0] - 0.8 * uy, back[1] + 0.8 * ux), (back[0] + 0.8 * uy, back[1] - 0.8 * ux)], 0.1, INK,
        closed=True, fill=INK,
    )  # fmt: skip


def height_of(link: object) -> float:
    """By which a link is drawn thick, m."""
    return link.height if isinstance(link, Conduit) else 0.1


def sample(canvas: Canvas, drawn: str, at: Point) -> None:
    """A row's example in a legend. drawn : 'node surcharged', 'link flooded', 'store', 'ground' …"""
    x, y = at
    kind, _, state = drawn.partition(" ")
    if kind == "link":
        link_line(canvas, [(x - 3.5, y), (x + 3.5, y)], 0.4, state, True)
    elif kind == "control":
        link_line(canvas, [(x - 3.5, y), (x + 3.5, y)], 0.4, state, False)
    elif kind in ("node", "store", "outfall"):
        node_symbol(canvas, at, kind, state)
    elif kind == "ground":
        canvas.line([(x - 3.5, y), (x + 3.5, y)], 0.45)
    elif kind == "water":
        canvas.line([(x - 3.5, y), (x + 3.5, y)], 0.6, WATER, "2.4 0.6")
    elif kind == "pipe":
        canvas.line([(x - 3.5, y - 1), (x + 3.5, y - 1), (x + 3.5, y + 1), (x - 3.5, y + 1)], 0.25, INK, closed=True,
                    fill=PALE)  # fmt: skip
    elif kind == "join":
        canvas.line([(x - 3.5, y), (x + 3.5, y)], 0.35, INK, "3 0.8 0.6 0.8")
    elif kind == "crossing":
        canvas.box((x - 1, y - 1, x + 1, y + 1), 0.3, "url(#lean)")
    elif kind == "connection":
        canvas.circle(at, 0.9, 0.25, "white")
    elif kind == "background":
        canvas.line([(x - 3.5, y), (x + 3.5, y)], 0.18, RULE)
