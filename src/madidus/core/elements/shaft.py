"""What manholes, junctions and inlets share: a shaft from invert to cover."""

import numpy as np
from pydantic import Field

from .head_loss import HeadLoss
from .node import Flooding

__all__ = ["Shaft"]


class Shaft(Flooding):
    """A shaft of one plan area."""

    head_loss: HeadLoss | None = Field(None, description="of water that passes, besides the pipes' own losses")

    @property
    def area(self) -> float:
        """Plan area, m2."""
        raise NotImplementedError

    def areas(self) -> tuple[np.ndarray, np.ndarray]:
        return np.array([0.0, self.cover - self.invert]), np.full(2, self.area)
