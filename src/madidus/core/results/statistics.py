"""Peaks of one element over durations: their spread, the critical duration, and the storm that stands for it."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..elements.figures import Figures
from ..model.network import Network
from ..rainfall.storms import Storm
from .patterns import FEWEST_PATTERNS, Statistic, figure, representative

__all__ = [
    "Critical", "Measure", "Peak", "Spread", "critical", "peak_in", "peaks_by_duration", "spread",
    "usual_measure",
]  # fmt: skip

Measure = Literal["level", "outflow", "flooded", "flow", "speed"]
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


def critical(
    by_duration: Mapping[float, Mapping[str, float]], statistic: Statistic, alone: Collection[str] = ()
) -> Critical:
    """The critical duration among peaks by duration (min) and storm; the shorter one where two are equal.

    alone : storms that are no temporal patterns (seasons), and count each for itself; so do fewer patterns of a
    duration than can be read together.
    """
    found = {duration: _of_duration(peaks, statistic, alone) for duration, peaks in by_duration.items()}
    duration = min(found, key=lambda d: (-found[d][0], d))
    value, storm = found[duration]
    at_end: Literal["shortest", "longest"] | None = None
    if len(found) > 1 and duration in (min(found), max(found)):
        at_end = "shortest" if duration == min(found) else "longest"
    return Critical(duration, value, storm, by_duration[duration][storm], at_end)


def _of_duration(peaks: Mapping[str, float], by: Statistic, alone: Collection[str]) -> tuple[float, str]:
    """What is read of the peaks of a duration, and the storm that stands for it."""
    patterns = [key for key in peaks if key not in alone]
    if by == "highest" or len(patterns) < FEWEST_PATTERNS:
        patterns = []
    read = [(peaks[key], key) for key in peaks if key not in patterns]
    if patterns:
        values = np.array([peaks[key] for key in patterns])
        read.append((float(figure(values, by)), patterns[int(representative(values, by))]))
    return max(read, key=lambda one: one[0])


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
