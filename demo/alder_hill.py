"""Writes alder_hill_library.madidus.json: an invented hillside library in US customary units. Run it after a change."""

import json
import pathlib
import uuid

from madidus.core.model import parse_project

FOOT, INCH = 0.3048, 0.0254
DEPTHS = {2: 2.6, 10: 4.1, 25: 5.0, 100: 6.8}  # inches in 24 hours, made up


def identity(name: str) -> str:
    return str(uuid.uuid5(uuid.NAMESPACE_URL, f"alder-hill/{name}"))


# node: east, north, rim, invert, all in feet
MANHOLES = {
    "CB1": (60, 420, 212.0, 207.5), "CB2": (170, 400, 209.4, 204.6), "CB3": (290, 372, 206.2, 201.2),
    "MH4": (395, 330, 203.0, 197.6), "CB5": (470, 250, 199.6, 194.0), "CB6": (330, 180, 202.4, 197.4),
    "CB7": (420, 180, 200.2, 195.3), "MH8": (520, 170, 197.0, 190.6),
}  # fmt: skip
PIPES = [  # from, to, inches, the invert at its foot in feet
    ("CB1", "CB2", 12, 204.6), ("CB2", "CB3", 12, 201.2), ("CB3", "MH4", 15, 197.6), ("MH4", "CB5", 18, 194.0),
    ("CB5", "MH8", 21, 190.6), ("CB6", "CB7", 12, 195.3), ("CB7", "MH8", 15, 190.9), ("MH8", "Pond", 24, 188.5),
]  # fmt: skip
PARTS = [  # material, Manning's n, sizes in inches
    ("concrete", 0.013, (12, 15, 18, 21, 24, 27, 30, 36, 42, 48, 54, 60, 72)),
    ("polyethylene", 0.012, (4, 6, 8, 10, 12, 15, 18, 24, 30, 36, 42, 48)),
]
GROUNDS = [  # name, node, curve number, minutes of concentration, west, south, east, north in feet
    ("Library roof", "CB3", 98, 6, (230, 380, 350, 460)), ("Reading terrace", "CB2", 92, 6, (140, 410, 220, 470)),
    ("Upper lot", "CB1", 98, 7, (20, 430, 130, 520)), ("North lawn", "MH4", 69, 16, (360, 340, 520, 470)),
    ("Lower lot", "CB5", 98, 7, (460, 250, 560, 335)), ("West lawn", "CB6", 74, 18, (180, 120, 330, 280)),
    ("Bus turn", "CB7", 96, 6, (380, 100, 460, 170)), ("Orchard", "MH8", 65, 20, (500, 60, 620, 150)),
]  # fmt: skip
STRETCH = 1.65  # of the sketch that the figures of places above were read from


def at(x: float, y: float) -> tuple[float, float]:
    """A place of the sketch in metres."""
    return round(x * STRETCH * FOOT, 2), round(y * STRETCH * FOOT, 2)


def outline(kind: str, name: str, *feet: tuple[int, int]) -> dict:
    return {"kind": kind, "name": name, "points": [at(*corner) for corner in feet]}


def build() -> dict:
    nodes = {
        identity(name): {"kind": "manhole", "name": name, **dict(zip("xy", at(x, y), strict=True)), "cover": rim * FOOT,
                         "invert": invert * FOOT, "diameter": 4 * FOOT, "ponded_area": 60.0}
        for name, (x, y, rim, invert) in MANHOLES.items()
    }  # fmt: skip
    nodes[identity("Pond")] = {
        "kind": "storage",
        "form": "pond",
        "name": "Pond",
        **dict(zip("xy", at(590, 200), strict=True)),
        "cover": 194.0 * FOOT,
        "invert": 188.0 * FOOT,
        "table": [
            {"depth": d * FOOT, "area": a * FOOT**2} for d, a in ((0, 5200), (2, 7400), (4, 10_000), (6, 13_000))
        ],
    }
    nodes[identity("Outlet box")] = {
        "kind": "manhole", "name": "Outlet box", **dict(zip("xy", at(650, 205), strict=True)), "cover": 195.0 * FOOT,
        "invert": 186.5 * FOOT, "diameter": 5 * FOOT,
    }  # fmt: skip
    nodes[identity("Brook")] = {
        "kind": "outfall", "name": "Brook", **dict(zip("xy", at(720, 190), strict=True)), "invert": 185.6 * FOOT,
        "ground": 190.0 * FOOT,
    }  # fmt: skip
    links = {}
    for a, b, inches, foot in PIPES:
        (ax, ay), (bx, by) = ((n["x"], n["y"]) for n in (nodes[identity(a)], nodes[identity(b)]))
        links[identity(f"{a}-{b}")] = {
            "kind": "pipe", "name": f"{a}–{b}", "upstream": identity(a), "downstream": identity(b),
            "length": round(((ax - bx) ** 2 + (ay - by) ** 2) ** 0.5, 2), "material": "concrete",
            "upstream_invert": nodes[identity(a)]["invert"], "downstream_invert": foot * FOOT,
            "section": {"shape": "circular", "diameter": inches * INCH}, "roughness": 0.013,
        }  # fmt: skip
    ends = {"upstream": identity("Pond"), "downstream": identity("Outlet box")}
    links[identity("low")] = {
        "kind": "orifice", "name": "Low orifice", **ends, "position": "side", "invert": 188.0 * FOOT,
        "section": {"shape": "circular", "diameter": 5 * INCH},
    }  # fmt: skip
    links[identity("riser")] = {
        "kind": "riser", "name": "Riser", **ends, "crest": 191.6 * FOOT, "diameter": 30 * INCH,
    }  # fmt: skip
    links[identity("barrel")] = {
        "kind": "pipe", "name": "Barrel", "upstream": identity("Outlet box"), "downstream": identity("Brook"),
        "length": 118 * FOOT, "upstream_invert": 186.5 * FOOT, "downstream_invert": 185.6 * FOOT,
        "section": {"shape": "circular", "diameter": 24 * INCH}, "roughness": 0.013, "material": "concrete",
    }  # fmt: skip
    catchments = {}
    for name, node, curve_number, minutes, (w, south, e, n) in GROUNDS:
        catchments[identity(name)] = {
            "name": name, "node": identity(node), "impervious": 1.0,
            "area": round((e - w) * (n - south) * (STRETCH * FOOT) ** 2, 1),
            "method": {"kind": "unit_hydrograph", "curve_number": curve_number, "concentration": minutes * 60.0},
            "polygon": [at(w, south), at(e, south), at(e, n), at(w, n)],
        }  # fmt: skip
    return {
        "format": "madidus-project", "version": 3, "name": "Alder Hill Library", "units": "us",
        "brief": {"author": "Demo", "rules": [
            {"kind": "surcharge", "name": "No surcharge, 10 yr", "limits": [{"return_period": 10}]},
            {"kind": "flood_volume", "name": "Nothing floods, 100 yr",
             "limits": [{"return_period": 100}]},
            {"kind": "outflow", "name": "To the brook, 10 yr", "element": identity("Brook"),
             "limits": [{"return_period": 10, "value": 2.4 * FOOT**3}]},
            {"kind": "freeboard", "name": "1 ft of freeboard, 100 yr",
             "limits": [{"return_period": 100, "value": FOOT}]},
        ]},
        "rain": {
            "place": "Alder Hill, made up",
            "rainfall": {"kind": "table", "durations": [1440], "return_periods": list(DEPTHS),
                         "depths": [[d * 25.4] for d in DEPTHS.values()], "source": "made up for this demo"},
            "ensemble": {"durations": [1440], "probabilities": [{"return_period": t} for t in DEPTHS],
                         "seasons": [{"name": "all year", "shape": {"kind": "mass", "type": "II"}}]},
            "runoff": {"method": {"kind": "unit_hydrograph", "curve_number": 80, "concentration": 900.0}},
        },
        "options": {identity("option"): {"name": "A, pond and riser",
                                         "network": {"nodes": nodes, "links": links, "catchments": catchments}}},
        "catalogue": {
            "pipes": [{"name": name, "roughness": n, "diameters": [d * INCH for d in sizes]}
                      for name, n, sizes in PARTS],
            "manholes": [{"largest_pipe": pipe * INCH, "deepest": deep * FOOT, "diameter": ring * INCH}
                         for pipe, deep, ring in ((18, 10, 48), (24, 14, 60), (36, 20, 72), (54, 30, 96))],
        },
        "defaults": {"diameter": 12 * INCH, "material": "concrete", "roughness": 0.013, "cover": 3 * FOOT},
        "accepted": [{"check": "interval-coarse", "reason": "the published 24-hour curve is known by half hours"}],
        "backdrop": [
            outline("building", "Library", (235, 385), (345, 385), (345, 455), (235, 455)),
            outline("water", "Brook", (715, 40), (735, 40), (750, 420), (730, 420)),
        ],
    }  # fmt: skip


if __name__ == "__main__":
    file = pathlib.Path(__file__).with_name("alder_hill_library.madidus.json")
    project = parse_project(build())
    file.write_text(json.dumps(project.model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n", encoding="utf-8")
