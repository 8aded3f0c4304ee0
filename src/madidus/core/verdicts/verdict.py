"""What is said of a rule: fails, meets, too close to call, or not judged; by how much, and which storm governs.

And of all rules together.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from ..rules import OverPatterns
from .criteria import Criterion

__all__ = ["NOISE", "Cell", "Margin", "Overall", "State", "Verdict", "overall"]

State = Literal["fails", "meets", "too close", "not judged"]
_TIGHT = 0.1  # of the scale
NOISE = 1e-9
"""m, m3, m3/s …: equal to the limit passes, whatever the last bit says."""


@dataclass(frozen=True)
class Margin:
    """Margin of one rule in one storm (or over the patterns of one duration), at the element where it is least.

    value : in the unit of the rule, negative when exceeded. scale : what a full gauge means, same unit. time : s, nan
    where it is not kept.
    """

    value: float
    scale: float
    element: str
    time: float

    @property
    def exceeded(self) -> bool:
        """Whether the limit is passed, by more than rounding."""
        return self.value < -NOISE

    @property
    def tight(self) -> bool:
        """Met by less than a tenth of the scale."""
        return not self.exceeded and self.value < _TIGHT * self.scale


@dataclass(frozen=True)
class Cell:
    """Patterns of one row of the matrix and one duration, read together.

    storms : keys; storm : of the pattern that stands for them.

    margin : None until one is in; whole : all of them are.
    """

    storms: tuple[str, ...]
    margin: Margin | None
    storm: str | None
    whole: bool


@dataclass(frozen=True)
class Verdict:
    """A criterion over its storms: the least margin, the storm that governs, and the margin in every storm.

    reason : why it is not judged. over : the statistic that was taken over patterns, 'every' where there were too few.
    tied : storms whose margin equals the governing one to its last shown digit. seen, due : of the storms that this
    rule judges, how many are in, and how many there are. margins : by storm key, every storm that is in. cells :
    patterns read together, of every row. dry : m between the water and the cover at the governing element, where
    nothing floods. patterned : some of its storms are temporal patterns. provisional : storms are still to come, but
    those that governed before are in. band : by how much the grid may have the margin wrong, in the unit of the rule;
    None where that was not computed. refined : the margin comes from finer cells (see `grid`), and a rule whose margin
    is less than its band even so is too close to call. judged : keys of the storms that this rule judges. sure : what
    the margin is not below whatever the grid has wrong, as of a control that never passes more than its curve; None
    where there is no such bound. edge : the governing storm is of the shortest or the longest duration that was run of
    several, so that a further one may be worse.
    """

    criterion: Criterion
    unit: str
    state: State
    reason: str
    over: OverPatterns
    governing: Margin | None
    storm: str | None
    tied: int
    seen: int
    due: int
    margins: dict[str, Margin]
    cells: list[Cell]
    dry: float | None = None
    patterned: bool = False
    provisional: bool = False
    band: float | None = None
    refined: bool = False
    judged: frozenset[str] = frozenset()
    sure: float | None = None
    edge: Literal["shortest", "longest"] | None = None

    @property
    def close(self) -> bool:
        """Judged, but by less than the grid may have wrong: finer cells may judge otherwise."""
        return self.state in ("fails", "meets") and not self.refined and self.within_band

    @property
    def within_band(self) -> bool:
        """Whether the margin is less than what the grid may have it wrong."""
        return self.governing is not None and self.band is not None and abs(self.governing.value) < self.band

    @property
    def deciding(self) -> set[str]:
        """Keys of the storms that make the margin: the governing one, or all patterns that are judged with it."""
        together = [set(cell.storms) for cell in self.cells if cell.margin is self.governing]
        return together[0] if together else {self.storm} if self.storm else set()

    @property
    def tight(self) -> bool:
        """Met, but by less than a tenth of the scale."""
        return self.state == "meets" and self.governing is not None and self.governing.tight


@dataclass(frozen=True)
class Overall:
    """How the rules that are asked fare together."""

    asked: int
    fails: int
    meets: int
    too_close: int
    not_judged: int
    tight: int
    close: int

    @property
    def state(self) -> State:
        """Of all rules that are asked: one that fails decides, then one not judged, then one too close to call."""
        if self.fails:
            return "fails"
        if not self.asked or self.not_judged:
            return "not judged"
        return "too close" if self.too_close else "meets"

    @property
    def said(self) -> str:
        """In a sentence: '1 of 6 rules fails, 2 are not judged'."""
        if not self.asked:
            return "no rule is asked"
        doubt = f"; {self.close} close: within what the grid is worth" if self.close else ""
        if self.meets == self.asked:
            return ("every rule is met" if self.asked > 1 else "the rule is met") + doubt
        parts = [
            (self.fails, "fails", "fail"), (self.not_judged, "is not judged", "are not judged"),
            (self.too_close, "is too close to call", "are too close to call"),
        ]  # fmt: skip
        told = [f"{n} {one if n == 1 else more}" for n, one, more in parts if n]
        first, *rest = (text.split(" ", 1) for text in told)
        whole = f"{first[0]} of {self.asked} rule{'s' if self.asked > 1 else ''} {first[1]}"
        return ", ".join([whole, *(" ".join(other) for other in rest)]) + doubt


def overall(verdicts: Iterable[Verdict]) -> Overall:
    """Count the verdicts of the rules that are asked."""
    asked = [v for v in verdicts if v.criterion.asked]
    counts = {state: sum(v.state == state for v in asked) for state in ("fails", "meets", "too close", "not judged")}
    return Overall(
        len(asked), counts["fails"], counts["meets"], counts["too close"], counts["not judged"],
        sum(v.tight for v in asked), sum(v.close for v in asked),
    )  # fmt: skip
