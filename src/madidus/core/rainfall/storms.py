"""The ensemble of design storms: durations × (return period, allowance) × seasons and temporal patterns."""

import re
from collections import Counter
from dataclasses import dataclass

import numpy as np

from ..errors import ModelError
from ..model.rain import Rain, Shape, TemporalPattern
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
    yearly: bool = False  # told by its yearly chance instead of its return period

    @property
    def key(self) -> str:
        return storm_key(self.return_period, self.allowance, self.duration, self.season)

    @property
    def label(self) -> str:
        """As people say it: '100 yr +40 %, 360 min, winter'."""
        extra = f" +{self.allowance * 100:g} %" if self.allowance else ""
        how_rare = f"{100.0 / self.return_period:.3g} % AEP" if self.yearly else f"{self.return_period:g} yr"
        return f"{how_rare}{extra}, {self.duration:g} min, {self.season}"


def storm_key(return_period: float, allowance: float, duration: float, season: str) -> str:
    """A stable name for addresses and records: '100+40-360-winter'."""
    extra = f"+{allowance * 100:g}" if allowance else ""
    return f"{return_period:g}{extra}-{duration:g}-{season.replace(' ', '_')}"


def make_storm(
    rain: Rain, return_period: float, allowance: float, duration: float, season: str, way: Shape | TemporalPattern
) -> Storm:
    """One storm of the project's rainfall, spread over its duration by a shape or a pattern."""
    if rain.rainfall is None:
        raise ModelError("rain", "rainfall", "is empty", "paste a depth table or type an intensity formula")
    total = depth(rain.rainfall, duration, return_period) * (1.0 + allowance)
    if isinstance(way, TemporalPattern):
        fractions = np.array(way.increments) / sum(way.increments)
    else:
        steps = round(duration / interval_for(duration))
        fractions = increments(way, steps, duration, curve_of(rain.rainfall, return_period))
    times = np.linspace(0.0, duration * 60.0, len(fractions) + 1)
    intensity = fractions * total * 3600.0 / np.diff(times)
    yearly = rain.ensemble.labels == "aep"
    return Storm(return_period, allowance, duration, season, total, times, intensity, yearly)


def _same(a: float, b: float) -> bool:
    return abs(a - b) <= 1e-6 * max(a, b)


def _rank(pattern: TemporalPattern) -> tuple[list[int | str], float]:
    """Pattern 2 before pattern 10."""
    words = re.split(r"(\d+)", pattern.name)
    return [int(word) if k % 2 else word for k, word in enumerate(words)], pattern.duration


def ensemble(rain: Rain) -> list[Storm]:
    """Every storm of the ensemble, in the order of the storm matrix.

    Raises
    ------
    ModelError
        When the ensemble is empty, or asks for rain that the rainfall data do not hold.
    """
    e = rain.ensemble
    for field in ("durations", "probabilities", *(() if e.patterns else ("seasons",))):
        if not getattr(e, field):
            raise ModelError("ensemble", field, "is empty", "choose at least one")
    bare = [d for d in e.durations if e.patterns and not any(_same(p.duration, d) for p in e.patterns)]
    if bare and not e.seasons:
        raise ModelError(
            "ensemble", "patterns", f"has none for {bare[0]:g} min", "add patterns, or leave the duration out"
        )
    ways: list[tuple[str, Shape | TemporalPattern, list[float]]] = [
        (season.name, season.shape, e.durations) for season in e.seasons
    ]
    ways += [(p.name, p, [d for d in e.durations if _same(p.duration, d)]) for p in sorted(e.patterns, key=_rank)]
    storms = [
        make_storm(rain, p.return_period, p.allowance, duration, name, way)
        for p in e.probabilities
        for name, way, durations in ways
        for duration in durations
    ]
    counts = Counter(storm.key for storm in storms)
    for key, count in counts.items():
        if count > 1:
            raise ModelError("ensemble", "probabilities", f"storm {key} is there twice", "remove one of them")
    return storms
