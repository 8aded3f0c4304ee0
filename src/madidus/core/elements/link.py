"""What links share: two ends."""

from pydantic import Field

from ..document import DocumentModel, ElementId, Name

__all__ = ["Ended"]


class Ended(DocumentModel):
    """From a node to another."""

    name: Name
    upstream: ElementId
    downstream: ElementId
    flap: bool = Field(False, description="a flap lets nothing flow from downstream to upstream")

    @property
    def word(self) -> str:
        """The trade's name of its kind."""
        return str(getattr(self, "kind", ""))
