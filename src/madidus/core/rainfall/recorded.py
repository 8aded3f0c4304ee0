"""Recorded rain: a series of depths, and the events that dry gaps part it into."""

from dataclasses import dataclass
from datetime import datetime, timedelta

import numpy as np

from ..errors import ModelError

__all__ = ["RainEvent", "RainSeries", "events"]

WINTER_MONTHS = frozenset({10, 11, 12, 1, 2, 3})


@dataclass(frozen=True)
class RainSeries:
    """Depths by equal intervals; only the wet ones are held.

    began : when the record begins. interval : s. at : float64[n], s from there to the start of each wet interval,
    rising. depth : float64[n], mm. until : s, end of the record.
    """

    began: datetime
    interval: float
    at: np.ndarray
    depth: np.ndarray
    until: float


@dataclass(frozen=True)
class RainEvent:
    """Rain between two dry gaps.

    start, end : s from the start of the record. times : float64[n + 1], s from the event's start. intensity :
    float64[n], mm/h between them. season : whose runoff coefficients apply.
    """

    start: float
    end: float
    depth: float  # mm
    times: np.ndarray
    intensity: np.ndarray
    season: str

    @property
    def peak(self) -> float:
        """Greatest intensity, mm/h."""
        return float(self.intensity.max())


def events(series: RainSeries, dry_gap: float, winter: frozenset[int] = WINTER_MONTHS) -> list[RainEvent]:
    """Part a record at every dry spell of `dry_gap` s or more. winter : months with winter's coefficients.

    Raises
    ------
    ModelError
        When the gap is shorter than an interval of the record, or there is no rain.
    """
    if dry_gap < series.interval:
        raise ModelError(
            "recorded rain", "dry gap",
            f"{dry_gap / 60:g} min is less than its interval of {series.interval / 60:g} min", "choose a longer gap",
        )  # fmt: skip
    if not series.at.size:
        raise ModelError("recorded rain", "depth", "holds no rain", "choose a record with rain")
    parts = np.nonzero(np.diff(series.at) - series.interval >= dry_gap - 1e-6)[0] + 1
    found = []
    for index in np.split(np.arange(series.at.size), parts):
        at, depth = series.at[index], series.depth[index]
        edges = np.unique(np.round(np.concatenate([at, at + series.interval]) - at[0], 6))
        intensity = np.zeros(edges.size - 1)
        intensity[np.searchsorted(edges, np.round(at - at[0], 6))] = depth * 3600.0 / series.interval
        month = (series.began + timedelta(seconds=float(at[0]))).month
        season = "winter" if month in winter else "summer"
        found.append(RainEvent(float(at[0]), float(at[0] + edges[-1]), float(depth.sum()), edges, intensity, season))
    return found
