"""Rules to begin with: what is often asked. Each is to be typed over by what is asked of the project."""

import math
from typing import Any, Literal

from pydantic import Field

from ..elements.document import DocumentModel, Name
from ..quantities import FOOT, INCH
from .kinds import KINDS, Rule
from .rule import Limit, OfStorms

__all__ = ["RuleSet", "starting_sets"]


class RuleSet(DocumentModel):
    """Rules that are kept as a file, to begin other projects with. An outflow's place is chosen where it is taken."""

    format: Literal["madidus-rules"] = "madidus-rules"
    version: Literal[1] = 1
    name: Name
    units: Literal["metric", "us"] = "metric"
    rules: list[Rule] = Field(default_factory=list, max_length=100)


def starting_sets(element: str, stores: bool, periods: list[tuple[float, float]]) -> list[RuleSet]:
    """The sets that come with the program, without rules that would have nothing to look at.

    element : id of the outfall for rules that need one, empty where there is none. stores : whether there are any.
    periods : return periods (years) and allowances that are run: a rule takes the nearest of them, with its largest
    allowance, since no storm of another would judge it.
    """
    sets = [
        RuleSet(name="Pipes, ponds and outflow", units="metric", rules=_built(_METRIC, element, stores)),
        RuleSet(name="Pipes, ponds and outflow, US customary", units="us", rules=_built(_US, element, stores)),
    ]
    return [one.model_copy(update={"rules": [_as_run(rule, periods) for rule in one.rules]}) for one in sets]


def _at(period: float, value: float = 0.0) -> list[dict[str, Any]]:
    return [{"return_period": period, "value": value}]


def _built(rules: list[dict[str, Any]], element: str, stores: bool) -> list[Rule]:
    looks_at = [(rule, KINDS[rule["kind"]].LOOKS_AT) for rule in rules]
    own = [
        {**rule, "element": element} if at == "place" else rule for rule, at in looks_at
        if (element or at != "place") and (stores or at != "stores")
    ]  # fmt: skip
    return RuleSet.model_validate({"name": "set", "rules": own}).rules


_METRIC: list[dict[str, Any]] = [
    {"kind": "surcharge", "name": "No surcharge", "limits": _at(2)},
    {"kind": "cover", "name": "No flooding", "limits": _at(30)},
    {"kind": "flood_volume", "name": "Contained", "limits": _at(100)},
    {"kind": "outflow", "name": "Outflow", "limits": [*_at(2, 0.005), *_at(30, 0.005), *_at(100, 0.005)]},
    {"kind": "freeboard", "name": "Freeboard", "limits": _at(100, 0.3)},
    {"kind": "half_drain", "name": "Half empty in a day", "limits": _at(30, 86_400.0)},
    {"kind": "pipe_size", "name": "Least diameter", "limit": 0.15},
    {"kind": "none_smaller", "name": "No pipe smaller than above"},
]
_US: list[dict[str, Any]] = [
    {"kind": "surcharge", "name": "No surcharge", "limits": _at(10)},
    {"kind": "flood_volume", "name": "Nothing floods", "limits": _at(100)},
    {"kind": "outflow", "name": "Outflow", "limits": [*_at(2, FOOT**3), *_at(10, FOOT**3), *_at(100, FOOT**3)]},
    {"kind": "freeboard", "name": "1 ft of freeboard", "limits": _at(100, FOOT)},
    {"kind": "velocity_least", "name": "Cleans itself", "limits": _at(2, 2 * FOOT)},
    {"kind": "pipe_size", "name": "Least diameter", "limit": 12 * INCH},
    {"kind": "none_smaller", "name": "No pipe smaller than above"},
]


def _as_run(rule: Rule, periods: list[tuple[float, float]]) -> Rule:
    if not isinstance(rule, OfStorms):
        return rule
    if not periods:
        return rule
    most = {period: max(a for p, a in periods if p == period) for period, _ in periods}
    limits: dict[float, Limit] = {}
    for at in rule.limits:
        period = min(most, key=lambda p: abs(math.log(p / at.return_period)))
        limits.setdefault(period, at.model_copy(update={"return_period": period, "allowance": most[period]}))
    return rule.model_copy(update={"limits": list(limits.values())})
