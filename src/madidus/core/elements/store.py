"""What ponds, tanks, basins and stone-filled stores share."""

import numpy as np
from pydantic import Field

from .infiltration import Infiltration, infiltrating_wall
from .node import Flooding

__all__ = ["Store", "held"]

_DEPTHS = 61  # of a curve of infiltration


class Store(Flooding):
    """What ponds, tanks, basins and stone-filled stores share. `cover` is the bank of a pond, the cover of a tank."""

    initial_depth: float = Field(0.0, ge=0, le=100, description="m of permanent water before the storm")
    infiltration: Infiltration | None = None

    def infiltrated(self) -> np.ndarray | None:
        """Depth (m) and outflow into the ground (m3/s), float64[2, row]; None where nothing infiltrates."""
        if self.infiltration is None:
            return None
        depths = np.linspace(0.0, self.spill_level - self.invert, _DEPTHS)
        return infiltrating_wall(depths, *self.wetted(depths), self.infiltration)

    def wetted(self, depths: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Wetted base and sides at depths, m2: the base of the empty store, the sides of a square of the same area."""
        area = np.interp(depths, *self.areas())
        around = self.around(depths, area)
        up, out = np.diff(depths), np.diff(area)
        mean = 0.5 * (around[1:] + around[:-1])
        return np.full_like(depths, area[0]), np.append(0.0, np.cumsum(np.hypot(mean * up, out)))

    def around(self, depths: np.ndarray, area: np.ndarray) -> np.ndarray:
        """Length of the water's edge at depths, m. area : of the water there, m2."""
        return np.asarray(4.0 * np.sqrt(area))


def held(store: Store) -> float:
    """What a store holds up to where it spills, m3."""
    depths, areas = store.areas()
    return float(np.trapezoid(areas, depths))
