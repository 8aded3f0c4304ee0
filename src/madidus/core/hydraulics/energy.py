"""Electric energy that pumps take."""

from ..elements import look_up, static_lift
from ..numerics.compiled import routine
from .work import LEVEL, LEVEL_2

__all__ = ["note_energy"]


@routine
def note_energy(energy, grid, work, used):
    """Add what a step of `used` s took, J, by the mean of the powers at its ends, after its results are the state."""
    cell, first = work.cell, grid.face.shape[1]
    for j in range(grid.power.shape[1]):
        k = grid.power[0, j]
        which = grid.power[1, j] + work.state[k]
        up, down, parameters = grid.left[first + k], grid.right[first + k], grid.parameters[k]
        for row in (LEVEL_2, LEVEL):
            lift = static_lift(cell[row, up], cell[row, down], parameters)
            energy[j] += 0.5 * used * look_up(lift, grid.curve, grid.curve_start, which)[0]
