"""Questions of hydraulics that need no storm: rating curves, steady flow, capacity."""

from typing import Annotated
from uuid import UUID

from fastapi import Query
from pydantic import BaseModel, Field

from ..core.design.steady import Capacity, Keep, Profile, capacity, steady
from ..core.elements import Free, NormalDepth, Outfall, Pipe, TailWater
from ..core.hydraulics.rating_curve import RatingCurve, rating_curve
from ..store.project_store import Missing
from .context import Seen, option_router

__all__ = ["router"]

router = option_router()

Diameter = Annotated[float, Field(gt=0.01, le=20, allow_inf_nan=False)]


class SteadyIn(BaseModel):
    """Inflows in m3/s by node id; `tail_water` replaces that of every outfall when it is given."""

    inflows: dict[UUID, float] = Field(max_length=10_000)
    tail_water: TailWater | None = None


class CapacityIn(BaseModel):
    """A pattern of inflows in m3/s by node id, and what it must keep."""

    inflows: dict[UUID, float] = Field(max_length=10_000)
    keep: Keep


@router.get("/controls/{control}/rating")
def rating(seen: Seen, control: UUID) -> RatingCurve:
    """Rating curve of a control, free of tail water."""
    return rating_curve(seen.network, str(control))


@router.get("/full-bore")
def full_bore_capacities(seen: Seen) -> dict[str, float | None]:
    """Full-bore capacity of every pipe, m3/s by id; null where it does not fall."""
    return {id_: link.full_flow() for id_, link in seen.network.links.items() if isinstance(link, Pipe)}


@router.get("/links/{pipe}/full-bore")
def full_bore_of_other_sizes(
    seen: Seen, pipe: UUID, diameter: Annotated[list[Diameter], Query(max_length=100)]
) -> list[float | None]:
    """Full-bore capacity of a pipe if it had these diameters (m), in their order, m3/s."""
    link = seen.network.links.get(str(pipe))
    if not isinstance(link, Pipe):
        raise Missing("no such pipe")
    others = [link.with_diameter(one) for one in diameter]
    return [None if other is None else other.full_flow() for other in others]


@router.post("/steady")
def steady_flow(seen: Seen, given: SteadyIn) -> Profile:
    """The profile that steady inflows settle to."""
    inflows = {str(id_): flow for id_, flow in given.inflows.items()}
    return steady(seen.network, inflows, given.tail_water)


@router.post("/capacity")
def capacity_of(seen: Seen, given: CapacityIn) -> dict[str, Capacity]:
    """The largest multiple of inflows that keeps a criterion, with each kind of tail water side by side."""
    inflows = {str(id_): flow for id_, flow in given.inflows.items()}
    tails: dict[str, TailWater | None] = {"own": None, "free": Free(), "normal": NormalDepth()}
    network, known = seen.network, dict[str, Capacity]()
    waters = {node.tail_water.model_dump_json() for node in network.nodes.values() if isinstance(node, Outfall)}
    found = {}
    for name, tail in tails.items():
        # an outfall that is drawn free is not computed twice
        key = tail.model_dump_json() if tail else (waters.pop() if len(waters) == 1 else "own")
        known[key] = known.get(key) or capacity(network, inflows, given.keep, tail)
        found[name] = known[key]
    return found
