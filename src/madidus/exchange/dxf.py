"""DXF drawings: lines, blocks and words by layer, read with ezdxf whatever their version."""

import io
import math
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

from ezdxf import path as curves
from ezdxf import recover
from ezdxf.entities.dxfentity import DXFEntity
from ezdxf.entities.insert import Insert
from ezdxf.lldxf.const import DXFError

from ..core.errors import ModelError
from ..core.quantities import FOOT, INCH

__all__ = ["APPLICATION", "Block", "Drawing", "Line", "Word", "note", "read_drawing"]

APPLICATION = "MADIDUS"
"""Under which our extended data stand."""

_STRING = 250  # characters of a string of extended data
_SAG = 0.05  # m between a curve and its chords
_MOST_POINTS = 2_000_000
_MOST_BLOCKS = 20_000  # taken apart
_MOST_DEEP = 8  # blocks within blocks
_METRES = {1: INCH, 2: FOOT, 4: 1e-3, 5: 1e-2, 6: 1.0, 7: 1e3}  # of $INSUNITS
_CURVES = {"LINE", "LWPOLYLINE", "POLYLINE", "ARC", "CIRCLE", "ELLIPSE", "SPLINE"}
_WORDS = {"TEXT", "MTEXT", "ATTRIB"}


@dataclass
class Line:
    """A line or an outline of a drawing."""

    layer: str
    points: list[tuple[float, float]]
    levels: list[float]
    closed: bool
    noted: str = ""  # what was written of our own beside it, as JSON


@dataclass
class Block:
    """A block that is placed in a drawing, with its attributes."""

    layer: str
    name: str
    x: float
    y: float
    level: float
    words: dict[str, str]
    noted: str = ""


@dataclass
class Word:
    """A text in a drawing."""

    layer: str
    text: str
    x: float
    y: float


@dataclass
class Drawing:
    """All of model space in m. units : how the drawing's were read. left : kinds of entity that were not used."""

    lines: list[Line] = field(default_factory=list)
    blocks: list[Block] = field(default_factory=list)
    words: list[Word] = field(default_factory=list)
    left: dict[str, int] = field(default_factory=dict)
    units: str = "m"


def read_drawing(content: bytes, explode: bool) -> Drawing:
    """Model space of a drawing.

    explode : take blocks apart into the lines they are drawn with; otherwise they are kept as blocks.

    Raises
    ------
    ModelError
        When it is no DXF drawing, or holds more than can be drawn.
    """
    try:
        document, _ = recover.read(io.BytesIO(content))
    except (DXFError, OSError, ValueError, IndexError, KeyError, TypeError, RecursionError) as error:
        raise ModelError(
            "file", "DXF", f"cannot be read: {error}"[:300], "write it again as DXF (text or binary)"
        ) from error
    unit = int(document.header.get("$INSUNITS", 0))
    reader = _Reader(_METRES.get(unit, 1.0), explode)
    reader.drawing.units = {0: "not said, read as m"}.get(unit, f"{_METRES.get(unit, 1.0):g} m")
    try:
        for entity in document.modelspace():
            reader.take(entity, 0)
    except (DXFError, ValueError, ZeroDivisionError, RecursionError) as error:
        raise ModelError(
            "file", "DXF", f"holds an entity that cannot be read: {error}"[:300], "audit the drawing"
        ) from error
    return reader.drawing


def note(entity: DXFEntity, text: str) -> None:
    """Write a text of ours beside an entity, as extended data in strings of the length that DXF allows."""
    entity.set_xdata(APPLICATION, [(1000, text[k : k + _STRING]) for k in range(0, len(text), _STRING)])


def _noted(entity: DXFEntity) -> str:
    if not entity.has_xdata(APPLICATION):
        return ""
    return "".join(str(tag.value) for tag in entity.get_xdata(APPLICATION) if tag.code == 1000)


class _Reader:
    def __init__(self, metres: float, explode: bool):
        self.drawing, self._metres, self._explode = Drawing(), metres, explode
        self._points = self._blocks = 0

    def take(self, entity: DXFEntity, deep: int) -> None:
        kind, layer = entity.dxftype(), str(entity.dxf.get("layer", "0"))
        if kind in _CURVES:
            self._curve(entity, layer)
        elif isinstance(entity, Insert):
            self._insert(entity, layer, deep)
        elif kind in _WORDS:
            self._word(entity, layer)
        elif kind == "POINT":
            x, y, z = self._metre(entity.dxf.location)
            self._counted(1)
            self.drawing.blocks.append(Block(layer, "POINT", x, y, z, {}))
        else:
            self.drawing.left[kind] = self.drawing.left.get(kind, 0) + 1

    def _counted(self, points: int) -> None:
        self._points += points
        if self._points > _MOST_POINTS:
            raise ModelError(
                "file", "DXF", f"holds more than {_MOST_POINTS:,} points", "take out layers that are not needed"
            )

    def _metre(self, at: Any) -> tuple[float, float, float]:
        x, y, z = (float(v) * self._metres for v in (at[0], at[1], at[2] if len(at) > 2 else 0.0))
        if not all(math.isfinite(v) and abs(v) <= 1e8 for v in (x, y, z)):
            raise ValueError("a coordinate is no number within 1e8 m")
        return x, y, z

    def _curve(self, entity: DXFEntity, layer: str) -> None:
        for name in ("radius", "start_angle", "end_angle", "start_param", "end_param"):
            value = entity.dxf.all_existing_dxf_attribs().get(name, 0.0)
            if not abs(float(value)) <= (1e8 if name == "radius" else 1e4):
                raise ValueError(f"{name} of a curve is out of all bounds")
        course = curves.make_path(entity)
        corners = [self._metre(p) for p in course.control_vertices()]
        if not corners:
            return
        # a damaged or enormous curve takes no more chords than one of a thousand times the sag
        reach = max(max(c[k] for c in corners) - min(c[k] for c in corners) for k in (0, 1))
        points = [self._metre(p) for p in course.flattening(max(_SAG, 1e-3 * reach) / self._metres, segments=4)]
        self._counted(len(points))
        if len(points) > 1:
            closed = len(points) > 3 and points[0][:2] == points[-1][:2]
            self.drawing.lines.append(
                Line(layer, [(x, y) for x, y, _ in points], [z for _, _, z in points], closed, _noted(entity))
            )

    def _insert(self, entity: Insert, layer: str, deep: int) -> None:
        if not self._explode:
            x, y, z = self._metre(entity.dxf.insert)
            words = {str(a.dxf.tag): str(a.dxf.text) for a in entity.attribs}
            self._counted(1)
            self.drawing.blocks.append(Block(layer, str(entity.dxf.name), x, y, z, words, _noted(entity)))
            return
        if deep >= _MOST_DEEP or entity.mcount > 10_000:
            self.drawing.left["INSERT"] = self.drawing.left.get("INSERT", 0) + 1
            return
        for part in self._parts(entity):
            self.take(part, deep + 1)

    def _parts(self, entity: Insert) -> Iterator[DXFEntity]:
        for one in entity.multi_insert() if entity.mcount > 1 else (entity,):
            self._blocks += 1
            if self._blocks > _MOST_BLOCKS:
                raise ModelError(
                    "file", "DXF", f"holds more than {_MOST_BLOCKS:,} blocks", "take out layers that are not needed"
                )
            yield from one.virtual_entities()

    def _word(self, entity: DXFEntity, layer: str) -> None:
        text = entity.plain_text() if hasattr(entity, "plain_text") else str(entity.dxf.text)
        x, y, _ = self._metre(entity.dxf.insert)
        self._counted(1)
        if text.strip():
            self.drawing.words.append(Word(layer, " ".join(text.split())[:200], x, y))
