"""What happened when in a storm."""

from pydantic import BaseModel

from ..core.hydraulics.events import decode
from ..core.results.moments import Flood, Span, floods, half_drained, spans
from .context import Seen, option_router

__all__ = ["router"]


class Moments(BaseModel):
    """spans : what was active from when to when. half_drained : s by store, null where the run ended before."""

    spans: list[Span]
    floods: list[Flood]
    half_drained: dict[str, float | None]


router = option_router()


@router.get("/storms/{storm}/moments")
def moments(seen: Seen, storm: str) -> Moments:
    """Floods, pumps and flaps of a storm from when to when, and when its stores are half drained."""
    plan = seen.plan
    figures = seen.figures_of(storm)
    codes = [(t, int(code)) for t, code in figures.summary["events"]]
    acted = spans(decode(codes, plan.flat), float(figures.summary["end_time"]))
    series = seen.runs.series(seen.answer, [storm])[0]
    return Moments(
        spans=acted,
        floods=floods(plan.network, plan.nodes, plan.layout, figures, series, acted),
        half_drained=half_drained(plan.layout, plan.flat.storage, series),
    )
