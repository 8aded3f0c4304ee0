"""The ensemble of design storms: durations × (return period, allowance) × seasons."""

from dataclasses import dataclass

import numpy as np

from ..errors import ModelError
from ..model.rain import Rain, Shape
from .depth import curve_of, depth
from .shapes import increments, interval_for

__all__ = ["Storm", "ensemble", "storm_key"]


@dataclass(frozen=True)
class Storm:
    """One design storm. times : float64[n + 1], s; intensity : float64[n], mm/h between them."""

    return_period: float
    allowance: float
    duration: float  # min
    season: str
    depth: float  # mm, allowance included
    times: np.ndarray
    intensity: np.ndarray

    @property
    def key(self) -> str:
        return storm_key(self.return_period, self.allowance, self.duration, self.season)

    @property
    def label(self) -> str:
        """As people say it: '100 yr +40 %, 360 min, winter'."""
        extra = f" +{self.allowance * 100:g} %" if self.allowance else ""
        return f"{self.return_period:g} yr{extra}, {self.duration:g} min, {self.season}"


def storm_key(return_period: float, allowance: float, duration: float, season: str) -> str:
    """A stable name for addresses and records: '100+40-360-winter'."""
    extra = f"+{allowance * 100:g}" if allowance else ""
    return f"{return_period:g}{extra}-{duration:g}-{season.replace(' ', '_')}"


def make_storm(rain: Rain, return_period: float, allowance: float, duration: float, season: str, shape: Shape) -> Storm:
    """One storm of the project's rainfall."""
    if rain.rainfall is None:
        raise ModelError("rain", "rainfall", "is empty", "paste a depth table or type an intensity formula")
    total = depth(rain.rainfall, duration, return_period) * (1.0 + allowance)
    steps = round(duration / interval_for(duration))
    fractions = increments(shape, steps, duration, curve_of(rain.rainfall, return_period))
    times = np.linspace(0.0, duration * 60.0, steps + 1)
    return Storm(return_period, allowance, duration, season, total, times, fractions * total * 3600.0 / np.diff(times))


def ensemble(rain: Rain) -> list[Storm]:
    """Every storm of the ensemble, in the order of the storm matrix.

    Raises
    ------
    ModelError
        When the ensemble is empty, or asks for rain that the rainfall data do not hold.
    """
    e = rain.ensemble
    for field in ("durations", "probabilities", "seasons"):
        if not getattr(e, field):
            raise ModelError("ensemble", field, "is empty", "choose at least one")
    storms = [
        make_storm(rain, p.return_period, p.allowance, duration, season.name, season.shape)
        for p in e.probabilities
        for season in e.seasons
        for duration in e.durations
    ]
    keys = [storm.key for storm in storms]
    for key in keys:
        if keys.count(key) > 1:
            raise ModelError("ensemble", "probabilities", f"storm {key} is there twice", "remove one of them")
    return storms
