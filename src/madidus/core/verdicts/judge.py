"""Criteria to verdicts.

Nothing that was not computed counts as met. A rule that every storm must keep fails as soon as one storm breaks it; a
mean or a median over temporal patterns is known only when all of them are in.
"""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..elements.figures import Figures
from ..model.network import Network
from ..rainfall.storms import Storm
from ..results.patterns import Statistic, figure, parted, representative
from ..rules import OverPatterns
from .criteria import Criterion
from .measure import Measured, NotMeasured, measured
from .verdict import NOISE, Cell, Margin, State, Verdict

__all__ = ["ElementMargin", "by_element", "judge"]

_QUANTUM = {"m": 0.001, "m of size": 1e-4, "m3": 0.1, "m3/s": 1e-5, "s": 1.0, "m/s": 0.001, "m/m": 1e-6}  # as shown
_READ: dict[OverPatterns, Statistic] = {"mean": "mean", "median": "median", "every": "highest"}


@dataclass(frozen=True)
class ElementMargin:
    """The least margin of an element over the storms that a criterion judges. storm : its key, None without storms."""

    margin: Margin
    storm: str | None


def _worst(spare: np.ndarray) -> int:
    """Place of the least; what is not known (nan) hides no limit that is broken, and counts before what is met."""
    k = int(spare.argmin())
    if spare[k] == spare[k]:  # nan would have come first
        return k
    known = np.where(np.isnan(spare), np.inf, spare)
    k = int(known.argmin())
    return k if known[k] < -NOISE or not np.isnan(spare).any() else int(np.argmax(np.isnan(spare)))


def _least(look: Measured, spare: np.ndarray, figures: Figures) -> Margin:
    k = _worst(spare)
    return Margin(float(spare[k]), float(look.scale[k]), look.elements[k], float(look.when(figures)[k]))


def _together(
    look: Measured, spares: Mapping[str, np.ndarray], how: OverPatterns, results: Mapping[str, Figures]
) -> tuple[Margin, str]:
    """Margin over patterns, element by element, and the pattern that stands for them at the worst element."""
    table = np.array(list(spares.values()))
    spare = -figure(-table, _READ[how])
    k = _worst(spare)
    key = list(spares)[int(representative(-table[:, k]))]
    when = float(look.when(results[key])[k])
    return Margin(float(spare[k]), float(look.scale[k]), look.elements[k], when), key


def _missing(
    criterion: Criterion, own: Sequence[Storm], results: Mapping[str, Figures], failed: Collection[str], as_aep: bool
) -> str:
    """Why a rule cannot be called met, or nothing."""
    if not own:
        return f"no storm of {criterion.storms_label(as_aep)}"
    lost = [storm for storm in own if storm.key in failed and storm.key not in results]
    if lost:
        return f"storm {lost[0].label} failed" if len(lost) == 1 else f"{len(lost)} of {len(own)} storms failed"
    seen = sum(storm.key in results for storm in own)
    return "" if seen == len(own) else f"{seen} of {len(own)} storms in"


def _judge_one(
    criterion: Criterion, network: Network, storms: Sequence[Storm], results: Mapping[str, Figures],
    failed: Collection[str], before: Collection[str],
) -> Verdict:  # fmt: skip
    unit, own = criterion.rule.UNIT, [storm for storm in storms if criterion.judges(storm)]
    seen = sum(storm.key in results for storm in own)
    single, groups = parted(own, criterion.patterns != "every")
    over: OverPatterns = criterion.patterns if groups else "every"
    look: Measured | None = None
    problem = criterion.problem
    if not problem:
        try:
            look = measured(criterion, network)
        except NotMeasured as why:
            problem = str(why)
    if look is None:
        return Verdict(criterion, unit, "not judged", problem, over, None, None, 0, seen, len(own), {}, [])
    if look.drawn is not None:
        return _of_drawing(criterion, unit, look, look.drawn)
    spares = {s.key: look.spare(results[s.key]) for s in storms if s.key in results}
    margins = {key: _least(look, spare, results[key]) for key, spare in spares.items()}
    cells, judged_cells = [], {group[0].key for group in groups}
    for group in parted(storms, criterion.patterns != "every")[1]:
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
    if look.dry is not None and governing is not None and governing.value >= governing.scale - NOISE:
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
            state, reason = "not judged", look.unknown
        elif governing.exceeded:
            state = "fails"
    first = {s.key for s in own} & set(before)
    waiting = state == "not judged" and governing is not None and not any(s.key in failed for s in own)
    return Verdict(
        criterion, unit, state, reason if state == "not judged" else "", over, governing, storm, tied, seen, len(own),
        margins, cells, dry, any(storm.pattern for storm in own),
        provisional=waiting and seen < len(own) and bool(first) and first <= results.keys(),
        judged=frozenset(s.key for s in own), sure=_sure(look, governing),
        edge=_edge(storm, own),
    )  # fmt: skip


def _edge(key: str | None, own: Sequence[Storm]) -> Literal["shortest", "longest"] | None:
    """At which end of the durations of a rule's storms the governing one lies."""
    ranged = {storm.key: storm.duration for storm in own if not storm.given}
    if key not in ranged or len(set(ranged.values())) < 2:
        return None
    if ranged[key] == min(ranged.values()):
        return "shortest"
    return "longest" if ranged[key] == max(ranged.values()) else None


def _sure(look: Measured, governing: Margin | None) -> float | None:
    if look.sure is None or governing is None:
        return None
    return float(look.sure[look.elements.index(governing.element)])


def _of_drawing(criterion: Criterion, unit: str, look: Measured, spare: np.ndarray) -> Verdict:
    k = _worst(spare)
    margin = Margin(float(spare[k]), float(look.scale[k]), look.elements[k], float("nan"))
    state: State = "not judged" if not np.isfinite(margin.value) else "fails" if margin.exceeded else "meets"
    reason = look.unknown if state == "not judged" else ""
    return Verdict(criterion, unit, state, reason, "every", margin, None, 1, 0, 0, {}, [])


def judge(
    criteria: Sequence[Criterion], network: Network, storms: Sequence[Storm], results: Mapping[str, Figures],
    failed: Collection[str] = (), before: Collection[str] = (),
) -> list[Verdict]:  # fmt: skip
    """Verdict of every criterion over the storms that are in.

    A criterion judges the storms of its return period, allowance and duration; margins of the others are given for
    reading. failed : keys of storms that could not be computed. before : keys of the storms that governed before an
    edit.
    """
    return [_judge_one(criterion, network, storms, results, failed, before) for criterion in criteria]


def by_element(
    criterion: Criterion, network: Network, storms: Sequence[Storm], results: Mapping[str, Figures]
) -> list[ElementMargin]:
    """The least margin of every element that a criterion looks at, over the storms that it judges and that are in.

    The least first. Patterns are read together as `judge` reads them; what is not known (nan) is told as such.

    Raises
    ------
    NotMeasured
        When the criterion has nothing to look at.
    """
    if criterion.problem:
        raise NotMeasured(criterion.problem)
    look = measured(criterion, network)
    rows: list[tuple[np.ndarray, np.ndarray, list[str]]] = []  # spare, moment and storm of each element
    if look.drawn is None:
        judged = [storm for storm in storms if criterion.judges(storm)]
        single, groups = parted(judged, criterion.patterns != "every")
        for storm in single:
            if storm.key in results:
                figures = results[storm.key]
                rows.append((look.spare(figures), look.when(figures), [storm.key] * len(look.elements)))
        for group in groups:
            there = [storm.key for storm in group if storm.key in results]
            if there:
                rows.append(_together_by_element(look, there, criterion.patterns, results))
        if not rows:
            return []
        spares = np.array([spare for spare, _, _ in rows])
        worst = [_worst(spares[:, k]) for k in range(len(look.elements))]
        found = [
            ElementMargin(Margin(float(rows[row][0][k]), float(look.scale[k]), id_, float(rows[row][1][k])),
                          rows[row][2][k])
            for k, (id_, row) in enumerate(zip(look.elements, worst, strict=True))
        ]  # fmt: skip
    else:
        found = [
            ElementMargin(Margin(float(left), float(scale), id_, float("nan")), None)
            for id_, left, scale in zip(look.elements, look.drawn, look.scale, strict=True)
        ]
    return sorted(found, key=lambda one: (np.isnan(one.margin.value), one.margin.value))


def _together_by_element(
    look: Measured, keys: Sequence[str], how: OverPatterns, results: Mapping[str, Figures]
) -> tuple[np.ndarray, np.ndarray, list[str]]:
    """Margin over patterns, element by element, with the pattern that stands for them."""
    table = np.array([look.spare(results[key]) for key in keys])
    times = np.array([look.when(results[key]) for key in keys])
    stands = representative(-table)
    return -figure(-table, _READ[how]), times[stands, np.arange(table.shape[1])], [keys[row] for row in stands]
