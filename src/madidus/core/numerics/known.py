"""Figures that may not be known."""

import math

__all__ = ["known"]


def known(value: float) -> float | None:
    """A figure, or None where it is not known (nan) or without end."""
    return float(value) if math.isfinite(value) else None
