"""The ensemble: what would go wrong with its storms, and whether there are storms for the rules."""

from collections.abc import Iterator

from ..errors import ModelError
from ..model.project import Project
from ..rainfall.ensemble import StormBlock
from ..rainfall.methods import Rainfall
from ..rainfall.storms import Storm, ensemble, missing_of
from ..runoff.catchments import surface_of
from ..runoff.interval import answer_time, rain_interval
from ..verdicts import plain
from .finding import Finding

__all__ = ["rain"]

_EVEN = 60.0  # min, up to which a storm may fall evenly unsaid
_CALLED = {"durations": "duration", "probabilities": "return period", "seasons": "season and no pattern"}


def rain(project: Project) -> Iterator[Finding]:
    """Findings of every block of storms, then of the rules."""
    rain, longest = project.rain, rain_interval(project.option.network, project.rain).minutes
    stopped = False
    blocks: list[tuple[StormBlock, Rainfall | None, str]] = [(rain.ensemble, rain.rainfall, "the ensemble")]
    blocks += [(block, block.rainfall or rain.rainfall, f"“{block.name}”") for block in rain.further]
    for block, rainfall, whose in blocks:
        if block is rain.ensemble and not block.durations and not block.probabilities and (rain.further or rain.given):
            continue
        for found in _block(block, rainfall, whose, longest):
            stopped = stopped or found.severity == "stops"
            yield found
    try:
        storms = ensemble(rain, longest)
    except ModelError as error:
        if not stopped:
            yield _found("no-storms", "stops", error.field, f"{error.element} {error.problem}", error.remedy)
        return
    yield from _excluded(project)
    yield from _intervals(project, storms)
    for criterion in (one for place, rule in enumerate(project.brief.rules) for one in plain(rule, place)):
        if criterion.limit is not None and not any(criterion.judges(storm) for storm in storms):
            yield _found(
                "rule-without-storms", "look", "rules", f"no storm is run for “{criterion.name}”",
                f"add {criterion.storms_label()} to the ensemble",
            )  # fmt: skip


def _found(check: str, severity: str, field: str, why: str, remedy: str) -> Finding:
    return Finding(check, "stops" if severity == "stops" else "look", None, field, why, remedy, about="rain")


def _block(block: StormBlock, rainfall: Rainfall | None, whose: str, longest: float) -> Iterator[Finding]:
    if rainfall is None:
        yield _found("no-rainfall", "stops", "rainfall", f"{whose} has no rainfall", "paste a depth table")
        return
    lacking = missing_of(block)
    if lacking is not None:
        yield _found(
            "block-incomplete", "look", lacking, f"{whose} has no {_CALLED[lacking]}, and makes no storm",
            "choose at least one",
        )  # fmt: skip
    yield from _beyond(block, rainfall, whose)
    if block.patterns:
        known = [pattern.duration for pattern in block.patterns]
        bare = [d for d in block.durations if not any(abs(d - k) <= 1e-6 * d for k in known)]
        if bare:
            yield _found(
                "pattern-missing", "look" if block.seasons else "stops", "patterns",
                f"{whose} has no patterns for {_list(bare)} min", "add patterns, or leave these durations out",
            )  # fmt: skip
    shapes = [season.shape for season in block.seasons]
    nested = [shape for shape in shapes if shape.NESTED]
    if nested and block.durations:
        finest, begins = (
            min(d / s.steps(d, longest) for s in nested for d in block.durations),
            rainfall.known_from(),
        )
        if finest < begins * (1 - 1e-9):
            yield _found(
                "curve-extended", "look", "durations",
                f"{whose}: shapes read the depths of {finest:.3g} min, and the rainfall begins at {begins:.3g} min",
                "add shorter durations to the table; until then intensity goes on as its first two durations lead it",
            )  # fmt: skip
    long = [d for d in block.durations if d > _EVEN]
    if long and any(shape.EVEN for shape in shapes):
        yield _found(
            "rain-uniform", "look", "seasons",
            f"{whose}: storms of {_list(long)} min fall evenly, without a peak",
            "choose a shape or patterns: evenly, a day of rain may give a thirtieth of the flow that its peak gives",
        )  # fmt: skip
    for only in dict.fromkeys(shape.DURATION for shape in shapes if shape.DURATION is not None):
        other = [d for d in block.durations if d != only]
        if other:
            yield _found(
                "mass-curve-duration", "look", "seasons",
                f"{whose}: a {only / 60.0:g}-hour mass curve is used for {_list(other)} min",
                f"run it for {only:g} min alone",
            )  # fmt: skip


def _beyond(block: StormBlock, rainfall: Rainfall, whose: str) -> Iterator[Finding]:
    """Durations and return periods that the rainfall data do not hold; each is named once."""
    problems: dict[tuple[str, str], list[str]] = {}
    for probability in block.probabilities:
        for duration in block.durations:
            try:
                rainfall.depth_at(duration, probability.return_period)
            except ModelError as error:
                problems.setdefault((error.element, error.field), []).append(error.problem)
    for (element, field), said in problems.items():
        distinct = list(dict.fromkeys(said))
        more = f" (and {len(distinct) - 3} more)" if len(distinct) > 3 else ""
        yield _found(
            "rain-ends-early", "stops", field, f"{whose}: {element}: {'; '.join(distinct[:3])}{more}",
            "extend the rainfall data, or leave these out of the ensemble",
        )  # fmt: skip


def _excluded(project: Project) -> Iterator[Finding]:
    if not project.rain.excluded:
        return
    whole = {storm.key for storm in ensemble(project.rain.model_copy(update={"excluded": []}))}
    gone = [key for key in project.rain.excluded if key not in whole]
    if gone:
        yield _found(
            "excluded-unknown", "look", "excluded", f"{_list(gone)} is left out, and is no storm of the ensemble",
            "take it off the list of storms left out",
        )  # fmt: skip


def _intervals(project: Project, storms: list[Storm]) -> Iterator[Finding]:
    """Rain whose intervals are longer than the quickest ground takes hides the peak of the shortest storm."""
    entry = list(_answers(project))
    if not entry:
        return
    shortest = min(storms, key=lambda storm: storm.duration)
    for storm in {shortest.key: shortest, **{s.key: s for s in storms if s.given}}.values():
        interval = float((storm.times[1:] - storm.times[:-1]).max())
        if interval > min(entry) * (1 + 1e-9):
            yield _found(
                "interval-coarse", "look", "durations",
                f"{storm.label}: rain in steps of {interval / 60:g} min, and ground that answers in "
                f"{min(entry) / 60:g} min",
                "give it in finer intervals, or judge heads of runs by shorter storms",
            )  # fmt: skip


def _answers(project: Project) -> Iterator[float]:
    """Seconds in which catchments answer to rain."""
    for catchment in project.option.network.catchments.values():
        yield answer_time(surface_of(catchment, project.rain.runoff))


def _list(values: list[float] | list[str]) -> str:
    shown = [value if isinstance(value, str) else f"{value:g}" for value in values[:6]]
    return ", ".join(shown) + (" …" if len(values) > 6 else "")
