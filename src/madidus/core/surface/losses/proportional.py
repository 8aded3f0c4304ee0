"""A share of all rain."""

from typing import Literal

import numpy as np
from pydantic import Field

from ...elements.document import Share
from .base import LossBase

__all__ = ["ProportionalLoss"]


class ProportionalLoss(LossBase):
    """A share of all rain."""

    kind: Literal["proportional"] = "proportional"
    share: Share = Field(0.5, description="of the rain that is lost")

    def excess(self, times: np.ndarray, intensity: np.ndarray) -> np.ndarray:
        """The rest of it."""
        return np.asarray((1.0 - self.share) * (intensity * np.diff(times) / 3600.0))
