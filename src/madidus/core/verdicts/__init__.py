"""What is said of the rules: each criterion judged over its storms, element by element, and of all together."""

from .criteria import Criterion, criteria, demand, plain
from .judge import ElementMargin, by_element, judge
from .measure import NotMeasured, measured
from .scope import left_out
from .verdict import Cell, Margin, Overall, State, Verdict, overall

__all__ = [
    "Cell", "Criterion", "ElementMargin", "Margin", "NotMeasured", "Overall", "State", "Verdict", "by_element",
    "criteria", "demand", "judge", "left_out", "measured", "overall", "plain",
]  # fmt: skip
