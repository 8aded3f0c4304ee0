"""Single changes, pipes repaired and loads raised: what is said of each is judged again apart from the search."""

import json

import jsonpatch
import pytest

from madidus.core.elements.figures import Figures
from madidus.core.ensemble import make_plan, run_plan
from madidus.core.errors import ModelError
from madidus.core.model import parse_project
from madidus.core.model.network import Network
from madidus.core.search.loads import WhatIf, capacity, what_if
from madidus.core.search.next_size import sizes_above
from madidus.core.search.repair import repair
from madidus.core.search.single_change import single_changes
from madidus.core.search.trials import Stopped

from .searched import FREEBOARD, HEAD, ORIFICE, OUTFLOW, PIPE, SUBMIT, TANK, tank_project
from .test_usual import DEMOS


def demo(name="quillmere_boatyard"):
    """A demo under a few of its durations, those that decide and some between: a search runs them again and again."""
    document = json.loads((DEMOS / f"{name}.madidus.json").read_text(encoding="utf-8"))
    ensemble = document["rain"]["ensemble"]
    ensemble["durations"] = [d for d in ensemble["durations"] if d in (15, 60, 720, 1440)]
    project = parse_project(document)
    plan = make_plan(project)
    return project, plan, figures_of(plan)


def figures_of(plan):
    found = run_plan(plan, [s.key for s in plan.storms], SUBMIT)
    return {one.key: one for one in found if isinstance(one, Figures)}


def verdicts_with(project, patch):
    """Every rule once a patch is applied, by a plan of its own."""
    network = Network.model_validate(jsonpatch.apply_patch(project.option.network.model_dump(mode="json"), patch))
    option = project.option.model_copy(update={"network": network})
    plan = make_plan(project.model_copy(update={"options": {**project.options, project.in_view: option}}))
    return {(v.criterion.place, v.criterion.row): v for v in plan.verdicts(figures_of(plan))}


def test_a_change_that_is_said_to_mend_mends_and_breaks_nothing_that_was_met():
    project, plan, figures = demo()
    rule = next(
        (v.criterion.place, v.criterion.row) for v in plan.verdicts(figures) if v.criterion.rule.kind == "outflow"
    )
    met = [(v.criterion.place, v.criterion.row) for v in plan.verdicts(figures) if v.state == "meets"]
    found = single_changes(project, plan, rule, figures, SUBMIT)
    holding = [one for one in found if one.holds]
    assert {"control", "store"} <= {one.kind for one in holding}
    assert [one.cost for one in holding] == sorted(one.cost for one in holding)
    assert found[: len(holding)] == holding
    for one in holding:
        after = verdicts_with(project, one.patch)
        assert all(after[key].state == "meets" for key in [rule, *met])
        assert after[rule].governing.value == pytest.approx(one.margin, abs=1e-9)
    pond = next(one for one in holding if one.kind == "store" and one.name == "P1")
    assert pond.volume == pytest.approx(440.0, rel=0.02)
    assert pond.cost == pytest.approx(pond.volume * project.sizing.digging)
    assert all(not one.holds and one.problem for one in found if one.becomes > one.was and one.kind == "control")


def test_a_pipe_that_mends_one_place_and_floods_the_next_is_no_remedy_but_one_further_down_is():
    project, plan, figures = demo()
    rule = next(
        (v.criterion.place, v.criterion.row) for v in plan.verdicts(figures) if v.criterion.rule.kind == "flood_volume"
    )
    found = {one.name: one for one in single_changes(project, plan, rule, figures, SUBMIT)}
    assert not found["B1–B2"].holds  # the bottleneck: what it lets through floods B2
    assert found["B3–B4"].holds
    for one in found.values():
        after = verdicts_with(project, one.patch)[rule]
        assert after.governing.value == pytest.approx(one.margin, abs=1e-9)
        assert (after.state == "meets") == one.holds


def test_a_second_outlet_mends_a_freeboard():
    project = tank_project(66.0, 0.07)
    plan = make_plan(project)
    figures = figures_of(plan)
    project.brief.rules[0].limits[0].value = 0.05
    plan = make_plan(project)
    found = single_changes(project, plan, FREEBOARD, figures, SUBMIT)
    assert {one.kind for one in found if one.holds} >= {"store", "control", "outlet"}
    outlet = next(one for one in found if one.kind == "outlet")
    after = verdicts_with(project, outlet.patch)
    assert after[FREEBOARD].state == "meets"
    assert len(outlet.patch) == 1


def test_what_is_met_or_gone_or_out_of_reach_is_refused():
    project, plan, figures = demo()
    met = next((v.criterion.place, v.criterion.row) for v in plan.verdicts(figures) if v.state == "meets")
    with pytest.raises(ModelError, match="is not broken"):
        single_changes(project, plan, met, figures, SUBMIT)
    with pytest.raises(ModelError, match="is gone"):
        single_changes(project, plan, (9, 9), figures, SUBMIT)
    failing = next((v.criterion.place, v.criterion.row) for v in plan.verdicts(figures) if v.state == "fails")
    with pytest.raises(ModelError, match="is not broken"):
        single_changes(project, plan, failing, {}, SUBMIT)  # nothing that was not computed counts
    with pytest.raises(Stopped):
        single_changes(project, plan, failing, figures, SUBMIT, lambda: True)


def test_pipes_are_repaired_until_the_rules_hold():
    project, plan, figures = demo()
    verdicts = plan.verdicts(figures)
    rules = [
        (v.criterion.place, v.criterion.row) for v in verdicts if v.criterion.rule.kind in ("surcharge", "flood_volume")
    ]
    told = []
    found = repair(project, plan, rules, SUBMIT, tell=told.append, known=figures)
    assert found.holds
    assert found.why == ""
    assert set(found.raised) <= set(told)
    assert told[0].name == "B1–B2"
    assert told[0].margin == min(v.governing.value for v in verdicts if v.criterion.rule.kind == "flood_volume")
    made = sizes_above(project, plan.network.links[told[0].pipe])
    assert told[0].after == made[0]
    after = verdicts_with(project, found.patch)
    assert all(after[rule].state == "meets" for rule in rules)
    # none of those that are left is needless, but for what may not be smaller than a pipe above it
    for one in found.raised:
        without = [each for each in found.patch if one.pipe not in each["path"]]
        after = verdicts_with(project, without)
        assert any(after[rule].state == "fails" for rule in rules) or one.name == "B3–B4"


def test_a_repair_says_what_no_larger_pipe_mends():
    project, plan, figures = demo("alder_hill_library")
    rules = [
        (v.criterion.place, v.criterion.row) for v in plan.verdicts(figures) if v.criterion.rule.kind == "surcharge"
    ]
    found = repair(project, plan, rules, SUBMIT, known=figures)
    assert not found.holds
    assert "held back by pond Pond" in found.why
    outflow = [
        (v.criterion.place, v.criterion.row) for v in demo()[1].verdicts({}) if v.criterion.rule.kind == "outflow"
    ]
    project, plan, figures = demo()
    assert "no larger pipe mends that" in repair(project, plan, outflow, SUBMIT, known=figures).why


def test_a_repair_ends_at_the_largest_size_of_the_catalogue():
    project, plan, figures = demo()
    for material in project.catalogue.pipes:
        material.diameters = [d for d in material.diameters if d < 0.25] or [0.15]
    rules = [
        (v.criterion.place, v.criterion.row) for v in plan.verdicts(figures) if v.criterion.rule.kind == "flood_volume"
    ]
    assert "largest size in the catalogue" in repair(project, plan, rules, SUBMIT, known=figures).why


def test_a_pipe_that_grows_takes_those_below_with_it_where_none_may_be_smaller():
    project, plan, figures = demo()
    rules = [
        (v.criterion.place, v.criterion.row) for v in plan.verdicts(figures) if v.criterion.rule.kind == "flood_volume"
    ]
    for grows in (True, False):
        project.sizing.limits.grows = grows
        network = repair(project, plan, rules, SUBMIT, known=figures).network
        links = network.links
        narrower = [
            one.name for one in links.values() for below in links.values()
            if one.kind == below.kind == "pipe" and below.upstream == one.downstream and below.height < one.height - 1e-9
        ]  # fmt: skip
        before = [
            one.name for one in plan.network.links.values() for below in plan.network.links.values()
            if one.kind == below.kind == "pipe" and below.upstream == one.downstream and below.height < one.height - 1e-9
        ]  # fmt: skip
        if grows:
            assert set(narrower) <= set(before)


def test_more_rain_is_more_in_every_storm_and_creep_grows_what_is_paved():
    project = tank_project()
    plan, wetter = make_plan(project), what_if(project, WhatIf(rain=0.1))
    assert [s.depth for s in wetter.storms] == pytest.approx([1.1 * s.depth for s in plan.storms])
    assert [s.key for s in wetter.storms] == [s.key for s in plan.storms]
    assert wetter.digests.keys() == plan.digests.keys()
    assert not set(wetter.digests.values()) & set(plan.digests.values())
    roof = next(iter(project.option.network.catchments.values()))
    roof.impervious = 0.5
    for own in (None, 0.2):
        roof.creep = own
        paved = what_if(project, WhatIf(creep=0.1))
        plain = make_plan(project)
        key = plain.storms[0].key
        assert paved.inflow[key].flow.sum() > 1.02 * plain.inflow[key].flow.sum()
    assert project.rain.runoff.creep == 0.0  # the project itself is as it was


def test_new_paved_ground_runs_off_whole_into_its_node():
    project = tank_project()
    plan, more = make_plan(project), what_if(project, WhatIf(paved=5000.0, node=HEAD))
    key = plan.storms[0].key
    before, after = (float((p.inflow[key].flow.sum(axis=1)).max()) for p in (plan, more))
    assert after == pytest.approx(2.0 * before, rel=0.02)
    with pytest.raises(ModelError, match="no node"):
        what_if(project, WhatIf(paved=10.0, node=PIPE))


@pytest.mark.parametrize("load", ["rain", HEAD])
def test_the_most_that_holds_holds_and_a_little_more_breaks(load):
    project = tank_project(110.0, 0.06)
    told = []
    found = capacity(project, load, [OUTFLOW, FREEBOARD], SUBMIT, tell=lambda x, holds: told.append((x, holds)))
    assert 0.0 < found.most < found.beyond
    assert found.beyond - found.most < (0.003 if load == "rain" else 0.003 * found.beyond + 1.0)

    def state(more):
        plan = what_if(project, WhatIf(rain=more) if load == "rain" else WhatIf(paved=more, node=load))
        return {v.criterion.name: v.state for v in plan.verdicts(figures_of(plan))}

    assert set(state(found.most).values()) == {"meets"}
    assert state(found.beyond)[found.rule] == "fails"
    assert found.element in (TANK, *project.option.network.nodes)
    assert told[0] == (0.0, True)
    assert (found.most, True) in told


def test_a_capacity_of_what_is_broken_already_is_refused():
    with pytest.raises(ModelError, match="is broken as it is"):
        capacity(tank_project(40.0), "rain", [FREEBOARD], SUBMIT)
    assert ORIFICE in tank_project().option.network.links
