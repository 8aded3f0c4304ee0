"""How rain becomes runoff: losses, and the ways in which what is left runs to the node."""

from typing import Annotated, Literal

from pydantic import Field

from ..elements.document import DocumentModel, Share
from .losses import ContinuingLoss, DepthOfLoss, HortonLoss, Loss

__all__ = ["Coefficient", "Losses", "Method", "Overland", "Runoff", "UnitHydrograph"]

_Roughness = Annotated[float, Field(gt=0, le=2, description="Manning's n of the surface")]


class Coefficient(DocumentModel):
    """Fixed coefficients of paved and green ground by season; linear time–area over the time of entry.

    A catchment's own method may give coefficients of its own; those that it leaves empty are the project's.
    """

    kind: Literal["coefficient"] = "coefficient"
    summer_paved: Share | None = None
    winter_paved: Share | None = None
    summer_green: Share | None = None
    winter_green: Share | None = None

    def in_words(self, values: "Runoff") -> str:
        """What it does, as a report says it. values : the project's."""
        summer, winter = (values.coefficients(self, season)[0] for season in ("summer", "winter"))
        return f"fixed coefficients (paved {summer:g} in summer, {winter:g} in winter) with a linear time of entry"


class Losses(DocumentModel):
    """A wetting loss on paved ground, a loss on green ground; linear time–area over the time of entry."""

    kind: Literal["losses"] = "losses"
    paved_loss: DepthOfLoss = Field(1.0, description="mm that wet paved ground before it runs")
    green: Loss = Field(default_factory=ContinuingLoss)

    def in_words(self, _: "Runoff") -> str:
        """What it does, as a report says it."""
        return f"losses ({self.green.kind.replace('_', ' ')} on green ground) with a linear time of entry"


class UnitHydrograph(DocumentModel):
    """Curve number of the whole catchment and the dimensionless unit hydrograph."""

    kind: Literal["unit_hydrograph"] = "unit_hydrograph"
    curve_number: float = Field(85.0, ge=20, le=100)
    abstraction: Share = Field(0.2, description="initial abstraction over potential retention")
    concentration: float = Field(900.0, ge=60, le=172_800, description="s, time of concentration")
    peak_factor: float = Field(484.0, ge=50, le=600, description="of the unit hydrograph; 484 is the standard one")

    def in_words(self, _: "Runoff") -> str:
        """What it does, as a report says it."""
        return f"curve number {self.curve_number:g} and the dimensionless unit hydrograph"


class Overland(DocumentModel):
    """Flow over the surface: a nonlinear reservoir or a kinematic plane for paved and for green ground."""

    kind: Literal["overland"] = "overland"
    form: Literal["reservoir", "plane"] = "reservoir"
    length: float = Field(50.0, ge=1, le=5000, description="m of flow over the surface")
    slope: float = Field(0.02, gt=0, le=1)
    paved_roughness: _Roughness = 0.015
    green_roughness: _Roughness = 0.15
    paved_store: DepthOfLoss = Field(1.0, description="mm of hollows in paved ground")
    green_store: DepthOfLoss = Field(4.0, description="mm of hollows in green ground")
    green: Loss = Field(default_factory=HortonLoss)
    paved_over_green: Share = Field(
        0.0, description="of the runoff of paved ground that runs over green ground; of none where green is under 1 %"
    )

    def in_words(self, _: "Runoff") -> str:
        """What it does, as a report says it."""
        return f"overland flow ({self.form}), {self.green.kind.replace('_', ' ')} losses on green ground"


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
