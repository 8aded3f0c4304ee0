"""How long reports, workbooks and maps take, how many pages they have and how much memory they need."""

import resource
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from datetime import date

from madidus.core.elements.figures import Figures
from madidus.core.ensemble import make_plan, run_plan, submit_to
from madidus.core.model.project import Project, fingerprint
from madidus.report.document import Known, report_pdf
from madidus.report.maps import results_geopackage
from madidus.report.reported import Reported
from madidus.report.workbook import workbook

__all__ = ["reporting"]

_SUBMIT = submit_to(ThreadPoolExecutor(2))


def reporting(project: Project) -> Iterator[tuple[str, float]]:
    """The layout for approval, made the first time and again after one part has changed; workbook and GeoPackage."""
    plan = make_plan(project)
    found = run_plan(plan, plan.inflow, _SUBMIT)
    figures = {one.key: one for one in found if isinstance(one, Figures)}
    of = Reported(
        project, fingerprint(project.model_dump(mode="json")), plan, figures, plan.verdicts(figures),
        day=date(2026, 1, 2), layout=project.layouts[0],
    )  # fmt: skip
    known = Known()
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    began = time.perf_counter()
    made = report_pdf(of, known=known)
    yield "report_s", time.perf_counter() - began
    yield "pages", float(len(made.sizes))
    yield "report_mb", len(made.content) / 2**20
    for part in of.layout.parts:
        if part.kind == "verdicts":
            part.heading = "What is asked"
    began = time.perf_counter()
    report_pdf(of, known=known, checked=False)
    yield "changed_s", time.perf_counter() - began
    yield "grown_mb", (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) / 2**10
    began = time.perf_counter()
    workbook(of)
    yield "workbook_s", time.perf_counter() - began
    began = time.perf_counter()
    results_geopackage(of)
    yield "geopackage_s", time.perf_counter() - began
