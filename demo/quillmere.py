"""Writes quillmere_boatyard.madidus.json: an invented boatyard beside a tidal creek. Run it after changing a figure."""

import json
import pathlib
import uuid

from madidus.core.elements.geometry import uniform_flow
from madidus.core.elements.sections import Circular
from madidus.core.model import parse_project

SIZES = [0.15, 0.225, 0.3, 0.375, 0.45, 0.525, 0.6]
PERMITTED = 0.014  # m3/s
DESIGN_INTENSITY = 84.0  # mm/h, for the first choice of diameters only


def identity(name: str) -> str:
    return str(uuid.uuid5(uuid.NAMESPACE_URL, f"quillmere/{name}"))


def ground(x: float, y: float) -> float:
    return round(3.95 + 0.0085 * y + 0.0045 * x, 2)


# runs from head to foot: points are manholes, the last name is where the run ends
RUNS = {
    # market hall and slipway yard, to the tank
    "A": ([(292, 22), (268, 24), (244, 26), (220, 28), (196, 30), (174, 33), (152, 36)], "T1"),
    "B": ([(262, 92), (240, 88), (218, 84), (200, 72), (190, 52)], "A5"),
    "C": ([(150, 96), (150, 76), (151, 56)], "A7"),
    "D": ([(300, 62), (286, 44)], "A2"),
    # terraces and the lane, to the pond
    "E": ([(312, 168), (288, 166), (264, 164), (240, 162), (216, 160), (192, 156), (168, 150), (144, 142), (122, 132),
           (104, 118), (90, 104)], "P1"),
    "F": ([(318, 128), (294, 128), (270, 130), (250, 142)], "E4"),
    "G": ([(205, 118), (190, 128), (178, 140)], "E6"),
    "H": ([(40, 168), (56, 152), (70, 136), (80, 120)], "E11"),
    "J": ([(122, 176), (118, 160), (114, 146)], "E9"),
}  # fmt: skip
FALL = {"A": 165, "B": 110, "C": 110, "D": 90, "E": 160, "F": 110, "G": 80, "H": 110, "J": 90}
FOOT = {"T1": 2.85, "P1": 2.7}

CATCHMENTS = {  # node: (name, area in m2, impervious share)
    "A1": ("Slip head", 620, 0.95), "A2": ("Slipway east", 900, 0.95), "A3": ("Slipway west", 980, 0.95),
    "A4": ("Crane apron", 760, 1.0), "A5": ("Boat park", 1150, 0.9), "A6": ("Chandlery yard", 720, 0.95),
    "A7": ("Tank court", 560, 0.85), "B1": ("Hall roof north-east", 1180, 1.0), "B2": ("Hall roof east", 1120, 1.0),
    "B3": ("Hall roof middle", 1120, 1.0), "B4": ("Hall forecourt", 840, 0.9), "B5": ("Market lane", 520, 0.9),
    "C1": ("Sail loft", 900, 1.0), "C2": ("Loft yard", 620, 0.9), "C3": ("Rope walk", 480, 0.8),
    "D1": ("Paint shed", 740, 1.0), "D2": ("Paint yard", 560, 0.9), "E1": ("Terrace one, east", 860, 0.55),
    "E2": ("Terrace one, west", 820, 0.55), "E3": ("Terrace two, east", 840, 0.55),
    "E4": ("Terrace two, west", 900, 0.55), "E5": ("Terrace three, east", 860, 0.55),
    "E6": ("Terrace three, west", 880, 0.55), "E7": ("Lane, upper", 640, 0.8), "E8": ("Lane, middle", 620, 0.8),
    "E10": ("Lane, foot", 760, 0.7), "F1": ("Gardens east", 1250, 0.35), "F2": ("Gardens middle", 1150, 0.35),
    "F3": ("Mews", 820, 0.7), "G1": ("Workshops", 900, 0.95), "G2": ("Workshop court", 560, 0.9),
    "H1": ("Cottages", 980, 0.5), "H2": ("Cottage lane", 680, 0.7), "H3": ("Reed bank path", 520, 0.4),
    "J1": ("Green", 960, 0.3),
}  # fmt: skip


def build() -> dict:  # noqa: C901
    nodes: dict[str, dict] = {}
    links: dict[str, dict] = {}
    where: dict[str, tuple[float, float]] = {"T1": (126, 40), "P1": (62, 82)}
    invert: dict[str, float] = {}
    for run, (points, _) in RUNS.items():
        for k, point in enumerate(points, start=1):
            where[f"{run}{k}"] = point

    below = {}
    for run, (points, foot) in RUNS.items():
        for k in range(1, len(points) + 1):
            below[f"{run}{k}"] = f"{run}{k + 1}" if k < len(points) else foot
    gathered: dict[str, float] = {}
    for node, (_, area, share) in CATCHMENTS.items():
        at = node
        while at in below:
            gathered[at] = gathered.get(at, 0.0) + area * share
            at = below[at]

    def lay(run: str) -> None:
        points, foot = RUNS[run]
        fall = 1.0 / FALL[run]
        end, previous_size = foot, 9.0
        if foot not in FOOT and foot not in invert:
            lay(foot[0])
        end_invert = FOOT.get(foot) or invert[foot]
        if foot not in FOOT:
            previous_size = next(
                link["section"]["diameter"] for link in links.values() if link["upstream"] == identity(foot)
            )
        for k in range(len(points), 0, -1):
            name = f"{run}{k}"
            wanted = gathered.get(name, 100.0) * DESIGN_INTENSITY / 3.6e6
            size = next(d for d in SIZES if uniform_flow(Circular(diameter=d), 0.013, fall, d) >= wanted)
            size = min(size, previous_size)
            if previous_size < 9.0:
                end_invert += previous_size - size  # soffits level
            (x0, y0), (x1, y1) = where[name], where[end]
            length = round(((x0 - x1) ** 2 + (y0 - y1) ** 2) ** 0.5, 2)
            start = round(end_invert + fall * length, 3)
            links[identity(f"{name}-{end}")] = {
                "kind": "pipe", "name": f"{name}–{end}", "upstream": identity(name), "downstream": identity(end),
                "section": {"shape": "circular", "diameter": size}, "length": length, "upstream_invert": start,
                "downstream_invert": round(end_invert, 3), "roughness": 0.013,
                "exit_loss": 1.0 if end in FOOT else 0.1, "entry_loss": 0.1,
            }  # fmt: skip
            invert[name] = start
            end, end_invert, previous_size = name, start, size

    for run in RUNS:
        if f"{run}1" not in invert:
            lay(run)
    for name in below:
        x, y = where[name]
        nodes[identity(name)] = {
            "kind": "manhole", "name": name, "x": x, "y": y,
            "cover": max(ground(x, y), round(invert[name] + 1.05, 2)), "invert": invert[name], "ponded_area": 60.0,
        }  # fmt: skip
    nodes[identity("T1")] = {
        "kind": "storage", "form": "tank", "name": "T1", "x": 126, "y": 40, "invert": 2.25, "cover": 4.7,
        "ponded_area": 120.0,
        "table": [{"depth": 0, "area": 300}, {"depth": 1.75, "area": 300}, {"depth": 1.8, "area": 3}],
    }  # fmt: skip
    nodes[identity("P1")] = {
        "kind": "storage", "form": "pond", "name": "P1", "x": 62, "y": 82, "invert": 1.6, "cover": 3.35,
        "ponded_area": 1500.0,
        "table": [
            {"depth": 0, "area": 560}, {"depth": 0.5, "area": 720}, {"depth": 1.0, "area": 890},
            {"depth": 1.5, "area": 1070}, {"depth": 1.75, "area": 1165},
        ],
    }  # fmt: skip
    for name, x, y, bottom in (("K1", 104, 52, 2.2), ("K2", 86, 66, 2.15), ("L1", 34, 74, 1.45), ("L2", 12, 66, 1.4)):
        nodes[identity(name)] = {
            "kind": "manhole", "name": name, "x": x, "y": y, "cover": ground(x, y), "invert": bottom,
            "ponded_area": 60.0,
        }  # fmt: skip
    nodes[identity("O1")] = {
        "kind": "outfall", "name": "O1", "x": -12, "y": 60, "invert": 1.3, "ground": 2.9,
        "tail_water": {"kind": "fixed", "level": 1.42},
    }  # fmt: skip

    def link(name: str, up: str, down: str, **fields: object) -> None:
        links[identity(name)] = {"name": name, "upstream": identity(up), "downstream": identity(down), **fields}

    link("T1 orifice", "T1", "K1", kind="orifice", invert=2.25, discharge_coefficient=0.6,
         section={"shape": "circular", "diameter": 0.11})  # fmt: skip
    link("T1 overflow", "T1", "K1", kind="weir", crest=3.95, length=1.5, coefficient=1.8)
    link("P1 orifice", "P1", "L1", kind="orifice", invert=1.6, discharge_coefficient=0.6,
         section={"shape": "circular", "diameter": 0.08})  # fmt: skip
    link("P1 overflow", "P1", "L1", kind="weir", crest=3.12, length=2.0, coefficient=1.8)
    for up, down, a, b in (
        ("K1", "K2", 2.2, 2.15),
        ("K2", "P1", 2.15, 2.1),
        ("L1", "L2", 1.45, 1.4),
        ("L2", "O1", 1.4, 1.3),
    ):
        (x0, y0), (x1, y1) = [(nodes[identity(n)]["x"], nodes[identity(n)]["y"]) for n in (up, down)]
        link(f"{up}–{down}", up, down, kind="pipe", section={"shape": "circular", "diameter": 0.225},
             length=round(((x0 - x1) ** 2 + (y0 - y1) ** 2) ** 0.5, 2), upstream_invert=a, downstream_invert=b,
             roughness=0.013, exit_loss={"P1": 1.0, "O1": 1.0}.get(down, 0.1), entry_loss=0.1)  # fmt: skip

    catchments = {}
    for node, (name, area, share) in CATCHMENTS.items():
        (x, y), half = where[node], 0.5 * area**0.5
        catchments[identity(f"area {name}")] = {
            "name": name, "area": area, "impervious": share, "node": identity(node),
            "polygon": [
                [round(x + sx * half * 1.28, 1), round(y + 6 + sy * half / 1.28, 1)]
                for sx, sy in ((-1, -1), (1, -1), (1, 1), (-1, 1))
            ],
        }  # fmt: skip
    return {
        "format": "madidus-project", "version": 3, "name": "Quillmere Boatyard", "units": "metric",
        "brief": {
            "author": "Drainage office, Quillmere", "client": "Quillmere harbour trust",
            "rules": [
                {"kind": "surcharge", "name": "No surcharge, 2 yr", "limits": [{"return_period": 2}]},
                {"kind": "cover", "name": "No flooding, 30 yr", "limits": [{"return_period": 30}]},
                {"kind": "cover", "name": "0.30 m below cover, 2 yr",
                 "limits": [{"return_period": 2, "value": 0.3}]},
                {"kind": "flood_volume", "name": "Contained, 100 yr +40 %",
                 "limits": [{"return_period": 100, "allowance": 0.4, "value": 6.0}]},
                {"kind": "outflow", "name": "Outflow to the Leat, 100 yr +40 %", "element": identity("O1"),
                 "limits": [{"return_period": 100, "allowance": 0.4, "value": PERMITTED}]},
                {"kind": "freeboard", "name": "Freeboard, 100 yr +40 %",
                 "limits": [{"return_period": 100, "allowance": 0.4, "value": 0.3}]},
            ],
        },
        "rain": {
            "place": "Quillmere gauge",
            "rainfall": {
                "kind": "table", "source": "made up for this demo",
                "durations": [15, 30, 60, 120, 180, 240, 360, 480, 720, 1440],
                "return_periods": [2, 10, 30, 100],
                "depths": [
                    [9.4, 12.3, 15.6, 19.2, 21.6, 23.5, 26.4, 28.7, 32.2, 39.6],
                    [14.4, 18.9, 23.7, 28.6, 31.7, 34.1, 37.7, 40.4, 44.6, 53.2],
                    [18.2, 24.1, 30.2, 36.2, 39.9, 42.6, 46.7, 49.8, 54.5, 64.0],
                    [23.6, 31.4, 39.4, 46.9, 51.3, 54.5, 59.2, 62.8, 68.1, 78.8],
                ],
            },
            "ensemble": {
                "durations": [15, 30, 60, 120, 180, 240, 360, 720, 1440],
                "probabilities": [
                    {"return_period": 2}, {"return_period": 30}, {"return_period": 100, "allowance": 0.4}
                ],
                "seasons": [
                    {"name": "summer", "shape": {"kind": "bell", "a": 0.1, "b": 0.815}},
                    {"name": "winter", "shape": {"kind": "bell", "a": 0.06, "b": 1.026}},
                ],
            },
            "runoff": {"summer_paved": 0.75, "winter_paved": 0.84, "creep": 0.0, "time_of_entry": 300},
        },
        "accepted": [
            {"check": "slow", "element": identity(pipe), "reason": "behind a flow control; flushed once a year"}
            for pipe in ("K1–K2", "K2–P1", "L1–L2")
        ] + [
            {"check": "control-idle", "element": identity("P1 overflow"), "reason": "for rarer storms than are run"}
        ],
        "options": {
            identity("option A"): {"name": "A, as drawn",
                                   "network": {"nodes": nodes, "links": links, "catchments": catchments}}
        },
        "backdrop": [
            {"kind": "water", "name": "the Leat", "points": [[-14, 190], [-8, 150], [-16, 110], [-10, 70], [-18, 30],
             [-12, -8], [-34, -8], [-40, 30], [-32, 70], [-38, 110], [-30, 150], [-36, 190]]},
            {"kind": "water", "name": "Quillmere Reach, tidal", "points": [[-12, -8], [60, 2], [140, 4], [220, -4],
             [330, 0], [330, -16], [-12, -16]]},
            {"kind": "boundary", "points": [[-4, 184], [330, 184], [330, 6], [150, 10], [-4, 12], [-4, 184]]},
            {"kind": "building", "name": "Market hall", "points": [[206, 96], [276, 100], [274, 116], [204, 112]]},
            {"kind": "building", "name": "Sail loft", "points": [[128, 84], [144, 84], [144, 108], [128, 108]]},
            {"kind": "building", "name": "Workshops", "points": [[160, 108], [198, 106], [198, 116], [160, 118]]},
            {"kind": "building", "name": "Terrace 1", "points": [[272, 170], [320, 173], [320, 181], [272, 178]]},
            {"kind": "building", "name": "Terrace 2", "points": [[222, 167], [264, 169], [264, 177], [222, 175]]},
            {"kind": "building", "name": "Terrace 3", "points": [[172, 163], [214, 166], [214, 174], [172, 171]]},
            {"kind": "building", "name": "Cottages", "points": [[20, 168], [36, 172], [32, 181], [16, 178]]},
            {"kind": "paving", "name": "Slipway yard", "points": [[160, 14], [310, 12], [310, 36], [160, 42]]},
            {"kind": "path", "name": "the Lane", "points": [[330, 152], [230, 150], [150, 130], [96, 96]]},
        ],
    }  # fmt: skip


if __name__ == "__main__":
    document = parse_project(build()).model_dump(mode="json")
    target = pathlib.Path(__file__).with_name("quillmere_boatyard.madidus.json")
    target.write_text(json.dumps(document, indent=1, ensure_ascii=False) + "\n", encoding="utf-8")
