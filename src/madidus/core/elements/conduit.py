"""What pipes, channels and trenches share: one section and one gradient."""

from typing import Any

from pydantic import Field

from ..document import Level
from .link import Ended, Reach

__all__ = ["ConduitBase"]


class ConduitBase(Ended):
    """What pipes, channels and trenches share: one section and one gradient."""

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
        return {
            "length": max(reach.length, 1.0), "upstream_invert": reach.invert,
            "downstream_invert": reach.downstream_invert,
        }  # fmt: skip

    @property
    def gradient(self) -> float:
        return (self.upstream_invert - self.downstream_invert) / self.length
