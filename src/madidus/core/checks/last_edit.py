"""What the last edit set, and whether it moved a figure out of proportion: a slip that no list of slips knows."""

from collections.abc import Iterator, Mapping, Sequence
from typing import Any, NamedTuple

from pydantic import BaseModel

from ..model.project import Project
from ..model.refused import figure_of
from ..quantities import Quantity, Said, said
from ..verdicts import Verdict

__all__ = ["Set", "leap", "set_since"]

_GROUPS = ("nodes", "links", "catchments")
_PARTS = {"name": "the name", "brief": "the brief", "rain": "the rain", "run": "the run", "defaults": "the defaults",
          "check_limits": "limits of the checks", "sizing": "rules of sizing", "catalogue": "the catalogue",
          "terrain": "the terrain", "layers": "the background", "graphs": "graphs", "layouts": "layouts of reports",
          "sheets": "drawings", "accepted": "accepted findings", "saved_views": "saved views"}  # fmt: skip
_LEVEL = 0.5  # m, by which somebody moves a level in one step who means to
_FACTOR = 3.0  # likewise of any other figure
_WHOLE = 1.0  # of the scale of a rule: its gauge goes from full to nothing


class Set(NamedTuple):
    """A field that an edit set. element : its id; empty of what belongs to the project. was, now : as they are kept."""

    element: str
    name: str
    field: str
    was: Any
    now: Any

    @property
    def told(self) -> Said:
        """In words: “Yard: area 120 m² → 1200000 m²”."""
        if self.field == "":
            how = "is new" if self.was is None else "is removed" if self.now is None else "has changed"
            return said(f"{self.name} {how}")
        *_, field = (step for step in self.field.split("/") if not step.isdigit())
        places = [int(step) + 1 for step in self.field.split("/") if step.isdigit()]
        rows = "".join(f", {what} {k}" for what, k in zip(("row", "column"), places, strict=False))
        was, now = (_figure(field, value) for value in (self.was, self.now))
        return said(f"{self.name}: {field.replace('_', ' ')}{rows} ", was, " → ", now)


def set_since(before: Project, after: Project, option: str) -> list[Set]:
    """What differs between two revisions, field by field: in an option's elements, then in the other parts."""
    found: list[Set] = []
    if option in before.options and option in after.options:
        old, new = before.options[option].network, after.options[option].network
        for group in _GROUPS:
            found += _elements(getattr(old, group), getattr(new, group))
    for part, name in _PARTS.items():
        a, b = getattr(before, part), getattr(after, part)
        if a != b:
            found += _differences("", name, _kept(a), _kept(b))
    others = {*before.options, *after.options} - {option}
    if any(before.options.get(id_) != after.options.get(id_) for id_ in others):
        found.append(Set("", "another option", "", "", ""))
    return found


def _elements(old: Mapping[str, Any], new: Mapping[str, Any]) -> Iterator[Set]:
    for id_ in dict.fromkeys([*new, *old]):
        was: Any = old.get(id_)
        now: Any = new.get(id_)
        if was is None:
            yield Set(id_, now.name, "", None, "")
        elif now is None:
            yield Set(id_, was.name, "", "", None)
        elif was != now:
            yield from _differences(id_, now.name, _kept(was), _kept(now))


def _kept(part: Any) -> Any:
    if isinstance(part, list):
        return [_kept(one) for one in part]
    return part.model_dump(mode="json") if isinstance(part, BaseModel) else part


def _differences(element: str, name: str, was: Any, now: Any, at: str = "") -> Iterator[Set]:
    """Fields in which two parts differ; a list of another length as a whole."""
    below = f"{at}/" if at else ""
    if isinstance(was, dict) and isinstance(now, dict):
        for key in dict.fromkeys([*now, *was]):
            yield from _differences(element, name, was.get(key), now.get(key), f"{below}{key}")
    elif isinstance(was, list) and isinstance(now, list) and len(was) == len(now):
        for k, (a, b) in enumerate(zip(was, now, strict=True)):
            yield from _differences(element, name, a, b, f"{below}{k}")
    elif was != now:
        yield Set(element, name, at, was, now)


def _figure(field: str, value: Any) -> str | Quantity:
    if isinstance(value, list):
        return f"{len(value)} row{'' if len(value) == 1 else 's'}"
    if isinstance(value, dict):
        return "other values"
    return "none" if value is None else figure_of(field, value)


def leap(changes: Sequence[Set], before: Sequence[Verdict], after: Sequence[Verdict]) -> Said | None:
    """In words, the margin that one field's edit moved most, where that is out of proportion; None where nothing is.

    The edit set one field, to a third or to three times what it was or (a level) by half a metre, and the margin of a
    rule went by more than its own scale.

    before, after : verdicts on either side of the edit, of the same rules.
    """
    cell = _cell(changes)
    if cell is None or not _large(cell):
        return None
    moved = []
    for a, b in zip(before, after, strict=False):
        if a.criterion == b.criterion and a.governing is not None and b.governing is not None:
            scale = max(a.governing.scale, b.governing.scale)
            if scale > 0.0 and (share := abs(b.governing.value - a.governing.value) / scale) > _WHOLE:
                moved.append((share, a, b))
    if not moved:
        return None
    _, a, b = max(moved, key=lambda one: one[0])
    assert a.governing is not None
    assert b.governing is not None
    return said(cell.told, f" moved {b.criterion.name} from ", _margin(a.governing.value, b.unit), " to ",
                _margin(b.governing.value, b.unit))  # fmt: skip


def _cell(changes: Sequence[Set]) -> Set | None:
    """The one field that was set; with the invert of a node goes what stands on it."""
    if len(changes) == 1:
        return changes[0] if changes[0].field else None
    inverts = [change for change in changes if change.field == "invert"]
    alike = {(change.was, change.now) for change in changes}
    return inverts[0] if inverts and len(alike) == 1 else None


def _large(change: Set) -> bool:
    """Whether a field went further than in a step of design. What is no figure, or was none, may have."""
    was, now = change.was, change.now
    if isinstance(was, bool) or isinstance(now, bool):
        return False
    if not isinstance(was, int | float) or not isinstance(now, int | float):
        return was is None or now is None
    if change.field.rpartition("/")[2] in _LEVELS:
        return abs(now - was) >= _LEVEL
    least, most = sorted((abs(was), abs(now)))
    return was * now <= 0.0 or most >= _FACTOR * least


_LEVELS = frozenset({"invert", "cover", "ground", "upstream_invert", "downstream_invert", "crest", "sill", "level"})
_SHOWN = {"m": ("m", 1.0, 3), "m of size": ("mm", 1e3, 0), "m3": ("m³", 1.0, 1), "m3/s": ("L/s", 1e3, 1),
          "m/s": ("m/s", 1.0, 2)}  # fmt: skip


def _margin(value: float, unit: str) -> str | Quantity:
    if unit in _SHOWN:
        shown, factor, digits = _SHOWN[unit]
        return Quantity(value * factor, shown, digits)
    return f"{value / 3600.0:.2f} h" if unit == "s" else f"{value:g} {unit}"
