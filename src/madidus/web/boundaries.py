"""All that is given at the edges of a network, with its spans against those of the storms."""

from pydantic import BaseModel

from ..core.runoff.boundaries import Boundary, boundaries, longest_rain
from .context import Seen, option_router

__all__ = ["router"]

_DRAWN = 400  # points of a curve


class BoundariesOut(BaseModel):
    """rain : s, of the shortest and the longest storm; None where there are none. run : s after which the last storm
    that is in ended; None while none is. missing : which storms are not in, in words.
    """

    rain: tuple[float, float] | None
    run: float | None
    missing: str
    boundaries: list[Boundary]


router = option_router()


@router.get("/boundaries")
def all_boundaries(seen: Seen) -> BoundariesOut:
    """Inflows and tail waters of every node."""
    plan, figures = seen.answer.plan, dict(seen.answer.figures)
    storms = plan.storms if plan else []
    found = boundaries(seen.network, longest_rain(storms))
    for one in found:
        step = -(-len(one.rows) // _DRAWN)
        if step > 1:
            one.rows[:] = [*one.rows[::step], one.rows[-1]]
    return BoundariesOut(
        rain=(60.0 * min(s.duration for s in storms), longest_rain(storms)) if storms else None,
        run=max((float(own.summary["end_time"]) for own in figures.values()), default=None),
        missing=plan.missing(figures) if plan else "the option cannot be computed",
        boundaries=found,
    )
