"""What a project assumes, in the sentences of a report."""

import math
from collections.abc import Mapping

from ..core.elements import Conduit, Outfall
from ..core.ensemble import Plan
from ..core.model.network import Network
from ..core.model.project import Project
from ..core.quantities import Units
from ..core.rules.kinds import Outflow
from ..core.verdicts import Criterion, Verdict, left_out

__all__ = [
    "OVER_WORDS", "TAIL_WORDS", "cells_in_words", "endings_in_words", "governing_in_words", "limit_in_words",
    "limits_in_words", "losses_in_words", "margin_in_words", "rain_in_words", "runoff_in_words", "scope_in_words",
    "state_in_words",
]  # fmt: skip

OVER_WORDS = {
    "mean": "highest mean of patterns", "median": "highest median of patterns", "every": "every pattern for itself",
}  # fmt: skip

TAIL_WORDS = {
    "free": "free outfall", "normal": "normal depth", "fixed": "a fixed level",
    "series": "levels over time",
}  # fmt: skip

_NAMED = 6  # elements that a scope tells by name
_WAYS = {
    "hectare": "a rate by area", "formula": "the pre-development mean annual flood with its growth (IH Report 124)",
    "model": "a pre-development model of the site under the same storms",
}  # fmt: skip


def runoff_in_words(project: Project) -> str:
    """The project's way from rain to runoff, in words; and which catchments have their own."""
    values = project.rain.runoff
    said = values.method.in_words(values)
    own = sum(catchment.method is not None for catchment in project.option.network.catchments.values())
    return said + (f"; {own} catchments by a method of their own" if own else "")


def rain_in_words(project: Project) -> list[str]:
    """Where the rain comes from, what is done to its depths and in which order, and what is run besides or left out."""
    rain = project.rain
    of = f" ({_told(rain.rainfall.source)})" if rain.rainfall else ""
    said = [f"Rainfall of {rain.place or 'the project'}{of}."]
    if rain.ensemble.patterns:
        said.append(f"Temporal patterns: {_told(rain.ensemble.pattern_source)}.")
    if rain.areal is not None:
        how = rain.areal.in_words()
        said.append(f"Point depths are first reduced over the area ({how}), then raised by the climate allowance.")
    for block in rain.further:
        own = f"its own rainfall ({_told(block.rainfall.source)})" if block.rainfall else "the same rainfall"
        patterns = f", patterns: {_told(block.pattern_source)}" if block.patterns else ""
        said.append(f"Further storms “{block.name}” of {own}{patterns}.")
    if rain.given:
        told = ", ".join(f"{one.name} ({_told(one.source)})" for one in rain.given)
        said.append(f"Given storms, run as they fell: {told}.")
    if rain.excluded:
        said.append(f"Storms left out: {', '.join(rain.excluded)}.")
    return said


def _told(source: str) -> str:
    return source or "source not stated"


def limit_in_words(criterion: Criterion, units: Units) -> str:
    """What a rule allows: 'at most 14.0 L/s', 'at least 0.300 m below cover'."""
    return criterion.rule.allowed(*units.margin(criterion.value, criterion.rule.UNIT))


def scope_in_words(criterion: Criterion, network: Network) -> str:
    """Of what a rule is asked, and why not of all; empty where it is asked of all."""
    scope = criterion.rule.scope
    if scope.of == "all":
        return ""
    if scope.of == "all but":
        said = f"all but {', '.join(left_out(scope, network)) or 'what is not in this option'}"
    elif scope.of == "selection":
        said = f"selection “{scope.selection}” alone"
    elif scope.of == "network":
        said = f"the network of {network.label(scope.elements[0])} alone"
    else:
        names = [network.label(id_) for id_ in scope.elements]
        said = (
            ", ".join(names[:_NAMED]) + (f" and {len(names) - _NAMED} more" if len(names) > _NAMED else "") + " alone"
        )
    return f"{said}: {scope.reason}" if scope.reason else said


def margin_in_words(verdict: Verdict, units: Units) -> str:
    """The margin of a verdict, or how far the water stays below the cover where nothing floods."""
    if verdict.governing is None or not math.isfinite(verdict.governing.value):
        return "–"
    if verdict.dry is not None:
        return "nothing floods; highest water {:.3f} {} below cover".format(*units.margin(verdict.dry, "m"))
    return "{:+.3f} {}".format(*units.margin(verdict.governing.value, verdict.unit))


def state_in_words(verdict: Verdict, units: Units) -> str:
    """The state of a verdict: 'fails', 'meets, tight', 'too close to call: …' and what decides it, or why not."""
    if verdict.state == "too close":
        value, unit = units.margin(verdict.band or 0.0, verdict.unit)
        return (
            f"too close to call: the margin is less than the {value:.2g} {unit} that its figures may be wrong by on "
            "the finest cells; a design or a limit that leaves more decides it"
        )
    said = verdict.state + (", tight" if verdict.tight else "") + (", close" if verdict.close else "")
    return f"{said}: {verdict.reason}" if verdict.reason else said


def governing_in_words(verdict: Verdict, labels: Mapping[str, str]) -> str:
    """The storm that governs, how many are equal, and that it lies at an end of what was run."""
    told = labels.get(verdict.storm or "", "") + (f", and {verdict.tied - 1} equal" if verdict.tied > 1 else "")
    worse = {"shortest": "a shorter", "longest": "a longer"}
    return told + (f" ({verdict.edge} run: {worse[verdict.edge]} one may be worse)" if verdict.edge else "")


def band_in_words(verdict: Verdict, units: Units) -> str:
    """By how much the grid may have a margin wrong: '± 0.024 m by the grid'; empty where that was not computed."""
    if verdict.band is None:
        return ""
    value, unit = units.margin(verdict.band, verdict.unit)
    told = f"± {value:.3f} {unit}" if value >= 0.0005 else f"± less than 0.001 {unit}"
    return f"{told} by the grid" + (", on cells a quarter as long" if verdict.refined else "")


def endings_in_words(project: Project) -> str:
    """When a storm ends, by the rules that this project has."""
    control = project.run
    said = (
        "A storm ends when rain and runoff have ceased and every outfall has stayed below "
        f"{control.receded * 100:g} % of the rise of its outflow for {control.lag / 60:g} min"
    )
    return said + (", and every store has given back half of what it took." if control.half_drain else ".")


def cells_in_words(plan: Plan, units: Units) -> str:
    """On which grid the storms were computed."""
    longest, unit = units.margin(plan.cells.longest, "m")
    return f"Computed on {plan.cells.count} cells, {longest:.3g} {unit} long at most, two at least in every conduit."


def limits_in_words(plan: Plan, units: Units) -> list[str]:
    """Where permitted rates come from that were not typed."""
    said = []
    for criterion in plan.criteria:
        rule = criterion.rule
        if isinstance(rule, Outflow) and rule.by != "typed":
            rate = "{:.1f} {}".format(*units.margin(criterion.value, "m3/s"))
            said.append(f"{criterion.name}: {rate} permitted by {_WAYS[rule.by]}.")
    return said


def losses_in_words(project: Project) -> str:
    """Which friction and local losses, flaps and tail waters this project's conduits have."""
    network = project.option.network
    conduits = [link for link in network.links.values() if isinstance(link, Conduit)]
    if not conduits:
        return "No conduits."
    rough = sorted({conduit.roughness for conduit in conduits})
    told = f"n = {rough[0]:g}" if len(rough) == 1 else f"n from {rough[0]:g} to {rough[-1]:g}"
    said = [f"Friction by Manning's formula, {told}."]
    local = sum(c.entry_loss > 0 or bool(c.exit_loss) or c.bend_loss > 0 for c in conduits)
    said.append(
        f"Local losses in velocity heads at {local} of {len(conduits)} conduits." if local else "No local losses."
    )
    flaps = sum(link.flap for link in network.links.values())
    if flaps:
        said.append(f"{flaps} links with flaps.")
    tails = sorted({node.tail_water.kind for node in network.nodes.values() if isinstance(node, Outfall)})
    if tails:
        said.append(f"Tail water at outfalls: {', '.join(TAIL_WORDS[kind] for kind in tails)}.")
    return " ".join(said)
