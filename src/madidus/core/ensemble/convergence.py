"""What the grid of a run is worth: how far its figures stay from those of the same storms on finer cells.

The band is the grid convergence index (Roache, 1994) at order one, to which the scheme is entitled where waves are
steep: what cells half as long change, times 3; times 1.25 once a third grid, of quarters, confirms it. The storms that
decide are checked so; those within the band are refined on the quarters, and one that is within its band there too is
too close to call.
"""

from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from ..elements.figures import Figures
from ..verdicts import Verdict

__all__ = [
    "CHECKED",
    "REFINED",
    "OnFiner",
    "Worth",
    "governors",
    "look_closer",
    "to_check",
    "to_refine",
    "with_bands",
    "worth",
]

CHECKED, REFINED = 2, 4
"""Parts into which each cell is cut where a run is checked, and where a close verdict is refined."""
_TWO_GRIDS, _THREE_GRIDS = 3.0, 1.25
_STEPS = 1e-3  # of a rule's scale, that the steps in time may have wrong besides


@dataclass(frozen=True)
class OnFiner:
    """Figures of some storms, by key, on cells cut in `CHECKED` and in `REFINED` parts."""

    half: dict[str, Figures] = field(default_factory=dict)
    quarter: dict[str, Figures] = field(default_factory=dict)

    def on(self, parts: int) -> dict[str, Figures]:
        """Those on cells cut into so many parts."""
        return {CHECKED: self.half, REFINED: self.quarter}[parts]


@dataclass(frozen=True)
class Worth:
    """By how much the grid may have each element wrong: level (m) of nodes, flow (m3/s) of links, nan where unknown."""

    storms: int
    level: np.ndarray
    flow: np.ndarray


def to_check(figures: Mapping[str, Figures], verdicts: Iterable[Verdict]) -> set[str]:
    """Storms that decide a rule which is judged, and the one that governs most elements."""
    found = {key for v in verdicts if v.state != "not judged" for key in v.deciding}
    return found | {key for key, _ in _held(figures).most_common(1)}


def to_refine(verdicts: Iterable[Verdict]) -> set[str]:
    """Storms that may decide a close verdict: with margins no more than its band above the governing one."""
    found: set[str] = set()
    for v in verdicts:
        if not v.close or v.governing is None or v.band is None:
            continue
        most, together = v.governing.value + v.band, {key for cell in v.cells for key in cell.storms}
        found |= v.deciding
        found |= {key for key in v.judged & v.margins.keys() - together if v.margins[key].value <= most}
        for cell in v.cells:
            if cell.margin is not None and cell.margin.value <= most and cell.storms[0] in v.judged:
                found.update(cell.storms)
    return found


def look_closer(
    judged: Callable[[], list[Verdict]], figures: Mapping[str, Figures], wanted: Callable[[set[str]], set[str]],
    compute: Callable[[int, set[str]], bool],
) -> None:  # fmt: skip
    """Check what decides and refine what is close, until nothing new decides.

    judged : the verdicts by what is known at the time. wanted : of the storms that may be refined, those that shall be.
    compute : adds storms on cells cut into so many parts to what is known; false ends all. A storm is tried once.
    """
    tried: dict[int, set[str]] = {CHECKED: set(), REFINED: set()}
    while True:
        verdicts = judged()
        refine = wanted(to_refine(verdicts))
        due = {CHECKED: to_check(figures, verdicts) | refine, REFINED: refine}
        due = {parts: keys - tried[parts] for parts, keys in due.items()}
        if not any(due.values()):
            return
        for parts, keys in due.items():
            if keys and not compute(parts, keys):
                return
            tried[parts] |= keys


def with_bands(
    verdicts: Sequence[Verdict], half: Sequence[Verdict], quarter: Sequence[Verdict], finer: OnFiner
) -> list[Verdict]:
    """Verdicts with what their grid is worth.

    verdicts : with the figures of `finer.quarter` in place of those they refine. half, quarter : judged of the storms
    on finer cells alone.
    """
    found = []
    for v, on_half, on_quarter in zip(verdicts, half, quarter, strict=True):
        deciding = v.deciding
        if v.governing is None or not deciding or not deciding <= finer.half.keys():
            found.append(v)
            continue
        refined = deciding <= finer.quarter.keys()
        own, times = (_margin(v, on_quarter), _THREE_GRIDS) if refined else (_margin(v, v), _TWO_GRIDS)
        band = max(times * abs(own - _margin(v, on_half)), _STEPS * v.governing.scale)
        if v.sure is not None:  # what bounds the flow is no matter of the grid
            band = min(band, max(v.governing.value - v.sure, 0.0))
        settled = replace(v, band=band, refined=refined)
        undecided = refined and settled.within_band and v.state in ("fails", "meets")
        found.append(replace(settled, state="too close") if undecided else settled)
    return found


def _margin(v: Verdict, of: Verdict) -> float:
    """Margin in the storms that decide `v`, as another verdict on the same rule has it."""
    for cell, other in zip(v.cells, of.cells, strict=True):
        if cell.margin is v.governing and other.margin is not None:
            return other.margin.value
    assert v.storm is not None
    return of.margins[v.storm].value


def worth(figures: Mapping[str, Figures], half: Mapping[str, Figures]) -> Worth | None:
    """By how much each element may be wrong, over the storms that were checked; None where none was."""
    both = [(figures[key], finer) for key, finer in half.items() if key in figures]
    if not both:
        return None
    level = np.max([np.abs(own.level - finer.level) for own, finer in both], axis=0)
    flow = np.max([np.abs(own.flow - finer.flow) for own, finer in both], axis=0)
    return Worth(len(both), _TWO_GRIDS * level, _TWO_GRIDS * flow)


def governors(figures: Mapping[str, Figures]) -> set[str]:
    """Storms that hold an envelope of any element."""
    return set(_held(figures))


def _held(figures: Mapping[str, Figures]) -> Counter[str]:
    """How many envelopes each storm holds: highest level of a node, greatest flow, least clearance of a link."""
    keys, found = list(figures), Counter[str]()
    for name, sign in (("level", 1.0), ("outflow", 1.0), ("flow", 1.0), ("clearance", -1.0)):
        table = sign * np.array([getattr(figures[key], name) for key in keys])
        held = table[:, ~np.isnan(table).any(axis=0)] if keys else table
        found.update(keys[k] for k in (held.argmax(axis=0) if held.size else []))
    return found
