"""Temporal patterns of one duration read together: which do, their figure, and the pattern that stands for them.

The one place that decides it, for verdicts, results, statistics and searches. The figure of a duration is the mean or
the median of its patterns; the pattern that stands for them is the one whose value lies just above their **mean**,
whichever of both the figure is (so that one hydrograph is named whatever rule is read; case F7).
"""

from collections.abc import Hashable, Iterable, Sequence
from typing import Literal

import numpy as np

from ..rainfall.storms import Storm

__all__ = ["FEWEST_PATTERNS", "Highest", "Statistic", "figure", "parted", "representative"]

Statistic = Literal["mean", "median", "highest"]
FEWEST_PATTERNS = 3
"""Of one duration, from which a mean or a median says something; fewer count each for itself, as seasons do."""
_ROUNDING = 1e-12  # of the greatest value: a pattern that lies on the mean lies on it whatever the last bit says


def parted(storms: Iterable[Storm], together: bool) -> tuple[list[Storm], list[list[Storm]]]:
    """Storms that count each for itself, and patterns of one return period and duration that are read together.

    together : whether patterns are; else each storm counts for itself.
    """
    alone: list[Storm] = []
    groups: dict[Hashable, list[Storm]] = {}
    for storm in storms:
        if storm.pattern and together:
            groups.setdefault((storm.row, storm.duration), []).append(storm)
        else:
            alone.append(storm)
    few = [storm for group in groups.values() if len(group) < FEWEST_PATTERNS for storm in group]
    return [*alone, *few], [group for group in groups.values() if len(group) >= FEWEST_PATTERNS]


def figure(values: np.ndarray, by: Statistic) -> np.ndarray:
    """Of float64[pattern, ...]: what is read of them."""
    if by == "highest":
        return np.asarray(values.max(axis=0))
    return np.asarray(values.mean(axis=0) if by == "mean" else np.median(values, axis=0))


def representative(values: np.ndarray | Sequence[float], by: Statistic = "mean") -> np.ndarray:
    """Of float64[pattern, ...]: the place of the pattern that stands for them.

    The least one strictly above their mean; where none is (all are alike), the first of the highest. By the highest,
    that one itself. Not known (nan) stands for nothing known: place 0.
    """
    table = np.asarray(values, float)
    if by == "highest":
        return np.asarray(table.argmax(axis=0))
    beyond = table > table.mean(axis=0) + _ROUNDING * np.abs(table).max(axis=0)
    nearest = np.where(beyond, table, np.inf).argmin(axis=0)
    return np.asarray(np.where(beyond.any(axis=0), nearest, table.argmax(axis=0)))


class Highest:
    """The highest of each column over storms, patterns read together as asked."""

    def __init__(self, storms: Sequence[Storm], by: Statistic):
        place = {storm.key: k for k, storm in enumerate(storms)}
        alone, groups = parted(storms, by != "highest")
        self._groups = [[place[storm.key] for storm in group] for group in [*([one] for one in alone), *groups]]
        self._by: Statistic = by

    def of(self, values: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Of float64[storm, column]: the highest figure of each column, and the place of the storm that has it.

        Of several patterns the one that stands for them.
        """
        figures = [figure(values[group], self._by) for group in self._groups]
        places = [np.array(group)[representative(values[group], self._by)] for group in self._groups]
        table = np.array(figures)
        highest = np.where(np.isnan(table), -np.inf, table).argmax(axis=0)
        column = np.arange(table.shape[1])
        return table[highest, column], np.array(places)[highest, column]
