"""Designs tried over the ensemble: the storms that chosen rules judge, run through a changed network, and margins."""

import copy
from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..elements.figures import Figures
from ..ensemble import Failure, Plan, Submit, run_plan
from ..errors import ModelError
from ..model.network import Network
from ..results.patterns import parted
from ..verdicts import Criterion, Margin, NotMeasured, Verdict, measured

__all__ = ["Row", "Stopped", "Trials", "Tried", "chosen_of"]

Row = tuple[int, str]
"""Place of a criterion among the chosen ones, and key of a storm, or of the first of patterns that are read together;
no key for a rule about the drawing."""

_LEAST_SCALE = 1e-3  # in the rule's unit, where a limit of nothing is its own scale
_UNKNOWN = -0.1  # of the scale: what is not known does not hold


class Stopped(Exception):
    """The search was stopped by whoever asked for it."""


@dataclass(frozen=True)
class Tried:
    """A design, and how the chosen rules fare in the storms that were run. keys : of those storms.

    margins : by row. whole : every storm that the rules judge was run. problem : why a storm was not computed.
    """

    network: Network
    margins: Mapping[Row, Margin]
    keys: frozenset[str]
    whole: bool
    problem: str = ""

    @property
    def worst(self) -> tuple[Row, Margin] | None:
        """The row with the least share of its scale."""
        return min(self.margins.items(), key=lambda item: share(item[1]), default=None)

    @property
    def least(self) -> float:
        """The least margin as a share of its scale; what was not computed does not hold."""
        worst = self.worst
        if worst is None or self.problem:
            return _UNKNOWN if worst is None else min(share(worst[1]), _UNKNOWN)
        return share(worst[1])

    @property
    def holds(self) -> bool:
        """Whether no chosen rule is broken in the storms that were run."""
        return (
            not self.problem and bool(self.margins) and all(known(m) and not m.exceeded for m in self.margins.values())
        )


def known(margin: Margin) -> bool:
    """Whether a margin is a number."""
    return bool(np.isfinite(margin.value))


def share(margin: Margin) -> float:
    """A margin as a part of its scale."""
    return margin.value / max(abs(margin.scale), _LEAST_SCALE) if known(margin) else _UNKNOWN


def chosen_of(plan: Plan, rules: Collection[tuple[int, int]]) -> list[Criterion]:
    """The criteria by places of rule and limit, in the brief's order.

    Raises
    ------
    ModelError
        When none is chosen, one is gone, cannot be measured here, or no storm is run for it.
    """
    found = [one for one in plan.criteria if (one.place, one.row) in set(rules)]
    if not found:
        raise ModelError("search", "must hold", "no rule is chosen", "choose the rules that a design must hold")
    for one in found:
        if one.problem:
            raise ModelError(f"rule {one.name}", "limit", one.problem, "mend the rule, or leave it out")
        try:
            look = measured(one, plan.network)
        except NotMeasured as why:
            raise ModelError(f"rule {one.name}", "scope", str(why), "mend the rule, or leave it out") from why
        if look.drawn is None and not any(one.judges(storm) for storm in plan.storms):
            raise ModelError(
                f"rule {one.name}", "limits", f"no storm of {one.storms_label()} is run",
                "add it to the ensemble, or leave the rule out",
            )  # fmt: skip
    return found


class Trials:
    """Tries networks that differ from a plan's in stores, controls and conduits alone.

    What was computed is remembered by what the solver saw. due : keys of the storms that the rules judge.
    """

    def __init__(
        self, plan: Plan, rules: Collection[tuple[int, int]], submit: Submit, stop: Callable[[], bool]
    ):  # fmt: skip
        self.criteria = chosen_of(plan, rules)
        self._plan = self._last = replace(plan, criteria=self.criteria)
        self._submit, self._stop = submit, stop
        self._known: dict[str, Figures | Failure] = {}
        self._given = 0
        self.due = [s.key for s in plan.storms if any(one.judges(s) for one in self.criteria)]

    @property
    def drawn(self) -> Network:
        """The plan's own network."""
        return self._plan.network

    @property
    def nodes(self) -> list[str]:
        """Node ids in the order of the figures."""
        return self._plan.nodes

    @property
    def links(self) -> list[str]:
        """Link ids in the order of the figures."""
        return self._plan.links

    def figures(self, network: Network, storm: str) -> Figures:
        """Of a storm that was run through a design."""
        found = self._known[self._plan_of(network).digests[storm]]
        assert isinstance(found, Figures)
        return found

    @property
    def count(self) -> int:
        """Storms run so far."""
        return len(self._known) - self._given

    def with_limits(self, limits: Mapping[int, float]) -> "Trials":
        """The same, and all that is known, with other limits of some criteria, by their place among the chosen ones."""
        other = copy.copy(self)
        other.criteria = [replace(one, value=limits.get(k, one.value)) for k, one in enumerate(self.criteria)]
        other._plan = other._last = replace(self._plan, criteria=other.criteria)
        return other

    def seed(self, figures: Mapping[str, Figures]) -> None:
        """Take what is known of the plan's own network, by storm."""
        self._known.update({self._plan.digests[key]: one for key, one in figures.items()})
        self._given = len(self._known)

    def _plan_of(self, network: Network) -> Plan:
        if self._last.network is not network:
            self._last = self._plan if network is self._plan.network else self._plan.tried(network)
        return self._last

    def run(self, network: Network, keys: Iterable[str] | None = None) -> Tried:
        """A design over storms that the rules judge, all of them where none is named.

        Raises
        ------
        Stopped
            When it was stopped meanwhile.
        """
        plan = self._plan_of(network)
        wanted = self.due if keys is None else [key for key in self.due if key in set(keys)]
        missing = [key for key in wanted if plan.digests[key] not in self._known]
        for result in run_plan(plan, missing, self._submit, self._stop):
            self._known[plan.digests[result.key]] = result
        if self._stop():
            raise Stopped
        found = {key: self._known[plan.digests[key]] for key in wanted}
        figures = {key: one for key, one in found.items() if isinstance(one, Figures)}
        failed = [one for one in found.values() if isinstance(one, Failure)]
        verdicts = plan.verdicts(figures, [one.key for one in failed])
        return Tried(
            network, dict(_rows(verdicts)), frozenset(wanted), set(wanted) == set(self.due),
            f"storm {failed[0].key}: {failed[0].problem}" if failed else "",
        )  # fmt: skip

    def verdicts(self, network: Network) -> list[Verdict]:
        """Of the chosen rules, by what is known of a design."""
        plan = self._plan_of(network)
        found = {key: self._known.get(plan.digests[key]) for key in self.due}
        return plan.verdicts({key: one for key, one in found.items() if isinstance(one, Figures)})

    def keys_of(self, rows: Iterable[Row]) -> set[str]:
        """The storms that make rows: of patterns that are read together all of them."""
        found: set[str] = set()
        for place, key in rows:
            groups = parted(self._plan.storms, self.criteria[place].patterns != "every")[1]
            found |= next((own for own in ({s.key for s in group} for group in groups) if key in own), {key} - {""})
        return found


def _rows(verdicts: Sequence[Verdict]) -> Iterable[tuple[Row, Margin]]:
    for k, v in enumerate(verdicts):
        if not v.due and v.governing is not None:
            yield (k, ""), v.governing
        together = {key for cell in v.cells for key in cell.storms}
        for key in sorted(v.judged & v.margins.keys() - together):
            yield (k, key), v.margins[key]
        for cell in v.cells:
            if cell.storms[0] in v.judged and cell.whole and cell.margin is not None:
                yield (k, cell.storms[0]), cell.margin
