"""Controls: links whose flow follows from the levels at both ends. Every law has the same contract.

A law is a function `flow(level_up, level_down, …) -> (discharge, d_up, d_down)`. A new control is a module with its
law, a code here, and a line in `control_flow`.
"""

from .compiled import kernel
from .curve import curve_flow, lift_flow
from .layout import CURVE, FLAP, KIND
from .orifice import floor_flow, orifice_flow
from .weir import weir_flow

__all__ = ["BY_CURVE", "FLOOR_OPENING", "ORIFICE", "PARAMETERS", "PUMP", "WEIR", "control_flow"]

ORIFICE, WEIR, FLOOR_OPENING, BY_CURVE, PUMP = range(5)
PARAMETERS = 4  # columns of the parameter row


@kernel
def control_flow(grid, k, state, level_up, level_down):  # type: ignore[no-untyped-def]
    """Flow of control k and its derivatives by both levels; a flap lets nothing flow back.

    state : of pumps, one bit for each that runs.
    """
    kind, parameters = grid.control[KIND, k], grid.parameters[k]
    if grid.control[FLAP, k] and level_down >= level_up:
        return 0.0, 0.0, 0.0
    if kind == ORIFICE:
        return orifice_flow(level_up, level_down, parameters)
    if kind == WEIR:
        return weir_flow(level_up, level_down, parameters)
    if kind == FLOOR_OPENING:
        return floor_flow(level_up, level_down, parameters)
    if kind == BY_CURVE:
        return curve_flow(level_up, level_down, parameters, grid.curve, grid.curve_start, grid.control[CURVE, k])
    return lift_flow(level_up, level_down, parameters, grid.curve, grid.curve_start, grid.control[CURVE, k] + state)
