"""Options of a project side by side: margins with what governs them, quantities, and where they differ."""

from pydantic import BaseModel

from ..core.design.options import Bill, Difference, bill, differences
from ..core.verdicts import State
from .answers import OverallOut, VerdictOut, overall_out, verdict_out
from .context import Current, Running, project_router

__all__ = ["router"]


class OptionOut(BaseModel):
    """An option. overall, verdicts : by the storms that are in; missing : which are not, in words. problem : why it
    cannot be computed. storms : labels of the storms that govern, by key; names : of the elements that verdicts name.
    bill : what it is made of; differences : from the option in view.
    """

    option: str
    name: str
    note: str
    retired: bool
    in_view: bool
    state: State
    missing: str
    problem: str
    running: bool
    overall: OverallOut
    verdicts: list[VerdictOut]
    storms: dict[str, str]
    names: dict[str, str]
    bill: Bill
    differences: list[Difference]


router = project_router()


@router.get("/compare")
def compare(revision: Current, runs: Running) -> list[OptionOut]:
    """Every option in its order. Nothing is computed for it: what is not in is said to be missing."""
    found = []
    in_view: str = revision.document["in_view"]
    base = runs.answer(revision, in_view).project.option.network
    for id_ in revision.document["order"]:
        answer = runs.answer(revision, id_)
        project, plan, figures = answer.project, answer.plan, dict(answer.figures)
        network = project.option.network
        verdicts = answer.verdicts(figures) if plan else []
        missing = plan.missing(figures, answer.failures) if plan else "cannot be computed"
        governing = {v.storm for v in verdicts}
        elements = {v.governing.element for v in verdicts if v.governing}
        summary = overall_out(verdicts, missing)
        found.append(
            OptionOut(
                option=id_, name=project.option.name, note=project.option.note, retired=project.option.retired,
                in_view=id_ == in_view, state=summary.state, missing=missing,
                problem=str(answer.problem or ""), running=answer.running, overall=summary,
                verdicts=[verdict_out(v) for v in verdicts],
                storms={s.key: s.label for s in plan.storms if s.key in governing} if plan else {},
                names={e: network.label(e) for e in elements if e in network.nodes or e in network.links},
                bill=bill(network, project.sizing), differences=differences(base, network),
            )
        )  # fmt: skip
    return found
