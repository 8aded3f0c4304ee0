"""Infiltration behind a wetting front."""

import math
from typing import Literal

import numpy as np
from pydantic import Field
from scipy.optimize import brentq

from ...elements.document import Share
from .base import LossBase

__all__ = ["GreenAmptLoss", "green_ampt"]


def green_ampt(
    times: np.ndarray, intensity: np.ndarray, conductivity: float, suction: float, deficit: float
) -> tuple[np.ndarray, float | None]:
    """Excess in mm of each step, and the time (s) at which water first stands.

    Green and Ampt 1911, with ponding under rain by Mein and Larson 1973. Capacity is K (1 + ψ Δθ / F).
    conductivity : K, mm/h; suction : ψ, mm; deficit : Δθ.
    """
    head = suction * deficit
    total, excess, ponds = 0.0, np.zeros(len(intensity)), None
    for n, (i, dt) in enumerate(zip(intensity, np.diff(times) / 3600.0, strict=True)):
        full = math.inf if i <= conductivity else conductivity * head / (i - conductivity)
        if total + i * dt <= full:
            total += i * dt
            continue
        wait = max(full - total, 0.0) / i
        first = max(total, full)
        ponds = float(times[n] + wait * 3600.0) if ponds is None else ponds
        grown = conductivity * (dt - wait)

        def left(f: float, first: float = first, grown: float = grown) -> float:
            return f - first - head * math.log((f + head) / (first + head)) - grown if head > 0.0 else f - first - grown

        after = float(
            brentq(left, first, first + grown + math.sqrt(2.0 * head * grown) + 10.0 * grown + 1e-9, xtol=1e-12)
        )
        excess[n] = i * dt - (after - total)
        total = after
    return excess, ponds


class GreenAmptLoss(LossBase):
    """Infiltration behind a wetting front (Green and Ampt 1911)."""

    kind: Literal["green_ampt"] = "green_ampt"
    conductivity: float = Field(6.5, gt=0, le=1000, description="mm/h, saturated")
    suction: float = Field(110.0, ge=0, le=5000, description="mm at the wetting front")
    deficit: Share = Field(0.25, description="of moisture, by volume")

    def excess(self, times: np.ndarray, intensity: np.ndarray) -> np.ndarray:
        """As `green_ampt`."""
        return green_ampt(times, intensity, self.conductivity, self.suction, self.deficit)[0]
