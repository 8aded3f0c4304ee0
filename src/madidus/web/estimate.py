"""Storage from a limiting flow: a first figure, and a lower bound."""

from typing import Annotated
from uuid import UUID

from fastapi import Query
from pydantic import BaseModel

from ..core.design.estimate import Estimate, estimates, stores_above
from ..core.elements import Store
from ..store.project_store import Missing
from .context import Seen, option_router

__all__ = ["router"]

router = option_router()


class EstimateOut(BaseModel):
    """above : names of other stores whose water comes to it; with some, the first figure is no lower bound."""

    rows: list[Estimate]
    above: list[str]


@router.get("/stores/{store}/estimate")
def estimate(
    seen: Seen, store: UUID, rate: Annotated[float, Query(gt=0, le=1e4, allow_inf_nan=False)]
) -> EstimateOut:  # fmt: skip
    """What a store would have to hold by a limiting flow (m3/s), row by row of the matrix. No storm is routed."""
    plan, id_ = seen.plan, str(store)
    if not isinstance(plan.network.nodes.get(id_), Store):
        raise Missing("no such store")
    usual = [storm for storm in plan.storms if not storm.case]
    above = [plan.network.nodes[other].name for other in stores_above(plan.network, id_)]
    return EstimateOut(rows=estimates(plan.network, id_, usual, plan.inflow, rate), above=above)
