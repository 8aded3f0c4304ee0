"""Ways to a permitted discharge besides a typed one: by area, by a formula or a model of the site before the works."""

import itertools
from typing import Literal, Self

from pydantic import Field, model_validator

from ..elements.document import DocumentModel, Positive, Share
from ..surface.runoff import Method, UnitHydrograph

__all__ = ["Greenfield", "GrowthFactor", "PerHectare", "PreDevelopment"]


class PerHectare(DocumentModel):
    """A rate for each hectare that drains to the place."""

    rate: Positive = Field(0.005, le=1, description="m3/s for each hectare")
    counted: Literal["drained", "paved", "site"] = Field(
        "drained", description="drained: all catchments above; paved: their impervious part; site: a typed area"
    )
    site: Positive = Field(10_000.0, description="m2, where the site's area is counted")
    least: float = Field(0.0, ge=0, le=100, description="m3/s; less is not asked for")


class GrowthFactor(DocumentModel):
    """Growth of the flood with the return period."""

    return_period: Positive = Field(description="years")
    factor: Positive = Field(description="over the mean annual flood")


class Greenfield(DocumentModel):
    """Mean annual flood of the undeveloped site, and its growth with the return period.

    QBAR = 0.00108 A^0.89 SAAR^1.17 SOIL^2.17 in m3/s, A in km2 (Institute of Hydrology, Report 124, 1994); sites under
    50 ha take their share of a 50 ha one.
    """

    area: float | None = Field(None, gt=0, le=2.5e7, description="m2 of the site; none: all that drains to the place")
    mean_annual_rainfall: float = Field(700.0, ge=300, le=5000, description="mm, standard average of a year (SAAR)")
    soil: float = Field(0.37, ge=0.1, le=0.6, description="soil index (SOIL)")
    growth: list[GrowthFactor] = Field(
        default_factory=lambda: [
            GrowthFactor(return_period=t, factor=f)
            for t, f in ((1, 0.85), (2, 0.88), (10, 1.62), (30, 2.40), (100, 3.19), (200, 3.74))
        ],
        min_length=1, max_length=30, description="by rising return period",
    )  # fmt: skip

    @model_validator(mode="after")
    def _rises(self) -> Self:
        for a, b in itertools.pairwise(self.growth):
            if b.return_period <= a.return_period or b.factor < a.factor:
                raise ValueError("growth factors: return periods and factors must rise from row to row; correct them")
        return self


class PreDevelopment(DocumentModel):
    """The site before the works as one catchment, under the same storms without an allowance."""

    area: float | None = Field(None, gt=0, le=2.5e7, description="m2; none: all that drains to the place")
    paved: Share = 0.0
    entry: float = Field(1800.0, ge=60, le=86_400, description="s, time of entry where the method takes one")
    method: Method = Field(default_factory=lambda: UnitHydrograph(curve_number=74.0, concentration=1800.0))
