"""What is dug for a pipe, and what a pipe costs."""

import numpy as np

from ..model.sizing import SizingRules

__all__ = ["cost", "excavation"]


def excavation(
    rules: SizingRules, diameter: np.ndarray, length: float, head: np.ndarray, foot: np.ndarray
) -> np.ndarray:  # fmt: skip
    """m3 dug for a pipe: the integral of its trench's section between both ends.

    diameter : m; head, foot : m from the ground down to the invert at the ends. The section at a depth y below the
    ground, bedding included, is (D + beside) y + slope y²; its row goes by the deeper end.
    """
    a, b = head + rules.bedding, foot + rules.bedding
    which = np.searchsorted(np.array([row.deepest for row in rules.trench[:-1]]), np.maximum(a, b))
    wide = diameter + np.array([row.beside for row in rules.trench])[which]
    slope = np.array([row.side_slope for row in rules.trench])[which]
    return np.asarray(length * (wide * (a + b) / 2.0 + slope * (a * a + a * b + b * b) / 3.0))


def cost(rules: SizingRules, diameter: np.ndarray, length: float, dug: np.ndarray) -> np.ndarray:
    """Of a pipe in its trench, in the currency of the rates. dug : m3."""
    if not rules.laying:
        return np.asarray(rules.digging * dug)
    sizes, rates = np.array([(row.diameter, row.rate) for row in rules.laying]).T
    return np.asarray(length * np.interp(diameter, sizes, rates) + rules.digging * dug)
