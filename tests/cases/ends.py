"""Cases F1 to F4: free and drowned exits, entries out of still water, a flood wave; on the grid that users get."""

from typing import Any

import numpy as np

from madidus.core.elements.geometry import critical_depth, geometry, uniform_flow
from madidus.core.elements.sections import Circular, Rectangular, Section

from .build import Run, identity, network, tank
from .flows import Found, Inputs, steady_points

G = 9.81


def _pipes(given: list[Inputs], manning: float, flow: float, until: float) -> Run:
    """Pipes between benched manholes to a free outfall, at a steady flow into the first."""
    nodes: dict[str, dict] = {"OUT": {"kind": "outfall", "invert": given[-1]["invert_ds_m"]}}
    links = {}
    for pipe in given:
        invert = pipe["invert_us_m"]
        nodes[pipe["from"]] = {"kind": "manhole", "cover": invert + 10, "invert": invert, "plan_area": 1.2}
        links[pipe["id"]] = {
            "kind": "pipe", "upstream": pipe["from"], "downstream": pipe["to"], "length": pipe["length_m"],
            "upstream_invert": invert, "downstream_invert": pipe["invert_ds_m"], "roughness": manning,
            "section": {"shape": "circular", "diameter": pipe["diameter_m"]},
        }  # fmt: skip
    for pipe in given[:-1]:
        below = min(pipe["invert_ds_m"], *(p["invert_us_m"] for p in given if p["from"] == pipe["to"]))
        nodes[pipe["to"]]["invert"] = below
    return Run(network(nodes, links), {given[0]["from"]: steady_points(flow, until)}, until, until / 60)


def f1(given: Inputs) -> Found:
    """Levels at the head are those of the pipe's grade line: the manhole itself stands a velocity head higher (F13)."""
    pipe, manning, until = given["one_pipe"][0], given["manning_n"], given["run_length_s"]
    found: Found = {
        "one pipe: full-bore capacity": uniform_flow(
            Circular(diameter=pipe["diameter_m"]), manning, pipe["slope"], pipe["diameter_m"]
        )
    }
    for flow in given["flows_m3s"]:
        run = _pipes([pipe], manning, flow, until)
        found[f"one pipe, {flow:g} m3/s: level at M1"] = run.start(pipe["id"])
    for flow in given["two_pipe_flows_m3s"]:
        run = _pipes(given["two_pipes_upstream_to_downstream"], manning, flow, until)
        upper, lower = given["two_pipes_upstream_to_downstream"]
        found[f"two pipes, {flow:g} m3/s: level at M1"] = run.start(upper["id"])
        found[f"two pipes, {flow:g} m3/s: level at M2"] = float(run.level(lower["from"])[-1])
    return found


def f13(given: Inputs) -> Found:
    """An ordinary manhole at the head of a pipe."""
    found: Found = {}
    for name, form in (
        ("circular_steep", "circular, steep"),
        ("circular_mild", "circular, mild"),
        ("drowned", "drowned"),
    ):
        pipe = given[name]
        for flow in pipe["flows_m3s"]:
            levels = []
            for loss in given["entry_loss_K"]:
                top = pipe["invert_us_m"]
                end: dict[str, Any] = {"kind": "outfall", "invert": pipe["invert_ds_m"]}
                if "tail_water_m" in pipe:
                    end["tail_water"] = {"kind": "fixed", "level": pipe["tail_water_m"]}
                net = network(
                    {"head": {"kind": "manhole", "cover": top + 4.0, "invert": top, "plan_area": 1.13}, "end": end},
                    {"pipe": {
                        "kind": "pipe", "upstream": "head", "downstream": "end", "length": pipe["length_m"],
                        "upstream_invert": top, "downstream_invert": pipe["invert_ds_m"], "entry_loss": loss,
                        "section": {"shape": "circular", "diameter": pipe["diameter_m"]}, "roughness": given["manning_n"],
                    }},
                )  # fmt: skip
                until = given["run_length_s"]
                run = Run(net, {"head": steady_points(flow, until)}, until, until / 60)
                levels.append(float(run.level("head")[-1]))
            found[f"{form}, {flow:g} m3/s: level in the head manhole"] = levels
    return found


def _chamber(
    section: Section, pipe: Inputs, manning: float, flow: float, until: float, *, area: float, entry: float,
    below: dict[str, Any], exit_loss: float,
) -> Run:  # fmt: skip
    """A still chamber, one pipe, and what lies below it."""
    up = pipe["invert_us_m"]
    net = network(
        {"chamber": tank(up - 2.0, up + 20.0, area, depth=2.0), "below": below,
         "spare": {"kind": "outfall", "invert": up + 18.0}},
        {"overflow": {"kind": "weir", "upstream": "chamber", "downstream": "spare", "crest": up + 19.0, "length": 1.0},
         "pipe": {
            "kind": "pipe", "upstream": "chamber", "downstream": "below", "length": pipe["length_m"],
            "upstream_invert": up, "downstream_invert": pipe["invert_ds_m"], "roughness": manning,
            "section": section.model_dump(), "entry_loss": entry, "exit_loss": exit_loss,
        }},
    )  # fmt: skip
    return Run(net, {"chamber": steady_points(flow, until)}, until, until / 60)


def _entry_depth(run: Run, section: Section, entry: float) -> float:
    """Depth at the start of the pipe: its area is the flow over the velocity there."""
    speed, flow = float(run.speeds("pipe")[0]), float(run.flow("pipe", 0)[-1])
    depths = np.linspace(0.0, section.height, 4001)
    return float(np.interp(flow / speed, geometry(section).area_at(depths), depths))


def f2(given: Inputs) -> Found:
    found: Found = {}
    for name, form in (("circular_steep", "circular, steep"), ("rectangular_steep", "rectangular, steep"),
                       ("circular_mild", "circular, mild")):  # fmt: skip
        pipe = given[name]
        section: Section = (
            Circular(diameter=pipe["diameter_m"]) if pipe["shape"] == "circular"
            else Rectangular(width=pipe["width_m"], height=pipe["height_m"])
        )  # fmt: skip
        source = "from the profile" if name.endswith("mild") else "= critical depth"
        for flow in pipe["flows_m3s"]:
            runs = [
                _chamber(
                    section, pipe, given["manning_n"], flow, given["run_length_s"], area=100.0, entry=loss,
                    below={"kind": "outfall", "invert": pipe["invert_ds_m"]}, exit_loss=0.0,
                )
                for loss in given["entry_loss_K"]
            ]  # fmt: skip
            found[f"{form}, {flow:g} m3/s: entry depth {source}"] = _entry_depth(runs[0], section, 0.0)
            found[f"{form}, {flow:g} m3/s: chamber level"] = [float(run.level("chamber")[-1]) for run in runs]
    return found


def f3(given: Inputs) -> Found:
    pipe = given["pipe"]
    section = Circular(diameter=pipe["diameter_m"])
    found: Found = {}

    def ends(pond: float, flow: float, loss: float) -> tuple[Run, float, float]:
        """The run, the level at the upper end of the pipe, and in the chamber."""
        invert = min(pipe["invert_ds_m"], pond) - 1.0
        run = _chamber(
            section, pipe, pipe["manning_n"], flow, given["run_length_s"], area=50.0, entry=given["entry_loss_K"],
            below=tank(invert, invert + 30.0, 1e8, depth=pond - invert), exit_loss=loss,
        )  # fmt: skip
        chamber = float(run.level("chamber")[-1])
        start = pipe["invert_us_m"] + _entry_depth(run, section, given["entry_loss_K"])
        if chamber > pipe["invert_us_m"] + section.height:
            start = chamber - (1.0 + given["entry_loss_K"]) * float(run.speeds("pipe")[0]) ** 2 / (2 * G)
        return run, start, chamber

    for state, pond, flows in (
        ("soffit under water", given["submerged_pond_level_m"], given["submerged_flows_m3s"]),
        ("part full", given["part_full_pond_level_m"], given["part_full_flows_m3s"]),
    ):
        for flow in flows:
            for loss in given["exit_loss_K"]:
                run, upper, chamber = ends(pond, flow, loss)
                lower = _lower_end(run, section, pipe["invert_ds_m"], pond, loss)
                title = f"{state}, {flow:g} m3/s, K = {loss:.1f}"
                if state == "part full":
                    found[f"{title}: depth at the pipe's lower end"] = lower - pipe["invert_ds_m"]
                else:
                    found[f"{title}: level at the pipe's lower end"] = lower
                found[f"{title}: level at the pipe's upper end"] = upper
                found[f"{title}: level in the still upstream chamber"] = chamber
    for flow in given["free_flows_m3s"]:
        title = f"free exit, {flow:g} m3/s, K = 0 and K = 1 alike"
        with_loss, without = (ends(given["free_pond_level_m"], flow, loss) for loss in (1.0, 0.0))
        found[f"{title}: depth at the pipe's lower end"] = critical_depth(section, flow)
        found[f"{title}: level at the pipe's upper end"] = without[1]
        found[f"{title}: level in the still upstream chamber"] = without[2]
        found[f"{title}: rise of the chamber level when K goes from 0 to 1"] = with_loss[2] - without[2]
    return found


def _lower_end(run: Run, section: Section, invert: float, pond: float, loss: float) -> float:
    """Level at the end of the pipe by the rule of the case, from the flow that was computed."""
    flow, level = float(run.flow("pipe")[-1]), pond
    for _ in range(60):
        speed = flow / float(geometry(section).area_at(min(level - invert, section.height)))
        level = 0.5 * (level + pond + (loss - 1.0) * speed**2 / (2 * G))
    return level


def f4(given: Inputs) -> Found:
    count, gap = given["pipes"], given["slope"] * given["pipe_length_m"]
    bottom, until = given["invert_downstream_m"], given["run_length_s"]
    nodes: dict[str, dict] = {f"m{count}": {"kind": "outfall", "invert": bottom}}
    links = {}
    for i in range(count):
        invert = bottom + gap * (count - i)
        nodes[f"m{i}"] = {"kind": "junction", "cover": invert + 6, "invert": invert, "plan_area": 0.05}
        links[f"p{i}"] = {
            "kind": "pipe", "upstream": f"m{i}", "downstream": f"m{i + 1}", "length": given["pipe_length_m"],
            "upstream_invert": invert, "downstream_invert": invert - gap, "roughness": given["manning_n"],
            "section": {"shape": "circular", "diameter": given["section"]["diameter_m"]},
        }  # fmt: skip
    wave, before = given["inflow_hydrograph"], 7200.0
    base, peak, duration = wave["base_m3s"], wave["peak_m3s"], wave["duration_s"]
    times = np.linspace(0.0, duration, 301)
    flows = base + (peak - base) / 2 * (1 - np.cos(2 * np.pi * times / duration))
    inflow = [(0.0, base), *zip((before + times).tolist(), flows.tolist(), strict=True), (before + until, base)]
    run = Run(network(nodes, links), {"m0": inflow}, before + until, 5.0)
    found: Found = {}
    late = run.time >= before
    for x in given["stations_m"]:
        k = round(x / given["pipe_length_m"])
        last = run.flat.pipe_faces[identity(f"p{k - 1}")][1]
        found[f"x={x} m: peak flow"] = float(run.result.peaks.flow.top[last])
        found[f"x={x} m: time of peak flow"] = float(run.result.peaks.flow.when[last]) - before
        found[f"x={x} m: greatest depth"] = float(run.level(f"m{k}")[late].max() - nodes[f"m{k}"]["invert"])
        found[f"x={x} m: flow at sample times"] = [
            run.at(run.flow(f"p{k - 1}"), before + t) for t in given["sample_times_s"]
        ]
    # what passed the outfall above base flow, and what is still above it in the sewer
    out = float(run.result.peaks.passed[run.flat.pipe_faces[identity(f"p{count - 1}")][1]])
    found["volume of the hydrograph above base flow"] = float(run.result.balance.entered - base * (before + until))
    assert out > 0.0
    return found


CASES = {"F1": f1, "F2": f2, "F3": f3, "F4": f4, "F13": f13}
