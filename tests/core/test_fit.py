"""Stores and controls fitted: against an integration by other means, from any start, over every storm; and refusals."""

import json

import jsonpatch
import pytest

from madidus.core.elements.figures import Figures
from madidus.core.ensemble import make_plan
from madidus.core.errors import ModelError
from madidus.core.model import parse_project
from madidus.core.model.network import Network
from madidus.core.search.curve import curve, rates
from madidus.core.search.fit import fit
from madidus.core.search.space import FitRequest
from madidus.core.search.study import study
from madidus.core.search.trials import Stopped, Trials
from madidus.core.search.variables import Variable, changeable, laid, volume_of

from .searched import (
    DEEP,
    FREEBOARD,
    ORIFICE,
    OUTFLOW,
    RATE,
    SUBMIT,
    TANK,
    area_needed,
    plan_of,
    size_that_passes,
    tank_project,
)
from .test_usual import DEMOS

AREA, SIZE = Variable(TANK, "area", 0.2, 5.0), Variable(ORIFICE, "size", 0.03, 0.2)
BOTH = [OUTFLOW, FREEBOARD]


def holds(plan, network, rules=(0, 1)):
    """Whether rules hold over every storm, judged anew and apart from any search."""
    tried = plan.tried(network)
    figures = {}
    for storm in tried.storms:
        figures[storm.key] = tried.reduction.figures(storm.key, tried.simulate(storm.key))
    verdicts = tried.verdicts(figures)
    return all(verdicts[k].state == "meets" for k in rules)


def test_the_least_tank_is_the_one_of_an_independent_integration():
    plan = plan_of(tank_project())
    found = fit(plan, FitRequest([AREA], [FREEBOARD], "volume"), SUBMIT)
    expected = area_needed(plan, 0.08) * DEEP
    assert found.best.volume == pytest.approx(expected, rel=0.006)
    assert found.best.holds
    assert found.best.whole
    assert holds(plan, found.network, [1])


def test_a_tank_and_its_orifice_are_fitted_together():
    """Both limits bind: the orifice passes the permitted rate just under the water that the freeboard allows."""
    plan = plan_of(tank_project())
    found = fit(plan, FitRequest([AREA, SIZE], BOTH, "volume"), SUBMIT)
    size = size_that_passes(RATE)
    assert found.best.values[1] == pytest.approx(size, abs=0.001)
    assert found.best.values[1] == pytest.approx(round(found.best.values[1], 3), abs=1e-9)  # of a size that is made
    # the tank of that very orifice, and no less than of one that could pass the rate exactly
    assert found.best.volume == pytest.approx(area_needed(plan, found.best.values[1]) * DEEP, rel=0.006)
    assert found.best.volume >= area_needed(plan, size) * DEEP * 0.995
    assert holds(plan, found.network)


@pytest.mark.parametrize(("area", "size"), [(30.0, 0.16), (300.0, 0.04), (80.0, 0.08)])
def test_it_ends_at_the_same_tank_from_any_start(area, size):
    plan = plan_of(tank_project(area, size))
    bounds = [Variable(TANK, "area", 20.0 / area, 400.0 / area), SIZE]
    found = fit(plan, FitRequest(bounds, BOTH, "volume"), SUBMIT)
    assert found.best.volume == pytest.approx(area_needed(plan, size_that_passes(RATE)) * DEEP, rel=0.015)


@pytest.mark.parametrize(
    ("least", "area"), [("volume", 60.0), ("smallest", 85.0), ("smallest", 105.0), ("largest", 85.0)]
)
def test_two_per_cent_less_breaks_a_rule(least, area):
    plan = plan_of(tank_project(area, 0.07))
    rules = {"volume": BOTH, "smallest": [FREEBOARD], "largest": [OUTFLOW]}[least]
    found = fit(plan, FitRequest([AREA, SIZE] if least == "volume" else [SIZE], rules, least), SUBMIT)
    assert found.best.holds
    assert found.best.whole
    assert holds(plan, found.network, [k for k, _ in rules])
    less = laid(plan.network, dict(zip([AREA, SIZE] if least == "volume" else [SIZE], found.less.values, strict=True)))
    assert not found.less.holds
    assert not holds(plan, less, [k for k, _ in rules])
    if least == "volume":
        assert found.less.volume == pytest.approx(0.98 * found.best.volume, rel=1e-3)


def test_a_tank_and_a_pond_of_the_demo_are_fitted_together():
    plan = make_plan(parse_project(json.loads((DEMOS / "quillmere_boatyard.madidus.json").read_text(encoding="utf-8"))))
    ids = {plan.network.label(id_): id_ for id_ in (*plan.network.nodes, *plan.network.links)}
    pond, tank, outlet = ids["pond P1"], ids["tank T1"], ids["orifice P1 orifice"]
    rules = [(c.place, c.row) for c in plan.criteria if c.rule.kind in ("outflow", "freeboard")]
    variables = [
        Variable(pond, "area", 0.3, 3.0),
        Variable(tank, "area", 0.3, 3.0),
        Variable(outlet, "size", 0.04, 0.2),
    ]
    found = fit(plan, FitRequest(variables, rules, "volume"), SUBMIT)
    alone = fit(plan, FitRequest([variables[0], variables[2]], rules, "volume"), SUBMIT)
    places = [k for k, one in enumerate(plan.criteria) if (one.place, one.row) in rules]
    assert holds(plan, found.network, places)
    assert found.best.volume < volume_of(alone.network, [pond, tank])[0]
    assert not found.less.holds


def test_what_is_laid_is_what_its_patch_lays_and_what_was_judged():
    project = tank_project()
    plan = plan_of(project)
    found = fit(plan, FitRequest([AREA, SIZE], BOTH, "volume"), SUBMIT)
    patched = Network.model_validate(jsonpatch.apply_patch(plan.network.model_dump(mode="json"), found.patch))
    assert patched == found.network
    option = project.option.model_copy(update={"network": patched})
    applied = make_plan(project.model_copy(update={"options": {project.in_view: option}}))
    assert applied.digests == plan.tried(found.network).digests
    assert applied.digests != plan.digests


def test_a_store_that_no_rule_governs_is_said_to_end_at_its_bound():
    plan = plan_of(tank_project(200.0))
    found = fit(plan, FitRequest([Variable(TANK, "area", 0.8, 2.0)], [FREEBOARD], "volume"), SUBMIT)
    assert found.best.values[0] == pytest.approx(0.8)
    assert found.best.holds
    assert found.less is None


def test_storms_that_are_far_from_governing_are_run_at_the_end_alone():
    plan = plan_of(tank_project())
    found = fit(plan, FitRequest([AREA], [FREEBOARD], "volume"), SUBMIT)
    assert found.storms < len(plan.storms) * len(found.steps)
    assert sum(step.whole for step in found.steps) >= 2  # as drawn, and what was found


def test_what_is_known_is_not_computed_again():
    plan = plan_of(tank_project())
    figures = {s.key: plan.reduction.figures(s.key, plan.simulate(s.key)) for s in plan.storms}
    asked = FitRequest([AREA], [FREEBOARD], "volume")
    bare, given = fit(plan, asked, SUBMIT), fit(plan, asked, SUBMIT, known=figures)
    assert given.storms == bare.storms - len(plan.storms)
    assert given.best == bare.best
    other = Trials(plan, [FREEBOARD], SUBMIT, lambda: False)
    other.seed(figures)
    assert other.run(plan.network).margins != other.run(laid(plan.network, {AREA: 2.0})).margins


@pytest.mark.parametrize(
    ("asked", "said"),
    [
        (FitRequest([], BOTH, "volume"), "nothing may change"),
        (FitRequest([AREA], [], "volume"), "no rule is chosen"),
        (FitRequest([AREA], [(7, 0)], "volume"), "no rule is chosen"),
        (FitRequest([Variable(TANK, "area", 2.0, 1.0)], BOTH, "volume"), "bounds that leave no room"),
        (FitRequest([Variable(TANK, "area", -1.0, 1.0)], BOTH, "volume"), "bounds that leave no room"),
        (FitRequest([SIZE], BOTH, "volume"), "no store may change"),
        (FitRequest([Variable(TANK, "slope", 1.0, 2.0)], BOTH, "volume"), "no figure that can be fitted"),
        (FitRequest([Variable("gone", "area", 1.0, 2.0)], BOTH, "volume"), "gone"),
        (FitRequest([Variable(TANK, "area", 1.0, 1.02)], [FREEBOARD], "volume"), "at its bound: tank T, area"),
        (FitRequest([SIZE], BOTH, "largest"), r"rules Outflow \(at outfall out\) and Freeboard \(at tank T\)|rules Freeboard \(at tank T\) and Outflow"),
        (FitRequest([Variable(TANK, "area", 0.3, 0.6), SIZE], BOTH, "volume"), "cannot both hold"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_refused_by_name(asked, said):
    plan = plan_of(tank_project())
    with pytest.raises(ModelError, match=said):
        fit(plan, asked, SUBMIT)


def test_a_rule_without_storms_is_refused():
    project = tank_project()
    project.brief.rules[1].limits[0].return_period = 100.0
    with pytest.raises(ModelError, match=r"Freeboard.*no storm of 100 yr is run"):
        fit(plan_of(project), FitRequest([AREA], BOTH, "volume"), SUBMIT)


def test_a_fit_is_stopped_and_tells_on_the_way():
    plan, told = plan_of(tank_project()), []
    with pytest.raises(Stopped):
        fit(plan, FitRequest([AREA], BOTH, "volume"), SUBMIT, lambda: len(told) > 2, told.append)
    assert len(told) == 3


def test_each_rate_costs_what_its_own_fit_does_and_more_rain_more():
    project = tank_project()
    plan, asked = plan_of(project), FitRequest([AREA, SIZE], BOTH, "volume")
    told = []
    found = study(project, plan, asked, SUBMIT, tell=told.append)
    assert found.stage == ""
    assert [p.rate for p in found.points] == sorted(rates(plan, asked))
    for point in (found.points[0], found.points[-1]):
        size = point.values[1]
        assert size == pytest.approx(size_that_passes(point.rate), abs=0.001)
        assert point.volume == pytest.approx(area_needed(plan, size) * DEEP, rel=0.006)
    volumes = [p.volume for p in found.points]
    assert volumes == sorted(volumes, reverse=True)
    assert all(more.volume > 1.1 * own.volume for own, more in zip(found.points, found.more, strict=True))
    # what storms need at the least lies below every design
    assert all(low < own.volume for (_, low), own in zip(found.lower, found.points, strict=True))
    assert [v.state for v in found.outcome.before] == ["fails", "fails"]
    assert [v.state for v in found.outcome.after] == ["meets", "meets"]
    assert all(isinstance(one, Figures) for one in found.outcome.figures.values())
    assert len(told) > len(found.points)


def test_rates_are_asked_only_where_a_control_can_answer():
    plan = plan_of(tank_project())
    assert rates(plan, FitRequest([AREA], BOTH, "volume")) == []
    assert rates(plan, FitRequest([AREA, SIZE], [FREEBOARD], "volume")) == []
    assert len(rates(plan, FitRequest([AREA, SIZE], BOTH, "volume"))) == 6


def test_a_rate_that_no_design_keeps_says_so_in_its_place():
    plan = plan_of(tank_project())
    asked = FitRequest([Variable(TANK, "area", 0.5, 1.6), SIZE], BOTH, "volume")
    found = fit(plan, asked, SUBMIT)
    points = curve(plan, asked, found, [0.1 * RATE, RATE], SUBMIT)
    assert points[0].volume is None
    assert "hold" in points[0].problem
    assert points[1].volume == pytest.approx(found.best.volume, rel=0.02)


@pytest.mark.parametrize(
    ("node", "what", "value", "volume"),
    [
        ({"kind": "storage", "cover": 2.0, "invert": 0.0, "table": [{"depth": 0, "area": 50}, {"depth": 2, "area": 80}]},
         "area", 1.7, 1.7 * 130.0),
        ({"kind": "storage", "cover": 2.0, "invert": 0.0, "table": [{"depth": 0, "area": 50}, {"depth": 2, "area": 80}]},
         "depth", 3.0, 195.0),
        ({"kind": "basin", "cover": 2.0, "invert": 0.0, "base": [[0, 0], [10, 0], [10, 5], [0, 5]], "side_slope": 0.0},
         "area", 1.44, 144.0),
        ({"kind": "basin", "cover": 1.0, "invert": 0.0, "base": [[0, 0], [10, 0], [10, 5], [0, 5]], "side_slope": 1.0},
         "slope", 3.0, 50.0 + 30.0 * 3.0 / 2.0 + 4.0 * 9.0 / 3.0),
        ({"kind": "stone", "cover": 1.0, "invert": 0.0, "length": 10, "width": 4, "stone_depth": 1, "porosity": 0.5},
         "area", 2.0, 40.0),
        ({"kind": "stone", "cover": 1.0, "invert": 0.0, "length": 10, "width": 4, "stone_depth": 1, "porosity": 0.5},
         "depth", 2.0, 40.0),
    ],
)  # fmt: skip
def test_a_store_is_changed_in_the_figure_that_is_asked(node, what, value, volume):
    network = Network(nodes={TANK: {"name": "T", **node}})
    assert what in [one.what for one in changeable(network, TANK)]
    found = laid(network, {Variable(TANK, what, 0.0, 10.0): value})
    assert volume_of(found, [TANK])[0] == pytest.approx(volume, rel=2e-3)
    assert network.nodes[TANK] != found.nodes[TANK]
