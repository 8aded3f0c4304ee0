"""Pumps start and stop at levels: steps are cut so that they end there."""

from ..numerics.compiled import routine
from .work import LEVEL, LEVEL_2

__all__ = ["cut_at_switch", "switch_pumps"]

_NEAR = 1e-4  # m from a switching level, that counts as being there


@routine
def cut_at_switch(switch, index, left, cell, state):
    """Share of the step after which the first pump would switch; 1 when none does, or when the step ends there.

    switch, index : as in `Grid`; left : rows upstream of the controls.
    """
    share = 1.0
    for u in range(switch.shape[0]):
        k, bit = index[u, 0], index[u, 1]
        row = left[k]
        old, new = cell[LEVEL, row], cell[LEVEL_2, row]
        runs = (state[k] >> bit) & 1
        at = switch[u, 1] if runs else switch[u, 0]
        beyond = at - new if runs else new - at
        if beyond > _NEAR and new != old:
            share = min(share, max((at - old) / (new - old), 0.0))
    return share


@routine
def switch_pumps(switch, index, left, cell, state):
    """Start and stop pumps whose level has been reached; tells whether any did."""
    any_did = False
    for u in range(switch.shape[0]):
        k, bit = index[u, 0], index[u, 1]
        level = cell[LEVEL, left[k]]
        runs = (state[k] >> bit) & 1
        if (runs and level <= switch[u, 1] + _NEAR) or (not runs and level >= switch[u, 0] - _NEAR):
            state[k] ^= 1 << bit
            any_did = True
    return any_did
