"""Trials by hand: margins while something is dragged. Nothing is kept."""

from typing import Annotated

from fastapi import Body
from pydantic import BaseModel

from ..core.edit import Edit, apply
from ..core.errors import ModelError
from ..core.search.drag import deciding, follow_drag
from ..runs.ranks import Rank
from .answers import VerdictOut, verdict_out
from .context import Seen, option_router

__all__ = ["router"]

_MOST = 12  # storms that a hand waits for

router = option_router()


class TrialOut(BaseModel):
    """Every rule by the storms that governed it before the edit. storms : keys of them."""

    verdicts: list[VerdictOut]
    storms: list[str]


@router.post("/trial")
def trial(seen: Seen, edits: Annotated[list[Edit], Body(min_length=1, max_length=100)]) -> TrialOut:
    """What edits would do to the rules, by the storms that govern now."""
    answer, plan = seen.answer, seen.plan
    storms = sorted(deciding(answer.verdicts(dict(answer.figures))))[:_MOST]
    if not storms:
        raise ModelError("trial", "storms", "no storm is in that decides a rule", "run the storms first")
    after, _ = apply(seen.project, seen.option, edits)
    verdicts = follow_drag(plan, after.options[seen.option].network, storms, seen.runs.at(Rank.EDIT))
    return TrialOut(verdicts=[verdict_out(v) for v in verdicts], storms=storms)
