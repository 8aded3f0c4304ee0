"""What a project assumes, in the sentences of a report."""

from ..core.ensemble import Plan
from ..core.model.brief import Outflow
from ..core.model.project import Project
from ..core.model.rain import ArealFormula
from ..core.model.runoff import Coefficient, Losses, UnitHydrograph
from .units import Units

__all__ = ["limits_in_words", "rain_in_words", "runoff_in_words"]

_WAYS = {
    "hectare": "a rate by area", "formula": "the mean annual flood before the works with its growth (IH Report 124)",
    "model": "a model of the site before the works under the same storms",
}  # fmt: skip


def runoff_in_words(project: Project) -> str:
    """The project's way from rain to runoff, in words; and which catchments have their own."""
    values = project.rain.runoff
    method = values.method
    if isinstance(method, Coefficient):
        said = (
            f"fixed coefficients (paved {values.summer_paved:g} in summer, {values.winter_paved:g} in winter) with a "
            "linear time of entry"
        )
    elif isinstance(method, Losses):
        said = f"losses ({method.green.kind.replace('_', ' ')} on green ground) with a linear time of entry"
    elif isinstance(method, UnitHydrograph):
        said = f"curve number {method.curve_number:g} and the dimensionless unit hydrograph"
    else:
        said = f"overland flow ({method.form}), {method.green.kind.replace('_', ' ')} losses on green ground"
    own = sum(catchment.method is not None for catchment in project.option.network.catchments.values())
    return said + (f"; {own} catchments by a method of their own" if own else "")


def rain_in_words(project: Project) -> list[str]:
    """Where the rain comes from, what is done to its depths and in which order, and what is run besides or left out."""
    rain = project.rain
    source = getattr(rain.rainfall, "source", "")
    said = [f"Rainfall of {rain.place or 'the project'}" + (f" ({source})" if source else "") + "."]
    if rain.areal is not None:
        how = f"a formula of the area, {rain.areal.form}" if isinstance(rain.areal, ArealFormula) else "typed factors"
        said.append(f"Point depths are first reduced over the area ({how}), then raised by the climate allowance.")
    for block in rain.further:
        of = getattr(block.rainfall, "source", "") or "its own rainfall"
        said.append(f"Further storms “{block.name}”" + (f" of {of}." if block.rainfall else " of the same rainfall."))
    if rain.given:
        said.append(f"Given storms, run as they fell: {', '.join(storm.name for storm in rain.given)}.")
    if rain.excluded:
        said.append(f"Storms left out: {', '.join(rain.excluded)}.")
    return said


def limits_in_words(plan: Plan, units: Units) -> list[str]:
    """Where permitted rates come from that were not typed."""
    said = []
    for criterion in plan.criteria:
        if isinstance(criterion, Outflow) and criterion.by != "typed":
            rate = "{:.1f} {}".format(*units.margin(criterion.limit, "m3/s"))
            said.append(f"{criterion.name}: {rate} permitted by {_WAYS[criterion.by]}.")
    return said
