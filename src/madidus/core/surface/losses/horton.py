"""Horton's infiltration."""

import math
from typing import Literal, Self

import numpy as np
from pydantic import Field, model_validator
from scipy.optimize import brentq

from .base import LossBase

__all__ = ["HortonLoss", "horton"]


def horton(
    times: np.ndarray, intensity: np.ndarray, f0: float, fc: float, k: float, recovery: float = 0.0
) -> tuple[np.ndarray, float | None]:
    """Excess in mm of each step, and the time (s) at which water first stands.

    Capacity falls from f0 to fc (mm/h) at k per h with the water taken in, not with the clock: it is that of the time
    in which Horton's law would have taken in as much. recovery : per h, at which it returns to f0 while no rain falls.
    """

    def taken(t: float) -> float:
        return fc * t + (f0 - fc) / k * -math.expm1(-k * t)

    def time_of(amount: float) -> float:
        if amount <= 0.0:
            return 0.0
        high = 1.0
        while taken(high) < amount:
            high *= 2.0
        return float(brentq(lambda t: taken(t) - amount, 0.0, high, xtol=1e-13, rtol=1e-14))

    at, excess, ponds = 0.0, np.zeros(len(intensity)), None  # `at`: equivalent time, h
    for n, (i, dt) in enumerate(zip(intensity, np.diff(times) / 3600.0, strict=True)):
        if i <= 0.0:
            f = f0 - (f0 - (fc + (f0 - fc) * math.exp(-k * at))) * math.exp(-recovery * dt)
            at = at if recovery == 0.0 else max(-math.log(max((f - fc) / (f0 - fc), 1e-12)) / k, 0.0)
            continue
        before = taken(at)
        full = math.inf if i <= fc else 0.0 if i >= f0 else -math.log((i - fc) / (f0 - fc)) / k
        room = math.inf if math.isinf(full) else taken(full) - before
        if i * dt <= room:
            at = time_of(before + i * dt)
            continue
        wait = max(room, 0.0) / i  # h until capacity has come down to the rain
        start = max(at, full)
        ponds = float(times[n] + wait * 3600.0) if ponds is None else ponds
        at = start + dt - wait
        excess[n] = i * dt - (taken(at) - before)
    return excess, ponds


class HortonLoss(LossBase):
    """Capacity falls from `initial` to `final` with the water taken in, and returns in dry spells."""

    kind: Literal["horton"] = "horton"
    initial: float = Field(75.0, gt=0, le=1000, description="mm/h")
    final: float = Field(12.0, gt=0, le=1000, description="mm/h")
    decay: float = Field(4.0, gt=0, le=100, description="per h")
    recovery: float = Field(0.0, ge=0, le=100, description="per h, while no rain falls")

    @model_validator(mode="after")
    def _falls(self) -> Self:
        if self.final >= self.initial:
            raise ValueError("Horton loss: the final capacity must lie below the initial one; lower it")
        return self

    def excess(self, times: np.ndarray, intensity: np.ndarray) -> np.ndarray:
        """As `horton`."""
        return horton(times, intensity, self.initial, self.final, self.decay, self.recovery)[0]
