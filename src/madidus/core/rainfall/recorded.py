"""Recorded rain: a series of depths, and the events that spells without rain part it into."""

from dataclasses import dataclass
from datetime import datetime, timedelta

import numpy as np

from ..errors import ModelError
from .ensemble import GivenStorm, SeasonName

__all__ = ["RainEvent", "RainSeries", "as_given", "events"]

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
    """Rain between two spells without rain.

    start, end : s from the start of the record. times : float64[n + 1], s from the event's start. intensity :
    float64[n], mm/h between them. season : whose runoff coefficients apply.
    """

    start: float
    end: float
    depth: float  # mm
    times: np.ndarray
    intensity: np.ndarray
    season: SeasonName

    def most_within(self, seconds: float) -> float:
        """Greatest depth in mm that falls within a span of time."""
        fallen = np.concatenate([[0.0], np.cumsum(self.intensity * np.diff(self.times))]) / 3600.0
        # a greatest depth begins or ends at an edge of the record's intervals
        begins = np.concatenate([self.times, np.maximum(self.times - seconds, 0.0)])
        within = np.interp(begins + seconds, self.times, fallen) - np.interp(begins, self.times, fallen)
        return float(within.max())

    @property
    def peak(self) -> float:
        """Greatest intensity, mm/h."""
        return float(self.intensity.max())


def events(series: RainSeries, inter_event: float, winter: frozenset[int] = WINTER_MONTHS) -> list[RainEvent]:
    """Part a record at every dry spell of `inter_event` s or more. winter : months with winter's coefficients.

    Raises
    ------
    ModelError
        When the gap is shorter than an interval of the record, or there is no rain.
    """
    if inter_event < series.interval:
        raise ModelError(
            "recorded rain", "inter-event time",
            f"{inter_event / 60:g} min is less than its interval of {series.interval / 60:g} min",
            "choose a longer one",
        )  # fmt: skip
    if not series.at.size:
        raise ModelError("recorded rain", "depth", "holds no rain", "choose a record with rain")
    parts = np.nonzero(np.diff(series.at) - series.interval >= inter_event - 1e-6)[0] + 1
    found = []
    for index in np.split(np.arange(series.at.size), parts):
        at, depth = series.at[index], series.depth[index]
        edges = np.unique(np.round(np.concatenate([at, at + series.interval]) - at[0], 6))
        intensity = np.zeros(edges.size - 1)
        intensity[np.searchsorted(edges, np.round(at - at[0], 6))] = depth * 3600.0 / series.interval
        month = (series.began + timedelta(seconds=float(at[0]))).month
        season: SeasonName = "winter" if month in winter else "summer"
        found.append(RainEvent(float(at[0]), float(at[0] + edges[-1]), float(depth.sum()), edges, intensity, season))
    return found


def as_given(series: RainSeries, event: RainEvent) -> GivenStorm:
    """An event of a record as a storm of the ensemble, in the record's intervals.

    Raises
    ------
    ModelError
        When it has more intervals than a storm may hold.
    """
    steps = round((event.end - event.start) / series.interval)
    most = 5000
    if steps > most:
        raise ModelError(
            "recorded rain", "inter-event time", f"makes an event of {steps} intervals; a storm has {most} at most",
            "choose a shorter gap",
        )  # fmt: skip
    depths = np.zeros(steps)
    wet = (series.at >= event.start - 1e-6) & (series.at < event.end - 1e-6)
    depths[np.round((series.at[wet] - event.start) / series.interval).astype(int)] = series.depth[wet]
    began = series.began + timedelta(seconds=event.start)
    return GivenStorm(
        name=began.strftime("%Y.%m.%d %H.%M"), interval=series.interval / 60.0, depths=depths.round(6).tolist(),
        season=event.season, began=began, source="recorded",
    )  # fmt: skip
