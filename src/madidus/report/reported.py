"""What is reported: an option of a project with its own results at one moment."""

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import date
from functools import cached_property

import numpy as np

from ..core.elements.figures import Figures
from ..core.ensemble import Plan
from ..core.hydraulics.events import decode
from ..core.model.flow_order import flow_order
from ..core.model.project import Project
from ..core.model.report import ReportLayout
from ..core.model.saved import Selection
from ..core.quantities import LEAST_VOLUME, Units, digits_of
from ..core.rainfall.storms import Storm
from ..core.results.elements import ElementResults
from ..core.results.quality import beyond
from ..core.results.series import Quantity
from ..core.verdicts import Verdict, overall
from ..core.verdicts.verdict import Overall
from .drawing.frame import TitleBlock
from .raster import media_of

__all__ = ["DOUBT", "Before", "Reported", "Trace", "natural"]

DOUBT = " (to be checked)"
"""After a storm of which a figure is beyond a stated limit."""


Trace = Callable[[str, str, Quantity], tuple[np.ndarray, np.ndarray]]
"""Of a storm, an element and a quantity: times in s, and values in SI."""


@dataclass(frozen=True)
class Before:
    """What was issued last: its number and day, the project as it was, and its verdicts in words."""

    number: str
    day: str
    project: Project
    verdicts: Mapping[str, str]


@dataclass(frozen=True)
class Reported:
    """Everything that parts read.

    figures : of the storms that are in, by key; failed : keys of those that could not be computed. trace : series, None
    where none are kept. file : what the document names by its digest. before : what was issued last.
    """

    project: Project
    fingerprint: str
    plan: Plan
    figures: Mapping[str, Figures]
    verdicts: list[Verdict]
    failed: tuple[str, ...] = ()
    day: date = field(default_factory=date.today)
    trace: Trace | None = None
    file: Callable[[str], bytes] | None = None
    before: Before | None = None
    layout: ReportLayout = field(default_factory=lambda: ReportLayout(name="all"))

    @cached_property
    def units(self) -> Units:
        """In which the project is read."""
        return Units(self.project.units, self.project.flow_unit)

    @property
    def metre(self) -> tuple[float, str]:
        """Figure of a metre as it is read, and its unit."""
        return self.units.figure(1.0, "m")

    @property
    def missing(self) -> str:
        """Which storms are not in, in words; empty when all are."""
        return self.plan.missing(self.figures, self.failed)

    @property
    def banner(self) -> str:
        """What every page says where the results are not whole."""
        return f"INCOMPLETE: {self.missing}" if self.missing else ""

    @cached_property
    def doubtful(self) -> frozenset[str]:
        """Keys of storms of which a figure is beyond a stated limit."""
        flat, reduction = self.plan.flat, self.plan.reduction
        return frozenset(
            key for key, f in self.figures.items()
            if beyond(flat, reduction, f, decode([(t, int(code)) for t, code in f.summary["events"]], flat))
        )  # fmt: skip

    @cached_property
    def overall(self) -> Overall:
        """How all verdicts fare together."""
        return overall(self.verdicts)

    @property
    def only(self) -> Selection | None:
        """The kept selection whose results are told; None is all elements."""
        return next((s for s in self.project.selections if s.name == self.layout.selection), None)

    @cached_property
    def nodes(self) -> list[str]:
        """Nodes that are told of, in the order of the layout."""
        network = self.project.option.network
        every = flow_order(network) if self.layout.order == "flow" else sorted(
            network.nodes, key=lambda id_: natural(network.nodes[id_].name))  # fmt: skip
        return [id_ for id_ in every if self.only is None or id_ in self.only.elements]

    @cached_property
    def links(self) -> list[str]:
        """Links that are told of, in the order of the layout."""
        network = self.project.option.network
        place = {id_: k for k, id_ in enumerate(flow_order(network))}
        flow = self.layout.order == "flow"
        every = sorted(
            network.links,
            key=lambda id_: (place[network.links[id_].upstream] if flow else 0, natural(network.links[id_].name)),
        )
        return [id_ for id_ in every if self.only is None or id_ in self.only.elements]

    @cached_property
    def rows(self) -> dict[str, list[Storm]]:
        """Storms by return period, those of which some are in."""
        there = dict.fromkeys(s.row for s in self.plan.storms if s.key in self.figures)
        return {row: [s for s in self.plan.storms if s.row == row] for row in there}

    @cached_property
    def _elements(self) -> dict[str, ElementResults]:
        return {}

    def elements(self, row: str = "") -> ElementResults | None:
        """What elements do in a return period, or (empty) in all storms. None where none of its storms is in."""
        storms = self.rows.get(row) if row else list(self.plan.storms)
        if not storms or not self.figures:
            return None
        if row not in self._elements:
            self._elements[row] = self.plan.element_results(dict(self.figures), storms)
        return self._elements[row]

    def volume(self, cubic_metres: float) -> str:
        """A volume as it is read; never nothing where there is some: a very small one tells its first figure."""
        value, unit = self.units.figure(cubic_metres, "m³")
        if 0.0 < value < LEAST_VOLUME:
            return f"under {LEAST_VOLUME:g} {unit}"
        return f"{value:.{digits_of(value, unit, 1)}f} {unit}"

    def of_row(self, row: str) -> str:
        """Of which storms results are told: '100 yr +40 %', 'all storms'."""
        return row or "all storms"

    @cached_property
    def block(self) -> TitleBlock:
        """What stands at the foot of every drawing."""
        title, brief = self.project.title, self.project.brief
        logo = None
        if title.logo and self.file is not None:
            content = self.file(title.logo)
            media = media_of(content)
            logo = (media, content) if media else None
        return TitleBlock(
            self.project.name, self.project.option.name, title.number, title.organisation, brief.client, brief.author,
            title.checker, title.status, self.said_day, self.fingerprint[:12].upper(), self.banner, logo,
        )  # fmt: skip

    @property
    def said_day(self) -> str:
        """The day that is printed."""
        return self.project.title.date or f"{self.day.day} {self.day:%B %Y}"


def natural(name: str) -> list[tuple[int, int, str]]:
    """Sorts M2 before M10."""
    return [(1, int(part), "") if part.isdigit() else (0, 0, part.casefold()) for part in re.split(r"(\d+)", name)]
