"""Sense checks of a model: what is missing, and what is there but makes no sense. Each finding says what to do."""

from collections.abc import Callable, Iterator, Mapping

from ..model.project import Project
from .catchments import catchments
from .conduits import conduits
from .devices import controls, deep_floods, floods, inlets, stores
from .explained import EXPLAINED, Explanation
from .finding import Finding, Fix
from .outlets import outlets
from .places import places
from .rain import rain

__all__ = ["EXPLAINED", "Explanation", "Finding", "Fix", "check", "judged"]

_CHECKS: tuple[Callable[[Project], Iterator[Finding]], ...] = (
    rain, outlets, conduits, stores, floods, controls, inlets, catchments, places,
)  # fmt: skip


def check(project: Project) -> list[Finding]:
    """Every finding, those that stop a run first."""
    found = [finding for kind in _CHECKS for finding in kind(project)]
    return sorted(found, key=lambda finding: finding.severity != "stops")


def judged(
    project: Project, deepest: Mapping[str, tuple[float, str]] | None = None
) -> list[tuple[Finding, str | None]]:
    """Every finding with the reason for which it has been accepted; what stops a run cannot be.

    deepest : what results say, by node id: m of water above its cover at the most, and in which storm.
    """
    reasons = {
        (accepted.check, accepted.element): accepted.reason
        for accepted in project.accepted if accepted.option in (None, project.in_view)
    }  # fmt: skip
    return [
        (finding, reasons.get((finding.check, finding.element)) if finding.severity == "look" else None)
        for finding in (*check(project), *deep_floods(project.option.network, deepest or {}))
    ]
