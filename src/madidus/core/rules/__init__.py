"""The rules of the brief: what each measures, of which elements, and what is said of it."""

from .criteria import Criterion, Demand, criteria, demand, plain
from .judge import ElementMargin, by_element, judge
from .measure import SENSE, UNITS, NotMeasured, measured
from .scope import left_out
from .starting import RuleSet, starting_sets
from .verdict import Cell, Margin, Overall, State, Verdict, overall

__all__ = [
    "SENSE", "UNITS", "Cell", "Criterion", "Demand", "ElementMargin", "Margin", "NotMeasured", "Overall", "RuleSet",
    "State", "Verdict", "by_element", "criteria", "demand", "judge", "left_out", "measured", "overall", "plain",
    "starting_sets",
]  # fmt: skip
