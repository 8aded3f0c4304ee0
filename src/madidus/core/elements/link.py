"""What links share: two ends."""

from typing import Any, ClassVar, NamedTuple

from pydantic import Field

from .changes import Changes
from .document import DocumentModel, ElementId, Name

__all__ = ["Ended", "Reach"]


class Reach(NamedTuple):
    """Where a new link is drawn: the distance, levels of invert and cover upstream, of the invert downstream, m."""

    length: float
    invert: float
    cover: float
    downstream_invert: float

    def height(self, share: float) -> float:
        """A level between invert and cover, m."""
        return round(self.invert + share * (self.cover - self.invert), 3)


class Ended(DocumentModel):
    """From a node to another. DRAWN : what it can be drawn as, and what names of new ones begin with. CHANGES : what a
    search may change of it.
    """

    DRAWN: ClassVar[dict[str, str]]
    CHANGES: ClassVar[Changes] = {}

    name: Name
    upstream: ElementId
    downstream: ElementId
    flap: bool = Field(False, description="a flap lets nothing flow from downstream to upstream")

    @property
    def word(self) -> str:
        """The trade's name of its kind."""
        return str(getattr(self, "kind", ""))

    @classmethod
    def start(cls, reach: Reach) -> dict[str, Any]:
        """Fields of a new one until someone says otherwise."""
        raise NotImplementedError
