"""Steady flow against closed forms: normal depth, full-bore capacity, a located jump, refused inflows."""

import pytest

from madidus.core.errors import ModelError
from madidus.core.hydraulics.sections import critical_depth, full_bore_capacity, normal_depth
from madidus.core.model.nodes import FixedLevel, NormalDepth
from madidus.core.model.sections import Circular, Rectangular
from madidus.core.steady import capacity, steady
from tests.cases.build import identity, network

PIPE, GRADIENT = Circular(diameter=0.6), 0.004
HEAD, OUT, REACH = identity("head"), identity("out"), identity("reach")


def sewer(length=400.0):
    top = 10 + GRADIENT * length
    return network(
        {"head": {"kind": "manhole", "cover": top + 3, "invert": top}, "out": {"kind": "outfall", "invert": 10}},
        {"reach": {"kind": "pipe", "upstream": "head", "downstream": "out", "length": length, "upstream_invert": top,
                   "downstream_invert": 10, "section": PIPE.model_dump(), "roughness": 0.013}},
    )  # fmt: skip


def test_a_long_pipe_runs_at_normal_depth():
    profile = steady(sewer(), {HEAD: 0.15}, NormalDepth())
    reach = profile.reaches[REACH]
    depths = [z - b for z, b in zip(reach.level, reach.bed, strict=True)]
    assert depths[20] == pytest.approx(normal_depth(PIPE, 0.013, GRADIENT, 0.15), abs=0.002)
    assert profile.outflow[OUT] == pytest.approx(0.15, rel=1e-4)
    assert profile.flow[REACH] == pytest.approx(0.15, rel=1e-4)


def test_capacity_with_each_tail_water():
    """With a normal-depth outfall anything from full-bore flow to 1.0757 times it is defensible; tail water takes some."""
    net, full = sewer(), full_bore_capacity(PIPE, 0.013, GRADIENT)
    normal = capacity(net, {HEAD: 0.1}, "below soffit", NormalDepth())
    assert full * 0.99 <= normal.flow <= 1.08 * full
    drowned = capacity(net, {HEAD: 0.1}, "below soffit", FixedLevel(level=10.59))
    assert drowned.flow < normal.flow
    assert drowned.element == REACH
    covered = capacity(net, {HEAD: 0.1}, "below cover", NormalDepth())
    assert covered.flow >= normal.flow
    assert covered.element == HEAD


def test_a_jump_is_located_below_a_break_of_slope():
    """Steep to mild, tail water above critical: one jump, on the mild reach, between super- and subcritical depth."""
    section = Rectangular(width=3.0, height=4.0)
    net = network(
        {"head": {"kind": "manhole", "cover": 20, "invert": 14.39}, "out": {"kind": "outfall", "invert": 10}},
        {"reach": {"kind": "channel", "upstream": "head", "downstream": "out", "length": 550, "upstream_invert": 14.39,
                   "downstream_invert": 10, "section": section.model_dump(), "roughness": 0.013,
                   "bed": [{"chainage": 150, "level": 10.64}]}},
    )  # fmt: skip
    reach = steady(net, {HEAD: 9.0}, FixedLevel(level=11.3), spacing=4.0).reaches[REACH]
    assert len(reach.jumps) == 1
    assert reach.jumps[0] == pytest.approx(150 + 66.84, abs=8.0)  # case A8
    critical = critical_depth(section, 9.0, is_open=True)
    for x, z, b, f in zip(reach.chainage, reach.level, reach.bed, reach.froude, strict=True):
        if abs(x - reach.jumps[0]) > 12:
            assert (f > 1.0) == (z - b < critical)


@pytest.mark.parametrize(
    ("inflows", "said"),
    [
        ({}, "nothing flows in"),
        ({HEAD: -1.0}, "negative"),
        ({OUT: 0.1}, "no node"),
        ({identity("gone"): 0.1}, "no node"),
    ],
)
def test_impossible_inflows_are_refused(inflows, said):
    with pytest.raises(ModelError) as caught:
        steady(sewer(), inflows)
    assert said in str(caught.value)
