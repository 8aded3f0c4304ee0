"""Pipes sized by every aim, side by side; nothing changes."""

from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import BaseModel, Field

from ..core.design import AIMS, Aim, SizedPipe, Sizing
from ..core.design.network import SizingRequest, designs, patch_of
from ..core.model.sizing import SizingRules
from .context import Seen, option_router

__all__ = ["router"]


class SizingIn(BaseModel):
    """pipes : to be sized, all that are round where none is named. source : of the design flow: the rational method, or
    the peaks of a storm that is in. rules : instead of the project's, where they are given.
    """

    pipes: list[UUID] = Field(default_factory=list, max_length=20_000)
    material: str = Field("", max_length=80)
    source: Literal["rational", "storm"] = "rational"
    return_period: Annotated[float, Field(gt=0, le=1e6)] = 5.0
    allowance: Annotated[float, Field(ge=0, le=10)] = 0.0
    storm: str = Field("", max_length=200)
    rules: SizingRules | None = None


class UnmetOut(BaseModel):
    """As `core.design.Unmet`. reason : for which it is allowed here; null where it is not."""

    pipe: str
    limit: str
    value: float
    allowed: float
    why: str
    reason: str | None


class DesignOut(BaseModel):
    """pipes : by id. patch : of the network, that lays them. exact : whether every combination was weighed."""

    pipes: dict[str, SizedPipe]
    excavation: float
    diameter_length: float
    cost: float
    exact: bool
    unmet: list[UnmetOut]
    patch: list[dict[str, Any]]


class SizingOut(BaseModel):
    before: DesignOut
    aims: dict[Aim, DesignOut]
    order: list[str]
    notes: list[str]


router = option_router()


@router.post("/sizing")
def sizing(seen: Seen, given: SizingIn) -> SizingOut:
    """The pipes as they lie, and as each aim would have them."""
    project = seen.project
    if given.rules is not None:
        project = project.model_copy(update={"sizing": given.rules})
    flows = None
    if given.source == "storm":
        figures = seen.figures_of(given.storm)
        flows = dict(zip(seen.plan.links, (float(flow) for flow in figures.flow), strict=True))
    asked = SizingRequest(
        {str(id_) for id_ in given.pipes}, given.material, given.return_period, given.allowance, flows
    )
    found = designs(project, asked)

    reasons = {(one.pipe, str(one.limit)): one.reason for one in project.sizing.allowed}

    def told(one: Sizing, patch: bool) -> DesignOut:
        return DesignOut(
            pipes={pipe.id: pipe for pipe in one.pipes}, excavation=one.excavation,
            diameter_length=one.diameter_length, cost=one.cost, exact=one.exact, 
            unmet=[
                UnmetOut(
                    **{**vars(limit), "why": seen.units.words(limit.why)}, reason=reasons.get((limit.pipe, limit.limit))
                )
                for limit in one.unmet
            ],
            patch=patch_of(project, one, asked) if patch else [],
        )  # fmt: skip

    return SizingOut(
        before=told(found.before, False), aims={aim: told(found.aims[aim], True) for aim in AIMS},
        order=[pipe.id for pipe in found.before.pipes if pipe.id in found.aims["excavation"].sized], notes=found.notes,
    )  # fmt: skip
