"""Ponds on the plan: their edges, the lowest ground on their rim, and what is dug for them."""

from pydantic import BaseModel

from ..core.elements import Basin
from ..core.pond import Earthworks, Lowest, PondEdges, earthworks, edges, lowest_on_rim
from .asked import Seen, option_router
from .layers import terrain_level

__all__ = ["router"]

router = option_router()


class PondOut(BaseModel):
    """lowest, works : null where no terrain is known under it."""

    edges: PondEdges
    lowest: Lowest | None
    works: Earthworks | None


@router.get("/ponds")
def ponds(seen: Seen) -> dict[str, PondOut]:
    """Every pond with an outline, by id."""
    ground = terrain_level(seen)
    found = {}
    for id_, node in seen.network.nodes.items():
        if isinstance(node, Basin) and node.depth > 0.0:
            lowest = lowest_on_rim(node, ground)
            found[id_] = PondOut(
                edges=edges(node), lowest=lowest, works=None if lowest is None else earthworks(node, ground)
            )
    return found
