"""Ponds on the plan: their edges, the lowest ground on their rim, and what is dug for them."""

import json

from pydantic import BaseModel

from ..core.elements import Basin
from ..core.ground.pond import Earthworks, Lowest, PondEdges, earthworks, edges, lowest_on_rim
from ..core.numerics.kept import Kept
from .context import Seen, option_router
from .layers import terrain_level

__all__ = ["router"]

router = option_router()

_KEPT = 200  # ponds in their ground: thousands of looks at it each


class PondOut(BaseModel):
    """lowest, works : null where no terrain is known under it."""

    edges: PondEdges
    lowest: Lowest | None
    works: Earthworks | None


_kept: Kept[PondOut] = Kept(_KEPT)


@router.get("/ponds")
def ponds(seen: Seen) -> dict[str, PondOut]:
    """Every pond with an outline, by id."""
    ground, terrain = terrain_level(seen), json.dumps(seen.revision.document.get("terrain"))

    def pond(node: Basin) -> PondOut:
        lowest = lowest_on_rim(node, ground)
        works = None if lowest is None else earthworks(node, ground)
        return PondOut(edges=edges(node), lowest=lowest, works=works)

    return {
        id_: _kept.get(f"{seen.revision.project_id} {terrain} {node.model_dump_json()}", lambda node=node: pond(node))  # type: ignore[misc]
        for id_, node in seen.network.nodes.items() if isinstance(node, Basin) and node.depth > 0.0
    }  # fmt: skip
