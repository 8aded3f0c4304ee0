"""The long section at stated scales, with its table below: in rows and sheets that join at marks."""

import itertools
import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from ...core.elements import Conduit, Node, Outfall, Store
from ...core.model.flow_order import main_path
from ...core.model.network import Network
from ...core.model.report import SCALES, Paper, SectionRow
from ...core.model.sizing import Crossing
from ...core.quantities import Units
from .canvas import INK, MADDER, PALE, QUIET, WATER, Box, Canvas, text_width
from .frame import Drawn, Key, TitleBlock, framed, legend, scale_bar

__all__ = ["Course", "SectionResults", "course_between", "draw_section", "section_sheets"]

_HEAD = 30.0  # mm left of the table, for its headings
_ROW = 9.0  # mm, a row of upright figures
_SHORT = 4.6  # mm, a row of figures along a conduit
_STRIP = 12.0  # mm under the section, for scale and legend
_ABOVE = 9.0  # mm over the highest cover, for names
_NEAR = 2.8  # mm between upright figures
_At = Callable[[float, float], tuple[float, float]]
"""Chainage and level to a place on the sheet."""
_UPS = (10, 20, 25, 50, 100, 125, 200, 250, 500, 1000)
_ALONG_CONDUITS = ("size", "gradient")
_SAID: dict[SectionRow, str] = {
    "cover": "Cover or bank", "invert": "Invert", "depth": "Depth", "chainage": "Chainage", "size": "Size, material",
    "gradient": "Length, gradient", "peak": "Highest level", "freeboard": "Below cover",
}  # fmt: skip


@dataclass(frozen=True)
class SectionResults:
    """What a section tells of results.

    title : of which storms. level : highest, by node, m. flooded : what is said of its flood, by node. along : highest
    along each conduit, by its id, as m from the upstream end and m.
    """

    title: str
    level: Mapping[str, float]
    flooded: Mapping[str, str]
    along: Mapping[str, Sequence[tuple[float, float]]]

    def water(self, network: Network, course: "Course") -> list[list[tuple[float, float]]]:
        """The lines of the highest water as chainages and levels: one through conduits that follow one another.

        Across a control, and where it pours down into a node, the water is not one surface.
        """
        lines: list[list[tuple[float, float]]] = []
        for k, id_ in enumerate(course.links):
            own = [(course.chainage[k] + at, level) for at, level in self.along.get(id_, ())]
            if not own:
                above, below = course.nodes[k], course.nodes[k + 1]
                for at, node in ((course.chainage[k], above), (course.chainage[k + 1], below)):
                    if node in self.level and not any(at == x for line in lines for x, _ in line):
                        lines.append([(at, self.level[node]), (at, self.level[node])])
                continue
            joined = bool(lines) and lines[-1][-1] == own[0]
            lines[-1 if joined else len(lines) :] = [[*lines[-1], *own[1:]] if joined else own]
        return lines


@dataclass(frozen=True)
class Course:
    """Nodes from upstream down with the links between them. chainage : m of each node, from 0.

    A conduit is as long as it is; a control as its nodes lie apart on the plan.
    """

    nodes: tuple[str, ...]
    links: tuple[str, ...]
    chainage: tuple[float, ...]


def course_between(network: Network, start: str | None, end: str | None) -> Course | None:
    """The way of a long section: the shortest one down from start to end, or the longest way of the network.

    None where there is no way, or no link at all.
    """
    if start is None or start not in network.nodes:
        links = main_path(network) if network.links else []
        if end is not None and end in network.nodes:
            stops = [k for k, id_ in enumerate(links) if network.links[id_].downstream == end]
            links = links[: stops[0] + 1] if stops else links
    else:
        links = _way(network, start, end)
    if not links:
        return None
    nodes = [network.links[links[0]].upstream, *(network.links[id_].downstream for id_ in links)]
    chainage = [0.0, *itertools.accumulate(_long(network, id_) for id_ in links)]
    return Course(tuple(nodes), tuple(links), tuple(chainage))


def _long(network: Network, id_: str) -> float:
    link = network.links[id_]
    if isinstance(link, Conduit):
        return link.length
    return max(sum(math.dist(a, b) for a, b in itertools.pairwise(network.course(link))), 0.5)


def _way(network: Network, start: str, end: str | None) -> list[str]:
    """The shortest way down; conduits before controls where they run side by side. Without an end, to the outfall."""
    out: dict[str, list[str]] = {}
    for id_, link in sorted(network.links.items(), key=lambda item: not isinstance(item[1], Conduit)):
        out.setdefault(link.upstream, []).append(id_)
    came: dict[str, str | None] = {start: None}
    front = [start]
    reached: str | None = None
    while front and reached is None:
        nearer: list[str] = []
        for node in front:
            if node == end or (end is None and node not in out):
                reached = node
                break
            for id_ in out.get(node, []):
                below = network.links[id_].downstream
                if below not in came:
                    came[below] = id_
                    nearer.append(below)
        front = nearer
    links: list[str] = []
    while reached is not None and (by := came[reached]) is not None:
        links.append(by)
        reached = network.links[by].upstream
    return links[::-1]


def _top(node: Node) -> float:
    if not isinstance(node, Outfall):
        return node.cover
    return node.invert + 1.0 if node.ground is None else node.ground


@dataclass(frozen=True)
class _Scales:
    along: int
    up: int
    datum: float  # m, level of the foot of the section
    high: float  # mm, of the section over its datum


def _piece(course: Course, first: float, last: float) -> list[int]:
    return [k for k, at in enumerate(course.chainage) if first - 1e-9 <= at <= last + 1e-9]


def section_sheets(
    network: Network, course: Course, told: SectionResults, paper: Paper, lying: bool, block: TitleBlock, heading: str,
    units: Units, rows: Sequence[SectionRow], along: int | None = None, up: int | None = None,
    crossings: Sequence[Crossing] = (),
) -> list[Drawn]:  # fmt: skip
    """The section on as many rows and sheets as its scales take. units : in which it is read."""
    _, inner = framed(paper, lying, block, "", [])
    room = inner[2] - inner[0] - _HEAD - 14.0
    long = course.chainage[-1]
    n = along or next((s for s in SCALES if long * 1000.0 / s <= room), math.ceil(long / room) * 1000)
    below = sum(_SHORT if row in _ALONG_CONDUITS else _ROW for row in rows) + 3.0
    free = inner[3] - inner[1] - _STRIP
    scales = _scales(network, course, told, n, up, free - below - _ABOVE, units)
    high = scales.high + below + _ABOVE
    a_row = room * n / 1000.0
    pieces = max(math.ceil(long / a_row - 1e-9), 1)
    a_sheet = max(int(free // high), 1)
    count = math.ceil(pieces / a_sheet)
    sheets = []
    for sheet in range(count):
        canvas, inner = framed(
            paper, lying, block, heading,
            [("along", f"1 : {scales.along}"), ("up", f"1 : {scales.up}"), ("sheet", f"{sheet + 1} of {count}")],
        )  # fmt: skip
        for place in range(a_sheet):
            k = sheet * a_sheet + place
            if k < pieces:
                top = inner[1] + place * high
                own = (inner[0], top, inner[2], top + high)
                piece = (k * a_row, min((k + 1) * a_row, long))
                _row(canvas, own, network, course, told, scales, rows, units, crossings, piece, k, pieces)
        foot = inner[3] - _STRIP + 3.0
        scale_bar(canvas, inner[0] + 2, foot + 3.0, scales.along, units.figure(1.0, "m"))
        keys: list[Key] = [("ground ", "ground"), ("pipe ", "conduit"), ("water ", f"highest level, {told.title}")]
        keys += [("connection ", "connection from the side")] + (
            [("crossing ", "service that crosses")] if crossings else []
        )
        keys += [("join ", "joins at the mark")] if pieces > 1 else []
        legend(canvas, (inner[0] + 76, foot - 1, inner[2], foot + 9), keys)
        says = f"{heading}, along 1 : {scales.along}, up 1 : {scales.up}, sheet {sheet + 1} of {count}: {told.title}"
        sheets.append(Drawn(canvas.svg(), canvas.wide, canvas.high, says))
    return sheets


def _scales(
    network: Network, course: Course, told: SectionResults, along: int, up: int | None, high: float, units: Units
) -> _Scales:
    nodes = [network.nodes[i] for i in course.nodes]
    lowest = min(n.invert for n in nodes)
    highest = max([*(_top(n) for n in nodes), *(told.level[i] for i in course.nodes if i in told.level)])
    at = up or next(
        (s for s in _UPS if s >= along / 10 and (highest - lowest + 1.0) * 1000.0 / s <= high),
        math.ceil((highest - lowest + 1.0) * 10.0 / max(high, 1.0)) * 100,
    )
    factor, _ = units.figure(1.0, "m")
    datum = math.floor((lowest - 0.2) * factor) / factor
    return _Scales(along, at, datum, (highest - datum + 0.2) * 1000.0 / at)


def draw_section(
    canvas: Canvas, box: Box, network: Network, course: Course, told: SectionResults, units: Units,
    rows: Sequence[SectionRow] = (), crossings: Sequence[Crossing] = (), along: int | None = None,
    up: int | None = None,
) -> tuple[int, int]:  # fmt: skip
    """Draw a section into a box at given scales, or the largest of a drawing's that fit; those scales."""
    room = box[2] - box[0] - _HEAD - 14.0
    long = course.chainage[-1]
    n = along or next((s for s in SCALES if long * 1000.0 / s <= room), math.ceil(long / max(room, 1.0)) * 1000)
    below = sum(_SHORT if row in _ALONG_CONDUITS else _ROW for row in rows) + 3.0
    scales = _scales(network, course, told, n, up, max(box[3] - box[1] - below - _ABOVE, 10.0), units)
    _row(canvas, box, network, course, told, scales, rows, units, crossings, (0.0, min(long, room * n / 1000.0)), 0, 1)
    return scales.along, scales.up


def _row(
    canvas: Canvas, box: Box, network: Network, course: Course, told: SectionResults, scales: _Scales,
    rows: Sequence[SectionRow], units: Units, crossings: Sequence[Crossing], piece: tuple[float, float],
    k: int, pieces: int,
) -> None:  # fmt: skip
    left, foot = box[0] + _HEAD, box[1] + _ABOVE + scales.high
    first, last = piece

    def at(chainage: float, level: float) -> tuple[float, float]:
        return left + (chainage - first) * 1000.0 / scales.along, foot - (level - scales.datum) * 1000.0 / scales.up

    right = at(last, scales.datum)[0]
    _levels(canvas, left, right, foot, scales, units)
    canvas.clip((left - 3, box[1], right + 3, foot + 0.1))
    _ground_and_pipes(canvas, network, course, at)
    _waters(canvas, network, course, told, at)
    _side(canvas, network, course, at)
    _crossing(canvas, course, crossings, network, at, scales)
    canvas.unclip()
    inside = _piece(course, first, last)
    _names(canvas, network, course, told, at, inside, units)
    for mark, there, where in ((k, k > 0, left), (k + 1, k < pieces - 1, right)):
        if there:
            canvas.line([(where, box[1] + 4), (where, foot)], 0.35, INK, "3 0.8 0.6 0.8")
            canvas.circle((where, box[1] + 2.2), 1.9, 0.25, "white")
            canvas.text((where, box[1] + 3.0), chr(64 + mark) if mark <= 26 else str(mark), 2.2, "middle", strong=True)
    _table(canvas, (box[0], foot, right, box[3]), network, course, told, rows, units, inside, at, piece)


def _levels(canvas: Canvas, left: float, right: float, foot: float, scales: _Scales, units: Units) -> None:
    factor, name = units.figure(1.0, "m")
    needed = 6.0 * scales.up / 1000.0 * factor
    step = next(s for s in (0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0, 1000.0) if s >= needed or s == 1000.0)
    shown = math.ceil(scales.datum * factor / step - 1e-9) * step
    while (y := foot - (shown / factor - scales.datum) * 1000.0 / scales.up) > foot - scales.high:
        canvas.line([(left, y), (right, y)], 0.1, QUIET, "0.3 1.2")
        canvas.text((left - 2, y + 0.8), f"{shown:.1f}", 2.1, "end", QUIET)
        shown += step
    canvas.line([(left, foot), (right, foot)], 0.4)
    canvas.text((left - 12, foot - 0.6), f"datum {scales.datum * factor:.2f} {name}", 2.1, "end")


def _ground_and_pipes(canvas: Canvas, network: Network, course: Course, at: _At) -> None:
    nodes = [network.nodes[i] for i in course.nodes]
    for k, id_ in enumerate(course.links):
        link = network.links[id_]
        a, b = course.chainage[k], course.chainage[k + 1]
        if isinstance(link, Conduit):
            up, down, high = link.upstream_invert, link.downstream_invert, link.height
            canvas.line([at(a, up), at(b, down), at(b, down + high), at(a, up + high)], 0.25, closed=True, fill=PALE)
        else:
            level = link.acts_from
            canvas.line([at(a, level), at(b, level)], 0.35, INK, "0.5 0.7")
    for at_, node in zip(course.chainage, nodes, strict=True):
        (x, top), (_, low) = at(at_, _top(node)), at(at_, node.invert)
        half = 1.6 if isinstance(node, Store) else 0.55
        if isinstance(node, Outfall):
            canvas.line([(x, top), (x, low)], 0.3)
        else:
            canvas.box((x - half, top, x + half, low), 0.3, "white")
    canvas.line([at(c, _top(n)) for c, n in zip(course.chainage, nodes, strict=True)], 0.45)


def _waters(canvas: Canvas, network: Network, course: Course, told: SectionResults, at: _At) -> None:
    for line in told.water(network, course):
        places = [at(*place) for place in line]
        (x0, y0), (x1, y1) = places[0], places[-1]
        canvas.line([(x0 - 0.5, y0), *places, (x1 + 0.5, y1)], 0.6, WATER, "2.4 0.6")


def _side(canvas: Canvas, network: Network, course: Course, at: _At) -> None:
    along = set(course.links)
    place = dict(zip(course.nodes, course.chainage, strict=True))
    for id_, link in network.links.items():
        if id_ not in along and link.downstream in place and isinstance(link, Conduit):
            x, y = at(place[link.downstream], link.downstream_invert + link.height / 2)
            canvas.circle((x, y), 0.9, 0.25, "white")


def _crossing(
    canvas: Canvas, course: Course, crossings: Sequence[Crossing], network: Network, at: _At, scales: _Scales
) -> None:
    for one in crossings:
        if one.pipe not in course.links:
            continue
        k = course.links.index(one.pipe)
        chainage = course.chainage[k] + one.chainage
        (x, top), (_, low) = at(chainage, one.top), at(chainage, one.bottom)
        half = max((low - top) / 2 * scales.up / scales.along, 0.5)
        canvas.box((x - half, top, x + half, low), 0.3, "url(#lean)")
        canvas.text((x + half + 0.6, top + 0.5), one.name, 1.9, halo=True)


def _names(
    canvas: Canvas, network: Network, course: Course, told: SectionResults, at: _At, inside: list[int],
    units: Units,
) -> None:  # fmt: skip
    taken = -1e9
    for k in inside:
        node = network.nodes[course.nodes[k]]
        level = told.level.get(course.nodes[k], _top(node))
        x, y = at(course.chainage[k], max(_top(node), level))
        flood = told.flooded.get(course.nodes[k])
        wide = text_width(node.name, 2.2)
        if x - wide / 2 > taken:
            canvas.text((x, y - 1.4), node.name[:30], 2.2, "middle", strong=True, halo=True)
            taken = x + wide / 2 + 0.6
        else:
            canvas.text((x + 0.8, y - 1.4), node.name[:30], 1.8, turned=-60, halo=True)
        if flood:
            canvas.text((x, y - 4.2), flood, 2.0, "middle", MADDER, halo=True)


def _figures(row: SectionRow, network: Network, course: Course, told: SectionResults, k: int, factor: float) -> str:
    node, id_ = network.nodes[course.nodes[k]], course.nodes[k]
    if row == "cover":
        return f"{_top(node) * factor:.3f}" if not isinstance(node, Outfall) or node.ground is not None else "–"
    if row == "invert":
        return f"{node.invert * factor:.3f}"
    if row == "depth":
        return "–" if isinstance(node, Outfall) else f"{(node.cover - node.invert) * factor:.3f}"
    if row == "chainage":
        return f"{course.chainage[k] * factor:.2f}"
    if id_ not in told.level:
        return "–"
    if row == "peak":
        return f"{told.level[id_] * factor:.3f}"
    return "–" if isinstance(node, Outfall) else f"{(node.cover - told.level[id_]) * factor:+.3f}"


def _table(
    canvas: Canvas, box: Box, network: Network, course: Course, told: SectionResults, rows: Sequence[SectionRow],
    units: Units, inside: list[int], at: _At, piece: tuple[float, float],
) -> None:  # fmt: skip
    left, top, right = box[0], box[1], box[2] + 3.0
    factor, name = units.figure(1.0, "m")
    y = top + 2.0
    xs = _apart([at(course.chainage[k], 0.0)[0] for k in inside])
    for x, k in zip(xs, inside, strict=True):
        canvas.line([(at(course.chainage[k], 0.0)[0], top), (x, y)], 0.12, QUIET)
    for row in rows:
        high = _SHORT if row in _ALONG_CONDUITS else _ROW
        canvas.line([(left, y), (right, y)], 0.15)
        said = _SAID[row] if row in _ALONG_CONDUITS else f"{_SAID[row]} {name}"
        canvas.text((left, y + high / 2 + 0.8), said, 2.1)
        if row in _ALONG_CONDUITS:
            _along(canvas, row, network, course, at, piece, y + 3.3, units)
        else:
            for x, k in zip(xs, inside, strict=True):
                canvas.text(
                    (x + 0.75, y + high - 0.8), _figures(row, network, course, told, k, factor), 2.0, turned=-90
                )
        y += high
    canvas.line([(left, y), (right, y)], 0.15)


def _along(
    canvas: Canvas, row: SectionRow, network: Network, course: Course, at: _At, piece: tuple[float, float], y: float,
    units: Units,
) -> None:  # fmt: skip
    factor, name = units.figure(1.0, "m")
    for k, id_ in enumerate(course.links):
        link = network.links[id_]
        a, b = max(course.chainage[k], piece[0]), min(course.chainage[k + 1], piece[1])
        if b <= a:
            continue
        if not isinstance(link, Conduit):
            said = link.word if row == "size" else ""
        elif row == "size":
            said = " ".join(
                part for part in (units.words(link.size()), str(getattr(link, "material", None) or "")) if part
            )
        else:
            fall = f"1 : {1.0 / link.gradient:.0f}" if link.gradient > 0 else "level"
            said = f"{link.length * factor:.2f} {name}, {fall}"
        xa, xb = at(a, 0.0)[0], at(b, 0.0)[0]
        if text_width(said, 1.9) > xb - xa:
            said = said.split(",")[-1].split(" ")[0] if row == "size" else f"{link.length * factor:.1f}" if isinstance(
                link, Conduit) else ""  # fmt: skip
        if said and text_width(said, 1.9) <= xb - xa + 1.0:
            canvas.text(((xa + xb) / 2, y), said, 1.9, "middle")


def _apart(xs: list[float]) -> list[float]:
    """The same places, moved so far apart that upright figures do not touch."""
    if not xs:
        return []
    found = [xs[0]]
    for x in xs[1:]:
        found.append(max(x, found[-1] + _NEAR))
    return found
