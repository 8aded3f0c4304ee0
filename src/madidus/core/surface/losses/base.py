"""What losses share: what of the rain does not run off. Rain is constant in steps; what happens within one is solved
exactly.
"""

from abc import abstractmethod
from typing import Annotated

import numpy as np
from pydantic import Field

from ...elements.document import DocumentModel

__all__ = ["DepthOfLoss", "LossBase"]

DepthOfLoss = Annotated[float, Field(ge=0, le=500, description="mm")]


class LossBase(DocumentModel):
    """A loss."""

    @abstractmethod
    def excess(self, times: np.ndarray, intensity: np.ndarray) -> np.ndarray:
        """What it leaves of rain, mm of each step. times : float64[n + 1], s; intensity : float64[n], mm/h."""
