"""What pipes, channels and trenches share: one section and one gradient."""

from typing import TYPE_CHECKING, Any, ClassVar

import numpy as np
from pydantic import Field

from ..quantities import Said
from .document import Level
from .geometry import Geometry, SectionTable
from .link import Ended, Reach

__all__ = ["ConduitBase"]

_DEPTHS = 401  # among which the greatest uniform flow is looked for


class ConduitBase(Ended):
    """What pipes, channels and trenches share: one section and one gradient. TABLE : fields that its table rests on."""

    TABLE: ClassVar[set[str]]

    if TYPE_CHECKING:  # fields of each kind, which has its own start values
        roughness: float

    length: float = Field(gt=0, le=100_000, description="m; overrules the drawn length")
    bends: list[tuple[float, float]] = Field(
        default_factory=list, max_length=1000, description="corners of the course on the plan, from upstream, m"
    )
    upstream_invert: Level
    downstream_invert: Level
    entry_loss: float = Field(0.0, ge=0, le=100, description="K of velocity heads at the upstream end")
    exit_loss: float | None = Field(
        None, ge=0, le=100, description="K of velocity heads at the downstream end; none: 1 into still water, else 0"
    )
    bend_loss: float = Field(0.0, ge=0, le=100, description="K of velocity heads along the conduit")

    @classmethod
    def start(cls, reach: Reach) -> dict[str, Any]:
        """Fields of a new one between two nodes."""
        return {
            "length": max(reach.length, 1.0), "upstream_invert": reach.invert,
            "downstream_invert": reach.downstream_invert,
        }  # fmt: skip

    @property
    def gradient(self) -> float:
        """Fall over length; negative uphill."""
        return (self.upstream_invert - self.downstream_invert) / self.length

    @property
    def count(self) -> int:
        """Equal sections side by side."""
        return 1

    @property
    def sediment(self) -> float:
        """Depth on the invert, m."""
        return 0.0

    def invert_at(self, chainage: float | np.ndarray) -> np.ndarray:
        """Level of the invert in m, under any silt; chainage in m from upstream."""
        return np.asarray(np.interp(chainage, *np.array(self._invert_points()).T))

    def bed_levels(self, cells: int) -> np.ndarray:
        """Levels of the bed at both ends and between the cells, m: float64[cells + 1]. Silt raises it."""
        return self.invert_at(np.linspace(0.0, self.length, cells + 1)) + self.sediment

    def _invert_points(self) -> list[tuple[float, float]]:
        """Chainages and levels, m, between which the invert is straight."""
        return [(0.0, self.upstream_invert), (self.length, self.downstream_invert)]

    def free(self) -> Geometry | None:
        """The section that is free to fill, over any silt; None where stone fills it."""
        raise NotImplementedError

    def table(self) -> SectionTable:
        """What the solver reads of the section."""
        raise NotImplementedError

    def table_key(self) -> str:
        """Equal where tables are: what they depend on."""
        return f"{getattr(self, 'kind', '')} {self.model_dump_json(include=self.TABLE)}"

    def infiltrated(self, length: float) -> np.ndarray | None:
        """Depth (m) and outflow into the ground (m3/s) of a stretch in m, float64[2, row]; None where there is none."""
        return None

    def size(self) -> Said:
        """What a schedule tells of the section."""
        raise NotImplementedError

    def uniform_flow(self, depth: float | np.ndarray) -> np.ndarray | None:
        """Flow in m3/s at depths over the bed in m, without pressure, of all barrels.

        None where the conduit does not fall, or stone fills it.
        """
        shape = self.free()
        if shape is None or self.gradient <= 0.0:
            return None
        return self.count * shape.uniform_flow_at(depth, self.roughness, self.gradient)

    def full_flow(self) -> float | None:
        """Uniform flow of the full section, m3/s: a channel to its banks."""
        shape = self.free()
        if shape is None or self.gradient <= 0.0:
            return None
        return self.count * shape.full_flow(self.roughness, self.gradient)

    def greatest_flow(self) -> float | None:
        """Greatest uniform flow, m3/s: of a round pipe, below its crown."""
        shape = self.free()
        flows = None if shape is None else self.uniform_flow(np.linspace(0.0, shape.height, _DEPTHS))
        return None if flows is None else float(flows.max())

    def full_velocity(self) -> float | None:
        """Velocity of the full section, m/s."""
        shape, flow = self.free(), self.full_flow()
        return None if shape is None or flow is None else flow / (self.count * float(shape.area_at(shape.height)))
