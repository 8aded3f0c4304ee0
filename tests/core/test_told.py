"""What a schedule tells of each kind of link, word for word, in SI and in US customary units."""

import pytest
from pydantic import TypeAdapter

from madidus.core.elements import Conduit, Control, Node
from madidus.core.quantities import Units

ENDS = {"name": "X", "upstream": "0" * 8 + "-0000-4000-8000-" + "0" * 12,
        "downstream": "1" * 8 + "-0000-4000-8000-" + "0" * 12}  # fmt: skip
COURSE = {"length": 50.0, "upstream_invert": 10.4, "downstream_invert": 10.0}
ROUND = {"shape": "circular", "diameter": 0.1524}
ROW = {"head": 1.0, "flow": 0.02}

CONTROLS = {
    "orifice": ({"invert": 9.0, "section": ROUND, "position": "side"}, 9.0, "side Ø152", "side Ø6", 0.6),
    "weir": ({"crest": 9.5, "form": "trapezoidal", "length": 1.524, "side_slope": 0.25, "coefficient": 1.8}, 9.5,
             "trapezoidal 1.524 m, side slope 0.25", "trapezoidal 5 ft, side slope 0.25", "1.8 m½/s"),
    "riser": ({"crest": 9.5, "diameter": 0.9144, "coefficient": 1.8}, 9.5, "Ø914", "Ø36", "1.8 m½/s"),
    "curve": ({"invert": 9.2, "rows": [{"head": 0.0, "flow": 0.0}, ROW, {"head": 2.0, "flow": 0.0125}]}, 9.2,
              "20.0 L/s at most", "0.706 ft³/s at most", ""),
    "pump": ({"units": [{"on": 9.8, "off": 9.1, "curve": [{"head": 2.0, "flow": 0.01}, {"head": 1.0, "flow": 0.02}]}] * 2},
             9.8, "2 pumps, off at 9.10 m", "2 pumps, off at 29.86 ft", ""),
    "gate": ({"sill": 9.0, "width": 1.2192, "opening": 0.3048}, 9.0, "1219 wide, 305 open", "48 wide, 12 open", 0.61),
}  # fmt: skip


def figures(text):
    """Words and numbers apart: how many digits an inch is told to is another test's."""
    return [
        float(word) if word.replace(".", "").isdigit() else word
        for word in text.replace("Ø", "Ø ").replace(",", " ,").split()
    ]


@pytest.mark.parametrize("kind", CONTROLS)
def test_a_control(kind):
    fields, level, size, us, coefficient = CONTROLS[kind]
    control = TypeAdapter(Control).validate_python({**ENDS, "kind": kind, **fields})
    told = control.schedule_entry()
    assert (told.level, str(told.size), told.coefficient) == (level, size, coefficient)
    assert figures(Units("us", None).words(told.size)) == pytest.approx(figures(us), abs=0.01)


def test_a_notch_is_told_by_its_sides():
    notch = TypeAdapter(Control).validate_python(
        {**ENDS, "kind": "weir", "crest": 9.5, "form": "v_notch", "length": 0.0, "side_slope": 0.5}
    )
    assert notch.schedule_entry().size == "v-notch, side slope 0.5"


CONDUITS = {
    "pipe": ({"section": ROUND, "barrels": 2}, "2 × Ø152", "2 × Ø6"),
    "channel": ({"section": {"shape": "rectangular", "width": 0.6096, "height": 0.3048}}, "rectangular 610 × 305", "rectangular 24 × 12"),
    "trench": ({"width": 0.6096, "height": 0.9144, "porosity": 0.4, "pipe": ROUND}, "stone 610 × 914, Ø152",
               "stone 24 × 36, Ø6"),
}  # fmt: skip


@pytest.mark.parametrize("kind", CONDUITS)
def test_a_conduit(kind):
    fields, size, us = CONDUITS[kind]
    conduit = TypeAdapter(Conduit).validate_python({**ENDS, **COURSE, "kind": kind, **fields})
    assert str(conduit.size()) == size
    assert figures(Units("us", None).words(conduit.size())) == pytest.approx(figures(us), abs=0.01)


def test_every_kind_of_control_is_told():
    kinds = {entry["properties"]["kind"]["const"] for entry in TypeAdapter(Control).json_schema()["$defs"].values()
             if "kind" in entry.get("properties", {}) and "upstream" in entry["properties"]}  # fmt: skip
    assert kinds == set(CONTROLS)


def test_what_a_pump_finds_unusual_names_the_unit_and_the_field():
    curve = [{"head": 2.0, "flow": 0.01}, {"head": 1.0, "flow": 0.02}]
    units = [{"on": on, "off": off, "curve": curve} for on, off in ((12.5, 10.1), (11.0, 10.1), (11.0, 9.9))]
    pump = TypeAdapter(Control).validate_python({**ENDS, "kind": "pump", "units": units})
    sump = TypeAdapter(Node).validate_python(
        {"kind": "manhole", "name": "S", "x": 0, "y": 0, "cover": 12.0, "invert": 10.0}
    )
    assert [(one.check, one.field, one.why) for one in pump.unusual(sump)] == [
        ("pump-levels", "units", "pump 1 starts above the cover"),
        ("pump-levels", "units", "pump 3 stops below the floor, and would never"),
    ]
