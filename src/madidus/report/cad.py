"""The plan with its results, and the long section, as a drawing (DXF): layers by state, blocks with attributes."""

import io
import math

import ezdxf
from ezdxf.enums import TextEntityAlignment
from ezdxf.layouts.layout import Modelspace

from ..core.elements import Conduit, Outfall, Store
from ..core.model.report import SectionDrawing
from .drawing.section import course_between
from .maps import features_of
from .parts.drawings import section_results
from .reported import Reported

__all__ = ["results_dxf"]

_STATES = {"flooded": 1, "flood risk": 30, "surcharged": 40, "ok": 5, "not judged": 8}
"""Colour index by state."""
_BELOW = 60.0  # m between the plan and the section under it
_TALLER = 10.0  # times that levels are drawn larger in the section


def results_dxf(of: Reported) -> bytes:
    """In metres; the section stands under the plan, its levels ten times taller, as its own text says."""
    document = ezdxf.filemanagement.new("R2010", setup=True)
    document.header["$INSUNITS"] = 6
    for state, colour in _STATES.items():
        for what in ("NODES", "LINKS"):
            pen = "DASHED" if state == "surcharged" else "CONTINUOUS"
            document.layers.add(f"{what} {state.upper()}", color=colour, linetype=pen)
    for layer, colour in (("CATCHMENTS", 8), ("NAMES", 7), ("SECTION", 7), ("SECTION WATER", 5)):
        document.layers.add(layer, color=colour)
    for name, half in (("NODE", 0.6), ("STORE", 2.0), ("OUTFALL", 0.8)):
        block = document.blocks.new(name)
        if name == "NODE":
            block.add_circle((0, 0), half)
        else:
            block.add_lwpolyline([(-half, -half), (half, -half), (half, half), (-half, half)], close=True)
        for k, tag in enumerate(("NAME", "STATE", "LEVEL", "STORM")):
            block.add_attdef(tag, (1.0, 1.0 - k), dxfattribs={"height": 0.8, "invisible": int(k > 1)})
    space = document.modelspace()
    network, lowest = of.plan.network, math.inf
    for one in features_of(of):
        lowest = min([lowest, *(y for _, y in one.points)])
        if one.group == "catchments":
            space.add_lwpolyline(one.points[:-1], close=True, dxfattribs={"layer": "CATCHMENTS"})
            continue
        layer = f"{one.group.upper()} {one.state.upper()}"
        if one.group == "links":
            space.add_lwpolyline(one.points, dxfattribs={"layer": layer})
            continue
        node = network.nodes[one.id]
        drawn = "STORE" if isinstance(node, Store) else "OUTFALL" if isinstance(node, Outfall) else "NODE"
        levels = [(v, name) for name, v in one.fields.items() if name.startswith("level_") and isinstance(v, float)]
        level, name = max(levels, default=(None, ""))
        storm = one.fields.get(f"storm_{name.removeprefix('level_').removesuffix('_m')}", "") if name else ""
        reference = space.add_blockref(drawn, one.points[0], dxfattribs={"layer": layer})
        reference.add_auto_attribs({
            "NAME": one.name, "STATE": one.state, "LEVEL": "" if level is None else f"{level:.3f}", "STORM": str(storm),
        })  # fmt: skip
    _section(of, space, (0.0 if math.isinf(lowest) else lowest) - _BELOW)
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode("utf-8")


def _section(of: Reported, space: Modelspace, top: float) -> None:
    network = of.plan.network
    course = course_between(network, None, None)
    if course is None:
        return
    told = section_results(of, SectionDrawing())
    nodes = [network.nodes[id_] for id_ in course.nodes]
    west = min(n.x for n in network.nodes.values())
    highest = max(n.invert if isinstance(n, Outfall) else n.cover for n in nodes)

    def at(chainage: float, level: float) -> tuple[float, float]:
        return west + chainage, top + (level - highest) * _TALLER

    plain = {"layer": "SECTION"}
    for k, id_ in enumerate(course.links):
        link = network.links[id_]
        a, b = course.chainage[k], course.chainage[k + 1]
        if isinstance(link, Conduit):
            for high in (0.0, link.height):
                space.add_line(at(a, link.upstream_invert + high), at(b, link.downstream_invert + high), plain)
    covers = [
        at(c, n.cover) for c, n in zip(course.chainage, nodes, strict=True) if not isinstance(n, Outfall)
    ]  # fmt: skip
    space.add_lwpolyline(covers, dxfattribs=plain)
    for line in told.water(network, course):
        space.add_lwpolyline([at(*place) for place in line], dxfattribs={"layer": "SECTION WATER"})
    for c, node in zip(course.chainage, nodes, strict=True):
        cover = node.invert + 1.0 if isinstance(node, Outfall) else node.cover
        space.add_line(at(c, node.invert), at(c, cover), plain)
        text = space.add_text(node.name, height=1.0, dxfattribs={"layer": "NAMES"})
        text.set_placement(at(c, cover + 0.1), align=TextEntityAlignment.BOTTOM_CENTER)
    said = f"Long section, levels {_TALLER:g} times taller; highest water: {told.title}"
    space.add_text(said, height=1.5, dxfattribs={"layer": "NAMES"}).set_placement((west, top + 6))
