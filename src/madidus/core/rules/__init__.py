"""Rules: what may be asked of a network, and what each kind measures. What is said of them follows in `verdicts`."""

from .brief import Brief
from .kinds import KINDS, Rule
from .rule import Demand, Limit, OfDrawing, OfStorms, OverPatterns, Scope
from .starting import RuleSet, starting_sets

__all__ = [
    "KINDS", "Brief", "Demand", "Limit", "OfDrawing", "OfStorms", "OverPatterns", "Rule", "RuleSet", "Scope",
    "starting_sets",
]  # fmt: skip
