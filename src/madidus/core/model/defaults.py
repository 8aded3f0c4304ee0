"""What a new element is given until someone says otherwise."""

from pydantic import Field

from ..document import DocumentModel, Name, Positive

__all__ = ["Defaults"]


class Defaults(DocumentModel):
    """Values for what is drawn along a run of pipes."""

    gradient: Positive = Field(0.01, le=1, description="fall per length of a new pipe")
    diameter: Positive = Field(0.225, le=10, description="m; a pipe is never drawn smaller than the one above it")
    material: Name | None = Field("concrete", description="of a new pipe, as in the list of parts")
    roughness: Positive = Field(0.013, le=1, description="Manning's n of a new pipe")
    cover: float = Field(1.0, ge=0, le=20, description="m of ground kept over the soffit of a new pipe")
