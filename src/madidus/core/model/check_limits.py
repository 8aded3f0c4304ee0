"""What is usual on a site: outside it a check asks for a look. And findings that someone has accepted."""

from typing import Self

from pydantic import Field, model_validator

from ..elements.document import DocumentModel, ElementId, Positive

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
    depth: Positive = Field(6.0, le=100, description="m from cover to invert; deeper shafts are built as structures")
    silt: Positive = Field(0.25, le=1, description="of a pipe's height; fuller ones are cleaned")
    shaft_area: Positive = Field(20.0, le=1e5, description="m2 of a manhole; a 5 m shaft has 20")
    ponded_area: Positive = Field(5_000.0, le=1e8, description="m2 over which a flood spreads at once")
    entry: Positive = Field(3_600.0, le=86_400, description="s of entry; storm drains are designed for 3 to 30 min")
    min_runoff: float = Field(0.3, ge=0, le=1, description="coefficient of paved ground; 0.7 to 0.95 are usual")
    creep: float = Field(0.3, ge=0, le=1, description="growth of paved area; 10 % are usual")
    rain: Positive = Field(
        0.5, le=10, description="of the greatest rain ever measured, 422 mm times the root of the hours (WMO-No. 168)"
    )
    least_rain: float = Field(0.02, ge=0, le=1, description="of that rain, which the worst storm reaches at least")
    opening: Positive = Field(0.075, le=5, description="m of an orifice at least, so that it stays free")
    least_catchment: Positive = Field(5.0, le=1e6, description="m2 of a catchment at least")
    catchment: Positive = Field(500_000.0, le=1e9, description="m2 of a catchment at most")
    unit_outflow: Positive = Field(0.5, le=100, description="m3/s permitted for each hectare: 180 mm/h running off")
    unit_storage: Positive = Field(5_000.0, le=1e7, description="m3 of a store for each paved hectare: 500 mm of rain")

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        for low, high in (
            ("min_velocity", "max_velocity"),
            ("min_roughness", "max_roughness"),
            ("least_catchment", "catchment"),
        ):
            if getattr(self, low) >= getattr(self, high):
                raise ValueError(f"usual limits, {low}: is not below {high}; correct one of them")
        return self


class Accepted(DocumentModel):
    """A finding that is right as it is, and why; it goes into the report."""

    option: ElementId | None = Field(None, description="in which it is accepted; none: in every one")
    check: str = Field(min_length=1, max_length=60)
    element: ElementId | None = None
    reason: str = Field(min_length=1, max_length=500)
