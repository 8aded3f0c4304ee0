"""What rainfall methods share: a depth of rain for a duration and a return period."""

from abc import abstractmethod
from collections.abc import Callable
from typing import Annotated, NamedTuple

import numpy as np
from pydantic import Field

from ...elements.document import DocumentModel
from ...errors import ModelError

__all__ = ["Basis", "Depth", "Minutes", "RainfallBase", "Years"]

Minutes = Annotated[float, Field(gt=0, le=100_000)]
Years = Annotated[float, Field(gt=0, le=1e6)]
Depth = Annotated[float, Field(gt=0, le=10_000)]
_COMMON = (5.0, 10.0, 15.0, 30.0, 60.0, 120.0, 180.0, 240.0, 360.0, 480.0, 720.0, 960.0, 1440.0, 2880.0)  # min


class Basis(NamedTuple):
    """From what depths are computed: a sentence, and a table of the figures. columns : name, unit where it has one,
    digits where they are more than the unit's. row : of figures, or of words.
    """

    said: str
    title: str
    columns: list[tuple[str, str, int | None]]
    rows: list[list[str | float]]


class RainfallBase(DocumentModel):
    """Rainfall of a place."""

    source: str = Field("", max_length=500)

    @abstractmethod
    def depth_at(self, duration: float, return_period: float) -> float:
        """Rain depth in mm for a duration in min and a return period in years.

        Raises
        ------
        ModelError
            When the duration or the return period lies outside the data: extrapolated rain is a guess.
        """

    @abstractmethod
    def periods(self) -> list[float]:
        """Return periods that it holds, years, rising."""

    @abstractmethod
    def first_two(self) -> tuple[float, float] | None:
        """The shortest duration (min) for which it holds depths, and another; None where it holds them from 0 on."""

    def basis(self) -> Basis | None:
        """From what depths are computed; None where they are held as they are."""
        return None

    def known_from(self) -> float:
        """The shortest duration (min) for which it holds depths: below it `curve` goes on."""
        first = self.first_two()
        return 0.0 if first is None else first[0]

    def sampled(self) -> tuple[list[float], list[float], list[list[float | None]]]:
        """Durations (min), return periods (years) and depths (mm) to draw or read; None where it holds no answer."""

        def at(duration: float, period: float) -> float | None:
            try:
                return self.depth_at(duration, period)
            except ModelError:
                return None

        return list(_COMMON), self.periods(), [[at(t, period) for t in _COMMON] for period in self.periods()]

    def curve(self, return_period: float) -> Callable[[np.ndarray], np.ndarray]:
        """Depth (mm) by duration (min, arrays) from zero on, for shapes that follow the depth–duration curve.

        Below the shortest duration that it holds, intensity goes on as the power law of the first two; to nothing at
        0. Nothing is looked up before it is asked for.
        """

        def depths(minutes: np.ndarray) -> np.ndarray:
            held = self.first_two()
            if held is None:
                return np.array([self.depth_at(float(t), return_period) if t > 0 else 0.0 for t in minutes])
            shortest, second = held
            first = self.depth_at(shortest, return_period)
            power = 1.0
            if second > shortest:
                power = float(np.log(self.depth_at(second, return_period) / first) / np.log(second / shortest))
            return np.array(
                [
                    self.depth_at(float(t), return_period) if t >= shortest else first * (t / shortest) ** power
                    for t in minutes
                ]
            )

        return depths
