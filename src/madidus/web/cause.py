"""Why an element is surcharged or flooded in a storm."""

from typing import Annotated
from uuid import UUID

from fastapi import Query

from ..core.results.cause import Cause, cause
from ..store.project_store import Missing
from .context import Seen, option_router

__all__ = ["router"]


router = option_router()


@router.get("/elements/{element}/cause")
def cause_of(seen: Seen, element: UUID, storm: Annotated[str, Query(max_length=200)]) -> Cause | None:
    """Whether an element's own capacity or the water below it surcharges it in a storm, and the way there."""
    plan, id_ = seen.plan, str(element)
    if id_ not in plan.network.nodes and id_ not in plan.network.links:
        raise Missing("no such node or link")
    return cause(plan.network, plan.nodes, plan.links, seen.figures_of(storm), id_)
