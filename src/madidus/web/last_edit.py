"""What the last edit set: told before it is taken back, and held against what it did to the margins."""

from datetime import datetime

from pydantic import BaseModel

from ..core.checks.last_edit import leap, set_since
from ..core.model.project import Project
from .context import Seen, option_router

__all__ = ["router"]

router = option_router()
_MOST = 8  # changes that are told one by one


class LastEdit(BaseModel):
    """The step that undo takes back. told : what it set, in words; more : how much else. leap : the margin that it
    moved out of proportion, empty where it moved none or one side of it is not computed.
    """

    revision: int
    made: datetime
    told: list[str]
    more: int
    leap: str


@router.get("/last-edit")
def last_edit(seen: Seen) -> LastEdit | None:
    """What the current revision differs in from the one that it was made from; nothing of the first."""
    before = seen.projects.parent(seen.revision)
    if before is None:
        return None
    was = Project.model_validate(before.document)
    changes = set_since(was, Project.model_validate(seen.revision.document), seen.option)
    found = None
    if seen.option in was.options and seen.answer.complete:
        old = seen.runs.answer(before, seen.option)
        if old.complete:
            found = leap(changes, old.verdicts(dict(old.figures)), seen.answer.verdicts(dict(seen.answer.figures)))
    words = seen.units.words
    return LastEdit(
        revision=seen.revision.number, made=seen.revision.made, told=[words(one.told) for one in changes[:_MOST]],
        more=max(len(changes) - _MOST, 0), leap="" if found is None else words(found),
    )  # fmt: skip
