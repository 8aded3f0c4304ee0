"""Infiltration: water that leaves into the ground through a wetted base and sides."""

from typing import Literal

import numpy as np
from pydantic import Field

from .document import DocumentModel

__all__ = ["CURVE_DEPTHS", "Infiltration", "infiltrating_wall"]

CURVE_DEPTHS = 41  # of the outflow curve of a conduit

_TAPER = 0.002  # m of depth over which infiltration begins


class Infiltration(DocumentModel):
    """Outflow into the ground through the wetted base and sides at the measured rate over the safety factor."""

    rate: float = Field(gt=0, le=1, description="m/s, measured")
    safety_factor: float = Field(2.0, ge=1, le=100)
    through: Literal["base", "sides", "both"] = "both"


def infiltrating_wall(
    depths: np.ndarray, base: np.ndarray, sides: np.ndarray, infiltration: Infiltration
) -> np.ndarray:
    """Depth–outflow curve, float64[2, row], from the wetted base and sides (m2) at each depth (m).

    Over the first 2 mm of depth it rises from nothing.
    """
    wetted = {"base": base, "sides": sides, "both": base + sides}[infiltration.through]
    flows = infiltration.rate / infiltration.safety_factor * wetted
    start = np.interp(_TAPER, depths, flows)
    keep = depths > _TAPER
    return np.array([[0.0, _TAPER, *depths[keep]], [0.0, start, *flows[keep]]])
