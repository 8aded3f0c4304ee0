"""The ensemble of design storms: durations × (return period, allowance) × seasons and temporal patterns."""

import re
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..errors import ModelError
from .areal import areal_factor
from .ensemble import GivenStorm, StormBlock, TemporalPattern
from .methods import Rainfall
from .rain import Rain
from .shapes import Shape

__all__ = ["LONGEST", "Storm", "ensemble", "given_storm", "missing_of", "probability_label"]

LONGEST = 5.0
"""Longest interval of a storm (min), where no catchment asks for a shorter one."""


@dataclass(frozen=True)
class Storm:
    """One storm. times : float64[n + 1], s; intensity : float64[n], mm/h between them.

    depth : mm, point × areal × (1 + allowance), in that order.
    """

    return_period: float | None  # None: of a given storm of which it is not known
    allowance: float
    duration: float  # min
    season: str
    depth: float
    times: np.ndarray
    intensity: np.ndarray
    point: float
    areal: float = 1.0
    as_aep: bool = False  # told by its AEP instead of its return period
    block: str = ""  # name of the further storms it is one of
    given: str = ""  # its name, where it is given as it fell
    pattern: bool = False  # one of several temporal patterns of its duration; `season` is its name
    case: str = ""  # what is out of service in it, in words
    case_key: str = ""

    @cached_property
    def key(self) -> str:
        """A stable name for addresses and records: '100+40-360-winter', '100-60-all_year@hill', 'given-may_flood'."""
        return f"{self._plain_key}~{self.case_key}" if self.case_key else self._plain_key

    @property
    def _plain_key(self) -> str:
        if self.given:
            return f"given-{self.given.replace(' ', '_')}"
        extra = f"+{self.allowance * 100:g}" if self.allowance else ""
        of = f"@{self.block.replace(' ', '_')}" if self.block else ""
        return f"{self.return_period:g}{extra}-{self.duration:g}-{self.season.replace(' ', '_')}{of}"

    @property
    def row(self) -> str:
        """What storms of one return period, allowance and case share: '100 yr +40 %'; given storms are together."""
        if self.given or self.return_period is None:
            return self._with_case("as given")
        rare = probability_label(self.return_period, self.allowance, self.as_aep)
        return self._with_case(f"{rare} ({self.block})" if self.block else rare)

    def _with_case(self, said: str) -> str:
        return f"{said}, {self.case}" if self.case else said

    @property
    def label(self) -> str:
        """As people say it: '100 yr +40 %, 360 min, winter'."""
        row = self._with_case(self.given) if self.given else self.row
        return f"{row}, {self.duration:g} min, {self.season}"


def probability_label(return_period: float, allowance: float, as_aep: bool) -> str:
    """'100 yr +40 %', or '1 % AEP +40 %'."""
    extra = f" +{allowance * 100:g} %" if allowance else ""
    return f"{100.0 / return_period:.3g} % AEP{extra}" if as_aep else f"{return_period:g} yr{extra}"


def make_storm(
    rain: Rain, rainfall: Rainfall, return_period: float, allowance: float, duration: float, season: str,
    way: Shape | TemporalPattern, block: str = "", longest: float = LONGEST,
) -> Storm:  # fmt: skip
    """One storm of a rainfall, spread over its duration by a shape, no interval over `longest` min, or by a pattern."""
    point = rainfall.depth_at(duration, return_period)
    factor = areal_factor(rain.areal, duration)
    total = point * factor * (1.0 + allowance)
    if isinstance(way, TemporalPattern):
        fractions = np.array(way.increments) / sum(way.increments)
        edges = np.linspace(0.0, 1.0, len(fractions) + 1)
    else:
        edges, fractions = way.cut(duration, longest, rainfall.curve(return_period))
    times = edges * duration * 60.0
    intensity = fractions * total * 3600.0 / np.diff(times)
    as_aep = rain.ensemble.labels == "aep"
    return Storm(
        return_period, allowance, duration, season, total, times, intensity, point, factor, as_aep, block,
        pattern=isinstance(way, TemporalPattern),
    )  # fmt: skip


def given_storm(given: GivenStorm) -> Storm:
    """A storm as it fell: neither areal reduction nor allowance is applied."""
    depths = np.array(given.depths)
    times = np.arange(len(depths) + 1) * given.interval * 60.0
    total = float(depths.sum())
    return Storm(
        given.return_period, 0.0, float(times[-1] / 60.0), given.season, total, times,
        depths * 60.0 / given.interval, total, given=given.name,
    )  # fmt: skip


def _same(a: float, b: float) -> bool:
    return abs(a - b) <= 1e-6 * max(a, b)


def _rank(pattern: TemporalPattern) -> tuple[list[int | str], float]:
    """Pattern 2 before pattern 10."""
    words = re.split(r"(\d+)", pattern.name)
    return [int(word) if k % 2 else word for k, word in enumerate(words)], pattern.duration


def _ways_of(block: StormBlock) -> list[tuple[str, Shape | TemporalPattern, list[float]]]:
    """Seasons, then patterns, of a block: name, shape or pattern, and the durations that it is for."""
    ways: list[tuple[str, Shape | TemporalPattern, list[float]]] = [
        (season.name, season.shape, block.durations) for season in block.seasons
    ]
    ways += [
        (p.name, p, [d for d in block.durations if _same(p.duration, d)]) for p in sorted(block.patterns, key=_rank)
    ]
    return ways


def missing_of(block: StormBlock) -> str | None:
    """The field that a block lacks to make storms."""
    if not block.durations:
        return "durations"
    if not block.probabilities:
        return "probabilities"
    return None if block.seasons or block.patterns else "seasons"


def _storms_of(rain: Rain, block: StormBlock, rainfall: Rainfall | None, name: str, longest: float) -> Iterator[Storm]:
    bare = [d for d in block.durations if block.patterns and not any(_same(p.duration, d) for p in block.patterns)]
    if bare and not block.seasons:
        whose = f"further storms {name}" if name else "ensemble"
        raise ModelError(whose, "patterns", f"has none for {bare[0]:g} min", "add patterns, or leave the duration out")
    if rainfall is None:
        raise ModelError("rain", "rainfall", "is empty", "paste a depth table or type an intensity formula")
    for p in block.probabilities:
        for season, way, durations in _ways_of(block):
            for duration in durations:
                yield make_storm(rain, rainfall, p.return_period, p.allowance, duration, season, way, name, longest)


def ensemble(rain: Rain, longest: float = LONGEST) -> list[Storm]:
    """Every storm that is run, in the order of the storm matrix: the main block, further ones, given storms.

    A block without durations, probabilities or seasons makes none. longest : min, of the intervals into which shapes
    are cut; `runoff.interval.rain_interval` has what a project's quickest catchment needs.

    Raises
    ------
    ModelError
        When the ensemble is empty, or asks for rain that the rainfall data do not hold.
    """
    storms: list[Storm] = []
    if missing_of(rain.ensemble) is None:
        storms += _storms_of(rain, rain.ensemble, rain.rainfall, "", longest)
    for block in rain.further:
        if missing_of(block) is None:
            storms += _storms_of(rain, block, block.rainfall or rain.rainfall, block.name, longest)
    storms += [given_storm(given) for given in rain.given]
    if not storms:
        raise ModelError("ensemble", missing_of(rain.ensemble) or "durations", "is empty", "choose at least one")
    for key, count in Counter(storm.key for storm in storms).items():
        if count > 1:
            raise ModelError("ensemble", "probabilities", f"storm {key} is there twice", "remove one of them")
    left = set(rain.excluded)
    storms = [storm for storm in storms if storm.key not in left]
    if not storms:
        raise ModelError("ensemble", "excluded", "leaves no storm to run", "take one back in")
    return storms
