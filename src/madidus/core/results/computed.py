"""A network with the figures of the storms that were run through it: what results are read from."""

from collections.abc import Mapping
from dataclasses import dataclass

from ..elements.figures import Figures
from ..hydraulics.layout import Flattened
from ..model.network import Network
from .reduction import Reduction

__all__ = ["Computed"]


@dataclass(frozen=True)
class Computed:
    """figures : of the storms that are in, by key."""

    network: Network
    flat: Flattened
    reduction: Reduction
    figures: Mapping[str, Figures]

    @property
    def nodes(self) -> list[str]:
        """Node ids in the order of the figures."""
        return self.reduction.nodes

    @property
    def links(self) -> list[str]:
        """Link ids in the order of the figures."""
        return self.reduction.links
