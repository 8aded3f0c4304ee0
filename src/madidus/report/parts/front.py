"""What comes first: the cover, the verdicts of the brief, and how they were arrived at."""

from base64 import b64encode

from ...core.hydraulics.version import SOLVER
from ...core.model.report import Cover, Method, Verdicts
from ..blocks import Block, Contents, Picture, Subheading, Table, Text
from ..drawing.canvas import INK, Canvas
from ..reported import Reported
from ..words import (
    OVER_WORDS,
    band_in_words,
    cells_in_words,
    endings_in_words,
    governing_in_words,
    limit_in_words,
    limits_in_words,
    losses_in_words,
    margin_in_words,
    rain_in_words,
    runoff_in_words,
    scope_in_words,
    state_in_words,
)

__all__ = ["cover", "method", "verdicts"]

MARKS = {"fails": "■", "meets": "", "too close": "◐", "not judged": "○"}
"""Before a verdict, so that it is seen without colour."""


def cover(of: Reported, part: Cover) -> list[Block]:
    """Who, what, when, and what all verdicts come to."""
    project, title = of.project, of.project.title
    facts = [
        ("Option", project.option.name), ("Number", title.number), ("For", project.brief.client),
        ("Author", project.brief.author), ("Checked", title.checker), ("Organisation", title.organisation),
        ("Status", title.status), ("Date", of.said_day),
        ("Storms run", f"{len(of.figures)} of {len(of.plan.storms)}"),
    ]  # fmt: skip
    blocks: list[Block] = []
    if of.block.logo:
        media, content = of.block.logo
        blocks.append(_logo(media, content))
    said = of.overall.said
    blocks += [
        Text(project.name, "title"),
        Text("Surface water drainage: storms, levels and flows, verdicts"),
        *([Text(part.note)] if part.note else []),
        Text(f"{MARKS[of.overall.state]} {said[:1].upper()}{said[1:]}.".strip(), "strong"),
        Table("This report", ["", " "], [[name, value] for name, value in facts if value]),
        _bars(of.fingerprint),
        Text(f"Fingerprint of the inputs: {of.fingerprint}.", "quiet"),
        Contents(),
    ]
    return blocks


def _logo(media: str, content: bytes) -> Picture:
    canvas = Canvas(60, 22)
    canvas.picture((0, 0, 60, 22), media, b64encode(content).decode())
    return Picture(canvas.svg(), 60, 22, "logo")


def _bars(fingerprint: str) -> Picture:
    """The fingerprint drawn as bars, the same as on the screen."""
    canvas = Canvas(90, 8)
    for k, digit in enumerate(fingerprint[:40]):
        canvas.box((k * 2.2, 0, k * 2.2 + 1.3, 1.2 + int(digit, 16) * 0.42), 0.0, INK)
    return Picture(canvas.svg(), 90, 8, f"fingerprint {fingerprint[:12]} drawn as bars")


def verdicts(of: Reported, _: Verdicts) -> list[Block]:
    """Every rule with limit, value, margin, governing storm and element, and of what it is not asked."""
    units, labels = of.units, {s.key: s.label for s in of.plan.storms}
    rows, left = [], []
    for v in of.verdicts:
        name = v.criterion.name + ("" if v.criterion.asked else " (measured, not asked)")
        margin = margin_in_words(v, units)
        if v.state == "not judged" and v.governing:
            margin += " so far"
        more = [text for text in (OVER_WORDS[v.over] if v.patterned else "", band_in_words(v, units)) if text]
        storm = governing_in_words(v, labels)
        rows.append([
            name, limit_in_words(v.criterion, units), f"{MARKS[v.state]} {state_in_words(v, units)}".strip(),
            "; ".join([margin, *more]), storm,
            of.plan.network.label(v.governing.element) if v.governing else "",
        ])  # fmt: skip
        if scope := scope_in_words(v.criterion, of.plan.network):
            left.append([name, scope])
    head = ["Rule", "Limit", "Verdict", "Margin", "Governing storm", "Element"]
    blocks: list[Block] = [Table("Rules of the brief", head, rows)]
    if left:
        blocks.append(Table("Asked of some elements only", ["Rule", "Asked of, and why"], left))
    if not rows:
        blocks.append(Text("The brief asks for nothing: there is no rule to be judged.", "strong"))
    return blocks


def method(of: Reported, _: Method) -> list[Block]:
    """How it was computed, in sentences that follow from what this project uses."""
    balance = max((abs(f.summary["balance_error"]) for f in of.figures.values()), default=0.0)
    blocks: list[Block] = [
        Subheading("Hydraulics"),
        Text(
            "Full dynamic equations of every conduit (Saint-Venant) in finite volumes, two implicit stages, steps "
            f"chosen by error control; solver {SOLVER}. {cells_in_words(of.plan, of.units)} Peaks are 10-second means. "
            "What the grid may have wrong is three times what the storms that decide change on cells half as long; "
            "a verdict by less is close, and one that is so on cells a quarter as long as well is too close to call."
        ),
        Text(losses_in_words(of.project)),
        Text(endings_in_words(of.project)),
        Subheading("Rainfall and runoff"),
        Text(f"Runoff by {runoff_in_words(of.project)}. {len(of.plan.storms)} storms."),
        Text(" ".join(rain_in_words(of.project))),
        Subheading("Continuity"),
        Text(
            f"Largest continuity error of the {len(of.figures)} storms that are in: {balance:.0e} of the water handled."
        ),
    ]  # fmt: skip
    if limits := limits_in_words(of.plan, of.units):
        blocks += [Subheading("Permitted rates"), Text(" ".join(limits))]
    return blocks
