"""Ponds in the ground: the lowest ground on a rim against the bank."""

from collections.abc import Iterator

from ..elements import Bank, Basin, held
from ..model.project import Project
from ..quantities import Quantity, said
from .finding import Finding, setting

__all__ = ["ponds"]

_BELOW = 0.05  # m, that ground may lie below the bank unsaid


def ponds(project: Project) -> Iterator[Finding]:
    """Ponds that spill over ground lower than their bank: what lies above it counts for nothing."""
    for id_, node in project.option.network.nodes.items():
        if not isinstance(node, Basin) or not node.invert < node.spill_level < node.cover - _BELOW:
            continue
        counts, drawn = held(node), held(node.model_copy(update={"rim_ground": None}))
        yield Finding(
            "rim-low", "look", id_, "cover",
            said(
                f"{node.name}: the lowest ground on its rim lies at ", Quantity(node.spill_level, "m", 2), ", ",
                Quantity(node.cover - node.spill_level, "m", 2), " below its bank: it spills there, and ",
                Quantity(counts, "m³", 1), " of ", Quantity(drawn, "m³", 1), " count",
            ),
            "build a bank there (its fill is told), lower the bank to the ground, or move the outline",
            setting("build a bank", "nodes", id_, "bank", Bank().model_dump(mode="json")),
            setting("lower the bank to the ground", "nodes", id_, "cover", node.spill_level),
        )  # fmt: skip
