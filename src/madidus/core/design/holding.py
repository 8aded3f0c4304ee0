"""What a store holds at most while its outflow is limited."""

import numpy as np

from ..numerics.compiled import brief_routine

__all__ = ["most_by_orifice", "most_by_rate"]


@brief_routine
def most_by_rate(entering, out):
    """m3 at most, where `out` m3 leaves in each part that has so much. entering : m3, by equal parts of time."""
    held = most = 0.0
    for volume in entering:
        held = max(held + volume - out, 0.0)
        most = max(most, held)
    return most


@brief_routine
def most_by_orifice(entering, out, full):
    """m3 at most, where a store lets out `out` m3 in a part when it holds `full`, else by the root of what it holds.

    By implicit steps: each a square in the volume's root.
    """
    held = most = 0.0
    half = 0.5 * out / np.sqrt(full)
    for volume in entering:
        root = -half + np.sqrt(half * half + held + volume)
        held = root * root
        most = max(most, held)
    return most
