"""Cases B and F5: ponds, tanks, stone, soakaways, controls, pumps and tides. Each computes what its reference file asks for."""

from typing import Any

import numpy as np

from madidus.core.elements import Basin, RisingMain, Stone
from madidus.core.elements.gate import submerged_from
from madidus.core.elements.offset import figures_of, turned
from madidus.core.elements.pump import main_loss
from madidus.core.hydraulics.controls import control_flow
from madidus.core.hydraulics.events import decode
from madidus.core.hydraulics.flatten import flatten
from madidus.core.hydraulics.simulate import Start
from madidus.core.hydraulics.stores import node_table
from madidus.core.hydraulics.work import LEDGER, make_work
from madidus.core.results.reduction import Reduction

from .build import Run, identity, network, tank

Inputs = dict[str, Any]
Found = dict[str, Any]


def _fall(run: Run, level: np.ndarray, to: float, after: float = 0.0) -> float:
    """Time at which a level falls to `to`, after a time."""
    late = np.nonzero((run.time >= after) & (level <= to))[0][0]
    a, b = level[late - 1], level[late]
    return float(run.time[late - 1] + (a - to) / (a - b) * (run.time[late] - run.time[late - 1]))


def _at_stage(table: np.ndarray, depth: float, row: int) -> float:
    """Area (row 1) or volume (row 2) of a node's table at a depth; area is linear between rows."""
    area = float(np.interp(depth, table[0], table[1]))
    if row == 1:
        return area
    k = int(np.searchsorted(table[0], depth, side="right")) - 1
    return float(table[2, k] + 0.5 * (table[1, k] + area) * (depth - table[0, k]))


def b1(given: Inputs) -> Found:
    floor, end = given["tank_floor_m"], given["inflow_duration_s"]
    net = network(
        {"tank": tank(floor, given["tank_top_m"], given["tank_area_m2"], depth=given["initial_level_m"] - floor),
         "out": {"kind": "outfall", "invert": floor - 2}},
        {"orifice": {"kind": "orifice", "upstream": "tank", "downstream": "out", "invert": given["orifice_invert_m"],
                     "section": {"shape": "circular", "diameter": given["orifice_diameter_m"]},
                     "discharge_coefficient": given["orifice_Cd"]}},
    )  # fmt: skip
    q, until = given["inflow_m3s"], given["run_length_s"]
    run = Run(net, {"tank": [(0, q), (end, q), (end, 0.0)]}, until, 2)
    level, flow = run.level("tank"), run.flow("orifice")
    d, cd = given["orifice_diameter_m"], given["orifice_Cd"]
    head = (q / (cd * np.pi / 4 * d**2)) ** 2 / (2 * 9.81)
    found: Found = {
        "greatest level (end of inflow)": float(level.max()),
        "level the constant inflow would finally reach": given["orifice_invert_m"] + d / 2 + head,
        f"time when the level falls to {given['drain_to_level_m']} m": _fall(
            run, level, given["drain_to_level_m"], end
        ),
    }
    for t in given["check_times_s"]:
        found[f"level at {t} s"], found[f"outflow at {t} s"] = run.at(level, t), run.at(flow, t)
    return found


def b2(given: Inputs) -> Found:
    base, bank, orifice, weir = given["base_level_m"], given["bank_level_m"], given["orifice"], given["weir"]
    pond = {"kind": "basin", "invert": base, "cover": bank, "base": given["base_polygon_xy_m"],
            "side_slope": given["side_slope_h_per_v"],
            "initial_depth": given["derived_initial_level_m"] - base}  # fmt: skip
    net = network(
        {"pond": pond, "out": {"kind": "outfall", "invert": base - 1}},
        {"orifice": {"kind": "orifice", "upstream": "pond", "downstream": "out",
                     "invert": orifice["centre_level_m"] - orifice["diameter_m"] / 2,
                     "section": {"shape": "circular", "diameter": orifice["diameter_m"]},
                     "discharge_coefficient": orifice["Cd"]},
         "weir": {"kind": "weir", "upstream": "pond", "downstream": "out", "crest": weir["crest_level_m"],
                  "length": weir["length_m"], "coefficient": weir["C"]}},
    )  # fmt: skip
    run = Run(net, {"pond": [tuple(p) for p in given["inflow_points_s_m3s"]]}, given["run_length_s"], 10)
    basin = Basin(name="pond", **{k: v for k, v in pond.items() if k != "kind"})
    area, perimeter, _ = figures_of(turned(basin.outline))
    table, level = node_table(basin), run.level("pond")
    through, over = run.flow("orifice"), run.flow("weir")
    found: Found = {
        "base area": area, "base perimeter": perimeter, "initial level (steady under the base flow)": float(level[0]),
        "greatest level": float(level.max()), "time of greatest level": run.peak_time("pond"),
        "greatest stored volume": run.volume("pond"), "greatest orifice flow": float(through.max()),
        "greatest weir flow": float(over.max()), "greatest total outflow": float((through + over).max()),
        "freeboard to the top of bank": bank - float(level.max()),
        "volume over the weir": float(np.trapezoid(over, run.time)),
    }  # fmt: skip
    for y in given["curve_depths_m"]:
        found[f"plan area at depth {y} m"], found[f"volume at depth {y} m"] = (
            _at_stage(table, y, 1), _at_stage(table, y, 2),
        )  # fmt: skip
    for t in given["check_times_s"]:
        found[f"level at {t} s"] = run.at(level, t)
    return found


def b3(given: Inputs) -> Found:
    floor = given["tank_floor_m"]
    net = network(
        {"tank": tank(floor, given["tank_top_m"], given["tank_area_m2"], depth=given["initial_depth_m"]),
         "out": {"kind": "outfall", "invert": floor - 2}},
        {"vortex": {"kind": "curve", "upstream": "tank", "downstream": "out", "invert": floor,
                    "rows": [{"head": h, "flow": q} for h, q in given["control_curve_m_m3s"]]}},
    )  # fmt: skip
    run = Run(net, {"tank": [tuple(p) for p in given["inflow_points_s_m3s"]]}, given["run_length_s"], 5)
    depth, flow = run.level("tank") - floor, run.flow("vortex")
    top = int(depth.argmax())
    found: Found = {
        "greatest depth": float(depth.max()), "time of greatest depth": run.peak_time("tank"),
        "greatest stored volume": run.volume("tank"), "outflow at the greatest depth": float(flow[top]),
        "greatest outflow in the run": float(flow.max()),
        f"time when the depth falls to {given['drain_depth_m']} m": _fall(
            run, depth, given["drain_depth_m"], float(run.time[top])
        ),
    }  # fmt: skip
    for t in given["check_times_s"]:
        found[f"depth at {t} s"], found[f"outflow at {t} s"] = run.at(depth, t), run.at(flow, t)
    return found


def b4(given: Inputs) -> Found:
    floor, main, until = given["wet_well_floor_m"], given["rising_main"], given["run_length_s"]
    pipe = {"length": main["length_m"], "diameter": main["diameter_m"], "hazen_williams": main["hazen_williams_C"],
            "minor_loss": main["minor_loss_K_total"], "discharge_level": main["discharge_level_m"]}  # fmt: skip
    curve = [{"flow": q, "head": h} for q, h in given["pump_curve_flow_m3s_head_m"]]
    net = network(
        {"well": tank(floor, floor + 5, given["wet_well_area_m2"], depth=given["initial_level_m"] - floor),
         "out": {"kind": "outfall", "invert": main["discharge_level_m"]}},
        {"pump": {"kind": "pump", "upstream": "well", "downstream": "out", "main": pipe,
                  "units": [{"on": given["pump_on_level_m"], "off": given["pump_off_level_m"], "curve": curve}]}},
    )  # fmt: skip
    q = given["inflow_m3s"]
    run = Run(net, {"well": [(0, q), (until, q)]}, until, 1.0)
    events = [e for e in decode(run.result.events, run.flat) if e.kind == "pump 1 runs"]
    starts = [e.time for e in events if e.begins]
    stops = [e.time for e in events if not e.begins]
    flow = run.flow("pump")
    on = run.at(flow, starts[0] + 3.0)
    off = run.at(flow, stops[0] - 3.0)
    cycle = float(np.mean(np.diff(starts)))
    pumped = run.result.balance.left
    per_cycle = given["wet_well_area_m2"] * (given["pump_on_level_m"] - given["pump_off_level_m"]) + q * (
        stops[0] - starts[0]
    )
    running = sum(b - a for a, b in zip(starts, [*stops, until], strict=False))
    return {
        "pump flow at the on level": on, "pump flow at the off level": off,
        "pump head at the on level": float(np.interp(on, [r["flow"] for r in curve], [r["head"] for r in curve])),
        "friction head at the on level": main_loss(RisingMain(**{**pipe, "minor_loss": 0.0}), on),
        "first start": starts[0], "filling time, off to on": starts[1] - stops[0],
        "emptying time, on to off": stops[0] - starts[0], "cycle time": cycle, "starts per hour": 3600 / cycle,
        "volume pumped per cycle": per_cycle, "starts in the run": len(starts),
        "mean pump flow while running": pumped / running, "volume pumped in the run": pumped,
        "phase in the cycle at the end of the run": (until - starts[-1]) / cycle,
    }  # fmt: skip


def b5(given: Inputs) -> Found:
    low, slope, length = given["low_base_level_m"], given["base_slope"], given["length_m"]
    stone = {"kind": "stone", "invert": low, "cover": low + given["stone_depth_m"], "length": length,
             "width": given["width_m"], "stone_depth": given["stone_depth_m"], "base_slope": slope,
             "porosity": given["porosity"]}  # fmt: skip
    orifice, end = given["orifice"], given["inflow_duration_s"]
    net = network(
        {"stone": stone, "out": {"kind": "outfall", "invert": low - 2}},
        {"orifice": {"kind": "orifice", "upstream": "stone", "downstream": "out",
                     "invert": low + orifice["centre_above_low_base_m"] - orifice["diameter_m"] / 2,
                     "section": {"shape": "circular", "diameter": orifice["diameter_m"]},
                     "discharge_coefficient": orifice["Cd"]}},
    )  # fmt: skip
    q = given["inflow_m3s"]
    run = Run(net, {"stone": [(0, q), (end, q), (end, 0.0)]}, given["run_length_s"], 5)
    fields = {k: v for k, v in stone.items() if k != "kind"}
    table = node_table(Stone(name="stone", **fields))
    whole = node_table(Stone(name="whole", **{**fields, "cover": low + given["stone_depth_m"] + slope * length}))
    level, flow = run.level("stone") - low, run.flow("orifice")
    volumes = np.array([_at_stage(table, y, 2) for y in level])
    half = _fall(run, volumes, 0.5 * run.volume("stone"), end) - end
    usable = _at_stage(table, given["stone_depth_m"], 2)
    found: Found = {
        "volume of voids of the whole layer": _at_stage(whole, given["stone_depth_m"] + slope * length, 2),
        "greatest usable volume before the low edge overtops": usable,
        "greatest level above the low end of the base": float(level.max()),
        "greatest stored volume": run.volume("stone"), "greatest outflow": float(flow.max()),
        "time from the end of inflow to half the greatest volume": half,
    }  # fmt: skip
    for y in given["curve_levels_m"]:
        found[f"volume at level {y} m"] = _at_stage(table, y, 2)
    for t in given["check_times_s"]:
        found[f"level at {t} s"], found[f"stored volume at {t} s"] = run.at(level, t), run.at(volumes, t)
    return found


def f5(given: Inputs) -> Found:
    """Stone under paving: volumes by level of the table, filling and emptying as the solver runs them."""
    found: Found = {}
    low, top, layer = given["low_base_level_m"], given["stone_depth_m"], given["cover_layer_depth_m"]
    plan, q, limit = given["length_m"] * given["width_m"], given["inflow_m3s"], given["outlet_limit_m3s"]
    for name, slope in zip(given["base_slope_names"], given["base_slopes"], strict=True):
        for voids in given["cover_layer_voids"]:
            here = f"slope {name}, cover voids {voids:.1f}"
            stone = {"invert": low, "cover": low + top + layer, "length": given["length_m"], "width": given["width_m"],
                     "stone_depth": top, "base_slope": slope, "porosity": given["stone_voids"], "cover_porosity": voids,
                     "flooding": "lost"}  # fmt: skip
            table, levels = node_table(Stone(name="stone", **stone)), given["curve_levels_m"]
            found[f"{here}: volume at levels"] = [_at_stage(table, y, 2) for y in levels]
            full = found[f"{here}: usable volume, level at the low edge of the paving"] = _at_stage(
                table, top + layer, 2
            )
            found[f"{here}: all voids (stone and cover)"] = plan * (given["stone_voids"] * top + voids * layer)
            outlet = {"kind": "curve", "upstream": "stone", "downstream": "out", "invert": low,
                      "rows": [{"head": 0, "flow": 0}, {"head": 1e-3, "flow": limit}, {"head": 10, "flow": limit}]}  # fmt: skip
            out = {"kind": "outfall", "invert": low - 2}
            net = network({"stone": {"kind": "stone", **stone}, "out": out}, {"control": outlet})
            end = 1.05 * full / (q - limit)
            filled = Run(net, {"stone": [(0, q), (end, q)]}, end, 2, longest_step=20.0)
            depth = filled.level("stone") - low
            found[f"{here}: time to reach levels"] = [float(np.interp(y, depth, filled.time)) for y in levels]
            at_top = _at_stage(table, top, 2)
            times = [round(part * at_top / (q - limit)) for part in given["check_fractions_of_fill_time_to_stone_top"]]
            found[f"{here}: levels at times"] = [float(np.interp(t, filled.time, depth)) for t in times]
            begun = {"stone": {"kind": "stone", **stone, "initial_depth": top}, "out": out}
            drained = Run(network(begun, {"control": outlet}), {}, 1.3 * at_top / limit, 10)
            falling = drained.level("stone") - low
            volumes = np.array([_at_stage(table, y, 2) for y in falling])
            found[f"{here}: time from the top of the stone at the low end until empty, no inflow"] = _fall(
                drained, falling, 1e-3
            )
            found[f"{here}: level when half of that volume is left"] = float(
                np.interp(-0.5 * at_top, -volumes, falling)
            )
    return found


def _still_network(given: Inputs, tail: float, flap: bool) -> dict[str, Any]:
    nodes: dict[str, Any] = {
        "out": {"kind": "outfall", "invert": given["outfall_invert_m"], "flap": flap,
                "tail_water": {"kind": "fixed", "level": tail}},
        **{m["id"]: {"kind": "manhole", "invert": m["invert_m"], "cover": m["invert_m"] + 3.0,
                     "plan_area": m["plan_area_m2"]} for m in given["manholes"]},
    }  # fmt: skip
    links: dict[str, Any] = {}
    below = "out"
    for link, above in zip(given["links_downstream_to_upstream"], given["manholes"], strict=True):
        shared = {"upstream": above["id"], "downstream": below, "length": link["length_m"],
                  "upstream_invert": link["invert_us_m"], "downstream_invert": link["invert_ds_m"],
                  "roughness": given["manning_n"]}  # fmt: skip
        if link["shape"] == "circular":
            links[link["id"]] = {
                "kind": "pipe",
                **shared,
                "section": {"shape": "circular", "diameter": link["diameter_m"]},
            }
        else:
            slope = link["side_slope_h_per_v"]
            section = {
                "shape": "trapezoidal",
                "base_width": link["bottom_width_m"],
                "left_slope": slope,
                "right_slope": slope,
                "height": 3.0,
            }
            links[link["id"]] = {"kind": "channel", **shared, "section": section}
        below = above["id"]
    return {"nodes": nodes, "links": links}


def f8(given: Inputs) -> Found:
    """A network under a tail water: it begins level and nothing moves; begun empty, it fills to the same volumes."""
    found: Found = {}
    for tail in given["tail_water_levels_m"]:
        here = f"tail water {tail} m"
        net = network(**_still_network(given, tail, flap=False))
        run = Run(net, {}, given["run_length_s"], 600, spacing=2.0)
        ledger, rows = run.result.end.cell[LEDGER], run.flat.pipe_rows
        for link in given["links_downstream_to_upstream"]:
            found[f"{here}: volume in {link['id']}"] = float(ledger[rows[identity(link["id"])]].sum())
        for manhole in given["manholes"]:
            name = manhole["id"]
            found[f"{here}: volume in {name}"] = float(ledger[run.flat.node_row[identity(name)]])
            found[f"{here}: level in {name}"] = float(run.level(name)[-1])
        found[f"{here}: volume in the network"] = run.result.balance.after
        moved = max(np.abs(run.result.peaks.flow.top).max(), np.abs(run.result.peaks.flow.least).max())
        found[f"{here}: greatest flow anywhere after filling"] = float(moved)
        empty = Run(net, {}, given["run_length_s"], 600, spacing=2.0, empty=True)
        found[f"{here}: net inflow from the tail water when the network starts empty"] = -empty.result.balance.left
        tight = Run(network(**_still_network(given, tail, flap=True)), {}, given["run_length_s"], 600, spacing=2.0)
        found[f"{here}: volume in the network with a flap at the outfall"] = tight.result.balance.after
        moved = max(np.abs(tight.result.peaks.flow.top).max(), np.abs(tight.result.peaks.flow.least).max())
        found[f"{here}: greatest flow anywhere with a flap at the outfall"] = float(moved)
    return found


def _soakaway(given: Inputs, safety: float) -> Run:
    net = network(
        {"pit": {"kind": "stone", "invert": 0, "cover": given["height_m"], "length": given["length_m"],
                 "width": given["width_m"], "stone_depth": given["height_m"], "porosity": given["porosity"],
                 "infiltration": {"rate": given["infiltration_rate_m_per_s"], "safety_factor": safety}},
         "out": {"kind": "outfall", "invert": 0}},
        {"overflow": {"kind": "weir", "upstream": "pit", "downstream": "out", "crest": given["height_m"] - 0.01,
                      "length": 1}},
    )  # fmt: skip
    q, end = given["inflow_m3s"], given["inflow_duration_s"]
    return Run(net, {"pit": [(0, q), (end, q), (end, 0.0)]}, given["run_length_s"], 10)


def b6(given: Inputs) -> Found:
    run, end = _soakaway(given, given["safety_factor"]), given["inflow_duration_s"]
    depth, rate = run.level("pit"), given["infiltration_rate_m_per_s"] / given["safety_factor"]
    row = run.flat.infiltration_faces[next(iter(run.flat.infiltration_faces))][0]
    half = _fall(run, depth, 0.5 * float(depth.max()), end) - end
    found: Found = {
        "design infiltration rate": rate, "greatest depth": float(depth.max()),
        "greatest stored volume": run.volume("pit"),
        "greatest infiltration outflow": float(run.result.series.flow[:, row].max()),
        "time from end of inflow to half the greatest depth": half,
        "time from end of inflow to empty": _fall(run, depth, 0.001, end) - end,
        "half-empty within 24 h": "yes" if half <= 86_400 else "no",
        "greatest depth had the safety factor been ignored": float(_soakaway(given, 1.0).level("pit").max()),
    }  # fmt: skip
    for t in given["check_times_s"]:
        found[f"depth at {t} s"] = run.at(depth, t)
    return found


def b7(given: Inputs) -> Found:
    """A tank of 100 m2 whose outlet reaches its limit within the first millimetre."""
    area, limit = 100.0, given["limiting_outflow_m3s"]
    net = network(
        {"tank": tank(0.0, 15.0, area), "out": {"kind": "outfall", "invert": -2}},
        {"limit": {"kind": "curve", "upstream": "tank", "downstream": "out", "invert": 0.0,
                   "rows": [{"head": h, "flow": q} for h, q in ((0, 0), (0.001, limit), (15, limit))]}},
    )  # fmt: skip
    points = [tuple(p) for p in given["inflow_points_s_m3s"]]
    run = Run(net, {"tank": points}, given["run_length_s"], 2)
    held = area * run.level("tank")
    # from when its outlet passes its limit, more comes than leaves
    begins = float(run.time[np.argmax(run.flow("limit") >= limit * (1.0 - 1e-6))])
    return {
        "inflow volume": run.result.balance.entered, "storage needed": run.volume("tank"),
        "time of greatest storage": run.peak_time("tank"), "time storage begins": begins,
        "time the store is empty again": _fall(run, held, 0.1, 6000.0),
    }  # fmt: skip


def b8(given: Inputs) -> Found:
    tide, until, floor = given["tide"], given["run_length_s"], given["tank_floor_m"]
    opening, q, period = given["flap_orifice"], given["inflow_m3s"], given["tide"]["period_s"]
    times = np.linspace(0, until, 2001)
    levels = tide["mean_m"] + tide["amplitude_m"] * np.sin(2 * np.pi * times / period)
    rows = [{"time": t, "level": z} for t, z in zip(times, levels, strict=True)]
    net = network(
        {"tank": tank(floor, given["tank_top_m"], given["tank_area_m2"], depth=given["initial_level_m"] - floor),
         "sea": {"kind": "outfall", "invert": opening["invert_m"], "tail_water": {"kind": "series", "rows": rows}}},
        {"flap": {"kind": "orifice", "upstream": "tank", "downstream": "sea", "invert": opening["invert_m"],
                  "section": {"shape": "circular", "diameter": opening["diameter_m"]}, "flap": True,
                  "discharge_coefficient": opening["Cd"]}},
    )  # fmt: skip
    run = Run(net, {"tank": [(0, q), (until, q)]}, until, 20, longest_step=given["max_time_step_s"])
    begin = until - period
    last = run.time >= begin
    time, level, flow = run.time[last] - begin, run.level("tank")[last], run.flow("flap")[last]
    shut = [e for e in decode(run.result.events, run.flat) if e.kind == "flap shut" and e.time >= begin]
    opens, closes = next(e.time for e in shut if not e.begins), next(e.time for e in shut if e.begins)
    everything = [e for e in decode(run.result.events, run.flat) if e.kind == "flap shut"]
    shut_before = max(e.time for e in everything if e.begins and e.time < opens)
    return {
        "greatest tank level in the last tide": float(level.max()),
        "time of greatest level after the start of the last tide": float(time[level.argmax()]),
        "least tank level in the last tide": float(level.min()),
        "flap closes, after the start of the last tide": closes - begin,
        "flap opens, after the start of the last tide": opens - begin,
        "tank level when the flap opens": run.at(run.level("tank"), opens),
        "time closed per tide": opens - shut_before, "greatest outflow in the last tide": float(flow.max()),
        "volume discharged per tide": float(np.trapezoid(flow, time)),
        "backflow volume": float(-np.trapezoid(np.minimum(flow, 0.0), time)),
        "levels in the last tide": np.interp([0.0, 5589.0, 11178.0, 16767.0, 22356.0, 27945.0, 33534.0, 39123.0], time, level).tolist(),
    }  # fmt: skip


def f11(given: Inputs) -> Found:
    """A gate between two waters; the level for a flow is where a tank comes to rest."""
    sill, found = given["sill_level_m"], dict[str, Any]()
    gate = {"kind": "gate", "upstream": "up", "downstream": "out", "sill": sill, "width": given["width_m"],
            "opening": given["opening_m"], "contraction_coefficient": given["contraction_coefficient"]}  # fmt: skip
    jet = given["contraction_coefficient"] * given["opening_m"]

    def between(tail: float):
        return network(
            {"up": tank(sill, sill + 5, 20.0),
             "out": {"kind": "outfall", "invert": sill, "tail_water": {"kind": "fixed", "level": tail}}},
            {"gate": gate},
        )  # fmt: skip

    for up, down in given["levels_upstream_downstream_m"]:
        flat = flatten(between(down))
        at = f"upstream {up} m, downstream {down} m"
        k = flat.control_face[identity("gate")] - flat.grid.face.shape[1]
        found[f"{at}: flow"] = control_flow(flat.grid, k, 0, up, down)[0]
        found[f"{at}: state"] = "submerged" if down - sill > submerged_from(up - sill, jet) else "free"
        found[f"upstream {up} m: downstream level at which drowning begins"] = sill + submerged_from(up - sill, jet)
    for flow, down in given["flow_and_downstream_level"]:
        run = Run(between(down), {"up": [(0, flow), (7200, flow)]}, 7200, 60.0)
        found[f"flow {flow} m3/s, downstream {down} m: upstream level"] = float(run.level("up")[-1])
    return found


def f9(given: Inputs) -> Found:
    """Half-drain times and volumes are the product's figures; a and c begin at their peak and count from empty."""
    until, day, found = given["run_length_s"], 86_400.0, dict[str, Any]()

    def orifice(part: Inputs) -> dict[str, Any]:
        """The root law down to no depth, which an opening with its centre at the base has not."""
        area = 0.25 * np.pi * part["orifice_diameter_m"] ** 2
        heads = np.array([0.0, *np.geomspace(1e-5, 10.0, 180)])
        flows = part["Cd"] * area * np.sqrt(2 * 9.81 * heads)
        return {"kind": "curve", "upstream": "pond", "downstream": "out", "invert": 0.0,
                "rows": [{"head": h, "flow": q} for h, q in zip(heads, flows, strict=True)]}  # fmt: skip

    def run(area: float, outlet: dict, inflow: list, depth: float = 0.0, marks=(), **more) -> Run:
        def filled(to: float):
            return network(
                {"pond": tank(0.0, 10.0, area, to) | more, "out": {"kind": "outfall", "invert": -5}}, {"outlet": outlet}
            )

        empty = make_work(flatten(filled(0.0)).grid)
        rest = Start(empty.cell, empty.face, empty.state, empty.outlet)
        return Run(filled(depth), {"pond": inflow}, until, 60.0, marks=marks, rest=rest)

    a = given["a_orifice"]
    one = run(a["plan_area_m2"], orifice(a), [(0.0, 0.0), (1.0, 0.0)], a["depth_at_peak_m"], marks=(day,))
    depth, volume = one.level("pond"), a["plan_area_m2"] * a["depth_at_peak_m"]
    gone = volume - a["plan_area_m2"] * one.at(depth, day)
    found["a: half-drain time from the peak"] = _half(one)
    found["a: time until empty from the peak"] = _fall(one, depth, 1e-4) / 3600
    found["a: volume discharged within 24 h of the peak"] = _passed(one, "outlet", day)
    found["a: share of the peak volume discharged within 24 h"] = gone / volume
    found["a: depth 24 h after the peak"] = one.at(depth, day)

    b = given["b_orifice_and_infiltration"]
    end = b["inflow_duration_s"]
    soaks = {"infiltration": {"rate": b["infiltration_m_per_s"], "safety_factor": 1.0, "through": "base"}}
    two = run(b["plan_area_m2"], orifice(b), [(0.0, b["inflow_m3s"]), (end, b["inflow_m3s"]), (end, 0.0)],
              marks=(end, end + day), **soaks)  # fmt: skip
    depth = two.level("pond")
    found["b: greatest depth"] = float(depth.max())
    found["b: time of the peak"] = two.peak_time("pond")
    found["b: half-drain time from the peak"] = _half(two)
    found["b: time until empty from the peak"] = (_fall(two, depth, 1e-4, end) - end) / 3600
    held = b["plan_area_m2"] * (float(depth.max()) - two.at(depth, end + day))
    through = _passed(two, "outlet", end + day) - _passed(two, "outlet", end)
    found["b: volume gone within 24 h of the peak"] = held
    found["b: of which infiltrated"] = held - through
    found["b: of which through the orifice"] = through
    found["b: depth 24 h after the peak"] = two.at(depth, end + day)

    c = given["c_constant_outlet"]
    area, rate = 100.0, c["outlet_m3s"]
    constant = {"kind": "curve", "upstream": "pond", "downstream": "out", "invert": 0.0,
                "rows": [{"head": h, "flow": q} for h, q in ((0, 0), (0.001, rate), (10, rate))]}  # fmt: skip
    three = run(area, constant, [(0.0, 0.0), (1.0, 0.0)], c["volume_at_peak_m3"] / area, marks=(day,))
    found["c: half-drain time from the peak"] = _half(three)
    found["c: volume discharged within 24 h of the peak"] = _passed(three, "outlet", day)
    found["c: volume left after 24 h"] = area * three.at(three.level("pond"), day)

    d = given["d_inflow_still_running"]
    probe = run(d["plan_area_m2"], orifice(d), [tuple(p) for p in d["inflow_points_s_m3s"]])
    peak = probe.peak_time("pond")
    four = run(d["plan_area_m2"], orifice(d), [tuple(p) for p in d["inflow_points_s_m3s"]], marks=(peak, peak + day))
    depth = four.level("pond")
    found["d: greatest depth"] = float(depth.max())
    found["d: time of the peak"] = four.peak_time("pond")
    found["d: half-drain time from the peak"] = _half(four)
    found["d: volume discharged within 24 h of the peak"] = _passed(four, "outlet", peak + day) - _passed(
        four, "outlet", peak
    )
    found["d: depth 24 h after the peak"] = four.at(depth, peak + day)
    return found


def _half(run: Run) -> float:
    """Of the pond as the rule of half-drain times reads it, h."""
    figures = Reduction(run.net, run.flat).figures("storm", run.result)
    return float(figures.half_drain[sorted(run.net.nodes).index(identity("pond"))]) / 3600.0


def _passed(run: Run, link: str, time: float) -> float:
    """Volume that had passed a link by a time, as the rule of volumes reads it, m3."""
    figures = Reduction(run.net, run.flat).figures("storm", run.result)
    column = len(run.net.nodes) + sorted(run.net.links).index(identity(link))
    return float(figures.passed_at[np.searchsorted(figures.marks, time), column])


CASES = {"B1": b1, "B2": b2, "B3": b3, "B4": b4, "B5": b5, "B6": b6, "B7": b7, "B8": b8, "F5": f5, "F8": f8,
         "F9": f9, "F11": f11}  # fmt: skip
