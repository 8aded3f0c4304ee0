"""How rain becomes runoff: losses, and the ways in which what is left runs to the node."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from ..elements.document import DocumentModel, Share

__all__ = [
    "Coefficient", "ContinuingLoss", "CurveNumberLoss", "GreenAmptLoss", "HortonLoss", "Loss", "Losses", "Method",
    "Overland", "ProportionalLoss", "Runoff", "UnitHydrograph",
]  # fmt: skip

_Rate = Annotated[float, Field(ge=0, le=1000, description="mm/h")]
_Depth = Annotated[float, Field(ge=0, le=500, description="mm")]
_Roughness = Annotated[float, Field(gt=0, le=2, description="Manning's n of the surface")]


class ProportionalLoss(DocumentModel):
    """A share of all rain."""

    kind: Literal["proportional"] = "proportional"
    share: Share = Field(0.5, description="of the rain that is lost")


class ContinuingLoss(DocumentModel):
    """An initial loss, then a rate."""

    kind: Literal["continuing"] = "continuing"
    initial: _Depth = 10.0
    continuing: _Rate = 2.5


class HortonLoss(DocumentModel):
    """Capacity falls from `initial` to `final` with the water taken in, and returns in dry spells."""

    kind: Literal["horton"] = "horton"
    initial: float = Field(75.0, gt=0, le=1000, description="mm/h")
    final: float = Field(12.0, gt=0, le=1000, description="mm/h")
    decay: float = Field(4.0, gt=0, le=100, description="per h")
    recovery: float = Field(0.0, ge=0, le=100, description="per h, while no rain falls")

    @model_validator(mode="after")
    def _falls(self) -> Self:
        if self.final >= self.initial:
            raise ValueError("Horton loss: the final capacity must lie below the initial one; lower it")
        return self


class GreenAmptLoss(DocumentModel):
    """Infiltration behind a wetting front (Green and Ampt 1911)."""

    kind: Literal["green_ampt"] = "green_ampt"
    conductivity: float = Field(6.5, gt=0, le=1000, description="mm/h, saturated")
    suction: float = Field(110.0, ge=0, le=5000, description="mm at the wetting front")
    deficit: Share = Field(0.25, description="of moisture, by volume")


class CurveNumberLoss(DocumentModel):
    """Losses by curve number (USDA NEH 630, chapter 10)."""

    kind: Literal["curve_number"] = "curve_number"
    curve_number: float = Field(75.0, ge=20, le=100)
    abstraction: Share = Field(0.2, description="initial abstraction over potential retention")


Loss = Annotated[
    ProportionalLoss | ContinuingLoss | HortonLoss | GreenAmptLoss | CurveNumberLoss, Field(discriminator="kind")
]


class Coefficient(DocumentModel):
    """Fixed coefficients of paved and green ground by season; linear time–area over the time of entry.

    A catchment's own method may give coefficients of its own; those that it leaves empty are the project's.
    """

    kind: Literal["coefficient"] = "coefficient"
    summer_paved: Share | None = None
    winter_paved: Share | None = None
    summer_green: Share | None = None
    winter_green: Share | None = None


class Losses(DocumentModel):
    """A wetting loss on paved ground, a loss on green ground; linear time–area over the time of entry."""

    kind: Literal["losses"] = "losses"
    paved_loss: _Depth = Field(1.0, description="mm that wet paved ground before it runs")
    green: Loss = Field(default_factory=ContinuingLoss)


class UnitHydrograph(DocumentModel):
    """Curve number of the whole catchment and the dimensionless unit hydrograph."""

    kind: Literal["unit_hydrograph"] = "unit_hydrograph"
    curve_number: float = Field(85.0, ge=20, le=100)
    abstraction: Share = Field(0.2, description="initial abstraction over potential retention")
    concentration: float = Field(900.0, ge=60, le=172_800, description="s, time of concentration")
    peak_factor: float = Field(484.0, ge=50, le=600, description="of the unit hydrograph; 484 is the standard one")


class Overland(DocumentModel):
    """Flow over the surface: a nonlinear reservoir or a kinematic plane for paved and for green ground."""

    kind: Literal["overland"] = "overland"
    form: Literal["reservoir", "plane"] = "reservoir"
    length: float = Field(50.0, ge=1, le=5000, description="m of flow over the surface")
    slope: float = Field(0.02, gt=0, le=1)
    paved_roughness: _Roughness = 0.015
    green_roughness: _Roughness = 0.15
    paved_store: _Depth = Field(1.0, description="mm of hollows in paved ground")
    green_store: _Depth = Field(4.0, description="mm of hollows in green ground")
    green: Loss = Field(default_factory=HortonLoss)
    paved_over_green: Share = Field(
        0.0, description="of the runoff of paved ground that runs over green ground; of none where green is under 1 %"
    )


Method = Annotated[Coefficient | Losses | UnitHydrograph | Overland, Field(discriminator="kind")]


class Runoff(DocumentModel):
    """The project's way from rain to runoff; a catchment may have its own method and time of entry."""

    method: Method = Field(default_factory=Coefficient)
    summer_paved: Share = Field(0.75, description="runoff coefficient of paved ground in summer")
    winter_paved: Share = Field(0.84, description="runoff coefficient of paved ground in winter")
    summer_green: Share = Field(0.0, description="runoff coefficient of pervious ground in summer")
    winter_green: Share = Field(0.0, description="runoff coefficient of pervious ground in winter")
    creep: float = Field(0.0, ge=0, le=1, description="future growth of paved area, 0.1 = +10 % of it")
    time_of_entry: float = Field(300.0, ge=60, le=86_400, description="s")
    least_time: float = Field(60.0, ge=0, le=86_400, description="s, least time of concentration, computed or typed")

    def coefficients(self, own: Coefficient, season: str) -> tuple[float, float]:
        """Runoff coefficients of paved and of green ground; a season that is not winter takes those of summer."""
        if season == "winter":
            return (
                self.winter_paved if own.winter_paved is None else own.winter_paved,
                self.winter_green if own.winter_green is None else own.winter_green,
            )
        return (
            self.summer_paved if own.summer_paved is None else own.summer_paved,
            self.summer_green if own.summer_green is None else own.summer_green,
        )
