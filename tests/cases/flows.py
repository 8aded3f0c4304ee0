"""Cases A: steady and unsteady flow in conduits. Each function computes what its reference file asks for."""

from collections.abc import Callable, Iterator
from typing import Any

import numpy as np

from madidus.core.elements.geometry import critical_depth, geometry, normal_depth, uniform_flow
from madidus.core.elements.sections import Circular, OpenSection, Rectangular, Section, Trapezoidal

from .build import Run, network, tank

G = 9.81
Inputs = dict[str, Any]
Found = dict[str, Any]


def open_section(given: Inputs, height: float) -> OpenSection:
    if given["shape"] == "rectangular":
        return Rectangular(width=given["width_m"], height=height)
    slope = given["side_slope_h_per_v"]
    return Trapezoidal(base_width=given["bottom_width_m"], left_slope=slope, right_slope=slope, height=height)


def steady_points(flow: float, until: float) -> list[tuple[float, float]]:
    return [(0.0, flow), (until, flow)]


def reach(flow: float, section: Section, kind: str, until: float, tail: dict, spacing: float, **conduit: Any) -> Run:
    """One conduit from a shaft to an outfall, at a steady flow."""
    up, down = conduit["upstream_invert"], conduit["downstream_invert"]
    net = network(
        {"head": {"kind": "manhole", "cover": up + 15, "invert": up, "plan_area": 1.0},
         "out": {"kind": "outfall", "invert": down, "tail_water": tail}},
        {"reach": {"kind": kind, "upstream": "head", "downstream": "out", "section": section.model_dump(), **conduit}},
    )  # fmt: skip
    return Run(net, {"head": steady_points(flow, until)}, until, until / 24, spacing=spacing)


def a1(given: Inputs) -> Found:
    found: Found = {}
    for channel in given["channels"]:
        shape, is_open = channel["section"]["shape"], channel["section"]["shape"] != "circular"
        section = (
            open_section(channel["section"], channel["height_m"]) if is_open
            else Circular(diameter=channel["section"]["diameter_m"])
        )  # fmt: skip
        for flow in channel["steady_flows_m3s"]:
            run = reach(
                flow, section, "channel" if is_open else "pipe", given["run_length_s"], {"kind": "normal"}, 30.0,
                length=channel["length_m"], upstream_invert=channel["invert_upstream_m"],
                downstream_invert=channel["invert_downstream_m"], roughness=channel["manning_n"],
            )  # fmt: skip
            depths = run.depths("reach")
            depth = float(depths[len(depths) // 2])
            found[f"normal depth, {shape}, Q={flow:g}"] = depth
            found[f"velocity, {shape}, Q={flow:g}"] = flow / float(geometry(section, is_open=is_open).area_at(depth))
    return found


def a2(given: Inputs) -> Found:
    d, n, s = given["section"]["diameter_m"], given["manning_n"], given["bed_slope"]
    pipe = Circular(diameter=d)
    full = uniform_flow(pipe, n, s, pipe.height)
    fills = np.linspace(0.01, 1.0, 4000)
    flows = np.array([uniform_flow(pipe, n, s, y * d) for y in fills])
    speeds = flows / geometry(pipe).area_at(fills * d)
    velocity = full / (np.pi / 4 * d**2)
    return {
        "full-bore capacity": full, "full-bore velocity": velocity,
        "fill y/D of greatest flow": float(fills[flows.argmax()]),
        "greatest free-surface uniform flow": float(flows.max()),
        "ratio greatest flow / full-bore": float(flows.max() / full),
        "fill y/D of greatest velocity": float(fills[speeds.argmax()]),
        "ratio greatest velocity / full-bore velocity": float(speeds.max() / velocity),
        **{f"uniform flow at y/D={y:g}": uniform_flow(pipe, n, s, y * d) for y in given["fills_y_over_D"]},
    }  # fmt: skip


def a3(given: Inputs) -> Found:
    diameter, flow, until = given["section"]["diameter_m"], given["steady_flow_m3s"], given["run_length_s"]
    pipes = given["pipes_upstream_to_downstream"]
    nodes: dict[str, dict] = {"OUT": {"kind": "outfall", "invert": given["outfall_invert_m"]}}
    links = {}
    for pipe in pipes:
        z = pipe["invert_us_m"]
        nodes[pipe["from"]] = {"kind": "manhole", "cover": z + 4, "invert": z, "plan_area": 1.2}
        links[pipe["id"]] = {
            "kind": "pipe", "upstream": pipe["from"], "downstream": pipe["to"], "length": pipe["length_m"],
            "upstream_invert": z, "downstream_invert": pipe["invert_ds_m"], "roughness": given["manning_n"],
            "section": {"shape": "circular", "diameter": diameter},
        }  # fmt: skip
    head = pipes[0]["from"]
    run = Run(
        network(nodes, links), {head: steady_points(flow, until)}, until, 600,
        spacing=given["max_computational_spacing_m"],
    )  # fmt: skip
    last = pipes[-1]
    above, depths = run.profile(last["id"])
    found: Found = {"critical depth = depth at the outfall": critical_depth(Circular(diameter=diameter), flow)}
    for at in given["check_distances_upstream_of_outfall_m"]:
        found[f"depth {at:g} m upstream of the outfall"] = float(np.interp(at, above, depths))
    for pipe in pipes:  # the profile begins at the upper end of the first, not in the manhole that no pipe leads to
        level = run.start(pipe["id"]) if pipe["from"] == head else float(run.level(pipe["from"])[-1])
        found[f"water level at {pipe['from']}"] = level
        found[f"depth at {pipe['from']}"] = level - pipe["invert_us_m"]
    return found


def a4(given: Inputs) -> Found:
    section = open_section(given["section"], given["bank_height_m"])
    flow, n, bed = given["steady_flow_m3s"], given["manning_n"], given["outfall_bed_level_m"]
    run = reach(
        flow, section, "channel", given["run_length_s"], {"kind": "fixed", "level": given["outfall_water_level_m"]}, 25.0,
        length=given["length_m"], upstream_invert=given["upstream_bed_level_m"], downstream_invert=bed, roughness=n,
    )  # fmt: skip
    above, depths = run.profile("reach")
    found: Found = {
        "normal depth": normal_depth(section, n, given["bed_slope"], flow, is_open=True),
        "critical depth": critical_depth(section, flow, is_open=True),
    }
    for at in given["stations_upstream_of_outfall_m"]:
        depth = float(np.interp(at, above, depths))
        found[f"depth {at:g} m upstream of the outfall"] = depth
        found[f"water level {at:g} m upstream of the outfall"] = depth + bed + at * given["bed_slope"]
    return found


def a5(given: Inputs) -> Found:
    nodes: dict[str, dict] = {}
    links, pipes = {}, given["pipes_upstream_to_downstream"]
    for pipe in pipes:
        nodes[pipe["from"]] = {"kind": "manhole", "cover": 30, "invert": pipe["invert_us_m"], "plan_area": 2}
        links[pipe["id"]] = {
            "kind": "pipe", "upstream": pipe["from"], "downstream": pipe["to"], "length": pipe["length_m"],
            "section": {"shape": "circular", "diameter": pipe["diameter_m"]}, "roughness": given["manning_n"],
            "upstream_invert": pipe["invert_us_m"], "downstream_invert": pipe["invert_ds_m"],
            "entry_loss": pipe["entry_loss_K"], "exit_loss": pipe["exit_loss_K"],
        }  # fmt: skip
    first, last = pipes[0], pipes[-1]
    nodes[first["from"]] = tank(
        first["invert_us_m"], 40.0, 1e7, depth=given["upstream_water_level_m"] - first["invert_us_m"]
    )  # fmt: skip
    nodes[last["to"]] = {
        "kind": "outfall", "invert": last["invert_ds_m"],
        "tail_water": {"kind": "fixed", "level": given["downstream_water_level_m"]},
    }  # fmt: skip
    run = Run(network(nodes, links), {}, given["run_length_s"], 60)
    flow = float(run.flow(last["id"])[-1])
    found: Found = {"steady flow": flow}
    level = given["upstream_water_level_m"]
    for pipe in pipes:
        speed = flow / (np.pi / 4 * pipe["diameter_m"] ** 2)
        found[f"velocity in {pipe['id']}"] = speed
        if pipe is not last:
            level = float(run.level(pipe["to"])[-1])
            found[f"water level in {pipe['to']}"] = level
    radius = last["diameter_m"] / 4
    losses = last["entry_loss_K"] + last["exit_loss_K"]
    friction = 2 * G * given["manning_n"] ** 2 * last["length_m"] / radius ** (4 / 3)
    found[f"closure: level at {last['to']}"] = level - (losses + friction) * speed**2 / (2 * G)
    return found


def trunk(given: Inputs, length: float, flow: float, tail: str) -> Run:
    """The long sewer of case A6; a pipe of 150 m between manholes."""
    count, gap = round(length / 150), given["bed_slope"] * 150
    nodes: dict[str, dict] = {
        "out": {"kind": "outfall", "invert": given["outfall_invert_m"], "tail_water": {"kind": tail}}
    }
    links = {}
    for i in range(count):
        z = given["outfall_invert_m"] + given["bed_slope"] * (length - 150 * i)
        nodes[f"m{i}"] = {"kind": "manhole", "cover": z + 12, "invert": z, "plan_area": 1.5}
        links[f"p{i}"] = {
            "kind": "pipe", "upstream": f"m{i}", "downstream": f"m{i + 1}" if i < count - 1 else "out", "length": 150,
            "upstream_invert": z, "downstream_invert": z - gap, "roughness": given["manning_n"],
            "section": {"shape": "circular", "diameter": given["section"]["diameter_m"]},
        }  # fmt: skip
    until = given["run_length_s"]
    return Run(network(nodes, links), {"m0": steady_points(flow, until)}, until, 3600, spacing=10.0)


def _trunk_depths(run: Run, length: float) -> tuple[np.ndarray, np.ndarray]:
    count = round(length / 150)
    depths = np.concatenate([run.depths(f"p{i}") for i in range(count)])[::-1]
    return (np.arange(len(depths)) + 0.5) * length / len(depths), depths


def _largest(fits: Callable[[float], bool], low: float, high: float) -> float:
    """Largest flow that fits, to a part in 500."""
    while high - low > 0.002 * low:
        middle = 0.5 * (low + high)
        low, high = (middle, high) if fits(middle) else (low, middle)
    return 0.5 * (low + high)


def a6(given: Inputs) -> Found:
    """Limits come from runs that end steady: fitting is below the soffit everywhere."""
    d, n, slope = given["section"]["diameter_m"], given["manning_n"], given["bed_slope"]
    long, short = given["lengths_m"]
    small, large = given["steady_flows_m3s"]
    pipe = Circular(diameter=d)
    full = uniform_flow(pipe, n, slope, pipe.height)
    found: Found = {"full-bore capacity": full}

    def fits(length: float, tail: str) -> Callable[[float], bool]:
        return lambda flow: bool(_trunk_depths(trunk(given, length, flow, tail), length)[1].max() < d)

    found["largest steady flow below the soffit, normal-depth outfall"] = _largest(
        fits(short, "normal"), 0.9 * full, 1.2 * full
    )
    found[f"largest steady flow below the soffit, free outfall, L={long} m"] = _largest(
        fits(long, "free"), full, 1.2 * full
    )
    found[f"largest steady flow below the soffit, free outfall, L={short} m"] = _largest(
        fits(short, "free"), full, 1.5 * full
    )
    runs = {(q, tail): trunk(given, long, q, tail) for q in (small, large) for tail in ("normal", "free")}
    for (q, tail), run in runs.items():
        label = "normal-depth" if tail == "normal" else "free"
        found[f"Q={q}: fits with {label} outfall"] = "yes" if _trunk_depths(run, long)[1].max() < d else "no"
    above, depths = _trunk_depths(runs[small, "free"], long)
    found[f"Q={small}: normal depth"] = float(_trunk_depths(runs[small, "normal"], long)[1][len(depths) // 2])
    for at in given["check_distances_upstream_of_outfall_m"]:
        found[f"Q={small}: free outfall, depth {at} m above the outfall"] = float(np.interp(at, above, depths))
    found[f"Q={small}: free outfall, depth at the upstream end"] = float(depths[-1])
    run = runs[large, "free"]
    above, depths = _trunk_depths(run, long)
    found[f"Q={large}: depth at free outfall"] = critical_depth(pipe, large)
    found[f"Q={large}: free outfall, distance above the outfall where the pipe becomes full"] = float(
        above[np.argmax(depths >= d)]
    )
    top = run.start("p0")
    found[f"Q={large}: free outfall, water level at the upstream end"] = top
    found[f"Q={large}: free outfall, head above invert at the upstream end"] = top - given["upstream_invert_m"]
    return found


def _dam_break(given: Inputs, right: float) -> Run:
    dx, length = given["cell_length_m"], given["channel_length_m"]
    width, walls = given["section"]["width_m"], given["wall_height_m"]
    shaft = {"kind": "junction", "cover": walls, "invert": 0, "plan_area": 10}
    net = network(
        {"left": shaft, "right": shaft, "out": {"kind": "outfall", "invert": 0}},
        {"channel": {"kind": "channel", "upstream": "left", "downstream": "right", "length": length,
                     "upstream_invert": 0, "downstream_invert": 0, "roughness": 1e-6,
                     "section": {"shape": "rectangular", "width": width, "height": walls}},
         "spill": {"kind": "weir", "upstream": "right", "downstream": "out", "crest": 0.99 * walls, "length": 1.0}},
    )  # fmt: skip
    x = (np.arange(round(length / dx)) + 0.5) * dx
    start = np.where(x < given["dam_position_m"], given["depth_left_m"], right)
    return Run(net, {}, given["time_s"], 1.0, spacing=dx, full={"channel": start, "left": start[0], "right": right})


def a7(given: Inputs) -> Found:
    dx, stations = given["cell_length_m"], given["stations_m"]
    count, dam = round(given["channel_length_m"] / dx), given["dam_position_m"]
    centres, faces = (np.arange(count) + 0.5) * dx, np.arange(count + 1) * dx
    found: Found = {}
    for bed, right in (("dry", given["dry_bed_depth_right_m"]), ("wet", given["wet_bed_depth_right_m"])):
        run = _dam_break(given, right)
        depths, speeds = run.depths("channel"), run.speeds("channel")
        found[f"{bed} bed: depth profile"] = np.interp(stations, centres, depths).tolist()
        found[f"{bed} bed: velocity profile"] = np.interp(stations, faces, speeds).tolist()
        at_dam = round(dam / dx)
        if bed == "dry":
            found["dry bed: depth at the dam (4/9 h)"] = float(np.interp(dam, centres, depths))
            passed = run.flow("channel", at_dam)
            found["dry bed: unit discharge at the dam (8/27 h sqrt(g h))"] = (
                float(passed[-1]) / given["section"]["width_m"]
            )
            found["dry bed: front position"] = float(centres[depths > 1e-3].max())
            foot = centres[depths < given["depth_left_m"] - 0.02]
            found["rarefaction foot position"] = float(foot.min())
            through = run.passed("channel", at_dam)
            found["volume per unit width passed the dam, dry bed"] = through / given["section"]["width_m"]
        else:
            middle = (centres > dam + 100) & (centres < dam + 200)
            plateau = float(depths[middle].mean())
            found["wet bed: plateau depth"] = plateau
            found["wet bed: plateau velocity"] = float(speeds[1:][middle].mean())
            half = 0.5 * (plateau + right)
            shock = float(np.interp(-half, -depths[centres > dam], centres[centres > dam]))
            found["wet bed: shock position"] = shock
            found["wet bed: shock speed"] = (shock - dam) / given["time_s"]
    return found


def a8(given: Inputs) -> Found:
    width, flow, dx = given["section"]["width_m"], given["steady_flow_m3s"], given["cell_length_m"]
    steep, mild = given["steep_reach"], given["mild_reach"]
    section = Rectangular(width=width, height=given["channel_height_m"])
    run = reach(
        flow, section, "channel", given["run_length_s"], {"kind": "fixed", "level": given["outfall_water_level_m"]}, dx,
        length=steep["length_m"] + mild["length_m"], upstream_invert=given["upstream_bed_level_m"],
        downstream_invert=given["outfall_bed_level_m"], roughness=given["manning_n"],
        bed=[{"chainage": steep["length_m"], "level": given["break_bed_level_m"]}],
    )  # fmt: skip
    above, depths = run.profile("reach")
    along, depths = (steep["length_m"] + mild["length_m"] - above)[::-1], depths[::-1]
    critical = critical_depth(section, flow, is_open=True)
    below = along > steep["length_m"]
    first = int(np.argmax(below & (depths > critical)))
    share = (critical - depths[first - 1]) / (depths[first] - depths[first - 1])
    jump = float(along[first - 1] + share * (along[first] - along[first - 1]))
    # the surface bends at the break, and what runs rapidly knows nothing of what is below: it is read from above
    last, before_last = depths[~below][-1], depths[~below][-2]
    at_break = float(last + (last - before_last) * (steep["length_m"] - along[~below][-1]) / dx)
    # the jump is a few cells wide: depths on both sides are read along the profiles that lead to it
    before, after = below & (along < jump - 2 * dx), along > jump + 3 * dx
    upper = float(np.polyval(np.polyfit(along[before], depths[before], 2), jump))
    lower = float(np.polyval(np.polyfit(along[after][:20], depths[after][:20], 1), jump))
    speed = flow / width
    froude = speed / upper / np.sqrt(G * upper)
    return {
        "critical depth": critical,
        "normal depth, steep reach": normal_depth(section, given["manning_n"], steep["slope"], flow, is_open=True),
        "normal depth, mild reach": normal_depth(section, given["manning_n"], mild["slope"], flow, is_open=True),
        "depth at the slope break": at_break,
        "jump position, distance below the slope break": jump - steep["length_m"],
        "depth just above the jump": upper, "depth just below the jump": lower,
        "Froude number above the jump": float(froude),
        "energy lost in the jump": float(
            upper + speed**2 / (2 * G * upper**2) - lower - speed**2 / (2 * G * lower**2)
        ),
        "subcritical depth 100 m above the outfall": float(np.interp(along[-1] + dx / 2 - 100, along, depths)),
    }  # fmt: skip


def _extremes(time: np.ndarray, level: np.ndarray, within: float = 30.0) -> Iterator[tuple[float, int]]:
    """Times and places at which a level is the highest or the lowest of the 30 s before and after."""
    w = int(within / (time[1] - time[0]))
    for i in range(w, len(level) - w):
        around = level[i - w : i + w + 1]
        if level[i] in (around.max(), around.min()):
            yield float(time[i]), i


def a9(given: Inputs) -> Found:
    """The pipe starts full and at rest."""
    pipe, one, two = given["pipe"], given["tank1_area_m2"], given["tank2_area_m2"]
    floor, top = given["tank_floor_m"], given["tank_top_m"]
    net = network(
        {"t1": tank(floor, top, one, depth=given["tank1_level_m"] - floor),
         "t2": tank(floor, top, two, depth=given["tank2_level_m"] - floor), "out": {"kind": "outfall", "invert": top}},
        {"pipe": {"kind": "pipe", "upstream": "t1", "downstream": "t2", "length": pipe["length_m"],
                  "upstream_invert": pipe["invert_m"], "downstream_invert": pipe["invert_m"],
                  "section": {"shape": "circular", "diameter": pipe["diameter_m"]}, "roughness": pipe["manning_n"],
                  "entry_loss": pipe["entry_loss_K"], "exit_loss": pipe["exit_loss_K"]},
         "spill": {"kind": "weir", "upstream": "t2", "downstream": "out", "crest": top - 0.01, "length": 1}},
    )  # fmt: skip
    even = (one * given["tank1_level_m"] + two * given["tank2_level_m"]) / (one + two)
    run = Run(
        net, {}, given["run_length_s"], 0.25, full={"pipe": 0.5 * (given["tank1_level_m"] + given["tank2_level_m"])},
        longest_step=given["max_time_step_s"],
    )  # fmt: skip
    first, second, flow = run.level("t1"), run.level("t2"), run.flow("pipe")
    area = np.pi / 4 * pipe["diameter_m"] ** 2
    found: Found = {
        "equilibrium level": even,
        "undamped period (analytic)": 2 * np.pi * np.sqrt(pipe["length_m"] / (G * area * (1 / one + 1 / two))),
        "undamped peak flow (analytic)": (given["tank1_level_m"] - given["tank2_level_m"])
        * np.sqrt(G * area / pipe["length_m"] / (1 / one + 1 / two)),
        "greatest flow": float(flow.max()), "time of greatest flow": float(run.time[flow.argmax()]),
    }  # fmt: skip
    for k, (time, i) in zip(range(1, 5), _extremes(run.time, first), strict=False):
        found[f"extreme {k}: time"] = time
        found[f"extreme {k}: level in tank 1"], found[f"extreme {k}: level in tank 2"] = (
            float(first[i]),
            float(second[i]),
        )
    return found


def a10(given: Inputs) -> Found:
    """Ten hours at base flow come first. Gauges are junctions between reaches of one channel."""
    wave, before, until = given["inflow_hydrograph"], 36_000.0, given["run_length_s"]
    times = np.arange(0, wave["duration_s"] + 1, 120.0)
    base, peak = wave["base_m3s"], wave["peak_m3s"]
    flows = base + (peak - base) / 2 * (1 - np.cos(2 * np.pi * times / wave["duration_s"]))
    inflow = [(0.0, base), *((before + t, q) for t, q in zip(times, flows, strict=True)), (before + until, base)]
    slope, length, bottom = given["bed_slope"], given["length_m"], given["bed_level_downstream_m"]
    width, bank = given["section"]["width_m"], given["bank_height_m"]
    marks = [0.0, *given["gauges_m"], length]
    bed = [bottom + slope * (length - x) for x in marks]
    nodes: dict[str, dict] = {
        f"x{x:g}": {"kind": "junction", "cover": z + 10, "invert": z, "plan_area": 10}
        for x, z in zip(marks[:-1], bed[:-1], strict=True)
    }
    nodes["out"] = {"kind": "outfall", "invert": bed[-1], "tail_water": {"kind": "normal"}}
    names = [*nodes]
    links = {
        f"to {names[i + 1]}": {
            "kind": "channel", "upstream": names[i], "downstream": names[i + 1], "length": marks[i + 1] - marks[i],
            "upstream_invert": bed[i], "downstream_invert": bed[i + 1], "roughness": given["manning_n"],
            "section": {"shape": "rectangular", "width": width, "height": bank},
        }
        for i in range(len(names) - 1)
    }  # fmt: skip
    run = Run(network(nodes, links), {names[0]: inflow}, before + until, 60, spacing=50.0)
    after = run.time >= before
    found: Found = {
        "inflow volume in the run": float(
            np.trapezoid([q for t, q in inflow if t >= before], [t for t, _ in inflow if t >= before])
        )
    }
    for x in given["gauges_m"]:
        flow, level = run.flow(f"to x{x:g}")[after], run.level(f"x{x:g}")[after]
        at = f"x={x} m: "
        found[at + "peak flow, full dynamic reference"] = float(flow.max())
        found[at + "time of peak flow, full dynamic reference"] = run.crest(f"to x{x:g}") - before
        found[at + "greatest depth, full dynamic reference"] = float(level.max() - nodes[f"x{x:g}"]["invert"])
        found[at + "flow at sample times, full dynamic reference"] = [
            run.at(run.flow(f"to x{x:g}"), before + t) for t in given["sample_times_s"]
        ]
        found[at + "volume passed in the run"] = float(np.trapezoid(flow, run.time[after]))
    return found


def a11(given: Inputs) -> Found:
    table, length = given["derived_bed_table"], given["length_m"]
    section = Rectangular(width=given["section"]["width_m"], height=given["bank_height_m"])
    run = reach(
        given["steady_flow_m3s"], section, "channel", given["run_length_s"],
        {"kind": "fixed", "level": given["derived_downstream_water_level_m"]}, given["max_computational_spacing_m"],
        length=length, upstream_invert=table["bed_level_m"][0], downstream_invert=table["bed_level_m"][-1],
        roughness=given["manning_n"],
        bed=[{"chainage": x, "level": z} for x, z in zip(table["x_m"][1:-1], table["bed_level_m"][1:-1], strict=True)],
    )  # fmt: skip
    above, depths = run.profile("reach")
    along, levels = (length - above)[::-1], run.levels("reach")
    beds = np.interp(given["stations_m"], table["x_m"], table["bed_level_m"])
    at = np.interp(given["stations_m"], along, levels)
    at[0] = run.start("reach")
    speed = given["steady_flow_m3s"] / (section.width * depths)
    return {
        "depth profile": (at - beds).tolist(), "water level profile": at.tolist(),
        "greatest Froude number": float((speed / np.sqrt(G * depths)).max()),
    }  # fmt: skip


CASES = {
    "A1": a1,
    "A2": a2,
    "A3": a3,
    "A4": a4,
    "A5": a5,
    "A6": a6,
    "A7": a7,
    "A8": a8,
    "A9": a9,
    "A10": a10,
    "A11": a11,
}
