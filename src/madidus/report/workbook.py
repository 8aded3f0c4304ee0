"""Schedules and results as a workbook."""

import io
from collections.abc import Collection

import numpy as np
import xlsxwriter

from ..core.ensemble import Plan
from ..core.figures import Figures
from ..core.model.project import Project
from ..core.model.saved import Selection
from ..core.quantities import Units
from ..core.rules import Verdict
from .results import result_sheets, statistics_sheets
from .schedules import Sheet, schedules
from .units import in_units
from .words import OVER_WORDS, limit_in_words, scope_in_words

__all__ = ["workbook"]


def workbook(
    project: Project, fingerprint: str, plan: Plan, figures: dict[str, Figures], verdicts: list[Verdict],
    failed: Collection[str] = (), only: Selection | None = None,
) -> bytes:  # fmt: skip
    """One sheet for the verdicts, one for each schedule, two for each return period, one for the storms.

    failed : keys of storms that could not be computed. only : the elements whose results are told; none is all. Where
    storms are not in, the first line of every sheet says so.
    """
    missing = plan.missing(figures, failed)
    units = Units(project.units, project.flow_unit)
    first = Sheet(
        "Verdicts",
        ["Rule", "Limit", "Asked of", "Verdict", "Why not judged", "Margin", "Grid may err by", "Unit", "Over patterns",
         "Governing storm", "Element",
         "Below cover, nothing floods", "Storms in", "Fingerprint"],
        [[v.criterion.name + ("" if v.criterion.asked else " (measured, not asked)"),
            limit_in_words(v.criterion, units), scope_in_words(v.criterion, plan.network) or "all",
            v.state + (", close" if v.close else ""), v.reason,
            units.margin(v.governing.value, v.unit)[0] if v.governing and np.isfinite(v.governing.value) else "",
            units.margin(v.band, v.unit)[0] if v.band is not None else "",
            units.margin(0.0, v.unit)[1] if v.governing else v.unit,
            OVER_WORDS[v.over] if v.patterned else "", v.storm or "",
            plan.network.label(v.governing.element) if v.governing else "",
            "" if v.dry is None else units.margin(v.dry, "m")[0], f"{v.seen} of {v.due}", fingerprint[:12]]
         for v in verdicts],
    )  # fmt: skip
    buffer = io.BytesIO()
    # a name that begins with "=" stays a text
    with xlsxwriter.Workbook(
        buffer, {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False}
    ) as book:
        bold, number = book.add_format({"bold": True, "bottom": 1}), book.add_format({"num_format": "0.000"})
        for sheet in [
            first,
            *(
                in_units(s, units)
                for s in (
                    *schedules(project),
                    *result_sheets(project, plan, figures, only),
                    *statistics_sheets(plan, figures, only),
                )
            ),
        ]:
            page = book.add_worksheet(_title(sheet.title, [known.name for known in book.worksheets()]))
            top = 0
            if missing:
                page.write(0, 0, f"INCOMPLETE: {missing}", bold)
                page.set_header(f"&CINCOMPLETE: {missing}")
                top = 1
            page.write_row(top, 0, sheet.header, bold)
            page.freeze_panes(top + 1, 1)
            page.set_column(0, len(sheet.header), 16)
            for r, row in enumerate(sheet.rows, start=top + 1):
                for c, value in enumerate(row):
                    page.write(r, c, value, number if isinstance(value, float) else None)
    return buffer.getvalue()


def _title(wanted: str, taken: list[str]) -> str:
    """A name that a workbook allows: 31 characters, none of a few, and no other sheet's."""
    plain = "".join(c for c in wanted if c not in "[]:*?/\\'")
    known = {name.casefold() for name in taken}
    for n in range(len(taken) + 2):
        tail = f" {n + 1}" if n else ""
        title = plain[: 31 - len(tail)] + tail
        if title.casefold() not in known:
            return title
    raise AssertionError("one of so many is free")
