"""What is usual on a site: outside it a check asks for a look. And findings that someone has accepted."""

from typing import Self

from pydantic import Field, model_validator

from ..document import DocumentModel, ElementId, Positive

__all__ = ["Accepted", "CheckLimits"]


class CheckLimits(DocumentModel):
    """Bounds of what is usual; none of them stops a run."""

    cover: float = Field(0.6, ge=0, le=20, description="m from soffit to ground at least")
    min_velocity: Positive = Field(0.6, le=20, description="m/s at full bore, below which silt stays")
    max_velocity: Positive = Field(6.0, le=50, description="m/s at full bore, above which a pipe wears")
    drop: Positive = Field(1.5, le=50, description="m that a pipe may fall into a node")
    min_roughness: Positive = Field(0.008, le=1, description="Manning's n of a pipe at least")
    max_roughness: Positive = Field(0.03, le=1, description="Manning's n of a pipe at most")
    max_distance: Positive = Field(120.0, le=1e6, description="m from a catchment's edge to its node")

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        for low, high in (("min_velocity", "max_velocity"), ("min_roughness", "max_roughness")):
            if getattr(self, low) >= getattr(self, high):
                raise ValueError(f"usual limits, {low}: is not below {high}; correct one of them")
        return self


class Accepted(DocumentModel):
    """A finding that is right as it is, and why; it goes into the report."""

    option: ElementId | None = Field(None, description="in which it is accepted; none: in every one")
    check: str = Field(min_length=1, max_length=60)
    element: ElementId | None = None
    reason: str = Field(min_length=1, max_length=500)
