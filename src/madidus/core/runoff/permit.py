"""Permitted discharge: what each way to it allows at a return period."""

from dataclasses import replace

import numpy as np

from ..errors import ModelError
from ..model.flow_order import reaching
from ..model.network import Network
from ..model.project import Project
from ..rainfall.ensemble import Ensemble
from ..rainfall.storms import Storm, ensemble
from ..rules.kinds import Outflow
from ..rules.permit import Greenfield, PerHectare, PreDevelopment
from ..surface.methods import RunoffSurface, unit_runoff_of
from .interval import rain_interval

__all__ = ["WAYS", "counted", "drained", "hydrograph_before", "mean_annual_flood", "permitted"]

WAYS = ("typed", "hectare", "formula", "model")
_HECTARE = 1e4
_FORMULA_LEAST = 0.5  # km2, below which a site takes its share


def drained(network: Network, element: str) -> tuple[float, float]:
    """Area of the catchments that drain to a node or link, and the impervious part of it, m2."""
    link = network.links.get(element)
    reached = reaching(network, element if link is None else link.upstream)
    areas = [(c.area, c.impervious) for c in network.catchments.values() if c.node in reached]
    return sum(a for a, _ in areas), sum(a * share for a, share in areas)


def counted(way: PerHectare, network: Network, element: str) -> float:
    """Area that a rate per hectare is multiplied with, m2."""
    if way.counted == "site":
        return way.site
    area, paved = drained(network, element)
    return paved if way.counted == "paved" else area


def mean_annual_flood(way: Greenfield, drains: float) -> float:
    """Mean annual flood of the undeveloped site, m3/s. drains : m2, its area where none is given."""
    km2 = (way.area or drains) / 1e6
    taken = max(km2, _FORMULA_LEAST)
    whole = 0.00108 * taken**0.89 * way.mean_annual_rainfall**1.17 * way.soil**2.17
    return float(whole * km2 / taken)


def _growth(way: Greenfield, return_period: float) -> float:
    """Growth factor, linear in the logarithm of the return period between rows."""
    periods = [row.return_period for row in way.growth]
    if not periods[0] * (1 - 1e-9) <= return_period <= periods[-1] * (1 + 1e-9):
        raise ModelError(
            "growth factors", "return_period",
            f"{return_period:g} years lies outside their {periods[0]:g} to {periods[-1]:g} years",
            "add a row, or take another way to the permitted rate",
        )  # fmt: skip
    return float(np.interp(np.log(return_period), np.log(periods), [row.factor for row in way.growth]))


def _before(way: PreDevelopment, project: Project, return_period: float, drains: float) -> float:
    """Greatest flow of the site before the works in the main block's storms of a return period, m3/s."""
    main = project.rain.ensemble
    asked = Ensemble(
        durations=main.durations, seasons=main.seasons, patterns=main.patterns,
        probabilities=[{"return_period": return_period}],
    )  # fmt: skip
    rain = project.rain.model_copy(update={"ensemble": asked, "further": [], "given": [], "excluded": []})
    storms = ensemble(rain, rain_interval(Network(), rain, [RunoffSurface(way.method, way.paved, way.entry)]).minutes)
    return max((float(_runs_off(way, project, storm, drains)[1].max()) for storm in storms), default=0.0)


def _runs_off(
    way: PreDevelopment, project: Project, storm: Storm, drains: float
) -> tuple[np.ndarray, np.ndarray]:  # fmt: skip
    """Times (s) and flow (m3/s) of the site before the works in a storm."""
    kinds = [(kind, share) for kind, share in RunoffSurface(way.method, way.paved, way.entry).parts() if share > 0.0]
    found = [(unit_runoff_of(kind, project.rain.runoff, storm), share) for kind, share in kinds]
    times = np.unique(np.concatenate([one.times for one, _ in found]))
    flow = sum(share * np.interp(times, one.times, one.flow, right=0.0) for one, share in found)
    return times, np.asarray(flow) * (way.area or drains)


def hydrograph_before(rule: Outflow, project: Project, storm: Storm) -> tuple[np.ndarray, np.ndarray]:
    """What ran off the site before the works in a storm as it is without its allowance: times (s) and flow (m3/s).

    Its greatest flow over all durations and shapes of the return period is what the model permits.
    """
    plain = replace(
        storm, allowance=0.0, depth=storm.depth / (1.0 + storm.allowance),
        intensity=storm.intensity / (1.0 + storm.allowance),
    )  # fmt: skip
    return _runs_off(rule.model, project, plain, drained(project.option.network, rule.element)[0])


def _typed(rule: Outflow, return_period: float) -> float:
    limits = sorted(rule.limits, key=lambda limit: limit.return_period)
    return [limits[0], *(at for at in limits if at.return_period <= return_period * (1 + 1e-9))][-1].value


def permitted(rule: Outflow, project: Project, way: str, return_period: float) -> float:
    """Rate in m3/s that a way allows at a return period in years. Typed: of the rarest limit that is no rarer, since a
    rate that is permitted once a century is not permitted every year.

    Raises
    ------
    ModelError
        When growth factors or rainfall do not reach the return period, or nothing drains to the place.
    """
    if way == "typed":
        return _typed(rule, return_period)
    drains = drained(project.option.network, rule.element)[0]
    if way == "formula":
        return _some(rule, mean_annual_flood(rule.formula, drains) * _growth(rule.formula, return_period))
    if way == "model":
        return _some(rule, _before(rule.model, project, return_period, drains))
    rate = counted(rule.hectare, project.option.network, rule.element) / _HECTARE * rule.hectare.rate
    return _some(rule, max(rate, rule.hectare.least))


def _some(rule: Outflow, rate: float) -> float:
    if rate <= 0.0:
        raise ModelError(
            f"rule {rule.name}", rule.by,
            "permits nothing: no catchment drains to its place, or no rain runs off",
            "give catchments their nodes, or type the site's area",
        )  # fmt: skip
    return rate
