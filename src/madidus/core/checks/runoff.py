"""Rain and runoff outside what the trade knows."""

from collections.abc import Iterator

from ..errors import ModelError
from ..model.check_limits import CheckLimits
from ..model.project import Project
from ..quantities import Quantity, said
from ..rainfall.start import START_SOURCE
from ..rainfall.storms import ensemble
from ..surface.runoff import Coefficient, UnitHydrograph
from .finding import Finding

__all__ = ["runoff"]

_RECORD, _POWER = 422.0, 0.475  # mm in an hour and its growth with hours: envelope of the greatest rains (WMO-No. 168)
_RARE = 10.0  # yr, from which even deserts have rain
_COEFFICIENTS = {"summer_paved": "in summer", "winter_paved": "in winter"}


def runoff(project: Project) -> Iterator[Finding]:
    """Findings of depths of rain, coefficients, growth of paved ground and times of entry."""
    limits = project.check_limits
    if getattr(project.rain.rainfall, "source", "") == START_SOURCE:
        yield _found(
            "rain-made-up", "rainfall", "the rainfall is made up, to begin with: it is of no place",
            "paste or type the rainfall of the site, with its source",
        )  # fmt: skip
    yield from _depths(project, limits)
    yield from _values(project, limits)
    for id_, catchment in project.option.network.catchments.items():
        if catchment.creep is not None and catchment.creep > limits.creep:
            yield Finding(
                "creep-large", "look", id_, "creep", f"{catchment.name}: urban creep of {catchment.creep:.0%}",
                "type the growth of its paved area",
            )  # fmt: skip
        method = catchment.method or project.rain.runoff.method
        if catchment.creep is not None and catchment.creep > 0.0 and isinstance(method, UnitHydrograph):
            yield Finding(
                "creep-idle", "look", id_, "creep",
                f"{catchment.name}: its creep changes nothing, for it runs off by a curve number",
                "raise the curve number, or choose a method that knows paved ground",
            )  # fmt: skip
        if catchment.time_of_entry is not None and catchment.time_of_entry > limits.entry:
            yield Finding(
                "entry-long", "look", id_, "time_of_entry",
                f"{catchment.name}: a time of entry of {catchment.time_of_entry / 60:g} min",
                "type it in minutes; so long a one takes the peak away",
            )  # fmt: skip


def _found(check: str, field: str, why: str, remedy: str) -> Finding:
    return Finding(check, "look", None, field, why, remedy, about="rain")


def _depths(project: Project, limits: CheckLimits) -> Iterator[Finding]:
    """The storm that comes nearest to the greatest rain ever measured, where it comes too near."""
    try:
        storms = ensemble(project.rain)
    except ModelError:
        return  # found by the checks of the ensemble
    shares = [(storm.depth / (_RECORD * (storm.duration / 60.0) ** _POWER), storm) for storm in storms]
    if not shares:
        return
    share, storm = max(shares, key=lambda found: found[0])
    if share > limits.rain:
        yield _found(
            "rain-great", "rainfall",
            said(
                f"{storm.label}: ", Quantity(storm.depth, "mm", 0),
                f", {share:.0%} of the greatest rain ever measured in that time",
            ),
            "look at the unit of the depths, and at the allowance",
        )  # fmt: skip
    if share < limits.least_rain and storm.return_period is not None and storm.return_period >= _RARE:
        yield _found(
            "rain-small", "rainfall",
            said(
                f"{storm.label}: ", Quantity(storm.depth, "mm", 1),
                f", {share:.1%} of the greatest rain ever measured in that time: drier than deserts",
            ),
            "look at the unit of the depths",
        )  # fmt: skip


def _values(project: Project, limits: CheckLimits) -> Iterator[Finding]:
    values = project.rain.runoff
    if isinstance(values.method, Coefficient):
        for field, when in _COEFFICIENTS.items():
            own = getattr(values.method, field)
            used = getattr(values, field) if own is None else own
            if used < limits.min_runoff:
                yield _found(
                    "coefficient-small", field, f"of the rain on paved ground {used:.0%} runs off {when}",
                    "type the runoff coefficient of paved ground",
                )  # fmt: skip
    if values.creep > limits.creep:
        yield _found(
            "creep-large", "creep", f"urban creep of {values.creep:.0%} on every catchment",
            "type the growth of the paved area",
        )  # fmt: skip
    if values.time_of_entry > limits.entry:
        yield _found(
            "entry-long", "time_of_entry", f"a time of entry of {values.time_of_entry / 60:g} min",
            "type it in minutes; so long a one takes every peak away",
        )  # fmt: skip
