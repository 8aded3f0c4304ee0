"""The flat subdivision's outfall by mean and by every pattern: the trade's reading, and the stricter one."""

from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest

from madidus.core.ensemble import make_plan, run_plan, submit_to
from madidus.core.results.statistics import spread
from madidus.core.rules.kinds import Outflow
from madidus.core.verdicts import judge

from ..exchange.test_demos import demo
from .told import asked


@pytest.fixture(scope="module")
def flat():
    project = demo("ferry_flat")
    plan = make_plan(project)
    rare = [storm.key for storm in plan.storms if storm.return_period == 100]
    with ThreadPoolExecutor(2) as pool:
        return plan, {f.key: f for f in run_plan(plan, rare, submit_to(pool))}


def test_a_limit_between_mean_and_highest_pattern_meets_by_mean_and_fails_by_every_pattern(flat):
    plan, figures = flat
    (outfall,) = [id_ for id_, node in plan.network.nodes.items() if node.kind == "outfall"]
    peaks = {}
    for how in ("mean", "every"):
        rate = asked(Outflow, 0.42, element=outfall, patterns=how)
        (v,) = judge([rate], plan.network, plan.storms, figures)
        peaks[how] = rate.value - v.governing.value
        assert v.state == {"mean": "meets", "every": "fails"}[how]
    assert peaks["mean"] < 0.42 < peaks["every"]
    print(peaks)


@pytest.mark.parametrize("values", [[0.1470630496536929, 0.14706304965369285], [5.0], [5.0, 5.0, 5.0]])
def test_peaks_that_are_equal_but_for_a_rounding_have_a_spread(values):
    """A dry manhole stands at its invert in every storm; its quartiles may lie a rounding beside the values."""
    found = spread(np.array(values))
    assert found.whiskers == (min(values), max(values))
    assert found.outliers == ()
