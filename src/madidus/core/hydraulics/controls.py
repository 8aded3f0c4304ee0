"""Controls: links whose flow follows from the levels at both ends. Every law has the same contract.

A law is a function `flow(level_up, level_down, parameters) -> (discharge, d_up, d_down)`. A new control is a module
with its law, a code here, and a line in `control_flow`.
"""

from numba import njit

from .orifice import orifice_flow
from .weir import weir_flow

__all__ = ["ORIFICE", "PARAMETERS", "WEIR", "control_flow"]

ORIFICE, WEIR = 0, 1
PARAMETERS = 4  # columns of the parameter row


@njit(cache=True, nogil=True, error_model="numpy")
def control_flow(kind, flap, level_up, level_down, parameters):  # type: ignore[no-untyped-def]
    """Flow of any control and its derivatives by both levels; a flap lets nothing flow back."""
    if flap and level_down >= level_up:
        return 0.0, 0.0, 0.0
    if kind == ORIFICE:
        return orifice_flow(level_up, level_down, parameters)
    return weir_flow(level_up, level_down, parameters)
