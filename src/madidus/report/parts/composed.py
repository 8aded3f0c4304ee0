"""Sheets composed by hand: plan, section, graph, table and text where somebody put them."""

from collections.abc import Callable

from ...core.model.report import Composed, PlanDrawing, SectionDrawing, SheetItem, Sheets, Verdicts
from ..blocks import Block, Table, Text, in_units
from ..drawing.canvas import MADDER, QUIET, Box, Canvas, text_width
from ..drawing.frame import Drawn, framed, north_arrow, scale_bar
from ..drawing.graph import draw_graph
from ..drawing.plan import View, draw_plan, fitting_scale
from ..drawing.section import course_between, draw_section
from ..reported import Reported
from ..schedules import schedule
from .drawings import pages, plan_results, plan_view, section_results
from .front import verdicts
from .results import graph_lines

__all__ = ["composed_sheets", "sheet_drawn"]

_AROUND = 6.0  # mm around the network in a frame of a plan
_SIZE = 2.1  # mm of texts


def composed_sheets(of: Reported, part: Sheets) -> list[Block]:
    """The chosen sheets, or all that are kept."""
    kept = {sheet.name: sheet for sheet in of.project.sheets}
    names = part.names or list(kept)
    blocks: list[Block] = [
        Text(f"The sheet “{name}” is no longer kept.", "strong") for name in names if name not in kept
    ]
    blocks += pages([sheet_drawn(of, kept[name]) for name in names if name in kept])
    return blocks or [Text("No sheet is composed.")]


def sheet_drawn(of: Reported, sheet: Composed) -> Drawn:
    """A sheet with its frame and title block; items over its edge are cut there."""
    canvas, _ = framed(sheet.paper, sheet.wide, of.block, sheet.name, [])
    for item in sheet.items:
        box = (item.x, item.y, min(item.x + item.wide, canvas.wide), min(item.y + item.high, canvas.high))
        if box[2] - box[0] < 5 or box[3] - box[1] < 5:
            continue
        canvas.clip(box)
        _ITEMS[item.shows](canvas, box, of, item)
        canvas.unclip()
    return Drawn(canvas.svg(), canvas.wide, canvas.high, f"sheet {sheet.name}")


def _plan(canvas: Canvas, box: Box, of: Reported, item: SheetItem) -> None:
    drawing = item.plan or PlanDrawing()
    told, view = plan_results(of, drawing), plan_view(of, drawing)
    wide, high = box[2] - box[0], box[3] - box[1]
    scale = drawing.scale or fitting_scale(view, wide - 2 * _AROUND, high - 2 * _AROUND)
    x, y = (view.west + view.east) / 2, (view.south + view.north) / 2
    half = (wide * scale / 2000.0, high * scale / 2000.0)
    own = View(x - half[0], y - half[1], x + half[0], y + half[1])
    draw_plan(canvas, box, own, of.project, told, drawing.background, drawing.grid, of.file)
    canvas.box(box, 0.25)
    north_arrow(canvas, box[0] + 6, box[1] + 15)
    scale_bar(canvas, box[0] + 5, box[3] - 6.5, scale, of.metre)


def _section(canvas: Canvas, box: Box, of: Reported, item: SheetItem) -> None:
    drawing, network = item.section or SectionDrawing(), of.project.option.network
    course = course_between(network, drawing.start, drawing.end)
    if course is None:
        _said(canvas, box, "There is no way between the ends of this section.")
        return
    told = section_results(of, drawing)
    along, up = draw_section(
        canvas, box, network, course, told, of.units, drawing.rows, of.project.sizing.crossings,
        drawing.along, drawing.up,
    )  # fmt: skip
    canvas.text((box[0] + 1, box[1] + 3), f"{told.title}; along 1 : {along}, up 1 : {up}", _SIZE, colour=QUIET)


def _graph(canvas: Canvas, box: Box, of: Reported, item: SheetItem) -> None:
    graph = next((g for g in of.project.graphs if g.name == item.graph), None)
    if graph is None:
        _said(canvas, box, f"The graph “{item.graph}” is not kept." if item.graph else "No graph is chosen.")
        return
    panels = graph_lines(of, graph)
    high = (box[3] - box[1]) / max(len(panels), 1)
    for k, (title, x, y, lines, said) in enumerate(panels):
        own = (box[0], box[1] + k * high, box[2], box[1] + (k + 1) * high)
        if lines:
            draw_graph(canvas, own, x, y, lines, title=title)
        else:
            _said(canvas, own, said)


def _table(canvas: Canvas, box: Box, of: Reported, item: SheetItem) -> None:
    found = (
        verdicts(of, Verdicts())[0]
        if item.table == "verdicts"
        else schedule(of.project, item.table, of.nodes, of.links)
    )
    assert isinstance(found, Table)
    table = in_units(found, of.units)
    rows = [[_cell(value) for value in row] for row in table.rows]
    columns = range(len(table.header))
    wanted = [
        min(max([text_width(table.header[c], _SIZE), *(text_width(row[c], _SIZE) for row in rows)]) + 2, 60.0)
        for c in columns
    ]
    share = min((box[2] - box[0]) / max(sum(wanted), 1.0), 1.4)
    lefts = [box[0] + share * sum(wanted[:c]) for c in columns]
    canvas.text((box[0], box[1] + 3), table.title, 2.6, strong=True)
    y = box[1] + 7.0
    room = int((box[3] - y - 4.0) / 3.4)
    for k, row in enumerate([table.header, *rows[: max(room, 0)]]):
        for c in columns:
            canvas.clip((lefts[c], y - 3, lefts[c] + share * wanted[c] - 0.6, y + 2))
            canvas.text((lefts[c], y), row[c], _SIZE, strong=k == 0)
            canvas.unclip()
        canvas.line([(box[0], y + 1), (box[2], y + 1)], 0.3 if k == 0 else 0.1, QUIET)
        y += 3.4
    if len(rows) > room:
        canvas.text((box[0], y), f"▲ {len(rows) - max(room, 0)} more rows have no room", _SIZE, colour=MADDER)


def _cell(value: object) -> str:
    return f"{value:.3f}" if isinstance(value, float) else str(value)


def _text(canvas: Canvas, box: Box, _: Reported, item: SheetItem) -> None:
    _said(canvas, box, item.text)


def _said(canvas: Canvas, box: Box, text: str) -> None:
    """A text broken into lines of a box's width; what has no room is said to be missing."""
    lines: list[str] = []
    for paragraph in text.splitlines():
        line = ""
        for word in paragraph.split():
            longer = f"{line} {word}".strip()
            if text_width(longer, _SIZE) > box[2] - box[0] and line:
                lines.append(line)
                line = word
            else:
                line = longer
        lines.append(line)
    room = max(int((box[3] - box[1]) / 3.2), 1)
    if len(lines) > room:
        lines = [*lines[: room - 1], "▲ …"]
    for k, line in enumerate(lines):
        canvas.text((box[0], box[1] + 2.4 + 3.2 * k), line, _SIZE)


_ITEMS: dict[str, Callable[[Canvas, Box, Reported, SheetItem], None]] = {
    "plan": _plan, "section": _section, "graph": _graph, "table": _table, "text": _text,
}  # fmt: skip
