"""What is to be known before results are trusted: events, quality, findings of the checks."""

from ...core.hydraulics.events import decode
from ...core.model.report import AcceptedFindings, EventLog, Quality
from ...core.quantities import Quantity, said
from ...core.results.quality import LIMITS, beyond
from ..blocks import CLOCK, Block, Column, Subheading, Table, Text
from ..reported import Reported
from ..schedules import findings_table
from ..words import band_in_words, cells_in_words

__all__ = ["accepted", "events", "quality"]

_MOST = 200  # events of a storm on paper
_SAYS = {
    "balance": "continuity error, of the water handled", "level": "oscillation of a level",
    "flow": "oscillation of a flow, of its own peak", "flood": "depth of a flood above a cover",
    "pressure": "height of a level above the ground",
    "curve": "s beyond the curve of a control", "cut off": "s of the storm that were not computed",
}  # fmt: skip


def events(of: Reported, _: EventLog) -> list[Block]:
    """The log of every storm that governs a rule."""
    keys = dict.fromkeys(v.storm for v in of.verdicts if v.storm in of.figures)
    labels = {s.key: s.label for s in of.plan.storms}
    blocks: list[Block] = []
    for key in keys:
        assert key is not None
        log = decode([(t, int(code)) for t, code in of.figures[key].summary["events"]], of.plan.flat)
        rows = [
            [e.time, of.plan.network.label(e.element), e.kind, "begins" if e.begins else "ends"] for e in log[:_MOST]
        ]
        blocks.append(Table(labels[key], [Column("At", CLOCK), "Element", "What", ""], rows))
        if len(log) > _MOST:
            blocks.append(Text(f"{len(log) - _MOST} more events are in the workbook’s storm.", "quiet"))
    return blocks or [Text("No storm that governs a rule is in.")]


def quality(of: Reported, _: Quality) -> list[Block]:
    """Figures beyond their stated limits by storm, what the grid may have wrong, and findings that are open."""
    rows = []
    for storm in of.plan.storms:
        found = of.figures.get(storm.key)
        if found is None:
            continue
        log = decode([(t, int(code)) for t, code in found.summary["events"]], of.plan.flat)
        for one in beyond(of.plan.flat, of.plan.reduction, found, log):
            where = of.plan.network.label(one.element) if one.element else "whole storm"
            rows.append(
                [f"▲ {storm.label}", _SAYS[one.kind], _figure(one.kind, one.value), _figure(one.kind, one.limit), where]
            )
    blocks: list[Block] = [
        Text(cells_in_words(of.plan, of.units)),
        Table("Figures beyond a stated limit", ["Storm", "What", "Is", "Limit", "Where"], rows),
        Table("Limits that every storm is held against", ["What", "Limit"],
              [[_SAYS[kind], _figure(kind, limit)] for kind, limit in LIMITS.items()]),
    ]  # fmt: skip
    bands = [[v.criterion.name, band_in_words(v, of.units) or "not known: no storm was run on finer cells"]
             for v in of.verdicts]  # fmt: skip
    blocks.append(Table("What the grid may have wrong", ["Rule", "By how much"], bands))
    blocks.append(Subheading("Checks of the model"))
    blocks.append(findings_table(of.project, of.plan, dict(of.figures), of.verdicts, accepted=False))
    return blocks


def _figure(kind: str, value: float) -> str:
    """A figure of solution quality: of levels in the unit that is read."""
    return said(Quantity(value, "m", 3)) if kind in ("level", "flood", "pressure") else f"{value:.3g}"


def accepted(of: Reported, _: AcceptedFindings) -> list[Block]:
    """Findings that somebody accepted, with the reasons."""
    return [findings_table(of.project, of.plan, dict(of.figures), of.verdicts, accepted=True)]
