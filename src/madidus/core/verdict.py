"""Rules to verdicts: fails, meets, or not judged; by how much, and which storm governs.

Nothing that was not computed counts as met. A rule that every storm must keep fails as soon as one storm breaks it; a
mean or a median over temporal patterns is known only when all of them are in.
"""

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from .figures import Figures
from .margins import UNITS, Measured, NotMeasured, measured
from .model.brief import Criterion, OverPatterns
from .model.network import Network
from .rainfall.storms import Storm, probability_label
from .statistics import FEWEST_PATTERNS

__all__ = ["Cell", "Margin", "Overall", "State", "Verdict", "judge", "overall"]

State = Literal["fails", "meets", "not judged"]
_TIGHT = 0.1  # of the scale
_NOISE = 1e-9  # m, m3 or m3/s: equal to the limit passes, whatever the last bit says
_QUANTUM = {"m": 0.001, "m3": 0.1, "m3/s": 1e-5}


@dataclass(frozen=True)
class Margin:
    """Margin of one rule in one storm (or over the patterns of one duration), at the element where it is least.

    value : in the unit of the rule, negative when exceeded. scale : what a full gauge means, same unit. time : s.
    """

    value: float
    scale: float
    element: str
    time: float

    @property
    def exceeded(self) -> bool:
        """Whether the limit is passed, by more than rounding."""
        return self.value < -_NOISE

    @property
    def tight(self) -> bool:
        """Met by less than a tenth of the scale."""
        return not self.exceeded and self.value < _TIGHT * self.scale


@dataclass(frozen=True)
class Cell:
    """Patterns of one row of the matrix and one duration, read together.

    storms : keys; storm : of the pattern that stands for them.

    margin : None until one is in; whole : all of them are.
    """

    storms: tuple[str, ...]
    margin: Margin | None
    storm: str | None
    whole: bool


@dataclass(frozen=True)
class Verdict:
    """A rule over its storms: the least margin, the storm that governs, and the margin in every storm.

    reason : why it is not judged. over : the statistic that was taken over patterns, 'every' where there were too few.
    tied : storms whose margin equals the governing one to its last shown digit. seen, due : of the storms that this
    rule judges, how many are in, and how many there are. margins : by storm key, every storm that is in. cells :
    patterns read together, of every row. dry : m between the water and the cover at the governing element, where
    nothing floods. patterned : some of its storms are temporal patterns. provisional : storms are still to come, but
    those that governed before are in. band : by how much the grid may have the margin wrong, in the unit of the rule;
    None where that was not computed. refined : the margin comes from finer cells (see `grid`). judged : keys of the
    storms that this rule judges.
    """

    criterion: Criterion
    unit: str
    state: State
    reason: str
    over: OverPatterns
    governing: Margin | None
    storm: str | None
    tied: int
    seen: int
    due: int
    margins: dict[str, Margin]
    cells: list[Cell]
    dry: float | None = None
    patterned: bool = False
    provisional: bool = False
    band: float | None = None
    refined: bool = False
    judged: frozenset[str] = frozenset()

    @property
    def close(self) -> bool:
        """Judged, but by less than the grid may have wrong: finer cells may judge otherwise."""
        judged = self.state != "not judged" and self.governing is not None and self.band is not None
        return judged and abs(self.governing.value) < self.band  # type: ignore[union-attr,operator]

    @property
    def deciding(self) -> set[str]:
        """Keys of the storms that make the margin: the governing one, or all patterns that are judged with it."""
        together = [set(cell.storms) for cell in self.cells if cell.margin is self.governing]
        return together[0] if together else {self.storm} if self.storm else set()

    @property
    def tight(self) -> bool:
        """Met, but by less than a tenth of the scale."""
        return self.state == "meets" and self.governing is not None and self.governing.tight


@dataclass(frozen=True)
class Overall:
    """How the rules that are asked fare together."""

    asked: int
    fails: int
    meets: int
    not_judged: int
    tight: int
    close: int

    @property
    def state(self) -> State:
        """Of all rules that are asked: one that fails decides, then one that is not judged."""
        if self.fails:
            return "fails"
        return "meets" if self.asked and not self.not_judged else "not judged"

    @property
    def said(self) -> str:
        """In a sentence: '1 of 6 rules fails, 2 are not judged'."""
        if not self.asked:
            return "no rule is asked"
        doubt = f"; {self.close} close: within what the grid is worth" if self.close else ""
        if self.meets == self.asked:
            return ("every rule is met" if self.asked > 1 else "the rule is met") + doubt
        parts = [(self.fails, "fails", "fail"), (self.not_judged, "is not judged", "are not judged")]
        told = [f"{n} {one if n == 1 else more}" for n, one, more in parts if n]
        first, *rest = (text.split(" ", 1) for text in told)
        whole = f"{first[0]} of {self.asked} rule{'s' if self.asked > 1 else ''} {first[1]}"
        return ", ".join([whole, *(" ".join(other) for other in rest)]) + doubt


def overall(verdicts: Iterable[Verdict]) -> Overall:
    """Count the verdicts of the rules that are asked."""
    asked = [v for v in verdicts if v.criterion.asked]
    counts = {state: sum(v.state == state for v in asked) for state in ("fails", "meets", "not judged")}
    return Overall(
        len(asked), counts["fails"], counts["meets"], counts["not judged"], sum(v.tight for v in asked),
        sum(v.close for v in asked),
    )  # fmt: skip


def _least(look: Measured, spare: np.ndarray, figures: Figures) -> Margin:
    k = int(np.argmin(spare))
    return Margin(float(spare[k]), float(look.scale[k]), look.elements[k], float(look.when(figures)[k]))


def _together(
    look: Measured, spares: Mapping[str, np.ndarray], how: OverPatterns, results: Mapping[str, Figures]
) -> tuple[Margin, str]:
    """Margin by mean or median over patterns, element by element; the pattern just above it at the worst element."""
    table = np.array(list(spares.values()))
    spare = table.mean(axis=0) if how == "mean" else np.median(table, axis=0)
    k = int(np.argmin(spare))
    mean = float(table[:, k].mean())
    beyond = {key: float(own[k]) for key, own in spares.items() if own[k] < mean}
    key = max(beyond, key=lambda key: beyond[key]) if beyond else min(spares, key=lambda key: spares[key][k])
    when = float(look.when(results[key])[k])
    return Margin(float(spare[k]), float(look.scale[k]), look.elements[k], when), key


def _groups(storms: Sequence[Storm], how: OverPatterns) -> tuple[list[Storm], list[list[Storm]]]:
    """Storms that count each for itself, and patterns of one duration that are judged together."""
    patterns: dict[tuple[str, float], list[Storm]] = {}
    single = []
    for storm in storms:
        if storm.pattern and how != "every":
            patterns.setdefault((storm.row, storm.duration), []).append(storm)
        else:
            single.append(storm)
    few = [storm for group in patterns.values() if len(group) < FEWEST_PATTERNS for storm in group]
    return [*single, *few], [group for group in patterns.values() if len(group) >= FEWEST_PATTERNS]


def _own(criterion: Criterion, storms: Sequence[Storm]) -> list[Storm]:
    return [
        s for s in storms
        if s.return_period is not None
        and np.isclose(s.return_period, criterion.return_period) and np.isclose(s.allowance, criterion.allowance)
    ]  # fmt: skip


def _missing(
    criterion: Criterion, own: Sequence[Storm], results: Mapping[str, Figures], failed: Collection[str], as_aep: bool
) -> str:
    """Why a rule cannot be called met, or nothing."""
    if not own:
        return f"no storm of {probability_label(criterion.return_period, criterion.allowance, as_aep)}"
    lost = [storm for storm in own if storm.key in failed and storm.key not in results]
    if lost:
        return f"storm {lost[0].label} failed" if len(lost) == 1 else f"{len(lost)} of {len(own)} storms failed"
    seen = sum(storm.key in results for storm in own)
    return "" if seen == len(own) else f"{seen} of {len(own)} storms in"


def _judge_one(
    criterion: Criterion, network: Network, storms: Sequence[Storm], results: Mapping[str, Figures],
    failed: Collection[str], problem: str, before: Collection[str],
) -> Verdict:  # fmt: skip
    unit, own = UNITS[criterion.kind], _own(criterion, storms)
    seen = sum(storm.key in results for storm in own)
    single, groups = _groups(own, criterion.patterns)
    over: OverPatterns = criterion.patterns if groups else "every"
    look: Measured | None = None
    if not problem:
        try:
            look = measured(criterion, network)
        except NotMeasured as why:
            problem = str(why)
    if look is None:
        return Verdict(criterion, unit, "not judged", problem, over, None, None, 0, seen, len(own), {}, [])
    spares = {s.key: look.spare(results[s.key]) for s in storms if s.key in results}
    margins = {key: _least(look, spare, results[key]) for key, spare in spares.items()}
    cells, judged_cells = [], {group[0].key for group in groups}
    for group in _groups(storms, criterion.patterns)[1]:
        there = {storm.key: spares[storm.key] for storm in group if storm.key in spares}
        margin, key = _together(look, there, criterion.patterns, results) if there else (None, None)
        cells.append(Cell(tuple(s.key for s in group), margin, key, len(there) == len(group)))
    judged = [(margins[s.key], s.key) for s in single if s.key in margins]
    at_once = any(margin.exceeded for margin, _ in judged)
    judged += [
        (cell.margin, cell.storm) for cell in cells
        if cell.storms[0] in judged_cells and cell.margin is not None and cell.storm is not None
    ]  # fmt: skip
    governing, storm = min(judged, key=lambda found: found[0].value) if judged else (None, None)
    tied = sum(abs(m.value - governing.value) < 0.5 * _QUANTUM[unit] for m, _ in judged) if governing else 0
    dry = None
    if look.dry is not None and governing is not None and governing.value >= governing.scale - _NOISE:
        # nothing floods: what governs is the water nearest to its cover
        near = {s.key: look.dry(results[s.key]) for s in own if s.key in results}
        storm = min(near, key=lambda key: near[key].min())
        k = int(near[storm].argmin())
        dry, tied = float(near[storm][k]), 1
        governing = Margin(governing.value, governing.scale, look.elements[k], float(look.when(results[storm])[k]))
    reason = _missing(criterion, own, results, failed, any(storm.as_aep for storm in storms))
    state: State = "fails" if at_once else "not judged" if reason or governing is None else "meets"
    if state == "meets" and governing is not None:
        if not np.isfinite(governing.value):
            state, reason = "not judged", "its figures are no numbers"
        elif governing.exceeded:
            state = "fails"
    first = {s.key for s in own} & set(before)
    waiting = state == "not judged" and governing is not None and not any(s.key in failed for s in own)
    return Verdict(
        criterion, unit, state, reason if state == "not judged" else "", over, governing, storm, tied, seen, len(own),
        margins, cells, dry, any(storm.pattern for storm in own),
        provisional=waiting and seen < len(own) and bool(first) and first <= results.keys(),
        judged=frozenset(s.key for s in own),
    )  # fmt: skip


def judge(
    criteria: Sequence[Criterion], network: Network, storms: Sequence[Storm], results: Mapping[str, Figures],
    failed: Collection[str] = (), problems: Mapping[int, str] | None = None, before: Collection[str] = (),
) -> list[Verdict]:  # fmt: skip
    """Verdict of every rule over the storms that are in.

    A rule judges the storms of its return period and allowance; margins of the others are given for reading. failed :
    keys of storms that could not be computed. problems : by place of a rule, why its limit could not be computed.
    before : keys of the storms that governed before an edit.
    """
    why = problems or {}
    return [
        _judge_one(criterion, network, storms, results, failed, why.get(i, ""), before)
        for i, criterion in enumerate(criteria)
    ]
