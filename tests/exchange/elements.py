"""A small network that holds every kind of element, with names that files must bear."""

import math

from madidus.core.model.network import Network
from madidus.core.model.project import Project, parse_project
from tests.cases.build import identity, network

OPTION = "00000000-0000-4000-8000-000000000001"
CIRCLE = {"shape": "circular", "diameter": 0.525}


def everything() -> Network:
    conduit = {"length": 40.0, "upstream_invert": 10.3, "downstream_invert": 10.1}
    square = [(0.0, 0.0), (12.5, 0.0), (12.5, 8.1), (0.0, 8.1)]
    nodes = {
        "a <b>&\"c\"": {"kind": "manhole", "x": 1.1, "y": 0.0, "cover": 12.0, "invert": 10.0, "diameter": 1.35,
                        "head_loss": {"kind": "angle"}},
        "sealed": {"kind": "manhole", "x": 40.3, "y": 0.0, "cover": 12.0, "invert": 10.0, "sealed": True},
        "é": {"kind": "junction", "x": 80.0, "y": 7 / 3, "cover": 12.0, "invert": 10.0},
        "gully": {"kind": "inlet", "x": 80.0, "y": 40.0, "cover": 12.0, "invert": 10.0, "capacity": 0.02,
                  "bypass": identity("pond")},
        "pond": {"kind": "storage", "x": 120.0, "y": 0.0, "cover": 12.0, "invert": 10.0,
                 "table": [{"depth": 0, "area": 100}, {"depth": 2, "area": 1 / 3 + 300}]},
        "basin": {"kind": "basin", "x": 160.0, "y": 0.0, "cover": 12.0, "invert": 10.0, "base": square,
                  "infiltration": {"rate": 1e-5}, "side_slopes": [{"side": 3, "slope": 1.25}],
                  "shelf": {"height": 0.5, "width": 1 / 3}, "ramp": {"side": 2, "width": 1.5, "slope": 5.0}},
        "rimmed": {"kind": "basin", "x": 160.0, "y": 90.0, "cover": 12.0, "invert": 10.5, "side_slope": 2.0,
                   "rim": [(x * 3.0 + 150.0, y * 3.0 + 80.0) for x, y in square]},
        "stone": {"kind": "stone", "x": 160.0, "y": 40.0, "cover": 12.0, "invert": 10.0, "length": 20, "width": 5,
                  "stone_depth": 0.5, "porosity": 0.3, "base_slope": 0.01},
        "end": {"kind": "outfall", "x": 200.0, "y": 0.0, "invert": 9.9,
                "tail_water": {"kind": "series", "rows": [{"time": 0, "level": 9}, {"time": 60, "level": 9.5}]}},
    }  # fmt: skip
    names = list(nodes)

    def joined(a: int, b: int, **fields):
        return {"upstream": names[a], "downstream": names[b], **fields}

    links = {
        "round": joined(0, 1, kind="pipe", section=CIRCLE, exit_loss=0.5, **conduit),
        "box": joined(1, 2, kind="pipe", section={"shape": "rectangular", "width": 1.2, "height": 0.8},
                      bends=[(50.5, 3.25), (60.0, 1 / 3)], material="concrete", **conduit),
        "egg": joined(2, 4, kind="pipe", section={"shape": "egg", "height": 0.9}, barrels=2, silt=0.05, **conduit),
        "arch": joined(
            3, 4, kind="pipe", section={"shape": "arch", "width": 1.0, "height": 0.9, "rise": 0.5}, **conduit
        ),
        "ditch": joined(
            2, 5, kind="channel",
            section={"shape": "trapezoidal", "base_width": 0.5, "left_slope": 2, "right_slope": 3, "height": 0.6},
            bed=[{"chainage": 20, "level": 10.25}], **conduit,
        ),
        "trench": joined(3, 6, kind="trench", width=0.6, height=0.8, porosity=0.4, pipe={"diameter": 0.15}, **conduit),
        "orifice": joined(4, 7, kind="orifice", invert=10.0, section=CIRCLE),
        "weir": joined(4, 7, kind="weir", crest=11.5, length=2.0),
        "riser": joined(5, 7, kind="riser", crest=11.0, diameter=0.6),
        "curve": joined(5, 7, kind="curve", invert=10, rows=[{"head": 0, "flow": 0}, {"head": 1, "flow": 0.01}]),
        "pump": joined(
            6, 7, kind="pump",
            units=[{"on": 11, "off": 10.2, "curve": [{"flow": 0, "head": 9}, {"flow": 0.02, "head": 3}]}],
            main={"length": 100, "diameter": 0.15},
        ),
    }  # fmt: skip
    made = network(nodes, links)
    catchments = {
        identity("roof"): {"name": "roof", "area": 412.5, "node": identity(names[0]), "polygon": square},
        identity("yard"): {"name": "yard", "area": 99.0, "impervious": 0.3},
    }
    return Network.model_validate({**made.model_dump(mode="json"), "catchments": catchments})


def project(held: Network | None = None) -> Project:
    """A project with one option, empty unless a network is given."""
    given = {} if held is None else {"network": held.model_dump(mode="json")}
    return parse_project(
        {
            "format": "madidus-project",
            "version": 2,
            "name": "Test",
            "options": {OPTION: {"name": "A", **given}},
            "order": [OPTION],
            "in_view": OPTION,
        }
    )


def alike(a, b):
    """Assert that two documents are equal, figures to 1e-12 of themselves: a workbook keeps sixteen digits."""
    if isinstance(a, dict):
        assert a.keys() == b.keys()
        for key in a:
            alike(a[key], b[key])
    elif isinstance(a, list):
        assert len(a) == len(b)
        for x, y in zip(a, b, strict=True):
            alike(x, y)
    elif isinstance(a, float):
        assert math.isclose(a, b, rel_tol=1e-12)
    else:
        assert a == b
