"""Ponds in the ground: the lowest ground on a rim against top water with its freeboard."""

from collections.abc import Iterator

from ..elements import Basin
from ..model.brief import Freeboard
from ..model.project import Project
from ..pond import lowest_on_rim
from ..quantities import Quantity, said
from ..ran import Ran
from ..terrain import GroundLevel
from .finding import Finding

__all__ = ["ponds"]

_BELOW = 0.05  # m, that ground may lie below the bank unsaid


def ponds(project: Project, terrain: GroundLevel, seen: Ran) -> Iterator[Finding]:
    """Ponds whose rim runs over ground that is too low. terrain : None where it is not known, not what covers tell.

    Before storms are in the bank is what counts; then the highest water with the greatest freeboard that is asked.
    """
    limits = [
        limit.value for rule in project.brief.rules if isinstance(rule, Freeboard) and rule.asked
        for limit in rule.limits
    ]  # fmt: skip
    freeboard = max(limits, default=0.0)
    for id_, node in project.option.network.nodes.items():
        if not isinstance(node, Basin):
            continue
        lowest = lowest_on_rim(node, terrain)
        if lowest is None:
            continue
        top = seen.top.get(id_)
        wanted = node.cover - _BELOW if top is None else min(top[0] + freeboard, node.cover - _BELOW)
        if lowest.level >= wanted:
            continue
        yield Finding(
            "rim-low", "look", id_, "cover",
            said(
                f"{node.name}: the lowest ground on its rim lies at ", Quantity(lowest.level, "m", 2), ", its bank at ",
                Quantity(node.cover, "m", 2),
                *(
                    (", top water with freeboard at ", Quantity(top[0] + freeboard, "m", 2), f" in {top[1]}")
                    if top is not None else ()
                ),
            ),
            "raise the ground there to the bank, lower the bank, or move the outline",
        )  # fmt: skip
