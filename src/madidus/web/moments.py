"""What happened when in a storm."""

from collections.abc import Callable
from uuid import UUID

from fastapi import FastAPI
from pydantic import BaseModel

from ..core.ensemble import Plan
from ..core.errors import ModelError
from ..core.hydraulics.events import decode
from ..core.model.project import Project
from ..core.moments import Flood, Span, floods, half_drained, spans
from ..runs.manager import Answer, RunManager
from ..store.projects import Revision

__all__ = ["install"]


class Moments(BaseModel):
    """spans : what acted from when to when. half_drained : s by store, null where the run ended before."""

    spans: list[Span]
    floods: list[Flood]
    half_drained: dict[str, float | None]


def install(
    app: FastAPI,
    current: Callable[[UUID], tuple[Project, Revision, Answer]],
    plan_of: Callable[[Answer], Plan],
    runs: RunManager,
) -> None:
    """Add the routes. current : project, revision and answer by id; plan_of : the plan of an answer, or its problem."""

    @app.get("/api/projects/{project_id}/storms/{storm}/moments")
    def moments(project_id: UUID, storm: str) -> Moments:
        """Floods, pumps and flaps of a storm from when to when, and when its stores are half drained."""
        _, _, answer = current(project_id)
        plan = plan_of(answer)
        figures = answer.figures.get(storm)
        if figures is None:
            raise ModelError("storm", storm, "is not in", "run it, or pick another from the storm matrix")
        codes = [(t, int(code)) for t, code in figures.summary["events"]]
        acted = spans(decode(codes, plan.flat), float(figures.summary["end_time"]))
        series = runs.series(answer, [storm])[0]
        return Moments(
            spans=acted,
            floods=floods(plan.network, plan.nodes, plan.layout, figures, series, acted),
            half_drained=half_drained(plan.layout, plan.flat.storage, series),
        )
