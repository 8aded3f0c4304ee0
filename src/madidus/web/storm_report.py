"""What a storm's run says about itself: where the water went, how smooth it was, the event log."""

import numpy as np
from pydantic import BaseModel

from ..core.elements.figures import Figures
from ..core.ensemble import Plan
from ..core.hydraulics.events import decode
from ..core.results.quality import swings
from ..core.runoff.catchments import Account, account
from ..core.surface.runoff import Runoff

__all__ = ["StormReport", "storm_report"]

_RANKED = 200  # links whose flow oscillates


class StormEvent(BaseModel):
    time: float  # s
    element: str  # id
    name: str
    kind: str
    begins: bool


class SwingOut(BaseModel):
    """flow : m3/s by which the flow of a link oscillates; share : of its own peak."""

    element: str
    name: str
    flow: float
    share: float


class StormReport(BaseModel):
    """Volumes in m3. Oscillation: the largest change of a level (m), or a flow (m3/s), that turned back twice.

    rain : what fell on catchments and where it went; besides : entered at nodes that is no runoff (base flow, foul,
    hydrographs). outfalls : discharged by each, by name; flooded : the most that stood above covers at once. swings :
    every link whose flow oscillates, the largest share of its own peak first.
    """

    rain: Account
    besides: float
    outfalls: dict[str, float]
    flooded: float
    before: float
    entered: float
    left: float
    lost: float
    infiltrated: float
    passed_by: float
    after: float
    balance_error: float
    level_oscillation: float
    level_oscillation_at: str
    flow_oscillation: float
    flow_oscillation_at: str
    swings: list[SwingOut]
    steps: int
    rejected: int
    smallest_step: float
    smallest_at: float
    smallest_in: str
    events: list[StormEvent]


def storm_report(plan: Plan, figures: Figures, values: Runoff) -> StormReport:
    """Report of one storm, elements by their names. values : the project's runoff."""
    storm = next(storm for storm in plan.storms if storm.key == figures.key)
    rain = account(plan.network, values, storm)
    passed_by = plan.inflow[figures.key].passed_by
    s, flat, label = figures.summary, plan.flat, plan.network.label
    name_of = lambda row: label(flat.name_of(row)) if row >= 0 else ""  # noqa: E731
    link_at = int(s["link_oscillation_at"])
    return StormReport(
        **{term: s[term] for term in ("before", "entered", "left", "lost", "infiltrated", "after", "balance_error")},
        rain=rain, besides=float(s["entered"]) + passed_by - rain.ran, passed_by=passed_by,
        outfalls={
            plan.network.label(id_): float(figures.left[i])
            for i, id_ in enumerate(plan.nodes) if np.isfinite(figures.left[i])
        },
        flooded=float(figures.flooded.sum()),
        level_oscillation=s["oscillation"], level_oscillation_at=name_of(int(s["oscillation_row"])),
        flow_oscillation=s["link_oscillation"],
        flow_oscillation_at=label(plan.links[link_at]) if link_at >= 0 else "",
        swings=[
            SwingOut(element=one.link, name=label(one.link), flow=one.flow, share=one.share)
            for one in swings(plan.reduction, figures)[:_RANKED]
        ],
        steps=int(s["steps"]), rejected=int(s["rejected"]), smallest_step=s["smallest_step"],
        smallest_at=s["smallest_at"], smallest_in=name_of(int(s["smallest_row"])),
        events=[
            StormEvent(time=e.time, element=e.element, name=label(e.element), kind=e.kind, begins=e.begins)
            for e in decode([(t, int(code)) for t, code in s["events"]], flat)
        ],
    )  # fmt: skip
