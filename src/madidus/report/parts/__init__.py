"""Parts of a report: each makes blocks of what is reported, by its settings."""

from collections.abc import Callable
from typing import Any

from ...core.model.report import Part
from ..blocks import Block, Section
from ..reported import Reported
from .changes import changes
from .composed import composed_sheets
from .drawings import plan_part, section_part, views
from .front import cover, method, verdicts
from .network import schedules_part
from .quality import accepted, events, quality
from .rain import rainfall
from .results import critical_part, graphs, results_part, spread_part, storms_part

__all__ = ["section_of"]

_PARTS: dict[str, Callable[[Reported, Any], list[Block]]] = {
    "cover": cover, "verdicts": verdicts, "method": method, "rainfall": rainfall, "schedules": schedules_part,
    "storms": storms_part, "results": results_part, "critical": critical_part, "spread": spread_part, "events": events,
    "quality": quality, "accepted": accepted, "graphs": graphs, "views": views, "plan": plan_part,
    "section": section_part, "sheets": composed_sheets, "changes": changes,
}  # fmt: skip


def section_of(of: Reported, place: int, part: Part) -> Section:
    """The section that a part of the layout makes."""
    return Section(place, part.heading or part.HEADING, _PARTS[part.kind](of, part))
