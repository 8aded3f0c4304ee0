"""Outflow of conduits into the ground: rate over safety factor times what is wet, by hand."""

import numpy as np
import pytest

from madidus.core.elements import Channel, Trench

ENDS = {"name": "X", "upstream": "0" * 8 + "-0000-4000-8000-" + "0" * 12,
        "downstream": "1" * 8 + "-0000-4000-8000-" + "0" * 12, "length": 40.0, "upstream_invert": 10.4,
        "downstream_invert": 10.0}  # fmt: skip
RATE = 2e-5 / 3.0  # m/s


def trench(**more):
    return Trench.model_validate({**ENDS, "width": 0.6, "height": 1.2, "porosity": 0.4, **more})


def channel(**more):
    section = {"shape": "trapezoidal", "base_width": 0.5, "left_slope": 2.0, "right_slope": 1.0, "height": 0.6}
    return Channel.model_validate({**ENDS, "section": section, **more})


def infiltration(through):
    return {"rate": 2e-5, "safety_factor": 3.0, "through": through}


@pytest.mark.parametrize(("through", "wet"), [("base", 0.6), ("sides", 2 * 0.9), ("both", 0.6 + 2 * 0.9)])
def test_a_trench(through, wet):
    depths, flows = trench(infiltration=infiltration(through)).infiltrated(10.0)
    assert np.interp(0.9, depths, flows) == pytest.approx(RATE * wet * 10.0, rel=1e-9)


@pytest.mark.parametrize(("through", "base", "sides"), [("base", 0.5, 0.0), ("sides", 0.0, 1.0), ("both", 0.5, 1.0)])
def test_a_channel(through, base, sides):
    depths, flows = channel(infiltration=infiltration(through)).infiltrated(10.0)
    wet = base + sides * 0.3 * (5**0.5 + 2**0.5)
    assert np.interp(0.3, depths, flows) == pytest.approx(RATE * wet * 10.0, rel=2e-3)


def test_it_begins_from_nothing_over_two_millimetres():
    depths, flows = trench(infiltration=infiltration("base")).infiltrated(10.0)
    full = RATE * 0.6 * 10.0
    assert np.interp([0.0, 0.001, 0.002, 1.2], depths, flows) == pytest.approx([0.0, full / 2, full, full])
    assert np.all(np.diff(depths) > 0.0)


def test_without_it_there_is_none():
    assert trench().infiltrated(10.0) is None
    assert channel().infiltrated(10.0) is None
