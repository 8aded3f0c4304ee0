"""Which storms of an ensemble run first, and what the others are likely to cost."""

import math
from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field

from ..elements.figures import Figures
from ..rainfall.storms import Storm
from ..verdicts import Verdict
from .convergence import governors

__all__ = ["Before", "before_edit", "expected", "in_order"]

_ALIKE = 0.05  # storms whose durations and depths differ by 5 % are taken as equal


@dataclass(frozen=True)
class Before:
    """What the run before an edit tells of storms, by key.

    deciding : those that decided a rule, and beside each the next shorter and longer one of its kind, to which the edit
    may shift it. governing : those that held any envelope. iterations : what each took.
    """

    deciding: frozenset[str] = frozenset()
    governing: frozenset[str] = frozenset()
    iterations: Mapping[str, float] = field(default_factory=dict)


def before_edit(storms: Sequence[Storm], figures: Mapping[str, Figures], verdicts: Iterable[Verdict]) -> Before:
    """What a complete run tells for the one after an edit."""
    deciding = {key for v in verdicts for key in v.deciding}
    return Before(
        frozenset(deciding | _beside(storms, deciding)), frozenset(governors(figures)),
        {key: float(one.summary["iterations"]) for key, one in figures.items()},
    )  # fmt: skip


def _beside(storms: Sequence[Storm], keys: Collection[str]) -> set[str]:
    """Storms one duration shorter and longer than some, of the same row, season and block."""
    kinds: dict[tuple[str, str, str], list[Storm]] = defaultdict(list)
    for storm in storms:
        if not storm.given and not storm.pattern:
            kinds[storm.row, storm.season, storm.block].append(storm)
    found: set[str] = set()
    for kind in kinds.values():
        kind.sort(key=lambda storm: storm.duration)
        for k, storm in enumerate(kind):
            if storm.key in keys:
                found.update(other.key for other in kind[max(k - 1, 0) : k + 2])
    return found


def in_order(storms: Sequence[Storm], keys: Iterable[str], first: Sequence[Collection[str]] = ()) -> list[str]:
    """Keys of the storms to run, those of the first collection before those of the next one, the longest first.

    The others come scattered over their intensities (van der Corput's sequence): those that are in tell soon what the
    others are likely to cost, which storms of one duration differ in by ten times.
    """
    known = {storm.key: storm for storm in storms}
    keys = set(keys)
    chosen: list[str] = []
    for one in first:
        chosen += sorted((keys & set(one)) - set(chosen), key=lambda key: (-known[key].duration, key))
    rest = sorted(keys - set(chosen), key=lambda key: (-float(known[key].intensity.max()), key))
    bits = len(rest).bit_length()
    places = dict.fromkeys(len(rest) * int(f"{k:0{bits}b}"[::-1], 2) >> bits for k in range(1 << bits))
    return chosen + [rest[k] for k in places if rest]


def expected(
    storms: Sequence[Storm], keys: Iterable[str], done: Mapping[str, float], before: Mapping[str, float]
) -> dict[str, float]:
    """Iterations that storms are likely to take, by key: as before the edit, else as the done ones of a like duration
    and depth (their geometric mean, weighted by the inverse of the cube of how far they are from it).

    done, before : iterations of storms of this run and of the one before, by key. Empty while none is done.
    """
    if not done:
        return {}
    lies = {storm.key: (math.log(max(storm.duration, 1.0)), math.log(max(storm.depth, 0.1))) for storm in storms}
    both = [key for key in done if before.get(key, 0.0) > 0.0]
    dearer = sum(done[key] for key in both) / sum(before[key] for key in both) if both else 1.0

    def like(key: str) -> float:
        weight = {other: (math.dist(lies[other], lies[key]) + _ALIKE) ** -3.0 for other in done}
        mean = sum(weight[other] * math.log(max(done[other], 1.0)) for other in done)
        return math.exp(mean / sum(weight.values()))

    return {key: before[key] * dearer if before.get(key, 0.0) > 0.0 else like(key) for key in keys}
