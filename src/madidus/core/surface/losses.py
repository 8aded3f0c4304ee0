"""Losses: what of the rain does not run off. Rain is constant in steps; what happens within one is solved exactly."""

import math

import numpy as np
from scipy.optimize import brentq

__all__ = ["curve_number_excess", "green_ampt", "horton", "initial_continuing", "retention"]

_INCH = 25.4


def retention(curve_number: float) -> float:
    """Potential retention S in mm: 25400/CN − 254 (USDA NEH 630, chapter 10)."""
    return 1000.0 * _INCH / curve_number - 10.0 * _INCH


def curve_number_excess(fallen: np.ndarray, curve_number: float, abstraction: float = 0.2) -> np.ndarray:
    """Accumulated runoff in mm of accumulated rain in mm: (P − Ia)²/(P − Ia + S), Ia = `abstraction` S."""
    s = retention(curve_number)
    above = np.maximum(fallen - abstraction * s, 0.0)
    return np.asarray(above**2 / (above + s)) if s > 0.0 else above


def initial_continuing(times: np.ndarray, intensity: np.ndarray, initial: float, continuing: float) -> np.ndarray:
    """Excess in mm of each step. initial : mm, taken first; continuing : mm/h, only from when that is used up.

    times : float64[n + 1], s; intensity : float64[n], mm/h.
    """
    hours = np.diff(times) / 3600.0
    left, excess = initial, np.zeros(len(intensity))
    for k, (i, dt) in enumerate(zip(intensity, hours, strict=True)):
        taken = min(left, i * dt)
        left -= taken
        rest = i * dt - taken
        part = rest / i if i > 0.0 else 0.0  # h of the step after the initial loss is met
        excess[k] = max(rest - continuing * part, 0.0)
    return excess


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
