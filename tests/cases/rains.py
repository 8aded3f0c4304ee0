"""Reference cases of rainfall and runoff: from a case's inputs to the quantities that it states."""

import math
from collections.abc import Callable
from typing import Any

import numpy as np

from madidus.core.model.network import Network
from madidus.core.rainfall.methods import DepthTable, GrowthRow, IntensityFormula, RatioDepths, ratio_curve
from madidus.core.rainfall.rain import Rain
from madidus.core.rainfall.shapes import Alternating, Bell, Chicago, Cumulative, MassCurve
from madidus.core.rainfall.storms import ensemble
from madidus.core.runoff.interval import rain_interval
from madidus.core.surface.concentration import Reach, channel_velocity, rational, shallow_velocity
from madidus.core.surface.losses import curve_number_excess, green_ampt, horton, initial_continuing, retention
from madidus.core.surface.methods import RunoffSurface, unit_runoff_of
from madidus.core.surface.overland import kinematic_plane, nonlinear_reservoir
from madidus.core.surface.runoff import Coefficient, Runoff, UnitHydrograph
from madidus.core.surface.stretches import stretches
from madidus.core.surface.time_area import mean_intensity
from madidus.core.surface.timing import ChannelFlow, FlowPath, Kirpich, Lag, ShallowFlow, SheetFlow
from madidus.core.surface.unit_hydrograph import flow_of, ordinates

__all__ = ["CASES"]

Found = dict[str, Any]
_HECTARE = 1e4


class _Blocks:
    """Rain in equal steps. intensity : mm/h; step : min."""

    season = "winter"

    def __init__(self, intensity: list[float], step: float):
        self.intensity = np.array(intensity, float)
        self.times = np.arange(len(intensity) + 1) * step * 60.0
        self.depths = self.intensity * step / 60.0


def _no_curve(minutes: np.ndarray) -> np.ndarray:
    raise AssertionError("this shape needs no depth–duration curve")


def mass_curves(inputs: Found) -> Found:
    found: Found = {}
    step, total = inputs["step_min"], inputs["depth_mm"]
    for name in inputs["types"]:
        blocks = total * MassCurve(type=name.removeprefix("type ")).increments(
            round(24 * 60 / step), 24 * 60.0, _no_curve
        )
        fallen = np.cumsum(blocks)
        found[f"{name}: accumulated depth"] = [fallen[round(h * 60 / step) - 1] for h in inputs["check_hours"]]
        # the product's own curves bend between the hours of the short table, as the finer official ones do
        table = inputs["distribution_table"]
        points = [{"time": h / 24, "depth": d} for h, d in zip(table["hour"], table[name], strict=True)]
        straight = total * Cumulative(points=points).increments(round(24 * 60 / step), 24 * 60.0, _no_curve)
        found[f"{name}: greatest clock half-hour depth"] = straight.max()
        found[f"{name}: total"] = fallen[-1]
    return found


def _formula(a: float, b: float, c: float) -> IntensityFormula:
    return IntensityFormula(rows=[{"return_period": 10, "a": a, "b": b, "c": c}])


def nested_storms(inputs: Found) -> Found:
    formula = _formula(inputs["a"], inputs["b_min"], inputs["c"])
    duration, step, r = inputs["duration_min"], inputs["step_min"], inputs["peak_position_r"]
    steps, curve = round(duration / step), formula.curve(10)
    total = formula.depth_at(duration, 10)
    blocks = total * Alternating(peak=0.5).increments(steps, duration, curve)
    chicago = total * Chicago(peak=r).increments(steps, duration, curve)
    fine = total * Chicago(peak=r).increments(10_000, duration, curve)
    return {
        "total depth": total,
        "alternating-block depths": blocks,
        "alternating-block greatest intensity": blocks.max() * 60 / step,
        "Chicago block depths": chicago,
        "Chicago greatest block intensity": chicago.max() * 60 / step,
        "Chicago depth before the peak": fine[: round(r * 10_000)].sum(),
    }


def bells(inputs: Found) -> Found:
    found: Found = {}
    for profile in inputs["profiles"]:
        shape, name = Bell(a=profile["a"], b=profile["b"]), profile["name"]
        for storm in inputs["storms"]:
            duration, step, total = storm["duration_min"], storm["step_min"], storm["depth_mm"]
            blocks = total * shape.increments(round(duration / step), duration, _no_curve)
            here = f"{name}, {duration} min"
            found[f"{here}: block depths"] = blocks
            found[f"{here}: greatest block intensity"] = blocks.max() * 60 / step
            found[f"{here}: peak block / mean intensity"] = blocks.max() / blocks.mean()
        fine = shape.increments(10_000, 60.0, _no_curve)
        found[f"{name}: share of depth in the central half"] = fine[2500:7500].sum()
        found[f"{name}: share of depth in the central fifth"] = fine[4000:6000].sum()
    return found


def ratio_depths(inputs: Found) -> Found:
    table = inputs["growth_table"]
    rain = RatioDepths(
        depth=inputs["M5_60min_mm"], ratio=inputs["ratio_r"], b=inputs["B_per_h"],
        return_periods=table["return_periods_years"],
        growth=[GrowthRow(depth=mm, factors=factors) for mm, factors in table["rows"].items()],
    )  # fmt: skip
    # depths of five years need no growth factors: rows wide enough for all of them
    wide = rain.model_copy(
        update={"growth": [GrowthRow(depth=mm, factors=[1.0] * len(rain.return_periods)) for mm in (0.01, 1e4)]}
    )
    i0, n = ratio_curve(rain.depth, rain.ratio, rain.b)
    found: Found = {"exponent n": n, "I0": i0}
    for minutes in inputs["M5_durations_min"]:
        found[f"5-year depth, {minutes} min"] = wide.depth_at(minutes, 5)
    for minutes in inputs["growth_durations_min"]:
        for years in inputs["return_periods_years"]:
            mm = rain.depth_at(minutes, years)
            here = f"{minutes} min, T={years}"
            found[f"{here}: growth factor"] = mm / wide.depth_at(minutes, 5)
            found[f"{here}: depth"] = mm
            found[f"{here}: mean intensity"] = mm * 60 / minutes
    return found


def curve_number(inputs: Found) -> Found:
    cn, ratio = inputs["curve_number"], inputs["initial_abstraction_ratio"]
    step, lag = inputs["step_h"] * 3600, inputs["Tc_h"] * 3600
    area = inputs["area_km2"] * 1e6
    fallen = np.concatenate([[0.0], np.cumsum(inputs["rain_depths_mm_per_step"])])
    excess = np.diff(curve_number_excess(fallen, cn, ratio))
    flow = area * flow_of(excess, 0.5 * step + 0.6 * lag, step)
    unit = area * ordinates(0.005 * step + 0.6 * lag, step / 100)
    stride = inputs["ordinate_stride"]
    at = range(0, 12 * stride, stride)
    return {
        "potential retention S": retention(cn),
        "initial abstraction": ratio * retention(cn),
        "total rain": fallen[-1],
        "total runoff depth": excess.sum(),
        # the product's curve for blocks of a step peaks at half a step and 0.6 of the concentration
        "time to peak of the unit hydrograph": (np.argmax(area * ordinates(0.5 * step + 0.6 * lag, step)) * step)
        / 3600,
        "unit peak 0.208 A/Tp": unit.max() * (step / 200 + 0.6 * lag) / (step / 2 + 0.6 * lag),
        "peak flow": flow.max(),
        "time of peak flow": flow.argmax() * step / 3600,
        "runoff volume": flow.sum() * step,
        "flow ordinates": [flow[k] if k < len(flow) else 0.0 for k in at],
        "excess rain per step": excess,
    }


def time_area(inputs: Found) -> Found:
    rain = _Blocks(inputs["rain_mm_per_h"], inputs["step_min"])
    area, c = inputs["area_ha"] * _HECTARE, inputs["runoff_coefficient"]
    entry = inputs["time_of_concentration_min"] * 60.0
    one = unit_runoff_of(RunoffSurface(Coefficient(), 1.0, entry), Runoff(winter_paved=c), rain)
    at = np.arange(0, one.times[-1] + 600.0, 5.0)
    flow = area * c * mean_intensity(rain.times, rain.intensity, entry, at) / 3.6e6
    return {
        "peak flow": one.flow.max() * area,
        "time of peak flow": one.times[one.flow.argmax()] / 60,
        "runoff volume": one.runoff * area,
        "runoff ends": at[np.nonzero(flow > 1e-12)[0][-1] + 1] / 60,
        "flow at check times": np.interp(np.array(inputs["check_times_min"]) * 60.0, at, flow),
    }


def infiltration(inputs: Found) -> Found:
    rain = _Blocks(inputs["rain_mm_per_h"], inputs["step_min"])
    h, g = inputs["horton"], inputs["green_ampt"]
    dry, when = horton(rain.times, rain.intensity, h["f0_mm_per_h"], h["fc_mm_per_h"], h["k_per_h"])
    excess, ponds = green_ampt(
        rain.times, rain.intensity, g["K_mm_per_h"], g["suction_mm"], g["moisture_deficit"]
    )  # fmt: skip
    total = rain.depths.sum()
    return {
        "Horton (by accumulated infiltration): ponding time": (when or math.nan) / 60,
        "Horton: infiltrated depth": total - dry.sum(),
        "Horton: excess depth": dry.sum(),
        "Horton: excess per step": dry,
        "Green-Ampt: ponding time": (ponds or math.nan) / 60,
        "Green-Ampt: infiltrated depth": total - excess.sum(),
        "Green-Ampt: excess depth": excess.sum(),
        "Green-Ampt: excess per step": excess,
        "rain depth": total,
    }


def continuing_loss(inputs: Found) -> Found:
    rain = _Blocks(inputs["rain_mm_per_h"], inputs["step_min"])
    excess = initial_continuing(
        rain.times, rain.intensity, inputs["initial_loss_mm"], inputs["continuing_loss_mm_per_h"]
    )
    return {
        "rain depth": rain.depths.sum(),
        "excess per step": excess,
        "excess depth": excess.sum(),
        "excess volume": excess.sum() * 1e-3 * inputs["area_ha"] * _HECTARE,
        "greatest excess intensity": excess.max() * 60 / inputs["step_min"],
    }


def overland(inputs: Found) -> Found:
    plane, store = inputs["kinematic_plane"], inputs["nonlinear_reservoir"]
    conveyance = math.sqrt(plane["slope"]) / plane["manning_n"]
    rate = plane["rain_mm_per_h"] / 3.6e6
    rain = np.array([0.0, plane["rain_duration_min"] * 60.0]), np.array([rate])

    def unit_flow(at: np.ndarray) -> np.ndarray:
        return kinematic_plane(*rain, plane["length_m"], conveyance, 0.0, at)[:, 0]

    steady = rate * plane["length_m"]
    rising = np.arange(0.0, plane["rain_duration_min"] * 60.0, 5.0)
    flow = unit_flow(rising)
    blocks = _Blocks(store["rain_mm_per_h"], store["step_min"])
    area, dry = store["area_m2"], store["depression_storage_mm"] * 1e-3
    factor = store["width_m"] * math.sqrt(store["slope"]) / (area * store["manning_n"])

    def depths(at: np.ndarray) -> np.ndarray:
        return nonlinear_reservoir(blocks.times, blocks.intensity / 3.6e6, factor, dry, at)

    def outflow(at: np.ndarray) -> np.ndarray:
        return area * factor * np.maximum(depths(at) - dry, 0.0) ** (5.0 / 3.0)

    fine = np.arange(0.0, store["run_length_min"] * 60.0 + 1.0, 5.0)
    series = outflow(fine)
    return {
        "plane: time to equilibrium": rising[np.argmax(flow > 0.995 * steady)] / 60,
        "plane: equilibrium unit flow": flow[-1],
        "plane: unit flow at check times": unit_flow(np.array(plane["check_times_min"]) * 60.0),
        "plane: depth at the foot at equilibrium": (flow[-1] / conveyance) ** 0.6 * 1e3,
        "reservoir: peak flow": series.max(),
        "reservoir: time of peak": fine[series.argmax()] / 60,
        "reservoir: flow at check times": outflow(np.array(store["check_times_min"]) * 60.0),
        "reservoir: rain volume": blocks.depths.sum() * 1e-3 * area,
        "reservoir: runoff volume in the run": np.trapezoid(series, fine),
        "reservoir: depth left at the end of the run": depths(fine[-1:])[0] * 1e3,
    }


def concentration(inputs: Found) -> Found:
    k, lag, v = inputs["kirpich"], inputs["nrcs_lag"], inputs["velocity_method"]
    section, channel = v["channel"]["section"], v["channel"]
    y, slope = channel["bankfull_depth_m"], section["side_slope_h_per_v"]
    area = y * (section["bottom_width_m"] + slope * y)
    perimeter = section["bottom_width_m"] + 2 * y * math.hypot(1.0, slope)
    path = FlowPath(
        sheet=SheetFlow(
            length=v["sheet"]["length_m"], slope=v["sheet"]["slope"], roughness=v["sheet"]["manning_n"],
            rain=v["P2_24h_mm"],
        ),
        shallow=ShallowFlow(
            length=v["shallow"]["length_m"], slope=v["shallow"]["slope"], surface=v["shallow"]["surface"]
        ),
        channel=ChannelFlow(
            length=channel["length_m"], slope=channel["slope"], roughness=channel["manning_n"], area=area,
            perimeter=perimeter,
        ),
    )  # fmt: skip
    times = stretches(path, 0.0)
    by_lag = Lag(
        length=lag["length_m"], slope=lag["mean_land_slope_percent"] / 100, curve_number=lag["curve_number"]
    )  # fmt: skip
    whole = stretches(by_lag, 0.0)["whole"]
    return {
        "Kirpich": stretches(Kirpich(length=k["length_m"], slope=k["slope"]), 0.0)["whole"],
        "sheet-flow time": times["sheet"],
        "shallow concentrated velocity": shallow_velocity(v["shallow"]["slope"], v["shallow"]["surface"]),
        "shallow concentrated time": times["shallow"],
        "channel velocity": channel_velocity(area, perimeter, channel["slope"], channel["manning_n"]),
        "channel time": times["channel"],
        "time of concentration, velocity method": sum(times.values()),
        "lag (curve-number lag equation)": 0.6 * whole,
        "Tc = lag/0.6": whole,
    }


def rational_line(inputs: Found) -> Found:
    idf = inputs["idf"]
    formula = _formula(idf["a"], idf["b_min"], idf["c"])
    intensity = lambda minutes: formula.depth_at(minutes, 10) / minutes * 60  # noqa: E731
    grounds = {g["id"]: g for g in inputs["subcatchments"]}
    surfaces = {
        key: [(s["C"], s["area_ha"] * _HECTARE) for s in g["surfaces"]] for key, g in grounds.items()
    }  # fmt: skip
    found: Found = {}
    for key, ground in grounds.items():
        alone = rational([Reach(surfaces[key], ground["entry_time_min"], 0.0, None)], intensity)[0]
        found[f"{key}: composite C"] = alone.gathered / sum(area for _, area in surfaces[key])
        found[f"{key}: intensity"] = alone.intensity
        found[f"{key}: peak flow"] = alone.flow
    line = inputs["main_line"]
    reaches = [
        Reach(
            surfaces[part["subcatchment"]], grounds[part["subcatchment"]]["entry_time_min"],
            part["pipe_length_m"] / part["pipe_velocity_m_per_s"] / 60, k + 1 if k + 1 < len(line) else None,
        )
        for k, part in enumerate(line)
    ]  # fmt: skip
    for part, one in zip(line, rational(reaches, intensity), strict=True):
        here = f"at {part['node']}"
        found[f"{here}: time of concentration"] = one.concentration
        found[f"{here}: intensity"] = one.intensity
        found[f"{here}: design flow"] = one.flow
    return found


def day_long(inputs: Found) -> Found:
    """Case F6, as the product makes storms and runs them off: with the interval that each catchment asks for."""
    hours, shares = inputs["mass_curve_hours"], inputs["mass_curve_fraction"]
    points = [{"time": h / 24, "depth": d} for h, d in zip(hours, shares, strict=True)]
    depth, cn, ratio = inputs["depth_mm"], inputs["curve_number"], inputs["initial_abstraction_ratio"]
    table = DepthTable(durations=[60, 1440], return_periods=[10], depths=[[depth / 2, depth]])
    found: Found = {"potential retention": retention(cn)}
    for minutes in inputs["time_of_concentration_min"]:
        method = UnitHydrograph(curve_number=cn, abstraction=ratio, concentration=minutes * 60.0)
        season = {"name": "all year", "shape": {"kind": "curve", "points": points}}
        rain = Rain(
            rainfall=table,
            ensemble={"durations": [1440], "probabilities": [{"return_period": 10}], "seasons": [season]},
        )
        interval = rain_interval(Network(), rain, [RunoffSurface(method, 1.0, 0.0)]).minutes
        (storm,) = ensemble(rain, interval)
        one = unit_runoff_of(RunoffSurface(method, 1.0, 0.0), Runoff(), storm)
        found[f"Tc {minutes} min: peak runoff, curve read at 0.1 h, converged in time step"] = (
            one.flow.max() * inputs["area_km2"] * 1e6
        )
        found[f"Tc {minutes} min: time of the peak"] = one.times[one.flow.argmax()] / 3600.0
        found["runoff depth"] = one.runoff * 1e3
        found["greatest intensity, curve at 0.1 h"] = storm.intensity.max()
    return found


CASES: dict[str, Callable[[Found], Found]] = {
    "F6": day_long,
    "C1": mass_curves, "C2": nested_storms, "C3": bells, "C4": ratio_depths, "C5": curve_number, "C6": time_area,
    "C7": infiltration, "C8": continuing_loss, "C9": overland, "C10": concentration, "C11": rational_line,
}  # fmt: skip
