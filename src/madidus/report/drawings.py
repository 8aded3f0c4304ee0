"""Plan and long section as SVG, for print."""

from html import escape

import numpy as np

from ..core.elements import Conduit, Node, Outfall, Store
from ..core.model.network import Network
from ..core.model.project import Project

__all__ = ["plan_svg", "section_svg"]

_INK, _WATER, _PALE, _RULE = "#1D2427", "#25727D", "#DCE9E3", "#A39A86"


def plan_svg(project: Project, width: float = 700.0) -> str:
    """The network over its backdrop, north up."""
    network = project.option.network
    xs = [n.x for n in network.nodes.values()] + [p[0] for b in project.backdrop for p in b.points]
    ys = [n.y for n in network.nodes.values()] + [p[1] for b in project.backdrop for p in b.points]
    x0, x1, y0, y1 = min(xs), max(xs), min(ys), max(ys)
    scale = width / max(x1 - x0, 1.0)
    height = min(max((y1 - y0) * scale, 60.0), width)

    def at(x: float, y: float) -> tuple[float, float]:
        return (x - x0) * scale, (y1 - y) * scale

    parts = []
    for item in project.backdrop:
        points = " ".join("{:.1f},{:.1f}".format(*at(*p)) for p in item.points)
        fill = _PALE if item.kind == "water" else "#FFFFFF" if item.kind == "building" else "none"
        shape = "polyline" if item.kind in ("path", "boundary") else "polygon"
        parts.append(f'<{shape} points="{points}" fill="{fill}" stroke="{_RULE}" stroke-width="0.5"/>')
    for link in network.links.values():
        course = " ".join("{:.1f},{:.1f}".format(*at(*corner)) for corner in network.course(link))
        size = link.height if isinstance(link, Conduit) else 0.1
        parts.append(f'<polyline points="{course}" fill="none" stroke="{_WATER}" stroke-width="{1 + 5 * size:.1f}"/>')
    for node in network.nodes.values():
        x, y = at(node.x, node.y)
        size = 7 if isinstance(node, Store) else 3
        parts.append(f'<circle cx="{x:.1f}" cy="{y:.1f}" r="{size}" fill="white" stroke="{_INK}"/>')
        parts.append(f'<text x="{x + 5:.1f}" y="{y - 4:.1f}" font-size="7">{escape(node.name)}</text>')
    return f'<svg viewBox="-12 -12 {width + 30:.0f} {height + 24:.0f}" width="100%">{"".join(parts)}</svg>'


def _top(node: Node) -> float:
    if not isinstance(node, Outfall):
        return node.cover
    return node.invert + 1.0 if node.ground is None else node.ground


def section_svg(
    network: Network,
    path: list[str],
    level: dict[str, float],
    read_in: tuple[float, str] = (1.0, "m"),
    width: float = 700.0,
) -> str:
    """Covers, pipes and the highest water along a path of links; `level` by node id, m. read_in : factor and unit."""
    pipes = [network.links[i] for i in path]
    lengths = [p.length if isinstance(p, Conduit) else 3.0 for p in pipes]
    chainage = np.concatenate([[0.0], np.cumsum(lengths)])
    ids = [pipes[0].upstream, *[p.downstream for p in pipes]]
    nodes = [network.nodes[i] for i in ids]
    tops = [_top(n) for n in nodes]
    low, high = min(n.invert for n in nodes) - 0.3, max(tops) + 0.3
    height = 240.0

    def at(x: float, z: float) -> tuple[float, float]:
        return 34 + x / chainage[-1] * (width - 44), height * (high - z) / (high - low)

    def line(points: list[tuple[float, float]], colour: str, stroke: float, dash: str = "") -> str:
        d = " ".join("{:.1f},{:.1f}".format(*p) for p in points)
        return (
            f'<polyline points="{d}" fill="none" stroke="{colour}" stroke-width="{stroke}" stroke-dasharray="{dash}"/>'
        )

    parts = []
    factor, unit = read_in
    step = next(s for s in (1.0, 2.0, 5.0, 10.0, 50.0, 500.0) if (high - low) * factor / s < 12)
    for shown in np.arange(np.ceil(low * factor / step) * step, high * factor, step):
        y = at(0, shown / factor)[1]
        parts.append(f'<line x1="34" x2="{width - 10}" y1="{y:.1f}" y2="{y:.1f}" stroke="#D5CCB8" stroke-width="0.5"/>')
        parts.append(f'<text x="4" y="{y + 3:.1f}" font-size="8">{shown:g} {unit}</text>')
    for k, pipe in enumerate(pipes):
        if isinstance(pipe, Conduit):
            a, b, d = pipe.upstream_invert, pipe.downstream_invert, pipe.height
            corners = [at(chainage[k], a), at(chainage[k + 1], b), at(chainage[k + 1], b + d), at(chainage[k], a + d)]
            points = " ".join("{:.1f},{:.1f}".format(*c) for c in corners)
            parts.append(f'<polygon points="{points}" fill="{_PALE}" stroke="{_INK}" stroke-width="0.6"/>')
    for x, node, top in zip(chainage, nodes, tops, strict=True):
        (px, py), (_, by) = at(x, top), at(x, node.invert)
        parts.append(f'<line x1="{px:.1f}" x2="{px:.1f}" y1="{py:.1f}" y2="{by:.1f}" stroke="{_INK}"/>')
        parts.append(
            f'<text x="{px:.1f}" y="{py - 4:.1f}" font-size="8" text-anchor="middle">{escape(node.name)}</text>'
        )
    parts.append(line([at(x, t) for x, t in zip(chainage, tops, strict=True)], _INK, 0.8))
    water = [at(x, level[i]) for x, i in zip(chainage, ids, strict=True) if i in level]
    parts.append(line(water, _WATER, 1.4))
    return f'<svg viewBox="0 -12 {width} {height + 20}" width="100%">{"".join(parts)}</svg>'
