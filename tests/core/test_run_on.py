"""Runoff of one catchment over another: no water is lost on the way, and the ground that it runs over takes its share."""

import numpy as np
import pytest

from madidus.core.elements import Manhole
from madidus.core.model.network import Catchment, Network
from madidus.core.runoff.catchments import inflows, unit_runoff_at
from madidus.core.surface.losses import ContinuingLoss, HortonLoss
from madidus.core.surface.runoff import Coefficient, Losses, Overland, Runoff, UnitHydrograph
from tests.core.generated import identity
from tests.core.test_runoff import storm

ROOF, LAWN, PATH = identity("roof"), identity("lawn"), identity("path")
RAIN = storm(20, 60, 90, 30, 10)
FALLEN = sum(RAIN.intensity) * 300 / 3.6e6


def network(*, over=LAWN, lawn=None, roof_area=600.0) -> Network:
    node = identity("n")
    return Network(
        nodes={node: Manhole(name="n", invert=0, cover=2, x=0, y=0)},
        catchments={
            ROOF: Catchment(name="roof", area=roof_area, impervious=1, node=node, over=over),
            LAWN: Catchment(name="lawn", area=1200, impervious=0, node=node, method=lawn),
        },
    )  # fmt: skip


def volume(found) -> float:
    return float(np.trapezoid(found.flow.sum(axis=1), found.times))


@pytest.mark.parametrize(
    "method",
    [Coefficient(winter_green=1.0), Losses(green=ContinuingLoss(initial=0, continuing=0)), UnitHydrograph(curve_number=100),
     Overland(paved_store=0, green_store=0, green=ContinuingLoss(initial=0, continuing=0), length=10, slope=0.05)],
    ids=lambda m: m.kind,
)  # fmt: skip
def test_ground_without_losses_passes_all_that_runs_over_it(method):
    values = Runoff(winter_paved=0.9, method=Coefficient())
    found = inflows(network(lawn=method), values, RAIN)
    assert volume(found) == pytest.approx(FALLEN * (0.9 * 600 + 1200), rel=0.01 if method.kind == "overland" else 1e-6)


def test_a_lawn_takes_its_share_of_the_roofs_water():
    values = Runoff(winter_paved=1.0)
    lawn = Losses(green=HortonLoss())
    apart = inflows(network(over=None, lawn=lawn), values, RAIN)
    led = inflows(network(lawn=lawn), values, RAIN)
    assert volume(led) < 0.9 * volume(apart)
    one = unit_runoff_at(network(lawn=lawn), LAWN, values, RAIN)
    assert one.rain == pytest.approx(FALLEN * 1.5, rel=1e-6)
    assert one.runoff + one.lost + one.kept == pytest.approx(one.rain, rel=1e-9)


def test_chains_end_where_the_last_one_drains():
    net = network(lawn=Coefficient(winter_green=1.0))
    net.catchments[PATH] = Catchment(name="path", area=100, impervious=1, over=ROOF)
    values = Runoff(winter_paved=1.0)
    assert volume(inflows(net, values, RAIN)) == pytest.approx(FALLEN * 1900, rel=1e-6)


def test_the_water_comes_later_than_from_ground_of_its_own():
    values = Runoff(winter_paved=1.0, winter_green=1.0, time_of_entry=600)
    apart, led = (inflows(network(over=over), values, RAIN) for over in (None, LAWN))
    centre = lambda f: np.trapezoid(f.flow.sum(axis=1) * f.times, f.times) / volume(f)  # noqa: E731
    share = 600 / 1800  # of the water goes two ways, each late by half its time of entry
    assert centre(led) - centre(apart) == pytest.approx(share * 300, abs=20)


def test_circles_and_unknown_catchments_are_refused():
    with pytest.raises(ValueError, match="circle"):
        Network(
            nodes={}, links={},
            catchments={ROOF: Catchment(name="roof", area=1, over=LAWN), LAWN: Catchment(name="lawn", area=1, over=ROOF)},
        )  # fmt: skip
    with pytest.raises(ValueError, match="no other catchment"):
        Network(catchments={ROOF: Catchment(name="roof", area=1, over=ROOF)})
