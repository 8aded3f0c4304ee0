"""Gross slips, one by one, on a sound project: each is found where it is. The demos themselves raise no alarm."""

import copy
import json
from pathlib import Path

import pytest

from madidus.core.checks import check, judged
from madidus.core.ensemble import make_plan
from madidus.core.model.project import parse_project
from madidus.core.results.whole_run import WholeRun, unit_flows

from .test_checks import DEMO, named, network

DEMOS = Path(__file__).parents[2] / "demo"


def put(collection, element, **fields):
    return lambda d: named(d, collection, element)[1].update(fields)


def circle(diameter):
    return {"shape": "circular", "diameter": diameter}


def times(collection, element, field, factor):
    def spoil(d):
        part = named(d, collection, element)[1]
        part[field] = part[field] * factor

    return spoil


def outline_away(d, name="Slip head"):
    part = named(d, "catchments", name)[1]
    part.update(area=part["area"] * 10, polygon=[])


def vast_pond(d):
    for row in named(d, "nodes", "P1")[1]["table"]:
        row["area"] *= 1e4


def low_table(d):
    pond = named(d, "nodes", "P1")[1]
    pond["cover"] = pond["invert"] + pond["table"][-1]["depth"] + 1.4


def ten_times_the_rain(d):
    table = d["rain"]["rainfall"]
    table["depths"] = [[10 * depth for depth in row] for row in table["depths"]]


def permit(d):
    next(r for r in d["brief"]["rules"] if r["kind"] == "outflow")["limits"][0]["value"] = 14.0


def fixed(level):
    return put("nodes", "O1", tail_water={"kind": "fixed", "level": level})


def tide(*levels):
    rows = [{"time": 3600.0 * k, "level": level} for k, level in enumerate(levels)]
    return put("nodes", "O1", tail_water={"kind": "series", "rows": rows})


SLIPS = {
    "last pipe 2.25 m": (put("links", "L2–O1", section=circle(2.25)), "size-jumps", "L2–O1"),
    "cover 10 m up": (lambda d: named(d, "nodes", "A3")[1].update(cover=named(d, "nodes", "A3")[1]["cover"] + 10), "deep", "A3"),
    "cover 10 m up, by its neighbours": (lambda d: named(d, "nodes", "A3")[1].update(cover=named(d, "nodes", "A3")[1]["cover"] + 10), "cover-off", "A3"),
    "paved 0 %": (put("catchments", "Slip head", impervious=0.0), "paved-none", "Slip head"),
    "area x 10 without outline": (outline_away, "area-off", "Slip head"),
    "orifice 1.1 m": (put("links", "P1 orifice", section=circle(1.1)), "opening-large", "P1 orifice"),
    "weir 150 m": (put("links", "P1 overflow", length=150.0), "weir-long", "P1 overflow"),
    "weir 150 m from a tank": (put("links", "T1 overflow", length=150.0), "weir-long", "T1 overflow"),
    "silt 0.2 m": (put("links", "A6–A7", silt=0.2), "silt-deep", "A6–A7"),
    "manhole 10,000 m2": (put("nodes", "A3", plan_area=10_000.0, diameter=None), "shaft-large", "A3"),
    "ponded area 10^6 m2": (put("nodes", "A3", ponded_area=1e6), "ponded-large", "A3"),
    "tail water above every cover": (fixed(8.0), "tail-water-high", "every cover"),
    "tide above one cover": (tide(0.0, 4.0, 0.0), "tail-water-high", "covers"),
    "tail water 5 m below": (fixed(-5.0), "tail-water-low", "O1"),
    "tide 5 m below": (tide(-9.0, -5.0), "tail-water-low", "O1"),
    "table ends under the bank": (low_table, "table-ends-low", "1.40 m under its bank"),
    "pond x 10^4": (vast_pond, "store-vast", "P1"),
    "entry 5 h": (lambda d: d["rain"]["runoff"].update(time_of_entry=18_000.0), "entry-long", "300 min"),
    "entry 5 h of one": (put("catchments", "Green", time_of_entry=18_000.0), "entry-long", "Green"),
    "rain x 10": (ten_times_the_rain, "rain-great", "of the greatest rain ever measured"),
    "winter coefficient 0": (lambda d: d["rain"]["runoff"].update(winter_paved=0.0), "coefficient-small", "in winter"),
    "creep 100 %": (lambda d: d["rain"]["runoff"].update(creep=1.0), "creep-large", "100%"),
    "creep of a curve number": (
        put("catchments", "Green", creep=0.1, method={"kind": "unit_hydrograph"}), "creep-idle", "Green",
    ),
    "creep 100 % of one": (put("catchments", "Green", creep=1.0), "creep-large", "Green"),
    "paved share of 60 % typed as 0.6 %": (put("catchments", "Slip head", impervious=0.006), "coefficient-off", "Slip head"),
    "permit 14 m3/s": (permit, "permit-large", "14000 L/s"),
    "orifice below the floor": (put("links", "P1 orifice", invert=-3.0), "opening-below-floor", "P1 orifice"),
}  # fmt: skip


@pytest.mark.parametrize("slip", SLIPS)
def test_a_gross_slip_is_found_by_name(slip):
    spoil, key, mention = SLIPS[slip]
    document = copy.deepcopy(DEMO)
    spoil(document)
    before = {(f.check, f.why) for f in check(parse_project(DEMO))}
    new = [f for f in check(parse_project(document)) if (f.check, f.why) not in before]
    assert [f for f in new if f.check == key and mention in f.why], [(f.check, f.why) for f in new]


@pytest.mark.parametrize("name", ["quillmere_boatyard", "ferry_flat", "alder_hill_library"])
def test_the_demos_raise_no_alarm(name):
    document = json.loads((DEMOS / f"{name}.madidus.json").read_text(encoding="utf-8"))
    assert [(f.check, f.why) for f, reason in judged(parse_project(document)) if reason is None] == []


@pytest.mark.parametrize(
    ("spoil", "key"),
    [
        (put("links", "A6–A7", silt=0.1), "silt-deep"),  # of 450 mm
        (put("links", "L2–O1", section=circle(0.525)), "size-jumps"),
        (put("nodes", "A3", plan_area=12.0, diameter=None), "shaft-large"),
        (put("links", "P1 overflow", length=6.0), "weir-long"),
        (fixed(0.9), "tail-water-high"),
        (fixed(0.0), "tail-water-low"),
        (lambda d: d["rain"]["runoff"].update(creep=0.1, time_of_entry=1800.0), "creep-large"),
        (times("catchments", "Slip head", "area", 1.04), "area-off"),
        (put("catchments", "Slip head", impervious=0.3), "coefficient-off"),
    ],
)
def test_what_is_usual_is_left_alone(spoil, key):
    document = copy.deepcopy(DEMO)
    spoil(document)
    assert [f.why for f in check(parse_project(document)) if f.check == key] == []


@pytest.mark.parametrize(
    ("limit", "value", "key"),
    [
        ("depth", 3.0, "deep"), ("shaft_area", 0.5, "shaft-large"), ("ponded_area", 50.0, "ponded-large"),
        ("unit_outflow", 0.001, "permit-large"), ("unit_storage", 10.0, "store-vast"), ("entry", 200.0, "entry-long"),
        ("min_runoff", 0.8, "coefficient-small"), ("rain", 0.05, "rain-great"),
    ],
)  # fmt: skip
def test_the_ranges_are_the_projects_own(limit, value, key):
    document = copy.deepcopy(DEMO)
    assert key not in {f.check for f in check(parse_project(document))}
    document["check_limits"][limit] = value
    assert key in {f.check for f in check(parse_project(document))}


def test_an_opening_below_the_floor_is_raised_to_it_by_its_remedy():
    document = copy.deepcopy(DEMO)
    SLIPS["orifice below the floor"][0](document)
    (found,) = [f for f in check(parse_project(document)) if f.check == "opening-below-floor"]
    assert found.fix.patch[0]["value"] == named(document, "nodes", "P1")[1]["invert"]
    assert network(document)


def test_a_store_that_stays_empty_and_a_control_that_nothing_reaches_are_told_once_all_storms_are_in():
    document = copy.deepcopy(DEMO)
    document["rain"]["ensemble"].update(durations=[15], probabilities=[{"return_period": 2}])
    low = named(document, "nodes", "P1")[1]["table"]
    for row in low:
        row["area"] *= 10.0
    plan = make_plan(parse_project(document))
    figures = {key: plan.reduction.figures(key, plan.simulate(key)) for key in plan.inflow}
    seen = plan.whole_run(figures)
    names = {plan.network.label(id_) for id_ in (*seen.unused, *seen.idle)}
    assert {"pond P1", "weir P1 overflow", "weir T1 overflow"} <= names
    told = {f.check: f.why for f, _ in judged(parse_project(document), seen)}
    assert told["store-unused"].startswith(("P1: no storm takes more than", "T1: no storm takes more than"))
    assert told["control-idle"].endswith("no storm reaches it")
    some = dict(list(figures.items())[:1])
    assert (plan.whole_run(some).unused, plan.whole_run(some).idle) == ({}, ())


def flows(document):
    plan = make_plan(parse_project(document))
    return plan, unit_flows(plan.network, plan.inflow)


def test_a_runoff_unlike_that_of_the_others_is_told_after_a_run():
    document = copy.deepcopy(DEMO)
    document["rain"]["ensemble"].update(durations=[15], probabilities=[{"return_period": 2}])
    plan, usual = flows(document)
    told = [f.why for f, _ in judged(parse_project(document), WholeRun(unit=usual)) if f.check == "unit-flow-off"]
    assert told == []
    catchment = named(document, "catchments", "Slip head")[1]
    catchment["time_of_entry"] = 3_500.0  # within what is usual of a catchment, and an hour late
    plan, slow = flows(document)
    name = plan.network.nodes[catchment["node"]].name
    assert slow[catchment["node"]] < usual[catchment["node"]] / 5
    (found,) = [f for f, _ in judged(parse_project(document), WholeRun(unit=slow)) if f.check == "unit-flow-off"]
    assert found.element == catchment["node"]
    assert str(found.why).startswith(f"{name}: ")


def test_an_undrained_catchment_is_drained_down_the_ground_or_to_the_nearest_shaft():
    document = copy.deepcopy(DEMO)
    catchment = named(document, "catchments", "Slip head")[1]
    (_, near), (_, north) = (named(document, "nodes", name) for name in ("D1", "E1"))
    x, y = north["x"], near["y"] + 6.0
    catchment.update(node=None, polygon=[(x - 2, y - 2), (x + 2, y - 2), (x + 2, y + 2), (x - 2, y + 2)])

    def offered(ground):
        found = next(f for f in check(parse_project(document), ground) if f.check == "catchment-without-node")
        return [
            (network(document)["nodes"][fix.patch[0]["value"]]["name"], str(fix.does).endswith(", the nearest"))
            for fix in (found.fix, found.instead) if fix is not None
        ]  # fmt: skip

    assert offered(lambda _x, _y: None) == [("D1", False)]
    # ground that falls to the north
    down, nearest = offered(lambda _x, y: 50.0 - 0.02 * y)
    assert nearest == ("D1", True)
    assert down[0] in ("E1", "F1")
    assert not down[1]
