"""The report for the approving authority."""

from collections.abc import Collection
from pathlib import Path
from typing import Any

import numpy as np
from jinja2 import Environment, FileSystemLoader
from weasyprint import HTML

from ..core.ensemble import Plan
from ..core.figures import Figures
from ..core.hydraulics.version import SOLVER
from ..core.model.project import Project
from ..core.model.saved import Selection
from ..core.order import main_path
from ..core.quantities import Units
from ..core.rules import Verdict, overall
from .drawings import plan_svg, section_svg
from .results import result_sheets
from .schedules import findings_sheet, schedules
from .units import in_units
from .words import (
    OVER_WORDS,
    band_in_words,
    cells_in_words,
    endings_in_words,
    limit_in_words,
    limits_in_words,
    margin_in_words,
    rain_in_words,
    runoff_in_words,
    scope_in_words,
)

__all__ = ["report_pdf"]


def _refuse(url: str, *_: Any, **__: Any) -> dict[str, Any]:
    """Names and texts of a project cannot make the report read files or addresses."""
    raise ValueError(f"the report fetches nothing: {url}")


def report_pdf(
    project: Project, fingerprint: str, plan: Plan, figures: dict[str, Figures], verdicts: list[Verdict],
    failed: Collection[str] = (), only: Selection | None = None,
) -> bytes:  # fmt: skip
    """Verdicts, method, plan, long section, schedules, results by return period in flow order, storms.

    failed : keys of storms that could not be computed. only : the elements whose results are told; none is all. Where
    storms are not in, every page says so.
    """
    level: dict[str, float] = {}
    if figures:
        highest = np.array([f.level for f in figures.values()]).max(axis=0)
        level = {id_: float(highest[i]) for i, id_ in enumerate(plan.nodes) if np.isfinite(highest[i])}
    units = Units(project.units, project.flow_unit)
    environment = Environment(loader=FileSystemLoader(Path(__file__).parent), autoescape=True)
    html = environment.get_template("report.html").render(
        project=project, fingerprint=fingerprint, plan=plan, network=plan.network, figures=figures, verdicts=verdicts,
        overall=overall(verdicts), missing=plan.missing(figures, failed),
        labels={s.key: s.label for s in plan.storms}, solver=SOLVER,
        balance=max((abs(f.summary["balance_error"]) for f in figures.values()), default=0.0),
        rain=rain_in_words(project), limits=limits_in_words(plan, units), runoff=runoff_in_words(project),
        margin=lambda v: margin_in_words(v, units), limit=lambda v: limit_in_words(v.criterion, units),
        scope=lambda v: scope_in_words(v.criterion, plan.network),
        over=lambda v: OVER_WORDS[v.over] if v.patterned else "", endings=endings_in_words(project),
        cells=cells_in_words(plan, units), band=lambda v: band_in_words(v, units),
        patterns=any(storm.pattern for storm in plan.storms), plan_drawing=plan_svg(project),
        section_drawing=section_svg(plan.network, main_path(plan.network), level, units.figure(1.0, "m")),
        sheets=[
            in_units(s, units)
            for s in (
                *schedules(project),
                findings_sheet(project, plan, figures),
                *result_sheets(project, plan, figures, only),
            )
        ],
        only=only,
    )  # fmt: skip
    content: bytes = HTML(string=html, url_fetcher=_refuse).write_pdf()
    return content
