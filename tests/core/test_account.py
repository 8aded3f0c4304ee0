"""The account of a storm begins with its rain: what fell is lost by kind, held, or runs off; and that enters nodes."""

import numpy as np
import pytest

from madidus.core.ensemble import make_plan
from madidus.core.model.network import Catchment
from madidus.core.runoff.catchments import account, inflows
from madidus.core.surface.runoff import Coefficient, Overland
from tests.cases.build import identity
from tests.exchange.test_demos import SCRIPTS, demo


@pytest.mark.parametrize("name", SCRIPTS)
def test_rain_is_accounted_for_to_rounding_and_runoff_is_what_enters(name):
    project = demo(name)
    plan = make_plan(project)
    for storm in plan.storms[:: max(1, len(plan.storms) // 6)]:
        found = account(plan.network, project.rain.runoff, storm)
        assert found.fallen == pytest.approx(storm.depth * 1e-3 * sum(c.area for c in plan.network.catchments.values()))
        spent = found.undrained + sum(found.lost.values()) + found.kept + found.ran
        assert spent == pytest.approx(found.fallen, rel=1e-9)
        flow = inflows(plan.network, project.rain.runoff, storm)
        assert found.ran == pytest.approx(np.trapezoid(flow.flow.sum(axis=1), flow.times) + flow.passed_by, rel=1e-6)


def test_ground_without_a_node_and_ground_that_runs_over_other_are_told_apart():
    project = demo("quillmere_boatyard")
    network, values = project.option.network, project.rain.runoff
    storm = make_plan(project).storms[0]
    before = account(network, values, storm)
    loose = Catchment(name="loose", area=1000.0)
    with_loose = network.model_copy(update={"catchments": {**network.catchments, identity("loose"): loose}})
    after = account(with_loose, values, storm)
    assert after.undrained == pytest.approx(storm.depth)  # 1000 m2 of so many mm
    assert after.ran == before.ran

    first, second = list(network.catchments)[:2]
    over = {**network.catchments}
    over[first] = over[first].model_copy(update={"node": None, "over": second})
    led = account(network.model_copy(update={"catchments": over}), values, storm)
    spent = led.undrained + sum(led.lost.values()) + led.kept + led.ran
    assert (led.undrained, spent) == (0.0, pytest.approx(led.fallen, rel=1e-6))
    assert led.ran < before.ran  # the second loses a part of what runs over it


def test_losses_are_named_by_what_takes_them():
    project = demo("quillmere_boatyard")
    storm = make_plan(project).storms[0]
    values = project.rain.runoff
    by = account(project.option.network, values.model_copy(update={"method": Coefficient()}), storm).lost
    assert all(name.startswith("runoff coefficient") for name in by)
    wet = account(project.option.network, values.model_copy(update={"method": Overland()}), storm)
    assert "wetting of paved ground" in wet.lost
    assert wet.kept >= 0.0


def test_ground_is_named_by_what_it_is():
    project = demo("quillmere_boatyard")
    network, values = project.option.network, project.rain.runoff
    storm = make_plan(project).storms[0]
    by_share = {}
    for share in (0.0, 0.4, 1.0):
        one = Catchment(name="one", area=2000.0, impervious=share, node=next(iter(network.nodes)))
        alone = network.model_copy(update={"catchments": {identity("one"): one}})
        by_share[share] = account(alone, values.model_copy(update={"method": Overland()}), storm)
    assert set(by_share[1.0].lost) == {"wetting of paved ground"}
    assert not any("paved" in name for name in by_share[0.0].lost)
    for found in by_share.values():  # what is still on the ground is counted once, whatever its area
        assert found.kept + found.ran + sum(found.lost.values()) == pytest.approx(found.fallen, rel=1e-9)
        assert 0.0 <= found.kept < found.fallen
