"""Sense checks of a model: what is missing, and what is there but makes no sense. Each finding says what to do."""

from collections.abc import Callable, Iterator, Sequence

from ..ground.terrain import GroundLevel, between_covers
from ..model.project import Project
from ..results.whole_run import WholeRun
from ..verdicts import Verdict
from .after_run import after_run
from .catchments import catchments
from .conduits import conduits
from .devices import controls, floods, inlets, stores
from .durations import durations
from .edges import edges
from .explained import EXPLAINED, Explanation
from .finding import Finding, Fix
from .neighbours import neighbours
from .outlets import outlets
from .places import places
from .ponds import ponds
from .rain import rain
from .runoff import runoff
from .slips import slips
from .usual import usual

__all__ = ["EXPLAINED", "Explanation", "Finding", "Fix", "check", "judged"]

_CHECKS: tuple[Callable[[Project], Iterator[Finding]], ...] = (
    rain, edges, outlets, conduits, stores, floods, controls, inlets, places, ponds, runoff, slips, usual,
    neighbours,
)  # fmt: skip

_NOTHING = WholeRun()


def check(project: Project, ground: GroundLevel | None = None) -> list[Finding]:
    """Every finding, those that stop a run first. ground : where more is known of it than covers tell."""
    found = [finding for kind in _CHECKS for finding in kind(project)]
    found += catchments(project, ground or between_covers(project.option.network))
    return sorted(found, key=lambda finding: finding.severity != "stops")


def judged(
    project: Project, seen: WholeRun = _NOTHING, ground: GroundLevel | None = None, verdicts: Sequence[Verdict] = ()
) -> list[tuple[Finding, str | None]]:
    """Every finding with the reason for which it has been accepted; what stops a run cannot be.

    seen : what a run says of elements. ground : as for `check`. verdicts : of the rules.
    """
    reasons = {
        (accepted.check, accepted.element): accepted.reason
        for accepted in project.accepted if accepted.option in (None, project.in_view)
    }  # fmt: skip
    return [
        (
            finding,
            reasons.get((finding.check, finding.element))
            if finding.severity == "look" and finding.acceptable
            else None,
        )
        for finding in (
            *check(project, ground),
            *after_run(project.option.network, seen),
            *durations(project, verdicts),
        )
    ]
