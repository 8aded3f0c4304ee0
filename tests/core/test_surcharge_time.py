"""How long water stands above soffits, against a level outside that rises and falls, and against the peaks."""

import numpy as np
import pytest

from madidus.core.results.reduction import Reduction
from madidus.core.rules.kinds import SurchargeTime
from tests.cases.build import Run, identity, network

from .test_single_change import demo

HIGH, WAY = 0.8, 6000.0  # m to which the level outside rises, and s that it takes; as long to fall


def tide(soffit, finer=1):
    """A short level pipe of 0.3 m below a tide; how long it is surcharged, s. soffit : m above the lowest level."""
    bed = soffit - 0.3
    rows = [{"time": 0.0, "level": 0.0}, {"time": WAY, "level": HIGH}, {"time": 2 * WAY, "level": 0.0}]
    nodes = {
        "A": {"kind": "manhole", "cover": 3.0, "invert": bed},
        "O": {"kind": "outfall", "invert": bed, "tail_water": {"kind": "series", "rows": rows}},
    }
    pipe = {"kind": "pipe", "upstream": "A", "downstream": "O", "length": 10.0, "upstream_invert": bed,
            "downstream_invert": bed, "section": {"shape": "circular", "diameter": 0.3}}  # fmt: skip
    one = Run(network(nodes, {"P": pipe}), {"A": [(0, 0.0), (2 * WAY, 0.0)]}, 2 * WAY, 60.0, finer=finer)
    figures = Reduction(one.net, one.flat).figures("storm", one.result)
    return float(figures.surcharged[sorted(one.net.links).index(identity("P"))])


@pytest.mark.parametrize("soffit", [0.35, 0.5, 0.7])
def test_a_slow_tide_stands_above_a_soffit_for_the_time_that_geometry_says(soffit):
    expected = 2 * WAY * (1.0 - soffit / HIGH)
    assert tide(soffit) == pytest.approx(expected, rel=0.01)
    assert tide(soffit, finer=4) == pytest.approx(expected, rel=0.01)


def test_a_soffit_that_the_tide_does_not_reach_is_above_it_all_the_time():
    assert tide(HIGH + 0.01) == 0.0


def test_what_is_surcharged_by_its_peak_is_so_for_a_time_and_that_ends_with_the_storm():
    _project, plan, storms = demo()
    some = 0
    for figures in storms.values():
        conduits = ~np.isnan(figures.clearance)
        long, near = figures.surcharged[conduits], figures.clearance[conduits]
        assert np.isnan(figures.surcharged[~conduits]).all()
        assert (long[near < -1e-9] > 0.0).all()
        assert (near[long == 0.0] >= -1e-9).all()
        assert (long <= figures.summary["end_time"] + 1e-6).all()
        some += int((long > 0.0).sum())
    assert some
    rule = SurchargeTime(name="r", limits=[{"return_period": 30, "value": 600.0}])
    look, worst = rule.look(600.0, plan.network), max(storms.values(), key=lambda f: np.nanmax(f.surcharged))
    assert look.spare(worst).min() == pytest.approx(600.0 - np.nanmax(worst.surcharged))
