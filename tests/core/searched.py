"""A tank with an orifice under an ensemble of its own, and an integration of it by other means."""

from concurrent.futures import ThreadPoolExecutor

import numpy as np
from scipy.integrate import solve_ivp
from scipy.optimize import brentq

from madidus.core.ensemble import Plan, make_plan, submit_to
from madidus.core.model import Project
from tests.cases.build import identity, tank

SUBMIT = submit_to(ThreadPoolExecutor(2))
DEEP, FREE, RATE = 2.0, 0.3, 0.012  # m, m, m3/s
CD, G = 0.6, 9.81
TANK, ORIFICE, HEAD, PIPE = (identity(name) for name in ("T", "O", "H", "P"))
OUTFLOW, FREEBOARD = (0, 0), (1, 0)


def tank_project(area: float = 60.0, size: float = 0.08, **more) -> Project:
    """5,000 m2 of roofs by a manhole and a short pipe into a tank, and an orifice in its wall."""
    named = {"name": "T", **tank(0.0, DEEP, area)}
    network = {
        "nodes": {
            HEAD: {"name": "H", "kind": "manhole", "cover": 8.0, "invert": 5.0},
            TANK: named,
            identity("out"): {"name": "out", "kind": "outfall", "invert": -3.0},
        },
        "links": {
            PIPE: {"name": "P", "kind": "pipe", "upstream": HEAD, "downstream": TANK, "length": 20.0,
                   "upstream_invert": 5.0, "downstream_invert": 4.5, "section": {"shape": "circular", "diameter": 0.6}},
            ORIFICE: {"name": "O", "kind": "orifice", "upstream": TANK, "downstream": identity("out"), "invert": 0.0,
                "section": {"shape": "circular", "diameter": size}, "discharge_coefficient": CD},
        },
        "catchments": {
            identity("roof"): {"name": "roof", "area": 5000.0, "impervious": 1.0, "node": HEAD, "time_of_entry": 300},
        },
    }  # fmt: skip
    rain = {
        "rainfall": {"kind": "formula", "rows": [{"return_period": 30.0, "a": 1400.0, "b": 9.0, "c": 0.85}]},
        "ensemble": {
            "durations": [30.0, 60.0, 120.0, 240.0, 480.0, 960.0], "probabilities": [{"return_period": 30.0}],
            "seasons": [{"name": "winter", "shape": {"kind": "bell", "a": 0.06, "b": 1.026}}],
        },
    }  # fmt: skip
    limits = [{"return_period": 30.0}]
    rules = [
        {"kind": "outflow", "name": "Outflow", "element": identity("out"), "limits": [{**limits[0], "value": RATE}]},
        {"kind": "freeboard", "name": "Freeboard", "limits": [{**limits[0], "value": FREE}]},
    ]
    document = {
        "name": "a tank", "brief": {"rules": rules}, "rain": rain,
        "options": {identity("A"): {"name": "A", "network": network}}, "order": [identity("A")],
        "in_view": identity("A"), **more,
    }  # fmt: skip
    return Project.model_validate(document)


def plan_of(project: Project) -> Plan:
    return make_plan(project)


def highest(plan: Plan, area: float, size: float) -> float:
    """The highest water of all storms in an upright tank with a free orifice, m, by an adaptive integration."""
    return max(_one(plan, key, area, size) for key in plan.inflow)


def _out(depth: float, size: float) -> float:
    if depth <= 0.0:
        return 0.0
    full = np.pi / 4.0 * size**2
    head = depth - 0.5 * size
    # partly full it hardly matters to the peak
    return CD * full * np.sqrt(2.0 * G * head) if head > 0.5 * size else CD * full * np.sqrt(G * size) * depth / size


def _one(plan: Plan, key: str, area: float, size: float) -> float:
    own = plan.inflow[key]
    times, flow = own.times, own.flow.sum(axis=1)
    found = solve_ivp(
        lambda t, h: [(np.interp(t, times, flow) - _out(h[0], size)) / area],
        (0.0, 1.5 * times[-1]), [0.0], max_step=60.0, rtol=1e-7, atol=1e-9,
    )  # fmt: skip
    return float(found.y.max())


def area_needed(plan: Plan, size: float) -> float:
    """Area of the tank whose highest water stands just at its freeboard, m2."""
    return float(brentq(lambda area: highest(plan, area, size) - (DEEP - FREE), 20.0, 500.0, xtol=0.02))


def size_that_passes(rate: float) -> float:
    """Diameter of the orifice that passes a rate under the water that the freeboard allows, m."""
    return float(brentq(lambda size: _out(DEEP - FREE, size) - rate, 0.02, 0.3))
