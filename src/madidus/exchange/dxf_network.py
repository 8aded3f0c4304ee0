"""Networks in DXF drawings: lines are runs, blocks are nodes; what stands for what is a mapping by layer and name."""

import io
import itertools
import json
import math
from collections import Counter
from collections.abc import Sequence
from contextlib import suppress
from typing import Any

import ezdxf.filemanagement
from ezdxf.entities.dxfentity import DXFEntity
from ezdxf.enums import TextEntityAlignment
from pydantic import BaseModel
from scipy.spatial import KDTree

from ..core.elements import Basin, Conduit, Outfall, Store
from ..core.ground.terrain import GroundLevel
from ..core.model.defaults import Defaults
from ..core.model.mappings import Mappings
from ..core.model.network import Network
from .dxf import APPLICATION, Block, Drawing, Line, note, read_drawing
from .incoming import Fields, Incoming, Remark, refer_by_key

__all__ = ["DrawingLook", "look_at_drawing", "read_dxf", "write_dxf"]

_DIGITS = 9  # of a metre that are read
_MOVED = 1e-6  # m, by which a drawing may differ from what we wrote and be the same
_MOST_NOTED = 15_000  # characters beside one entity
_AT_AN_END = 0.5  # m within which a line ends at a node
_NAMED = ("name", "id", "no", "number", "ref", "label", "tag", "mh")
_LINE_KINDS, _BLOCK_KINDS = ("pipe", "channel", "trench", "catchment"), ("manhole", "junction", "inlet", "outfall")
_SPOKEN = {
    "catchment": ("catch", "area", "roof", "paved"), "channel": ("ditch", "swale", "channel"),
    "pipe": ("pipe", "drain", "sewer", "storm", "sw"), "outfall": ("outfall", "outlet", "headwall"),
    "inlet": ("gully", "inlet", "grat"), "manhole": ("manhole", "mh", "cover", "chamber", "node"),
}  # fmt: skip


class DrawingLook(BaseModel):
    """Layers with lines and names of blocks, each with its count; and how they would be read."""

    layers: dict[str, int]
    blocks: dict[str, int]
    units: str
    mapping: Mappings


def _guess(name: str, kinds: tuple[str, ...]) -> str:
    said = name.casefold()
    return next((kind for kind, words in _SPOKEN.items() if kind in kinds and any(w in said for w in words)), "")


def look_at_drawing(content: bytes, kept: Mappings) -> DrawingLook:
    """What a drawing holds, with the kinds that its layers and blocks were given before, or else guesses."""
    drawing = read_drawing(content, explode=False)
    layers = Counter(line.layer for line in drawing.lines)
    blocks = Counter(block.name for block in drawing.blocks)
    return DrawingLook(
        layers=dict(sorted(layers.items())), blocks=dict(sorted(blocks.items())), units=drawing.units,
        mapping=Mappings(
            layers={name: kept.layers.get(name, _guess(name, _LINE_KINDS)) for name in layers},
            blocks={name: kept.blocks.get(name, _guess(name, _BLOCK_KINDS)) for name in blocks},
        ),
    )  # fmt: skip


def read_dxf(content: bytes, mapping: Mappings, defaults: Defaults, ground: GroundLevel) -> Incoming:
    """Nodes from blocks and from ends of lines without one, conduits from lines, catchments from outlines.

    Levels are those of the drawing where it has any: of a block its cover, of a line's ends its inverts. Otherwise the
    ground gives covers, and inverts lie under it by the project's defaults: remarks say where. A line runs the way it
    falls, or as drawn.
    """
    drawing = read_drawing(content, explode=False)
    incoming = Incoming()
    for kind, count in drawing.left.items():
        incoming.dropped[f"entity {kind}"] += count
    return _Builder(drawing, mapping, defaults, ground, incoming).incoming


class _Builder:
    def __init__(
        self, drawing: Drawing, mapping: Mappings, defaults: Defaults, ground: GroundLevel, incoming: Incoming
    ):
        self.incoming, self._defaults, self._ground = incoming, defaults, ground
        self._places: list[tuple[float, float]] = []
        self._keys: list[str] = []
        self._squares: dict[tuple[int, int], list[int]] = {}
        self._assumed = 0
        for block in drawing.blocks:
            kind = mapping.blocks.get(block.name, "")
            ours = self._noted(block.noted)
            if ours is not None:
                self._own_node(block, ours)
            elif kind in _BLOCK_KINDS:
                self._block(block, kind)
            else:
                incoming.dropped[f"block {block.name}"] += 1
        runs = []
        for line in drawing.lines:
            kind = mapping.layers.get(line.layer, "")
            ours = self._noted(line.noted)
            if ours is not None:
                self._own_line(line, ours)
            elif kind == "catchment" and line.closed:
                self._catchment(line)
            elif kind in ("pipe", "channel", "trench") and not line.closed:
                runs.append((line, kind))
            else:
                incoming.dropped[f"line of layer {line.layer}"] += 1
        self._runs(runs)
        refer_by_key(incoming)
        if self._assumed:
            incoming.remarks.append(
                Remark(where=f"{self._assumed} nodes", what="had no level in the drawing: the ground gave their covers")
            )

    def _noted(self, text: str) -> Fields | None:
        """What we wrote beside an entity ourselves; None where there is nothing, or nothing that can be read."""
        if not text:
            return None
        try:
            found = json.loads(text)
        except ValueError:
            found = None
        if not isinstance(found, dict):
            what = "is damaged: the entity is read like one of anybody's"
            self.incoming.remarks.append(Remark(where=f"extended data {APPLICATION}", what=what))
            return None
        return found

    def _own_node(self, block: Block, ours: Fields) -> None:
        """A node that we wrote: where it stands and its levels are the drawing's, all else is what we noted."""
        ours.pop("group", None)
        drawn: Fields = {"x": block.x, "y": block.y}
        if not (ours.get("kind") == "outfall" and ours.get("ground") is None):
            drawn["ground" if ours.get("kind") == "outfall" else "cover"] = block.level
        invert = block.words.get("INVERT", "")
        if ours.get("invert") is not None and invert != f"{ours['invert']:.3f}":
            with suppress(ValueError):
                drawn["invert"] = float(invert)
        key = f"{ours.get('name')} ({ours.get('id')})"
        self.incoming.add("nodes", key, {**ours, **_changed(ours, drawn)})
        self._placed(key, block.x, block.y)

    def _own_line(self, line: Line, ours: Fields) -> None:
        """A link or a catchment that we wrote: its course and its inverts are the drawing's."""
        group = ours.pop("group", None)
        if group not in ("links", "catchments"):
            return  # a part of another element's picture
        written, drawn = ours.pop("drawn", 0.0), Fields()
        if group == "catchments":
            ring = [[x, y] for x, y in line.points[:-1]]
            if not _alike(ours.get("polygon", []), ring):
                drawn = {"polygon": ring, "area": abs(_ring_area(line.points[:-1]))}
        elif "upstream_invert" in ours:
            drawn = {"upstream_invert": line.levels[0], "downstream_invert": line.levels[-1]}
            bends = [[x, y] for x, y in line.points[1:-1]]
            if not _alike(ours.get("bends", []), bends):
                drawn["bends"] = bends
            long = sum(map(math.dist, line.points, line.points[1:]))
            if written > 0.0 and abs(long - written) > 1e-3:
                drawn["length"] = ours["length"] * long / written
        self.incoming.add(group, f"{ours.get('name')} ({ours.get('id')})", {**ours, **_changed(ours, drawn)})

    def _placed(self, key: str, x: float, y: float) -> None:
        square = math.floor(x / _AT_AN_END), math.floor(y / _AT_AN_END)
        self._squares.setdefault(square, []).append(len(self._keys))
        self._keys.append(key)
        self._places.append((x, y))

    def _block(self, block: Block, kind: str) -> None:
        tag = next((t for word in _NAMED for t in block.words if word in t.casefold() and block.words[t].strip()), None)
        name = block.words[tag].strip()[:80] if tag else ""
        # a block of ours that stands at its invert, for want of a ground, says so by an empty cover
        known = block.words.get("COVER", "?").strip() != ""
        self._node(name, kind, block.x, block.y, block.level or None if known else None)

    def _node(self, name: str, kind: str, x: float, y: float, level: float | None) -> str:
        made_up = "" if name else f"{kind[0].upper()}{len(self._keys) + 1}"
        key = name or made_up
        key = key if key not in self.incoming.nodes else f"{key} ({x:.0f}, {y:.0f})"
        cover = level
        fields: Fields = {"kind": kind, "x": round(x, _DIGITS), "y": round(y, _DIGITS)}
        assumed: Fields = {"name": key} if made_up else {}
        if not made_up:
            fields["name"] = key
        top = "ground" if kind == "outfall" else "cover"
        if cover is None:
            cover = self._ground(x, y)
            self._assumed += 1
            cover = 10.0 if cover is None else cover
            assumed[top] = round(cover, _DIGITS)
        else:
            fields[top] = round(cover, _DIGITS)
        assumed["invert"] = round(cover - self._defaults.cover - self._defaults.diameter, 3)
        if kind == "inlet":
            assumed["capacity"] = 0.02
            what = "is given the capacity of one that is drawn, where it is new"
            self.incoming.remarks.append(Remark(where=f"inlet {key}", what=what))
        self.incoming.add("nodes", key, fields, assumed)
        self._placed(key, x, y)
        return key

    def _runs(self, runs: list[tuple[Line, str]]) -> None:
        """Ends first, so that lines which meet in the middle of another one cut it there."""
        for line, _ in runs:
            for end in (0, -1):
                x, y = line.points[end]
                if self._at(x, y) is None:
                    self._node("", "manhole", x, y, None)
        tree = KDTree(self._places) if self._places else None
        for line, kind in runs:
            if tree is not None:
                self._run(line, kind, tree)

    def _at(self, x: float, y: float) -> str | None:
        """The node at a place; nodes are kept by squares of the tolerance."""
        column, row = math.floor(x / _AT_AN_END), math.floor(y / _AT_AN_END)
        for square in itertools.product((column - 1, column, column + 1), (row - 1, row, row + 1)):
            for k in self._squares.get(square, ()):
                if math.dist(self._places[k], (x, y)) <= _AT_AN_END:
                    return self._keys[k]
        return None

    def _run(self, line: Line, kind: str, tree: KDTree) -> None:
        points, levels = line.points, line.levels
        if levels[-1] > levels[0]:
            points, levels = points[::-1], levels[::-1]
        distances, nearest = tree.query(points)
        stops = [
            (i, self._keys[int(k)]) for i, (d, k) in enumerate(zip(distances, nearest, strict=True)) if d <= _AT_AN_END
        ]
        for (i, start), (j, end) in itertools.pairwise(stops):
            if start == end:
                continue
            part = points[i : j + 1]
            inverts = (levels[i] or None, levels[j] or None)
            self._conduit(kind, start, end, part, inverts)

    def _conduit(
        self,
        kind: str,
        start: str,
        end: str,
        part: list[tuple[float, float]],
        inverts: tuple[float | None, float | None],
    ) -> None:
        stated: Fields = {}
        assumed: Fields = {"width": 0.6, "height": 1.0, "porosity": 0.35}
        for field, level, key in zip(("upstream_invert", "downstream_invert"), inverts, (start, end), strict=True):
            node = self.incoming.assumed.get(("nodes", key), {})
            if level is None:
                assumed[field] = node.get("invert", self.incoming.nodes[key].get("invert"))
                continue
            stated[field] = round(level, _DIGITS)
            if "invert" in node:  # its bottom lies no higher than what joins it
                node["invert"] = min(node["invert"], stated[field])
        if kind == "pipe":
            section: Fields = {"shape": "circular", "diameter": self._defaults.diameter}
            assumed |= {"section": section, "material": self._defaults.material}
        elif kind == "channel":
            section = {"shape": "trapezoidal", "base_width": 0.5, "left_slope": 2.0, "right_slope": 2.0, "height": 0.5}
            assumed |= {"section": section}
        kept = {"pipe": ("width", "height", "porosity"), "channel": ("width", "height", "porosity")}.get(kind, ())
        self.incoming.add(
            "links",
            f"{start}–{end}",
            {
                "kind": kind, "upstream": start, "downstream": end,
                "bends": [(round(x, _DIGITS), round(y, _DIGITS)) for x, y in part[1:-1]], **stated,
            },
            {
                "name": f"{start}–{end}"[:80], "length": max(round(sum(map(math.dist, part, part[1:])), 3), 0.1),
                **{name: value for name, value in assumed.items() if name not in kept},
            },
        )  # fmt: skip

    def _catchment(self, line: Line) -> None:
        ring = [(round(x, _DIGITS), round(y, _DIGITS)) for x, y in line.points[:-1]]
        area = abs(_ring_area(ring))
        name = f"Area {len(self.incoming.catchments) + 1}"
        self.incoming.add("catchments", name, {"polygon": ring}, {"name": name, "area": round(area, 3)})


def _ring_area(ring: Sequence[tuple[float, float]]) -> float:
    pairs = zip(ring, [*ring[1:], ring[0]], strict=True)
    return 0.5 * sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in pairs)


def _alike(ours: Any, drawn: list[list[float]]) -> bool:
    return len(ours) == len(drawn) and all(math.dist(a, b) < _MOVED for a, b in zip(ours, drawn, strict=True))


def _changed(ours: Fields, drawn: Fields) -> Fields:
    """What the drawing says otherwise than we noted."""
    return {
        name: value for name, value in drawn.items()
        if not (isinstance(ours.get(name), int | float) and isinstance(value, float)
                and abs(ours[name] - value) < _MOVED)
    }  # fmt: skip


def _note(entity: DXFEntity, group: str, id_: str, element: BaseModel, **more: Any) -> None:
    """Write an element beside its entity; one of more fields than a drawing allows keeps its id, name and kind."""
    fields = element.model_dump(mode="json")
    text = json.dumps({"group": group, "id": id_, **fields, **more})
    if len(text) > _MOST_NOTED:
        text = json.dumps(
            {"group": group, "id": id_, **{k: fields[k] for k in ("name", "kind") if k in fields}, **more}
        )
    note(entity, text)


def write_dxf(network: Network) -> bytes:
    """The network as a drawing in metres: 3D polylines at the inverts, blocks with attributes, outlines, names."""
    document = ezdxf.filemanagement.new("R2010", setup=True)
    document.header["$INSUNITS"] = 6
    document.appids.new(APPLICATION)
    for layer, colour in (
        ("PIPES", 5),
        ("CHANNELS", 3),
        ("CONTROLS", 1),
        ("NODES", 7),
        ("CATCHMENTS", 8),
        ("NAMES", 7),
    ):
        document.layers.add(layer, color=colour)
    for kind in ("MANHOLE", "JUNCTION", "INLET", "OUTFALL", "STORE"):
        block = document.blocks.new(kind)
        if kind in ("OUTFALL", "STORE"):
            half = 0.8 if kind == "OUTFALL" else 2.0
            block.add_lwpolyline([(-half, -half), (half, -half), (half, half), (-half, half)], close=True)
        else:
            block.add_circle((0, 0), 0.6 if kind != "JUNCTION" else 0.3)
        for k, tag in enumerate(("NAME", "COVER", "INVERT")):
            block.add_attdef(tag, (1.0, 1.0 - k), dxfattribs={"height": 0.8, "invisible": int(k > 0)})
    space = document.modelspace()
    for id_, node in network.nodes.items():
        kind = "STORE" if isinstance(node, Store) else node.kind.upper()
        cover = node.ground if isinstance(node, Outfall) else node.cover
        level = node.invert if cover is None else cover
        reference = space.add_blockref(kind, (node.x, node.y, level), dxfattribs={"layer": "NODES"})
        reference.add_auto_attribs(
            {"NAME": node.name, "COVER": "" if cover is None else f"{level:.3f}", "INVERT": f"{node.invert:.3f}"}
        )
        _note(reference, "nodes", id_, node)
        if isinstance(node, Basin):
            note(space.add_lwpolyline(node.outline, close=True, dxfattribs={"layer": "NODES"}), '{"group": "part"}')
    for id_, link in network.links.items():
        course = network.course(link)
        if isinstance(link, Conduit):
            passed = [0.0, *itertools.accumulate(map(math.dist, course, course[1:]))]
            fall = link.downstream_invert - link.upstream_invert
            at = [link.upstream_invert + fall * (p / passed[-1] if passed[-1] > 0 else 0.0) for p in passed]
            layer = "PIPES" if link.kind == "pipe" else "CHANNELS"
        else:
            at, layer = [network.nodes[end].invert for end in (link.upstream, link.downstream)], "CONTROLS"
        points = [(x, y, z) for (x, y), z in zip(course, at, strict=True)]
        line = space.add_polyline3d(points, dxfattribs={"layer": layer})
        _note(line, "links", id_, link, drawn=sum(map(math.dist, course, course[1:])))
        (x0, y0), (x1, y1) = course[(len(course) - 1) // 2], course[(len(course) - 1) // 2 + 1]
        turn = math.degrees(math.atan2(y1 - y0, x1 - x0))
        text = space.add_text(
            link.name, height=1.0, rotation=turn - 180 if abs(turn) > 90 else turn, dxfattribs={"layer": "NAMES"}
        )
        text.set_placement(((x0 + x1) / 2, (y0 + y1) / 2), align=TextEntityAlignment.BOTTOM_CENTER)
    for id_, catchment in network.catchments.items():
        if len(catchment.polygon) > 2:
            outline = space.add_lwpolyline(catchment.polygon, close=True, dxfattribs={"layer": "CATCHMENTS"})
            _note(outline, "catchments", id_, catchment)
    text_stream = io.StringIO()
    document.write(text_stream)
    return text_stream.getvalue().encode("utf-8")
