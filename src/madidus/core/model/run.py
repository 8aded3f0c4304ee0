"""How a storm's run ends. Steps are chosen by the solver alone."""

from pydantic import Field

from ..elements.document import DocumentModel, Share

__all__ = ["RunControl"]


class RunControl(DocumentModel):
    """When a storm ends: rain and runoff have ceased and both rules hold. On which grid it is computed."""

    receded: Share = Field(0.75, description="of the rise of its outflow, to which every outfall must fall back")
    lag: float = Field(600.0, ge=0, le=86_400, description="s for which outfalls must stay below that")
    half_drain: bool = Field(True, description="every store must have given back half of what it took, or be still")
    spacing: float = Field(30.0, ge=1, le=500, description="m, longest cell of a conduit, which has two at least")

    @property
    def drained(self) -> float:
        """Share of what it took to which every store must fall back."""
        return 0.5 if self.half_drain else 1.0
