"""What is usual on a site: outside it a check asks for a look. And findings that someone has accepted."""

from typing import Self

from pydantic import Field, model_validator

from .base import ElementId, Part, Positive

__all__ = ["Accepted", "Usual"]


class Usual(Part):
    """Bounds of what is usual; none of them stops a run."""

    cover_depth: float = Field(0.6, ge=0, le=20, description="m from soffit to ground at least")
    slowest: Positive = Field(0.6, le=20, description="m/s at full bore, below which silt stays")
    fastest: Positive = Field(6.0, le=50, description="m/s at full bore, above which a pipe wears")
    drop: Positive = Field(1.5, le=50, description="m that a pipe may fall into a node")
    smoothest: Positive = Field(0.008, le=1, description="Manning's n of a pipe at least")
    roughest: Positive = Field(0.03, le=1, description="Manning's n of a pipe at most")
    farthest: Positive = Field(120.0, le=1e6, description="m from a catchment's edge to its node")

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        for low, high in (("slowest", "fastest"), ("smoothest", "roughest")):
            if getattr(self, low) >= getattr(self, high):
                raise ValueError(f"usual limits, {low}: is not below {high}; correct one of them")
        return self


class Accepted(Part):
    """A finding that is right as it is, and why; it goes into the report."""

    check: str = Field(min_length=1, max_length=60)
    element: ElementId | None = None
    reason: str = Field(min_length=1, max_length=500)
