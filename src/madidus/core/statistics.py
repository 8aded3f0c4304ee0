"""Peaks over temporal patterns: their spread, the critical duration, and the pattern that stands for it."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from .figures import Figures
from .model.network import Network
from .rainfall.storms import Storm

__all__ = [
    "FEWEST_PATTERNS", "Critical", "Measure", "Peak", "Spread", "Statistic", "critical", "envelopes", "peak_in",
    "peaks_by_duration",
    "representative", "spread", "usual_measure",
]  # fmt: skip

Statistic = Literal["mean", "median", "highest"]
Measure = Literal["level", "outflow", "flooded", "flow", "speed"]
FEWEST_PATTERNS = 3  # of one duration, from which a mean or median says something
_OF: dict[Statistic, Callable[[list[float]], Any]] = {"mean": np.mean, "median": np.median, "highest": max}
_WHISKER = 1.5  # interquartile ranges from the box
_TIMES = {"level": "level_time", "outflow": "outflow_time", "flooded": "level_time", "flow": "flow_time"}


@dataclass(frozen=True)
class Peak:
    """The greatest value of a measure in a storm, the place in the figures where it is, and when (s; None unknown)."""

    value: float
    place: int
    time: float | None


@dataclass(frozen=True)
class Spread:
    """Of the peaks of one duration. Quartiles by linear interpolation at position (n − 1) p, counted from 0.

    whiskers : the furthest values within 1.5 interquartile ranges of the box; outliers lie beyond, by rising value.
    deviation : of a sample, n − 1; 0 of a single value.
    """

    count: int
    mean: float
    median: float
    quartiles: tuple[float, float]
    lowest: float
    highest: float
    whiskers: tuple[float, float]
    outliers: tuple[float, ...]
    deviation: float

    def of(self, statistic: Statistic) -> float:
        """The figure by which durations are compared."""
        return {"mean": self.mean, "median": self.median, "highest": self.highest}[statistic]


@dataclass(frozen=True)
class Critical:
    """The duration (min) with the highest statistic. storm : that stands for it.

    at_end : the critical duration is the shortest or the longest that was run, so that a further one may be worse.
    """

    duration: float
    value: float
    storm: str
    peak: float
    at_end: Literal["shortest", "longest"] | None


def spread(values: np.ndarray) -> Spread:
    """values : float64[n], one peak of each pattern, n at least 1."""
    low, median, high = (float(q) for q in np.quantile(values, [0.25, 0.5, 0.75]))
    # a quartile of equal values may lie a rounding beside them
    reach = _WHISKER * (high - low) + 1e-12 * float(np.abs(values).max())
    within = values[(values >= low - reach) & (values <= high + reach)]
    outliers = np.sort(values[(values < low - reach) | (values > high + reach)])
    return Spread(
        len(values), float(values.mean()), median, (low, high), float(values.min()), float(values.max()),
        (float(within.min()), float(within.max())), tuple(float(v) for v in outliers),
        float(values.std(ddof=1)) if len(values) > 1 else 0.0,
    )  # fmt: skip


def representative(peaks: Mapping[str, float], value: float) -> str:
    """The storm whose peak lies just above a value, strictly; the highest where none does."""
    above = [key for key, peak in peaks.items() if peak > value]
    return min(above, key=lambda key: peaks[key]) if above else max(peaks, key=lambda key: peaks[key])


def critical(by_duration: Mapping[float, Mapping[str, float]], statistic: Statistic) -> Critical:
    """The critical duration among peaks by duration (min) and storm; the shorter one where two are equal.

    By the highest single peak, its own storm stands for it; else the one just above the statistic.
    """
    of = _OF[statistic]
    found = {duration: float(of(list(peaks.values()))) for duration, peaks in by_duration.items()}
    duration = min(found, key=lambda d: (-found[d], d))
    peaks, value = by_duration[duration], found[duration]
    storm = max(peaks, key=lambda key: peaks[key]) if statistic == "highest" else representative(peaks, value)
    at_end: Literal["shortest", "longest"] | None = None
    if len(found) > 1 and duration in (min(found), max(found)):
        at_end = "shortest" if duration == min(found) else "longest"
    return Critical(duration, value, storm, peaks[storm], at_end)


def usual_measure(network: Network, id_: str) -> Measure:
    """What is read of an element first: level of a node, outflow of an outfall, flow of a link."""
    node = network.nodes.get(id_)
    return "flow" if node is None else "outflow" if node.kind == "outfall" else "level"


def peaks_by_duration(
    storms: Sequence[Storm], figures: Mapping[str, Figures], row: str, measure: Measure, place: int
) -> dict[float, dict[str, float]]:
    """Peaks of one element in the storms of one return period and allowance, by duration (min) and storm.

    place : its index in the figures.
    """
    peaks: dict[float, dict[str, float]] = {}
    for storm in storms:
        known = figures.get(storm.key)
        if known is None or storm.row != row or storm.given:
            continue
        value = float(getattr(known, measure)[place])
        if np.isfinite(value):
            peaks.setdefault(storm.duration, {})[storm.key] = value
    return peaks


def peak_in(figures: Figures, measure: Measure, place: int | None, above: np.ndarray | float = 0.0) -> Peak | None:
    """The peak of one element, or of the worst of all where `place` is None; None where there is no such figure.

    above : what the worst one stands highest over, such as covers of nodes for levels.
    """
    values = getattr(figures, measure)
    if place is None:
        over = values - above
        if not np.isfinite(over).any():
            return None
        place = int(np.nanargmax(over))
    if not np.isfinite(values[place]):
        return None
    when = getattr(figures, _TIMES[measure])[place] if measure in _TIMES else None
    return Peak(float(values[place]), place, None if when is None else float(when))


def envelopes(storms: Sequence[Storm], figures: Mapping[str, Figures]) -> dict[str, np.ndarray]:
    """The highest level of every node (m, nan of outfalls) among the storms of each return period, by return period."""
    found: dict[str, np.ndarray] = {}
    for storm in storms:
        known = figures.get(storm.key)
        if known is not None and not storm.given:
            before = found.get(storm.row)
            found[storm.row] = known.level if before is None else np.maximum(before, known.level)
    return found
