"""Storage from a limiting flow: a first figure, and a lower bound."""

from typing import Annotated
from uuid import UUID

from fastapi import Query

from ..core.design.estimate import Estimate, estimates
from ..core.elements import Store
from ..store.project_store import Missing
from .asked import Seen, option_router

__all__ = ["router"]

router = option_router()


@router.get("/stores/{store}/estimate")
def estimate(
    seen: Seen, store: UUID, rate: Annotated[float, Query(gt=0, le=1e4, allow_inf_nan=False)]
) -> list[Estimate]:  # fmt: skip
    """What a store would have to hold by a limiting flow (m3/s), row by row of the matrix. No storm is routed."""
    plan, id_ = seen.plan, str(store)
    if not isinstance(plan.network.nodes.get(id_), Store):
        raise Missing("no such store")
    usual = [storm for storm in plan.storms if not storm.case]
    return estimates(plan.network, id_, usual, plan.inflow, rate)
