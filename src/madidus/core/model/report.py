"""How a project is reported: layouts of parts in order, sheets composed by hand, and what stands in a title block."""

from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, model_validator

from ..elements.document import DocumentModel, ElementId, Name
from .saved import Extent

__all__ = [
    "PAPERS", "SCALES", "BoxPlots", "Changes", "Composed", "Cover", "CriticalDurations", "EventLog", "KeptGraphs",
    "KeptViews", "LongSections", "Method", "Paper", "Part", "PlanSheets", "Quality", "Rainfall", "ReportLayout",
    "Results", "Schedules", "SheetItem", "Sheets", "Storms", "Title", "Verdicts", "starting_layouts",
]  # fmt: skip

Paper = Literal["A4", "A3", "A2", "A1", "A0", "Letter", "ANSI B", "ANSI C", "ANSI D", "ANSI E"]
PAPERS: dict[Paper, tuple[float, float]] = {
    "A4": (210.0, 297.0), "A3": (297.0, 420.0), "A2": (420.0, 594.0), "A1": (594.0, 841.0), "A0": (841.0, 1189.0),
    "Letter": (215.9, 279.4), "ANSI B": (279.4, 431.8), "ANSI C": (431.8, 558.8), "ANSI D": (558.8, 863.6),
    "ANSI E": (863.6, 1117.6),
}  # fmt: skip
"""Width and height in mm, upright. ISO 216; ANSI/ASME Y14.1."""

SCALES = (100, 125, 150, 200, 250, 300, 400, 500, 750, 1000, 1250, 1500, 2000, 2500, 4000, 5000)
"""Those of drawings; 1 : n."""

_Scale = Annotated[int, Field(ge=10, le=100_000, description="1 : n")]
_Row = Annotated[str, Field(max_length=200, description="return period, as it is named; empty: every one")]


class Title(DocumentModel):
    """What cover and title blocks say besides author and client; it changes no fingerprint."""

    number: str = Field("", max_length=80, description="of the project")
    organisation: str = Field("", max_length=200)
    checker: str = Field("", max_length=200)
    status: str = Field("", max_length=80, description="for approval, for information …")
    date: str = Field("", max_length=40, description="as it is to be printed; empty: the day of printing")
    logo: str = Field("", pattern=r"^([0-9a-f]{64})?$", description="SHA-256 of a picture kept with the project")


class _Part(DocumentModel):
    on: bool = Field(True, description="it is printed")
    heading: str = Field("", max_length=200, description="instead of its own; empty: its own")


class Cover(_Part):
    """Project, people, date, status and what all verdicts come to."""

    HEADING: ClassVar[str] = "Cover"
    kind: Literal["cover"] = "cover"
    note: str = Field("", max_length=10_000, description="a paragraph under the title")


class Verdicts(_Part):
    """Every rule with its limit, value, margin and governing storm, and why some are left out."""

    HEADING: ClassVar[str] = "Brief and verdicts"
    kind: Literal["verdicts"] = "verdicts"


class Method(_Part):
    """How it was computed and from which sources, as this project does it."""

    HEADING: ClassVar[str] = "Method"
    kind: Literal["method"] = "method"


class Rainfall(_Part):
    """Depths or formula, allowances, shapes, areal reduction, patterns' source."""

    HEADING: ClassVar[str] = "Rainfall"
    kind: Literal["rainfall"] = "rainfall"
    shapes: bool = Field(True, description="with a picture of every shape of storm")


ScheduleKind = Literal["manholes", "conduits", "storage", "controls", "outfalls", "catchments", "catalogue"]
_SCHEDULES: list[ScheduleKind] = ["manholes", "conduits", "storage", "controls", "outfalls", "catchments"]


class Schedules(_Part):
    """The network in tables, with every field that is not at its rest."""

    HEADING: ClassVar[str] = "Schedules"
    kind: Literal["schedules"] = "schedules"
    of: list[ScheduleKind] = Field(_SCHEDULES, max_length=7)
    curves: bool = Field(True, description="with pictures of stage–area and rating curves")


class Storms(_Part):
    """Every storm with its depth, its volume balance and its continuity error."""

    HEADING: ClassVar[str] = "Storms and volume balance"
    kind: Literal["storms"] = "storms"


ResultKind = Literal["states", "nodes", "links", "storage", "outfalls", "pumps"]
_RESULTS: list[ResultKind] = ["states", "nodes", "links", "storage", "outfalls", "pumps"]


class Results(_Part):
    """Figures by return period with states, causes and governing storms."""

    HEADING: ClassVar[str] = "Results by return period"
    kind: Literal["results"] = "results"
    rows: list[_Row] = Field(default_factory=list, max_length=50, description="return periods; empty: every one")
    of: list[ResultKind] = Field(_RESULTS, max_length=6)


class CriticalDurations(_Part):
    """The duration that governs each element, by return period."""

    HEADING: ClassVar[str] = "Critical durations"
    kind: Literal["critical"] = "critical"


class BoxPlots(_Part):
    """Spread of peaks over patterns, or over seasons, by duration."""

    HEADING: ClassVar[str] = "Spread of peaks by duration"
    kind: Literal["spread"] = "spread"
    elements: list[ElementId] = Field(default_factory=list, max_length=100, description="empty: stores and outfalls")


class EventLog(_Part):
    """What happened when in the storms that govern a rule."""

    HEADING: ClassVar[str] = "Event log"
    kind: Literal["events"] = "events"


class Quality(_Part):
    """Continuity, oscillation, grid, marks of doubt and what the checks found and nobody accepted."""

    HEADING: ClassVar[str] = "Quality and doubts"
    kind: Literal["quality"] = "quality"


class AcceptedFindings(_Part):
    """What the checks found and somebody accepted, with the reason."""

    HEADING: ClassVar[str] = "Accepted findings"
    kind: Literal["accepted"] = "accepted"


class KeptGraphs(_Part):
    """Graphs that were kept."""

    HEADING: ClassVar[str] = "Graphs"
    kind: Literal["graphs"] = "graphs"
    names: list[Name] = Field(default_factory=list, max_length=200, description="empty: every one")


class KeptViews(_Part):
    """Views of plan and 3D that were kept."""

    HEADING: ClassVar[str] = "Views"
    kind: Literal["views"] = "views"
    names: list[Name] = Field(default_factory=list, max_length=500, description="empty: every one")


PlanTheme = Literal["plain", "state", "level"]


class _OnPaper(_Part):
    paper: Paper = "A3"
    wide: bool = Field(True, description="lying; else upright")


class PlanDrawing(DocumentModel):
    """What a plan shows and how large."""

    scale: _Scale | None = Field(None, description="none: the largest of a drawing's that needs one sheet")
    view: str = Field("", max_length=120, description="name of a kept view whose extent it shows; empty: the network")
    extent: Extent | None = Field(None, description="what a screen showed, instead of both")
    theme: PlanTheme = Field("state", description="plain, or states, or highest levels of a return period")
    row: str = Field("", max_length=200, description="return period; empty: all storms")
    background: bool = True
    grid: bool = Field(True, description="crosses every 50 mm or so at round coordinates")


class PlanSheets(_OnPaper):
    """The plan at a stated scale, on as many sheets as it takes."""

    HEADING: ClassVar[str] = "Plan"
    kind: Literal["plan"] = "plan"
    drawing: PlanDrawing = Field(default_factory=PlanDrawing)


SectionRow = Literal["cover", "invert", "depth", "chainage", "size", "gradient", "peak", "freeboard"]
_SECTION: list[SectionRow] = ["cover", "invert", "depth", "chainage", "size", "gradient", "peak"]


class SectionDrawing(DocumentModel):
    """What a long section shows and how large."""

    start: ElementId | None = Field(None, description="node; none: the head of the longest way")
    end: ElementId | None = Field(None, description="node; none: the outfall that it leads to")
    along: _Scale | None = Field(None, description="none: the largest of a drawing's that needs one sheet")
    up: _Scale | None = Field(None, description="none: a tenth of that, or so much less that it fits")
    row: str = Field("", max_length=200, description="return period of the highest levels; empty: all storms")
    rows: list[SectionRow] = Field(_SECTION, max_length=8)


class LongSections(_OnPaper):
    """A long section at stated scales, on as many sheets as it takes."""

    HEADING: ClassVar[str] = "Long section"
    kind: Literal["section"] = "section"
    drawing: SectionDrawing = Field(default_factory=SectionDrawing)


class Sheets(_Part):
    """Sheets that were composed by hand."""

    HEADING: ClassVar[str] = "Sheets"
    kind: Literal["sheets"] = "sheets"
    names: list[Name] = Field(default_factory=list, max_length=100, description="empty: every one")


class Changes(_Part):
    """What changed since a report that was issued."""

    HEADING: ClassVar[str] = "Changes since the last issue"
    kind: Literal["changes"] = "changes"


Part = Annotated[
    Cover | Verdicts | Method | Rainfall | Schedules | Storms | Results | CriticalDurations | BoxPlots | EventLog
    | Quality | AcceptedFindings | KeptGraphs | KeptViews | PlanSheets | LongSections | Sheets | Changes,
    Field(discriminator="kind"),
]  # fmt: skip


class ReportLayout(DocumentModel):
    """A report: its parts in order. It changes no fingerprint."""

    name: Name
    paper: Paper = Field("A4", description="of pages that are no drawings")
    order: Literal["flow", "name"] = Field("flow", description="of elements in tables")
    selection: str = Field("", max_length=120, description="kept selection whose results are told; empty: all elements")
    parts: list[Part] = Field(default_factory=list, max_length=100)


class SheetItem(DocumentModel):
    """Something on a sheet. x, y : mm of its upper left corner from that of the paper; wide, high : mm."""

    x: float = Field(ge=0, le=1200)
    y: float = Field(ge=0, le=1200)
    wide: float = Field(ge=10, le=1200)
    high: float = Field(ge=10, le=1200)
    shows: Literal["plan", "section", "graph", "table", "text"]
    plan: PlanDrawing | None = None
    section: SectionDrawing | None = None
    graph: str = Field("", max_length=120, description="name of a kept graph")
    table: Literal["verdicts", "manholes", "conduits", "storage", "controls", "outfalls"] = "verdicts"
    text: str = Field("", max_length=10_000)

    @model_validator(mode="after")
    def _says_what_it_shows(self) -> Self:
        if self.shows == "plan" and self.plan is None:
            self.plan = PlanDrawing()
        if self.shows == "section" and self.section is None:
            self.section = SectionDrawing()
        return self


class Composed(DocumentModel):
    """A sheet that was composed by hand."""

    name: Name
    paper: Paper = "A3"
    wide: bool = True
    items: list[SheetItem] = Field(default_factory=list, max_length=100)


def starting_layouts() -> list[ReportLayout]:
    """What a project begins with: a report for approval, a short note, an appendix of tables."""
    return [
        ReportLayout(name="Approval", parts=[
            Cover(), Verdicts(), Method(), Rainfall(), Schedules(), Storms(), Results(), CriticalDurations(),
            Quality(), AcceptedFindings(), PlanSheets(), LongSections(), KeptGraphs(on=False), KeptViews(on=False),
            BoxPlots(on=False), EventLog(on=False), Sheets(on=False), Changes(on=False),
        ]),
        ReportLayout(name="Short note", parts=[Cover(), Verdicts(), Method(), LongSections(paper="A4")]),
        ReportLayout(name="Appendix of tables", parts=[
            Schedules(), Storms(), Results(), CriticalDurations(), EventLog(),
        ]),
    ]  # fmt: skip
