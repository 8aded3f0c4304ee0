"""Controls: links whose flow follows from the levels at both ends, by the laws of their kinds."""

from collections.abc import Callable, Sequence
from typing import Any

from numba import njit

from ..elements import LAWS
from ..numerics.compiled import OPTIONS, kernel
from .layout import CURVE, FLAP, KIND

__all__ = ["control_flow"]


def _by_code(laws: Sequence[Callable[..., Any]], code: int = 0) -> Callable[..., Any]:
    """One law out of all, by its code: a chain of comparisons that the compiler folds into the caller."""
    law = laws[code]
    if code == len(laws) - 1:
        return law
    others = _by_code(laws, code + 1)
    if others is laws[-1]:  # the last one needs no comparison

        def choose(kind, up, down, parameters, curve, start, which):
            if kind == code:
                return law(up, down, parameters, curve, start, which)
            return others(up, down, parameters, curve, start, which)
    else:

        def choose(kind, up, down, parameters, curve, start, which):
            if kind == code:
                return law(up, down, parameters, curve, start, which)
            return others(kind, up, down, parameters, curve, start, which)

    # made anew by each program: it is compiled into its callers, which are kept
    return njit(**{**OPTIONS, "cache": False})(choose)  # type: ignore[no-any-return]


_flow = _by_code(LAWS)


@kernel
def control_flow(grid, k, state, level_up, level_down):
    """Flow of control k and its derivatives by both levels; a flap lets nothing flow back.

    state : of pumps, one bit for each that runs: which of its curves counts.
    """
    if grid.control[FLAP, k] and level_down >= level_up:
        return 0.0, 0.0, 0.0
    which = grid.control[CURVE, k] + state
    return _flow(
        grid.control[KIND, k], level_up, level_down, grid.parameters[k], grid.curve, grid.curve_start, which
    )  # fmt: skip
