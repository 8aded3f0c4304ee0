"""What a new element is given until someone says otherwise."""

from typing import Any

from pydantic import Field

from ..elements.document import DocumentModel, Name, Positive

__all__ = ["Defaults"]


class Defaults(DocumentModel):
    """Values for every pipe and manhole that is drawn, alone or along a run."""

    gradient: Positive = Field(0.01, le=1, description="fall per length of a new pipe")
    diameter: Positive = Field(0.225, le=10, description="m; a pipe is never drawn smaller than the one above it")
    material: Name | None = Field("concrete", description="of a new pipe, as in the list of parts")
    roughness: Positive = Field(0.013, le=1, description="Manning's n of a new pipe")
    cover: float = Field(1.0, ge=0, le=20, description="m of ground kept over the soffit of a new pipe")

    def of(self, drawn: str) -> dict[str, Any]:
        """What a new element that is drawn so is given, by paths below it."""
        if drawn != "pipe":
            return {}
        return {"section/diameter": self.diameter, "material": self.material, "roughness": self.roughness}
