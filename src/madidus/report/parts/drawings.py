"""Plans, long sections, kept views and sheets composed by hand, on paper at stated scales."""

from base64 import b64encode
from collections.abc import Sequence

import numpy as np

from ...core.elements import Conduit, Outfall
from ...core.model.report import KeptViews, LongSections, PlanDrawing, PlanSheets, SectionDrawing
from ...core.model.saved import DrawnPicture, Extent, SavedView
from ...core.results.elements import ElementResults
from ..blocks import Block, Page, Picture, Subheading, Text
from ..drawing.canvas import Canvas
from ..drawing.frame import Drawn
from ..drawing.plan import PlanResults, View, draw_plan, plan_sheets, view_of
from ..drawing.section import SectionResults, course_between, section_sheets
from ..raster import media_of, size_of
from ..reported import Reported

__all__ = [
    "pages", "plan_drawn", "plan_part", "plan_results", "plan_view", "section_drawn", "section_part", "section_results",
    "views",
]  # fmt: skip

_PIXELS = (900.0, 560.0)  # of the plan on a screen, about: what a kept view held
_WIDE = 174.0  # mm


def plan_results(of: Reported, drawing: PlanDrawing) -> PlanResults:
    """States and labels that a plan shows: of a return period, or of all storms."""
    network, found = of.plan.network, None
    if drawing.theme != "plain":
        found = of.elements(drawing.row)
    if found is None:
        if drawing.theme == "plain":
            return PlanResults("network", {}, {})
        every = [*network.nodes, *network.links]
        return PlanResults(f"{of.of_row(drawing.row)}: not judged", dict.fromkeys(every, "not judged"), {})
    state: dict[str, str] = {id_: one.state for id_, one in found.nodes.items()}
    state |= {id_: one.state for id_, one in found.links.items() if isinstance(network.links[id_], Conduit)}
    missing = f" ({found.missing})" if found.missing else ""
    if drawing.theme == "level":
        return PlanResults(f"highest levels, {of.of_row(drawing.row)}{missing}", state, _levels(of, found))
    return PlanResults(f"states, {of.of_row(drawing.row)}{missing}", state, _said(of, found))


def _levels(of: Reported, found: ElementResults) -> dict[str, str]:
    factor, unit = of.metre
    return {id_: f"{one.level * factor:.2f} {unit}" for id_, one in found.nodes.items()}


def _said(of: Reported, found: ElementResults) -> dict[str, str]:
    """What is worth saying beside an element: a flood's volume, a store's filling, an outfall's peak flow."""
    label = {}
    for id_, one in found.nodes.items():
        if one.state == "flooded":
            label[id_] = f"floods {of.volume(one.flooded)}"
    for id_, store in found.stores.items():
        label.setdefault(id_, f"{store.share:.0%} full")
    for id_, outfall in found.outfalls.items():
        value, unit = of.units.figure(outfall.flow * 1000, "L/s")
        label[id_] = f"{value:.1f} {unit}"
    return label


def plan_view(of: Reported, drawing: PlanDrawing) -> View:
    """Ground that a plan shows: what a screen or a kept view held, or the network's."""
    if drawing.extent is not None:
        return _seen(drawing.extent)
    kept = next((v for v in of.project.saved_views if v.name == drawing.view and v.extent is not None), None)
    if kept is None or kept.extent is None:
        return view_of(of.project.option.network)
    return _seen(kept.extent)


def _seen(extent: Extent) -> View:
    wide, high = (pixels * extent.resolution for pixels in _PIXELS)
    return View(extent.x - wide / 2, extent.y - high / 2, extent.x + wide / 2, extent.y + high / 2)


def plan_drawn(of: Reported, part: PlanSheets) -> list[Drawn]:
    """The sheets of a plan."""
    drawing = part.drawing
    return plan_sheets(
        of.project, plan_results(of, drawing), plan_view(of, drawing), part.paper, part.wide, of.block,
        part.heading or part.HEADING, of.metre, drawing.scale, drawing.background, drawing.grid, of.file,
    )  # fmt: skip


def section_results(of: Reported, drawing: SectionDrawing) -> SectionResults:
    """Highest levels and floods that a section shows."""
    found = of.elements(drawing.row)
    if found is None:
        return SectionResults(f"{of.of_row(drawing.row)}: not run", {}, {}, {})
    level = {id_: one.level for id_, one in found.nodes.items()}
    rows = of.rows.get(drawing.row, of.plan.storms) if drawing.row else of.plan.storms
    figures = [of.figures[s.key] for s in rows if s.key in of.figures]
    network, profiles = of.plan.network, of.plan.layout.profiles
    highest = of.plan.highest_along(network.links, figures)
    for id_, levels in highest.items():
        if isinstance(network.nodes[end := network.links[id_].downstream], Outfall):
            level[end] = max(level.get(end, -np.inf), float(levels[-1]))
    along = {
        id_: [(float(at), float(z)) for at, z in zip(profiles.chainage(id_), levels, strict=True)]
        for id_, levels in highest.items()
    }
    flooded = {id_: f"floods {of.volume(one.flooded)}" for id_, one in found.nodes.items() if one.state == "flooded"}
    missing = f" ({found.missing})" if found.missing else ""
    return SectionResults(f"{of.of_row(drawing.row)}{missing}", level, flooded, along)


def section_drawn(of: Reported, part: LongSections) -> list[Drawn]:
    """The sheets of a long section; none where there is no way between its ends."""
    drawing, network = part.drawing, of.project.option.network
    course = course_between(network, drawing.start, drawing.end)
    if course is None:
        return []
    return section_sheets(
        network, course, section_results(of, drawing), part.paper, part.wide, of.block, part.heading or part.HEADING,
        of.units, drawing.rows, drawing.along, drawing.up, of.project.sizing.crossings,
    )  # fmt: skip


def pages(drawn: Sequence[Drawn]) -> list[Block]:
    """Drawn sheets as pages of the report."""
    return [Page(one.svg, one.wide, one.high, one.says) for one in drawn]


def plan_part(of: Reported, part: PlanSheets) -> list[Block]:
    """The plan, sheet by sheet."""
    return pages(plan_drawn(of, part))


def section_part(of: Reported, part: LongSections) -> list[Block]:
    """The long section, sheet by sheet."""
    drawn = section_drawn(of, part)
    return pages(drawn) or [Text("There is no way from its upper end to its lower end: choose others.", "strong")]


def views(of: Reported, part: KeptViews) -> list[Block]:
    """Kept views of the plan, drawn anew, and those in 3D as the browser drew them."""
    printed = [v for v in of.project.saved_views if v.stage == "network" and (v.view == "plan" or v.picture)]
    kept = {view.name: view for view in printed}
    names = part.names or list(kept)
    blocks: list[Block] = []
    for name in names:
        if name not in kept:
            blocks.append(Text(f"The view “{name}” is no longer kept, or is none of plan or 3D.", "strong"))
            continue
        view = kept[name]
        if view.picture:
            blocks += [Subheading(name), *_in_depth(of, view, view.picture)]
            continue
        own = _seen(view.extent) if view.extent else view_of(of.project.option.network)
        high = min(_WIDE * own.high / max(own.wide, 1.0), 230.0)
        own = _of_shape(own, _WIDE / high)
        canvas = Canvas(_WIDE, high)
        told = plan_results(
            of, PlanDrawing(theme="plain" if view.plan.theme == "water" else "state", row=view.plan.row)
        )
        draw_plan(canvas, (0, 0, _WIDE, high), own, of.project, told, grid=False, file=of.file)
        canvas.box((0.1, 0.1, _WIDE - 0.1, high - 0.1), 0.2)
        blocks += [Subheading(name), Picture(canvas.svg(), _WIDE, high, f"{name}: {told.title}"),
                   Text(told.title, "quiet")]  # fmt: skip
    return blocks or [Text("No view of plan or 3D is kept.")]


def _in_depth(of: Reported, view: SavedView, drawn: DrawnPicture) -> list[Block]:
    """A picture in 3D. It shows the results of when it was kept: what is no longer those of the report is said."""
    option = of.project.options.get(view.option)
    blocks: list[Block] = []
    if view.option != of.project.in_view:
        blocks.append(
            Text(f"Of option {option.name if option else 'that is gone'}, not of the one reported.", "strong")
        )
    elif drawn.inputs != of.fingerprint:
        blocks.append(Text(f"Of earlier inputs ({drawn.inputs[:12].upper()}): keep the view again.", "strong"))
    content = of.file(drawn.file) if of.file else b""
    media = media_of(content)
    if not media:
        return [*blocks, Text("Its picture is not kept with the project.", "strong")]
    across, down = size_of(content)
    high = min(_WIDE * down / across, 230.0)
    wide = high * across / down
    canvas = Canvas(wide, high)
    canvas.picture((0, 0, wide, high), media, b64encode(content).decode())
    minutes = round(view.moment / 60)
    said = f"{drawn.storm}, {minutes // 60} h {minutes % 60:02d} min after it began" if drawn.storm else "without water"
    return [*blocks, Picture(canvas.svg(), wide, high, f"{view.name} in 3D: {said}"), Text(f"In 3D: {said}.", "quiet")]


def _of_shape(view: View, shape: float) -> View:
    """The view made wider or higher until it has the shape of its paper."""
    wide, high = max(view.wide, view.high * shape), max(view.high, view.wide / shape)
    x, y = (view.west + view.east) / 2, (view.south + view.north) / 2
    return View(x - wide / 2, y - high / 2, x + wide / 2, y + high / 2)
