"""What controls share: links whose flow follows from the levels at both ends. Every law has the same contract.

A law is a kernel `flow(level_up, level_down, parameters, curve, start, which)` that gives the discharge in m3/s and its
derivatives by both levels in m2/s. `parameters` is the control's row of `PARAMETERS` numbers; `curve`, `start` and
`which` are the curves of all controls, where each begins, and which is the control's own.
"""

from collections.abc import Callable, Iterator
from typing import Any, ClassVar, NamedTuple, Protocol

import numpy as np

from .link import Ended
from .node import Flooding

__all__ = ["LAWS", "PARAMETERS", "ControlBase", "Rows", "ScheduleEntry", "Unusual", "law"]

PARAMETERS = 4  # columns of the parameter row
LAWS: list[Callable[..., Any]] = []
"""Every law, by its code."""


def law(flow: Callable[..., Any]) -> int:
    """Give a law its code. flow : kernel of the contract above."""
    LAWS.append(flow)
    return len(LAWS) - 1


class Rows(Protocol):
    """Where a control writes its rows for the solver."""

    def row(self, law: int, flap: bool, *parameters: float, curve: int = 0) -> None:
        """Append a control by its law."""

    def curve(self, points: np.ndarray) -> int:
        """Append a curve, float64[2, point]; its number."""

    def power(self, curve: int) -> None:
        """Have the control that was appended last count its energy. curve : of its power with nothing running; those
        of what runs follow, as its flow's do."""

    def switch(self, on: float, off: float, bit: int) -> None:
        """Have the control that was appended last start and stop something by the level upstream, m."""


class Unusual(NamedTuple):
    """Something of a control that asks for a look. check : key of its explanation."""

    check: str
    field: str
    why: str
    remedy: str


class ScheduleEntry(NamedTuple):
    """What a schedule tells of a control. level : m, at which it begins to act."""

    level: float
    size: str
    coefficient: float | str


class ControlBase(Ended):
    """A control. WORD : the trade's name of its kind. LEVEL : the field that says from which level it acts, if any.
    OUTLET : a second one above it may mend what a store breaks.
    """

    WORD: ClassVar[str]
    LEVEL: ClassVar[str | None]
    OUTLET: ClassVar[bool] = False

    @property
    def word(self) -> str:
        return self.WORD

    @property
    def acts_from(self) -> float:
        """Level at which it begins to act, m."""
        assert self.LEVEL is not None
        return float(getattr(self, self.LEVEL))

    @property
    def draws_from(self) -> float:
        """Level down to which it may draw the water of its node, m."""
        return self.acts_from

    def write(self, rows: Rows, flap: bool) -> None:
        """Append its rows for the solver. flap : nothing flows back, by a flap of its own or of its outfall."""
        raise NotImplementedError

    def schedule_entry(self) -> ScheduleEntry:
        """What the schedule of controls tells of it."""
        raise NotImplementedError

    def unusual(self, node: Flooding) -> Iterator[Unusual]:
        """What asks for a look. node : that it leaves."""
        if self.LEVEL is not None and self.acts_from >= node.spill_level:
            yield Unusual(
                "control-above-cover", self.LEVEL,
                "lies above the cover of the node that it leaves: it acts in floods at most", "lower it",
            )  # fmt: skip
