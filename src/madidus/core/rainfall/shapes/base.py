"""What shapes of storms share: how the depth of a storm is spread over its duration. Depth is conserved whatever the
interval.
"""

import math
from abc import abstractmethod
from collections.abc import Callable
from typing import ClassVar

import numpy as np

from ...elements.document import DocumentModel

__all__ = ["MOST", "Depths", "ShapeBase"]

Depths = Callable[[np.ndarray], np.ndarray]
"""Depth of rain (mm) by duration (min) of the storm's return period."""

_FEWEST, MOST = 15, 7200
"""Intervals of a storm."""
_COARSE = 30.0  # min, beyond which no interval of a long storm goes


class ShapeBase(DocumentModel):
    """A shape. NESTED : it is made of the depths of durations shorter than the storm's. DURATION : the only one that it
    is of, min. EVEN : it has no peak.
    """

    NESTED: ClassVar[bool] = False
    DURATION: ClassVar[float | None] = None
    EVEN: ClassVar[bool] = False

    @abstractmethod
    def fallen(self, x: np.ndarray, duration: float, depths: Depths) -> np.ndarray:
        """Share of the depth that has fallen after shares x of the duration (min)."""

    def increments(self, steps: int, duration: float, depths: Depths) -> np.ndarray:
        """Fractions of the depth in `steps` equal intervals, float64[steps]; they sum to 1.

        duration : min. depths : what nested shapes are made from.
        """
        return np.asarray(np.diff(self.fallen(np.linspace(0.0, 1.0, steps + 1), duration, depths)))

    def steps(self, duration: float, longest: float) -> int:
        """Intervals of a storm of `duration` min, none longer than `longest` min (as far as 7,200 intervals go).

        An odd number, so that the peak has one of its own. Even rain needs no fine intervals.
        """
        steps = max(_FEWEST, math.ceil(duration / _COARSE))
        if not self.EVEN:
            steps = max(steps, math.ceil(duration / longest - 1e-9))
        steps = min(steps, MOST)
        return steps + 1 - steps % 2

    def cut(self, duration: float, longest: float, depths: Depths) -> tuple[np.ndarray, np.ndarray]:
        """Edges of a storm's intervals as shares of its duration, float64[n + 1], and the fractions of its depth in
        them: equal intervals.
        """
        steps = self.steps(duration, longest)
        return np.linspace(0.0, 1.0, steps + 1), self.increments(steps, duration, depths)
