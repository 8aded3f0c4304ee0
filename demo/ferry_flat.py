"""Writes ferry_flat.madidus.json: an invented subdivision on flat ground with a basin, ten temporal patterns for each
duration.

Patterns and rain are made up: beta-shaped bursts drawn with a fixed seed. Run it after a change.
"""

import json
import pathlib
import uuid

import numpy as np

from madidus.core.model import parse_project

DURATIONS = {5: 5, 15: 3, 30: 6, 60: 12, 120: 12, 360: 24}  # min: number of intervals
PERIODS = [2, 10, 100]


def identity(name: str) -> str:
    return str(uuid.uuid5(uuid.NAMESPACE_URL, f"ferry-flat/{name}"))


def patterns() -> list[dict]:
    found = []
    for duration, parts in DURATIONS.items():
        rng = np.random.default_rng([11, duration])
        for k in range(1, 11):
            x = (np.arange(parts) + 0.5) / parts
            a, b = rng.uniform(1.2, 4.0, 2)
            shape = x ** (a - 1) * (1 - x) ** (b - 1) * rng.uniform(0.6, 1.4, parts)
            share = np.round(shape / shape.sum(), 4)
            share[share.argmax()] += 1.0 - share.sum()
            found.append(
                {"duration": duration, "name": f"pattern {k}", "increments": [round(float(v), 4) for v in share]}
            )
    return found


PITS = {  # east, north, cover, invert
    "S1": (20, 150, 6.10, 4.85), "S2": (80, 150, 5.95, 4.60), "S3": (140, 148, 5.80, 4.35),
    "S4": (200, 140, 5.60, 4.05), "N1": (60, 240, 6.40, 5.20), "N2": (120, 225, 6.20, 4.95),
    "N3": (180, 200, 5.95, 4.60), "S5": (250, 120, 5.30, 3.65),
}  # fmt: skip
PIPES = [
    ("S1", "S2", 300), ("S2", "S3", 375), ("S3", "S4", 450), ("N1", "N2", 300), ("N2", "N3", 375), ("N3", "S4", 450),
    ("S4", "S5", 600),
]  # fmt: skip
LOTS = {"S1": 3200, "S2": 2800, "S3": 2600, "S4": 1900, "N1": 3600, "N2": 3100, "N3": 2400, "S5": 1500}


def build() -> dict:
    nodes = {
        identity(n): {"kind": "inlet", "name": n, "x": x, "y": y, "cover": cover, "invert": invert, "capacity": 0.35,
                      "plan_area": 0.8, "ponded_area": 150.0}
        for n, (x, y, cover, invert) in PITS.items()
    }  # fmt: skip
    for a, b in [*((a, b) for a, b, _ in PIPES), ("S5", "Basin")]:
        nodes[identity(a)]["bypass"] = identity(b)  # the gutter runs beside the pipe
    nodes[identity("Basin")] = {
        "kind": "storage", "form": "pond", "name": "Basin", "x": 285, "y": 108, "cover": 4.9, "invert": 3.35,
        "table": [{"depth": 0.0, "area": 180.0}, {"depth": 0.8, "area": 330.0}, {"depth": 1.55, "area": 500.0}],
    }  # fmt: skip
    nodes[identity("Head")] = {"kind": "manhole", "name": "Head", "x": 305, "y": 96, "cover": 4.9, "invert": 3.3,
                               "diameter": 1.8}  # fmt: skip
    nodes[identity("Bend")] = {"kind": "junction", "name": "Bend", "x": 380, "y": 60, "cover": 4.6, "invert": 3.05,
                               "plan_area": 2.0, "ponded_area": 400.0}  # fmt: skip
    nodes[identity("River")] = {"kind": "outfall", "name": "River", "x": 470, "y": 40, "invert": 2.75,
                                "tail_water": {"kind": "fixed", "level": 3.1}}  # fmt: skip
    links = {}

    def joined(a: str, b: str, **fields) -> dict:
        p, q = nodes[identity(a)], nodes[identity(b)]
        return {
            "name": f"{a}–{b}", "upstream": identity(a), "downstream": identity(b),
            "length": round(((p["x"] - q["x"]) ** 2 + (p["y"] - q["y"]) ** 2) ** 0.5, 2),
            "upstream_invert": p["invert"], "downstream_invert": q["invert"], **fields,
        }  # fmt: skip

    for a, b, mm in [*PIPES, ("S5", "Basin", 750)]:
        links[identity(f"{a}-{b}")] = joined(
            a, b, kind="pipe", section={"shape": "circular", "diameter": mm / 1000}, material="concrete"
        )
    ends = {"upstream": identity("Basin"), "downstream": identity("Head")}
    links[identity("Outlet")] = {"kind": "orifice", "name": "Basin outlet", "invert": 3.35, **ends,
                                 "section": {"shape": "circular", "diameter": 0.4}}  # fmt: skip
    links[identity("Spillway")] = {"kind": "weir", "name": "Spillway", "crest": 4.25, "length": 5.0, "form": "broad",
                                   "coefficient": 1.7, **ends}  # fmt: skip
    drain = {"shape": "trapezoidal", "base_width": 1.0, "left_slope": 3.0, "right_slope": 3.0, "height": 1.2}
    for a, b in (("Head", "Bend"), ("Bend", "River")):
        links[identity(f"{a}-{b}")] = joined(a, b, kind="channel", section=drain, roughness=0.035)
    catchments = {
        identity(f"lot {n}"): {
            "name": f"Lots {n}", "node": identity(n), "area": area, "impervious": 0.62,
            "polygon": [(x - 28, y + 6), (x + 28, y + 6), (x + 28, y + 6 + area / 56), (x - 28, y + 6 + area / 56)],
        }
        for n, area in LOTS.items() for x, y, *_ in (PITS[n],)
    }  # fmt: skip
    minutes = np.array(list(DURATIONS))
    depths = [[round(float(15.0 * t**0.24 * (m / 60) ** 0.36), 1) for m in minutes] for t in PERIODS]
    return {
        "format": "madidus-project", "version": 3, "name": "Ferry Flat, stage two",
        "brief": {"author": "Demo", "rules": [
            {"kind": "surcharge", "name": "No surcharge, 50 % AEP", "limits": [{"return_period": 2}]},
            {"kind": "flood_volume", "name": "Pits hold, 10 % AEP", "limits": [{"return_period": 10}]},
            {"kind": "outflow", "name": "To the river, 1 % AEP", "element": identity("River"),
             "limits": [{"return_period": 100, "value": 0.4}]},
        ]},
        "rain": {
            "place": "Ferry Flat, made up",
            "rainfall": {"kind": "table", "durations": list(DURATIONS), "return_periods": PERIODS, "depths": depths,
                         "source": "made up for this demo"},
            "ensemble": {"durations": list(DURATIONS), "probabilities": [{"return_period": t} for t in PERIODS],
                         "patterns": patterns(), "pattern_source": "made up for this demo", "labels": "aep"},
            "runoff": {"method": {"kind": "losses", "paved_loss": 1.0,
                                  "green": {"kind": "continuing", "initial": 20.0, "continuing": 2.5}},
                       "time_of_entry": 360.0},
        },
        "options": {identity("option"): {"name": "A, as lodged",
                                         "network": {"nodes": nodes, "links": links, "catchments": catchments}}},
        "backdrop": [{"kind": "water", "name": "River", "points": [(462, -20), (500, -20), (500, 220), (474, 220)]}],
    }  # fmt: skip


if __name__ == "__main__":
    file = pathlib.Path(__file__).with_name("ferry_flat.madidus.json")
    project = parse_project(build())
    file.write_text(json.dumps(project.model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n", encoding="utf-8")
