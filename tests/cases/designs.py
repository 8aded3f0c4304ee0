"""Cases of design: pipes sized from a catalogue, and ponds over a polygon."""

from collections.abc import Callable
from typing import Any

import numpy as np

from madidus.core.design import Aim, Lock, Sizing, Stretch, size
from madidus.core.elements import Basin
from madidus.core.elements.geometry import geometry
from madidus.core.elements.offset import figures_of, turned
from madidus.core.elements.sections import Circular
from madidus.core.ground.prismoid import Prismoid, solved
from madidus.core.model.sizing import SizingLimits, SizingRules, TrenchRow

Inputs = dict[str, Any]
Found = dict[str, Any]


def sized(given: Inputs, aim: Aim, outfall: float | None = None) -> Sizing:
    """The case's network by an aim. outfall : the invert at which it has to end, m."""
    pipes = given["pipes"]
    place = {pipe["from"]: k for k, pipe in enumerate(pipes)}
    ground, n = given["ground_levels_m"], given["manning_n"]
    areas = np.zeros(len(pipes))
    for k, pipe in enumerate(pipes):
        below: int | None = k
        while below is not None:  # its area runs through all pipes below
            areas[below] += pipe["area_ha"] * 1e4 * given["runoff_coefficient"]
            below = place.get(pipes[below]["to"])
    sizes = tuple(given["catalogue_diameters_m"])
    shapes = [geometry(Circular(diameter=d)) for d in sizes]
    full = [(s.area_at(d), s.area_at(d) * (d / 4) ** (2 / 3) / n) for s, d in zip(shapes, sizes, strict=True)]
    stretches = []
    for k, pipe in enumerate(pipes):
        locked = pipe.get("locked")
        lock = Lock()
        if locked:
            lock = Lock(locked["diameter_m"], locked["invert_us_m"], locked["invert_ds_m"])
        elif outfall is not None and pipe["to"] == "OUT":
            lock = Lock(downstream=outfall)
        stretches.append(
            Stretch(
                pipe["id"], pipe["id"], pipe["length_m"], (ground[pipe["from"]], ground[pipe["to"]]), float(areas[k]),
                sizes, tuple(float(q) for _, q in full), tuple(float(q / a) for a, q in full), place.get(pipe["to"]),
                given["entry_time_min"], lock=lock, existing=bool(locked),
                floor=given.get("outfall_lowest_invert_m", -np.inf) if pipe["to"] == "OUT" else -np.inf,
            )
        )  # fmt: skip
    # the same order as the case, each after all above it
    limits = SizingLimits(
        min_velocity=given["min_velocity_full_bore_m_per_s"], max_velocity=given["max_velocity_full_bore_m_per_s"],
        min_gradient=1e-4, max_gradient=given["max_slope"], cover=given["min_cover_to_soffit_m"],
        deepest=given["max_depth_to_invert_m"], drop=50.0, gradients=given["permitted_slopes"],
    )  # fmt: skip
    beside = TrenchRow(beside=given["trench_side_allowance_total_m"])
    rules = SizingRules(limits=limits, trench=[beside], bedding=given["bedding_m"])
    idf = given["idf"]
    return size(stretches, rules, aim, lambda t: idf["a"] / (t + idf["b_min"]) ** idf["c"])


def told(found: Sizing, prefix: str = "") -> Found:
    pipes = found.pipes
    return {
        f"{prefix}diameters": [p.diameter for p in pipes], f"{prefix}slopes": [p.gradient for p in pipes],
        f"{prefix}design flows": [p.flow for p in pipes],
        f"{prefix}full-bore capacities": [p.capacity for p in pipes],
        f"{prefix}full-bore velocities": [p.velocity for p in pipes],
        f"{prefix}upstream inverts": [p.upstream for p in pipes],
        f"{prefix}downstream inverts": [p.downstream for p in pipes],
        f"{prefix}time of concentration at the foot of each pipe": [p.foot for p in pipes],
    }  # fmt: skip


def e1(given: Inputs) -> Found:
    found = sized(given, "diameter")
    assert found.exact
    assert not found.unmet
    return told(found) | {
        "objective: sum of diameter x length": found.diameter_length,
        "excavated volume of that answer (tie-break)": found.excavation,
    }


def e2(given: Inputs) -> Found:
    found = sized(given, "excavation")
    assert found.exact
    assert not found.unmet
    return told(found) | {"objective: excavated volume": found.excavation}


def f12(given: Inputs) -> Found:
    at = given["outfall_locked_invert_m"]
    dug, wide = sized(given, "excavation", at), sized(given, "diameter", at)
    assert not dug.unmet
    assert not wide.unmet
    locked = next(pipe for pipe in given["pipes"] if "locked" in pipe)
    kept = [next(p for p in found.pipes if p.id == locked["id"]) for found in (dug, wide)]
    unchanged = all(
        (p.diameter, p.upstream) == (locked["locked"]["diameter_m"], locked["locked"]["invert_us_m"])
        and abs(p.downstream - locked["locked"]["invert_ds_m"]) < 1e-9
        for p in kept
    )
    high = sized(given, "excavation", given["outfall_locked_too_high_m"])
    assert all("locked" in one.why for one in high.unmet if one.limit in ("level", "cover", "velocity"))
    return {
        **told(dug, "least excavation: "), **told(wide, "least diameter: "),
        "least excavation: objective": dug.excavation, "least diameter: objective": wide.diameter_length,
        "least excavation: soffit drop at the head of the last pipe": list(dug.pipes[-1].drops),
        "least diameter: soffit drop at the head of the last pipe": list(wide.pipes[-1].drops),
        "locked pipe unchanged": "yes" if unchanged else "no",
        "answer with the outfall locked at the higher level": "none" if high.unmet else "some",
    }  # fmt: skip


def f10(given: Inputs) -> Found:
    found: Found = {}
    for pond in given["ponds"]:
        outline = figures_of(turned(pond["polygon_xy_m"]))
        at = "top" if pond["polygon_is"] == "rim" else "base"
        store = Prismoid(at, *outline, pond["side_slope_h_per_v"], pond["depth_m"])
        # below a depth the pond is one over the same base
        base = Prismoid(
            "base", store.area_at(0.0), _perimeter(store), outline[2], pond["side_slope_h_per_v"], pond["depth_m"]
        )
        name = pond["id"]
        # what the solver is given: the outline itself moved, side by side
        drawn = {pond["polygon_is"]: pond["polygon_xy_m"], "side_slope": pond["side_slope_h_per_v"]}
        basin = Basin(name="p", x=0, y=0, invert=0.0, cover=pond["depth_m"], **drawn)
        found[f"{name}: area at depths"] = [float(np.interp(y, *basin.areas())) for y in pond["check_depths_m"]]
        found[f"{name}: volume at depths"] = [
            Prismoid("base", base.area, base.perimeter, base.corners, base.slope, y).volume
            for y in pond["check_depths_m"]
        ]
        found[f"{name}: depth for wanted volumes"] = [
            solved(base, volume, "depth").depth for volume in pond["wanted_volumes_m3"]
        ]
        found[f"{name}: area of the polygon"], found[f"{name}: perimeter of the polygon"] = outline[:2]
    return found


def _perimeter(store: Prismoid) -> float:
    """Of the base, m: each corner shortens its sides by twice the tangent of half its turn for each m inward."""
    out = 0.0 if store.at == "base" else -store.slope * store.depth
    return store.perimeter + 2.0 * store.corners * out


CASES: dict[str, Callable[[Inputs], Found]] = {"E1": e1, "E2": e2, "F10": f10, "F12": f12}
