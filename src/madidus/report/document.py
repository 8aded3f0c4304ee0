"""A report: the parts of a layout in order, set as one PDF."""

import threading
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass

from ..core.hydraulics.version import SOLVER
from ..core.model.report import PAPERS, Composed, Part
from .blocks import Page, Section
from .pages import begins_of, sizes_of
from .parts import section_of
from .parts.composed import sheet_drawn
from .reported import Reported
from .typeset import Setting, typeset

__all__ = ["Known", "Report", "drawn_sheet", "report_pdf", "sections_of", "sheet_pdf"]

Step = Callable[[str, float], None]
"""Told what is being done and which share of the whole is; may raise to stop."""


@dataclass(frozen=True)
class Report:
    """A set report. sizes : mm of every page; begins : page (from 0) of each part that is on; parts : its place."""

    content: bytes
    sizes: list[tuple[float, float]]
    begins: list[int]
    parts: list[int]


def _quietly(_: str, __: float) -> None:
    """Nobody asks."""


class Known:
    """Sections that were made before, by all that they are made of: a part that has not changed is not made again."""

    def __init__(self, most: int = 200):
        self._most = most
        self._held: OrderedDict[str, Section] = OrderedDict()
        self._lock = threading.Lock()

    def section(self, basis: str, of: Reported, place: int, part: Part) -> Section:
        """The section of a part. basis : digest of all that is reported but the layout."""
        key = "\n".join((basis, str(place), of.layout.order, of.layout.selection, part.model_dump_json()))
        with self._lock:
            found = self._held.get(key)
        made = found or section_of(of, place, part)
        with self._lock:
            self._held[key] = made
            self._held.move_to_end(key)
            while len(self._held) > self._most:
                self._held.popitem(last=False)
        return made


def sections_of(of: Reported, step: Step = _quietly, known: Known | None = None, basis: str = "") -> list[Section]:
    """What every part that is on has to say. known : sections made before, for this basis and others."""
    on = [(place, part) for place, part in enumerate(of.layout.parts) if part.on]
    found = []
    for k, (place, part) in enumerate(on):
        step(part.heading or part.HEADING, 0.6 * k / max(len(on), 1))
        found.append(known.section(basis, of, place, part) if known else section_of(of, place, part))
    return found


def report_pdf(
    of: Reported,
    step: Step = _quietly,
    number: str = "",
    known: Known | None = None,
    basis: str = "",
    checked: bool = True,
) -> Report:
    """The report of a layout. number : under which it is issued; empty: it is not.

    The same inputs, results, layout and day give the same bytes. step : is told of progress, and may raise to stop.
    known, basis : as for `sections_of`; checked : as for `typeset`.
    """
    sections = sections_of(of, step, known, basis)
    step("setting pages", 0.6)
    content = typeset(_setting(of, number), sections, of.units, checked, lambda: step("setting pages", 0.6))
    step("counting pages", 0.97)
    parts = [section.part for section in sections]
    return Report(content, sizes_of(content), begins_of(content)[: len(parts)], parts)


def _setting(of: Reported, number: str) -> Setting:
    project, short = of.project, of.fingerprint[:12].upper()
    issue = f", issue {number}" if number else ""
    return Setting(
        title=f"{project.name}{issue}", author=project.brief.author,
        keywords=(
            f"inputs {of.fingerprint}", f"option {project.in_view}", f"solver {SOLVER}",
            *([f"issue {number}"] if number else []),
        ),
        day=of.day,
        said_day=of.said_day, foot=f"{project.name}, option {project.option.name}{issue} · inputs {short}",
        banner=of.banner, paper=PAPERS[of.layout.paper],
    )  # fmt: skip


def sheet_pdf(of: Reported, sheet: Composed) -> bytes:
    """A sheet that was composed by hand, by itself."""
    drawn = sheet_drawn(of, sheet)
    page = Page(drawn.svg, drawn.wide, drawn.high, drawn.says)
    return typeset(_setting(of, ""), [Section(0, sheet.name, [page])], of.units)


def drawn_sheet(of: Reported, part: int, sheet: int) -> str | None:
    """A sheet of a part of the layout as SVG, both from 0; None where there is none."""
    if not 0 <= part < len(of.layout.parts):
        return None
    pages = [b for b in section_of(of, part, of.layout.parts[part]).blocks if isinstance(b, Page)]
    return pages[sheet].svg if 0 <= sheet < len(pages) else None
