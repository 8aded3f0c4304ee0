"""Pumps start and stop at levels: steps are cut so that they end there."""

from numba import njit

from .work import LEVEL, LEVEL_2

__all__ = ["cut_at_switch", "switch_pumps"]

_NEAR = 1e-4  # m from a switching level, that counts as being there


@njit(cache=True, nogil=True, error_model="numpy")
def cut_at_switch(grid, work):  # type: ignore[no-untyped-def]
    """Share of the step after which the first pump would switch; 1 when none does, or when the step ends there."""
    share, first = 1.0, grid.face.shape[1]
    for u in range(grid.switch.shape[0]):
        k, bit = grid.switch_index[u, 0], grid.switch_index[u, 1]
        row = grid.left[first + k]
        old, new = work.cell[LEVEL, row], work.cell[LEVEL_2, row]
        runs = (work.state[k] >> bit) & 1
        at = grid.switch[u, 1] if runs else grid.switch[u, 0]
        beyond = at - new if runs else new - at
        if beyond > _NEAR and new != old:
            share = min(share, max((at - old) / (new - old), 0.0))
    return share


@njit(cache=True, nogil=True, error_model="numpy")
def switch_pumps(grid, work):  # type: ignore[no-untyped-def]
    """Start and stop pumps whose level has been reached; tells whether any did."""
    any_did, first = False, grid.face.shape[1]
    for u in range(grid.switch.shape[0]):
        k, bit = grid.switch_index[u, 0], grid.switch_index[u, 1]
        level = work.cell[LEVEL, grid.left[first + k]]
        runs = (work.state[k] >> bit) & 1
        if (runs and level <= grid.switch[u, 1] + _NEAR) or (not runs and level >= grid.switch[u, 0] - _NEAR):
            work.state[k] ^= 1 << bit
            any_did = True
    return any_did
