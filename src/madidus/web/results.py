"""What every element does: by return period side by side, or over some storms."""

from collections.abc import Sequence
from typing import Annotated, Literal

from fastapi import Query
from pydantic import BaseModel

from ..core.ensemble import Plan
from ..core.errors import ModelError
from ..core.rainfall.storms import Storm
from ..core.results.elements import ElementResults
from ..core.results.patterns import Statistic
from .context import Seen, option_router

__all__ = ["router"]

router = option_router()


class RowResults(BaseModel):
    """Of some storms. name : of the return period, or what they are; rules : that are judged in them, by name."""

    name: str
    rules: list[str]
    elements: ElementResults


@router.get("/results")
def results(
    seen: Seen,
    over: Literal["periods", "all", "row", "duration", "storm"] = "periods",
    of: Annotated[str, Query(max_length=200)] = "",
    by: Statistic = "highest",
) -> list[RowResults]:
    """What every element does. over : every return period for itself; all storms; those of the return period, the
    duration (min) or the storm (key) that `of` names. by : how patterns of a duration are read.
    """
    plan, figures = seen.plan, dict(seen.answer.figures)
    return [
        RowResults(name=name, rules=_rules(plan, storms), elements=plan.element_results(figures, storms, by))
        for name, storms in _asked(plan, over, of)
    ]


def _asked(plan: Plan, over: str, of: str) -> list[tuple[str, list[Storm]]]:
    if over == "periods":
        rows = dict.fromkeys(storm.row for storm in plan.storms)
        return [(row, [storm for storm in plan.storms if storm.row == row]) for row in rows]
    if over == "all":
        return [("all storms", plan.storms)]
    own = {
        "row": lambda storm: storm.row == of, "duration": lambda storm: f"{storm.duration:g}" == of,
        "storm": lambda storm: storm.key == of,
    }[over]  # fmt: skip
    storms = [storm for storm in plan.storms if own(storm)]
    if not storms:
        raise ModelError("results", over, f"“{of}” is not run", "choose one that is run")
    name = {"row": of, "duration": f"{of} min", "storm": storms[0].label}[over]
    return [(name, storms)]


def _rules(plan: Plan, storms: Sequence[Storm]) -> list[str]:
    return list(dict.fromkeys(
        c.rule.name for c in plan.criteria if c.asked and any(c.judges(storm) for storm in storms)
    ))  # fmt: skip
