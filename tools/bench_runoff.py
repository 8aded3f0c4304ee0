"""Runoff of 1,000 catchments in 270 storms, as a share of the time of the same storms' hydraulics."""

import time

import numpy as np

from madidus.core.ensemble import make_plan
from madidus.core.model import Project
from madidus.core.rainfall.storms import ensemble
from madidus.core.runoff.catchments import inflows, kinds_of
from madidus.core.surface.losses import HortonLoss
from madidus.core.surface.runoff import Coefficient, Losses, Overland, UnitHydrograph

__all__ = ["runoff_share"]

_METHODS = {
    "coefficient": Coefficient(), "losses": Losses(green=HortonLoss()), "unit_hydrograph": UnitHydrograph(),
    "overland": Overland(),
}  # fmt: skip
_SAMPLED = 9  # of the 270 storms, for the hydraulics


def runoff_share(project: Project) -> dict[str, float]:
    """By method: seconds of the runoff of 270 storms over seconds of their hydraulics on one thread.

    Every catchment is paved to another share and a tenth have times of entry of their own.
    """
    base = project.rain.ensemble
    probabilities = [{"return_period": t, "allowance": a} for t in (2, 10, 30, 50, 100) for a in (0.0, 0.2, 0.4)]
    many = base.model_validate({**base.model_dump(), "probabilities": probabilities})
    rain = project.rain.model_copy(update={"ensemble": many})
    rng = np.random.default_rng(1)
    network = project.option.network
    for k, catchment in enumerate(network.catchments.values()):
        catchment.impervious = float(rng.uniform(0.2, 1.0))
        catchment.time_of_entry = None if k % 10 else float(rng.uniform(200, 900))
    plan = make_plan(project.model_copy(update={"rain": rain}))
    keys = list(plan.inflow)[:: len(plan.inflow) // _SAMPLED]
    plan.simulate(keys[0])
    began = time.perf_counter()
    for key in keys:
        plan.simulate(key)
    hydraulics = (time.perf_counter() - began) / len(keys) * len(plan.inflow)
    storms, found = ensemble(rain), {"runoff_storms": float(len(plan.inflow))}
    for name, method in _METHODS.items():
        values = rain.runoff.model_copy(update={"method": method})
        began = time.perf_counter()
        kinds = kinds_of(network, values)
        for storm in storms:
            inflows(network, values, storm, kinds=kinds)
        found[f"runoff_share_{name}"] = (time.perf_counter() - began) / hydraulics
    return found
