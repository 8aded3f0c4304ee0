"""The plan at a stated scale: on one sheet, or cut into several that join at matchlines."""

import itertools
import json
import math
from base64 import b64encode
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass

from ...core.elements import Node, Outfall, Store
from ...core.model.layers import Lines, Picture
from ...core.model.network import Network
from ...core.model.project import Project
from ...core.model.report import SCALES, Paper
from .canvas import INK, PALE, QUIET, RULE, Box, Canvas, Labels, Point
from .frame import Drawn, Key, TitleBlock, framed, legend, north_arrow, scale_bar
from .symbols import STATES, arrow, height_of, link_line, node_symbol

__all__ = ["PlanResults", "View", "draw_plan", "fitting_scale", "plan_keys", "plan_sheets", "view_of"]

_STRIP = 17.0  # mm under the plan, for north, scale and legend
_AROUND = 12.0  # mm of paper that stay free around the network
_ROUND = (10, 20, 25, 50, 100, 200, 250, 500, 1000, 2000, 5000)  # m between crosses


@dataclass(frozen=True)
class View:
    """Ground on the plan: west, south, east, north, m."""

    west: float
    south: float
    east: float
    north: float

    @property
    def wide(self) -> float:
        """From west to east, m."""
        return self.east - self.west

    @property
    def high(self) -> float:
        """From south to north, m."""
        return self.north - self.south


@dataclass(frozen=True)
class PlanResults:
    """What a plan tells of results. state : by id, a key of `STATES`; label : by id, one line; title : of what."""

    title: str
    state: Mapping[str, str]
    label: Mapping[str, str]


def view_of(network: Network, catchments: bool = True) -> View:
    """Ground that a network lies on. Of no network a square of 100 m."""
    places = [(n.x, n.y) for n in network.nodes.values()]
    places += [p for link in network.links.values() for p in network.course(link)]
    if catchments:
        places += [(p[0], p[1]) for c in network.catchments.values() for p in c.polygon]
    if not places:
        return View(0.0, 0.0, 100.0, 100.0)
    xs, ys = [p[0] for p in places], [p[1] for p in places]
    return View(min(xs), min(ys), max(xs), max(ys))


def fitting_scale(view: View, wide: float, high: float) -> int:
    """The largest scale of a drawing's at which a view needs no more than so much paper, mm."""
    needed = 1000.0 * max(view.wide / max(wide, 1.0), view.high / max(high, 1.0))
    return next((s for s in SCALES if s >= needed), math.ceil(needed / 1000.0) * 1000)


def plan_sheets(
    project: Project, told: PlanResults, view: View, paper: Paper, lying: bool, block: TitleBlock, heading: str,
    unit: tuple[float, str], scale: int | None = None, background: bool = True, grid: bool = True,
    file: Callable[[str], bytes] | None = None,
) -> list[Drawn]:  # fmt: skip
    """The plan on as many sheets as its scale takes.

    scale : 1 : n; None is the largest of a drawing's that needs one sheet. unit : figure of a metre and its name, for
    the scale bar. file : reads what backgrounds name by their digest.
    """
    _, inner = framed(paper, lying, block, "", [])
    room = (inner[2] - inner[0], inner[3] - inner[1] - _STRIP)
    at = scale or fitting_scale(view, room[0] - 2 * _AROUND, room[1] - 2 * _AROUND)
    step = (room[0] * at / 1000.0, room[1] * at / 1000.0)  # m of ground on a sheet
    edge = 2 * _AROUND * at / 1000.0
    across = max(math.ceil((view.wide + edge) / step[0] - 1e-9), 1)
    down = max(math.ceil((view.high + edge) / step[1] - 1e-9), 1)
    west = (view.west + view.east - across * step[0]) / 2
    north = (view.south + view.north + down * step[1]) / 2
    places = {}
    for j, i in itertools.product(range(down), range(across)):
        own = View(west + i * step[0], north - (j + 1) * step[1], west + (i + 1) * step[0], north - j * step[1])
        if across * down == 1 or _anything(project.option.network, own):
            places[i, j] = own
    number = {place: k + 1 for k, place in enumerate(places)}
    sheets = []
    for (i, j), own in places.items():
        count = f"{number[i, j]} of {len(places)}"
        canvas, inner = framed(
            paper, lying, block, heading, [("scale", f"1 : {at}"), ("shows", told.title), ("sheet", count)]
        )
        box = (inner[0], inner[1], inner[2], inner[3] - _STRIP)
        left_out = draw_plan(canvas, box, own, project, told, background, grid, file)
        canvas.box(box, 0.25)
        around = {"left": (i - 1, j), "right": (i + 1, j), "above": (i, j - 1), "below": (i, j + 1)}
        beside = {side: number.get(place) for side, place in around.items()}
        _matchlines(canvas, box, beside)
        foot = box[3] + 3.0
        north_arrow(canvas, box[0] + 4, foot + 11.5)
        scale_bar(canvas, box[0] + 14, foot + 4.0, at, unit)
        legend(canvas, (box[0] + 84, foot, box[2], foot + 14), plan_keys(project, told, background))
        says = f"{heading}, 1 : {at}, sheet {count}: {told.title}"
        sheets.append(Drawn(canvas.svg(), canvas.wide, canvas.high, says, tuple(left_out)))
    return sheets


def _anything(network: Network, view: View) -> bool:
    def inside(x: float, y: float) -> bool:
        return view.west <= x <= view.east and view.south <= y <= view.north

    if any(inside(n.x, n.y) for n in network.nodes.values()):
        return True
    for link in network.links.values():
        course = network.course(link)
        for (ax, ay), (bx, by) in itertools.pairwise(course):
            steps = max(int(8 * math.hypot(bx - ax, by - ay) / max(min(view.wide, view.high), 1e-6)), 1)
            if any(inside(ax + k / steps * (bx - ax), ay + k / steps * (by - ay)) for k in range(steps + 1)):
                return True
    return False


def _matchlines(canvas: Canvas, box: Box, beside: Mapping[str, int | None]) -> None:
    x0, y0, x1, y1 = box
    for side, other in beside.items():
        if other is None:
            continue
        ends = {"left": ((x0, y0), (x0, y1)), "right": ((x1, y0), (x1, y1)), "above": ((x0, y0), (x1, y0)),
                "below": ((x0, y1), (x1, y1))}[side]  # fmt: skip
        canvas.line(ends, 0.6, INK, "5 1.2 1 1.2")
        middle = ((ends[0][0] + ends[1][0]) / 2, (ends[0][1] + ends[1][1]) / 2)
        dx, dy, turned = {"left": (3.4, 0, -90), "right": (-1.6, 0, -90), "above": (0, 3.4, 0), "below": (0, -1.6, 0)}[
            side
        ]
        canvas.text(
            (middle[0] + dx, middle[1] + dy), f"joins sheet {other}", 2.4, "middle", turned=turned, halo=True
        )  # fmt: skip


def plan_keys(project: Project, told: PlanResults, background: bool) -> list[Key]:
    """The rows of its legend: only what there is."""
    network, shown = project.option.network, set(told.state.values())
    keys: list[Key] = [("link ok", "conduit"), ("node ok", "node")]
    if any(isinstance(n, Store) for n in network.nodes.values()):
        keys.append(("store ok", "pond or tank"))
    if any(isinstance(n, Outfall) for n in network.nodes.values()):
        keys.append(("outfall ok", "outfall"))
    if any(not hasattr(link, "length") for link in network.links.values()):
        keys.append(("control ok", "control"))
    if "surcharged" in shown:
        keys += [("link surcharged", "conduit surcharged"), ("node surcharged", "node surcharged")]
    keys += [(f"node {state}", STATES[state]) for state in ("flood risk", "flooded", "not judged") if state in shown]
    if background and project.backdrop:
        keys.append(("background", "background"))
    return keys


def draw_plan(
    canvas: Canvas, box: Box, view: View, project: Project, told: PlanResults, background: bool = True,
    grid: bool = True, file: Callable[[str], bytes] | None = None,
) -> list[str]:  # fmt: skip
    """Draw what lies in a view into a box of its proportions; names that found no room."""
    network = project.option.network
    millimetre = (box[2] - box[0]) / view.wide

    def at(x: float, y: float) -> Point:
        return box[0] + (x - view.west) * millimetre, box[3] - (y - view.south) * millimetre

    canvas.clip(box)
    if background:
        _layers(canvas, project, at, file)
        _backdrop(canvas, project, at)
    for catchment in network.catchments.values():
        if len(catchment.polygon) > 2:
            canvas.line([at(*p) for p in catchment.polygon], 0.12, RULE, "0.6 1", closed=True)
    labels = Labels(box)
    if grid:
        _crosses(canvas, box, view, at, 1.0 / millimetre, labels)
    for id_, link in network.links.items():
        course = [at(*p) for p in network.course(link)]
        link_line(canvas, course, height_of(link), told.state.get(id_, "ok"), hasattr(link, "length"))
        arrow(canvas, course)
        _keep_free(labels, course)
    for id_, node in network.nodes.items():
        place = at(node.x, node.y)
        node_symbol(canvas, place, node, told.state.get(id_, "ok"))
        labels.take((place[0] - 1.3, place[1] - 1.3, place[0] + 1.3, place[1] + 1.3))
    for id_, node in _weighty_first(network.nodes):
        place = at(node.x, node.y)
        if box[0] <= place[0] <= box[2] and box[1] <= place[1] <= box[3]:
            lines = [node.name[:40], *([told.label[id_]] if told.label.get(id_) else [])]
            labels.place(canvas, place, lines, 2.0) or labels.place(canvas, place, lines[:1], 2.0)
    canvas.unclip()
    return labels.left_out


def _weighty_first(nodes: Mapping[str, Node]) -> list[tuple[str, Node]]:
    return sorted(nodes.items(), key=lambda item: not isinstance(item[1], Outfall | Store))


def _keep_free(labels: Labels, course: Sequence[Point]) -> None:
    for (ax, ay), (bx, by) in itertools.pairwise(course):
        steps = max(int(math.hypot(bx - ax, by - ay) / 1.5), 1)
        for k in range(steps + 1):
            x, y = ax + k / steps * (bx - ax), ay + k / steps * (by - ay)
            labels.take((x - 0.4, y - 0.4, x + 0.4, y + 0.4))


def _backdrop(canvas: Canvas, project: Project, at: Callable[[float, float], Point]) -> None:
    for item in project.backdrop:
        points = [at(*p) for p in item.points]
        if item.kind in ("path", "boundary"):
            canvas.line(points, 0.2, RULE, "3 1" if item.kind == "boundary" else "")
        else:
            canvas.line(points, 0.18, RULE, closed=True, fill=PALE if item.kind == "water" else "none")


def _crosses(
    canvas: Canvas, box: Box, view: View, at: Callable[[float, float], Point], metre: float, labels: Labels
) -> None:
    """Crosses at round coordinates, those at the edges with their figures. metre : of ground for a mm of paper."""
    step = next((s for s in _ROUND if s / metre >= 40.0), _ROUND[-1])
    xs = range(math.ceil(view.west / step) * step, math.floor(view.east) + 1, step)
    ys = range(math.ceil(view.south / step) * step, math.floor(view.north) + 1, step)
    for x, y in itertools.product(xs, ys):
        px, py = at(x, y)
        canvas.line([(px - 1.2, py), (px + 1.2, py)], 0.12, QUIET)
        canvas.line([(px, py - 1.2), (px, py + 1.2)], 0.12, QUIET)
    for x in xs:
        place = (at(x, 0)[0], box[3] - 1.0)
        canvas.text(place, f"{x} E", 1.7, "middle", QUIET)
        labels.take((place[0] - 5, place[1] - 2, place[0] + 5, box[3]))
    for y in ys:
        place = (box[0] + 2.2, at(0, y)[1])
        canvas.text(place, f"{y} N", 1.7, "middle", QUIET, turned=-90)
        labels.take((box[0], place[1] - 5, place[0] + 0.5, place[1] + 5))


def _layers(
    canvas: Canvas, project: Project, at: Callable[[float, float], Point], file: Callable[[str], bytes] | None
) -> None:
    """Pictures and drawings that lie under the plan; maps by address are not printed, since nothing is fetched."""
    for layer in project.layers if file else ():
        if not layer.shown or not isinstance(layer, Picture | Lines):
            continue
        content = file(layer.file) if file else b""
        if isinstance(layer, Picture):
            west, south, east, north = layer.extent
            box = (*at(west, north), *at(east, south))
            media = "image/png" if content[:4] == b"\x89PNG" else "image/jpeg"
            canvas.picture(box, media, b64encode(content).decode())
            continue
        for line in _lines_of(json.loads(content)):
            canvas.line([at(x, y) for x, y in line], 0.13, RULE)


def _lines_of(collection: Mapping[str, object]) -> Iterable[list[Point]]:
    """Every line of a GeoJSON collection."""
    features = collection.get("features", [])
    assert isinstance(features, list)
    for feature in features:
        geometry = feature.get("geometry") or {}
        kind, where = geometry.get("type", ""), geometry.get("coordinates", [])
        deep = {"LineString": [where], "MultiLineString": where, "Polygon": where}.get(kind)
        if kind == "MultiPolygon":
            deep = [ring for polygon in where for ring in polygon]
        for line in deep or []:
            yield [(float(p[0]), float(p[1])) for p in line]
