"""Controls as rows of parameters, curves and switches, as the solver has them."""

import itertools
from dataclasses import dataclass, field

import numpy as np

from ..constants import BROAD_CREST
from ..elements import BY_CURVE, PARAMETERS, WEIR

__all__ = ["ControlRows"]


@dataclass
class ControlRows:
    """Rows of `Grid.control`, `parameters`, `switch`, `power` and `curve` as they are gathered, face by face.

    tapered : the controls that are appended now may act below the floor of their node.
    """

    kinds: list[tuple[int, int, int, int]] = field(default_factory=list)
    parameters: list[tuple[float, ...]] = field(default_factory=list)
    curves: list[np.ndarray] = field(default_factory=list)
    switches: list[tuple[float, float]] = field(default_factory=list)
    switch_index: list[tuple[int, int]] = field(default_factory=list)
    powers: list[tuple[int, int]] = field(default_factory=list)
    tapered: bool = False

    def row(self, law: int, flap: bool, *parameters: float, curve: int = 0) -> None:
        """Append a control by its law.

        Raises
        ------
        ValueError
            When it has more parameters than a row holds: the rows of all others would be shifted.
        """
        if len(parameters) > PARAMETERS:
            raise ValueError(f"a control has {len(parameters)} parameters, a row holds {PARAMETERS}: raise PARAMETERS")
        self.kinds.append((law, int(flap), curve, int(self.tapered)))
        self.parameters.append((*parameters, *[0.0] * (PARAMETERS - len(parameters))))

    def curve(self, points: np.ndarray) -> int:
        """Append a curve, float64[2, point]; its number."""
        self.curves.append(points)
        return len(self.curves) - 1

    def power(self, curve: int) -> None:
        """Have the control that was appended last count its energy, by its curves of power from `curve` on."""
        self.powers.append((len(self.kinds) - 1, curve))

    def switch(self, on: float, off: float, bit: int) -> None:
        """Have the control that was appended last start and stop something by the level upstream, m."""
        self.switches.append((on, off))
        self.switch_index.append((len(self.kinds) - 1, bit))

    def infiltrate(self, points: np.ndarray, bed: float) -> None:
        """Append an outflow into the ground by its curve of depth above `bed` and flow."""
        self.row(BY_CURVE, False, bed, curve=self.curve(points))

    def rim(self, level: float, length: float) -> None:
        """Append the rim of a shaft, or of a pond's bank, as a broad crest over which a flood is lost."""
        self.row(WEIR, False, level, length, BROAD_CREST)

    def arrays(self) -> dict[str, np.ndarray]:
        """The fields of the grid."""
        curves = self.curves or [np.zeros((2, 2))]
        starts = list(itertools.accumulate((c.shape[1] for c in curves), initial=0))
        return {
            "control": np.ascontiguousarray(np.array(self.kinds, dtype=np.int32).reshape(-1, 4).T),
            "parameters": np.array(self.parameters, dtype=np.float64).reshape(-1, PARAMETERS),
            "switch": np.array(self.switches, dtype=np.float64).reshape(-1, 2),
            "switch_index": np.array(self.switch_index, dtype=np.int32).reshape(-1, 2),
            "power": np.ascontiguousarray(np.array(self.powers, dtype=np.int64).reshape(-1, 2).T),
            "curve": np.ascontiguousarray(np.concatenate(curves, axis=1)),
            "curve_start": np.array(starts, dtype=np.int32),
        }
