"""Steady flow against closed forms: normal depth, full-bore capacity, a located jump, refused inflows."""

import itertools

import numpy as np
import pytest

from madidus.core.design.steady import capacity, steady
from madidus.core.elements import FixedLevel, NormalDepth
from madidus.core.elements.geometry import critical_depth, normal_depth, uniform_flow
from madidus.core.elements.sections import Circular, Rectangular
from madidus.core.errors import ModelError
from madidus.core.model import parse_project
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


def test_silt_takes_its_share_of_the_capacity():
    """The soffit lies where it was; the flow that reaches it is the full-bore flow of what silt leaves."""
    net = sewer()
    pipe = net.links[REACH].model_copy(update={"silt": 0.2})
    silted = net.model_copy(update={"links": {REACH: pipe}})
    found = capacity(silted, {HEAD: 0.1}, "below soffit", NormalDepth())
    assert 0.98 * pipe.full_flow() <= found.flow <= 1.02 * pipe.greatest_flow()
    reach = steady(silted, {HEAD: 0.1}).reaches[REACH]
    assert (reach.full, reach.most) == (pipe.full_flow(), pipe.greatest_flow())


def test_capacity_with_each_tail_water():
    """With a normal-depth outfall anything from full-bore flow to 1.0757 times it is defensible; tail water takes some."""
    net, full = sewer(), uniform_flow(PIPE, 0.013, GRADIENT, PIPE.height)
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
    # where the Froude number passes 1, on the line between two cells
    assert np.interp(reach.jumps[0], reach.chainage, reach.froude) == pytest.approx(1.0, abs=1e-9)
    critical = critical_depth(section, 9.0, is_open=True)
    for x, z, b, f in zip(reach.chainage, reach.level, reach.bed, reach.froude, strict=True):
        if abs(x - reach.jumps[0]) > 12:
            assert (f > 1.0) == (z - b < critical)


@pytest.mark.parametrize(
    ("inflows", "said"),
    [
        ({}, "network, inflow: nothing flows in"),
        ({HEAD: -1.0}, "head, inflow: -1.0 m³/s is negative"),
        ({HEAD: 2e4}, "head, inflow: 20000000 L/s is beyond any drain; type 10000000 L/s at most"),
        ({OUT: 0.1}, "out, inflow: is no node"),
        ({identity("gone"): 0.1}, "is no node that takes inflow"),
    ],
)
def test_impossible_inflows_are_refused(inflows, said):
    with pytest.raises(ModelError) as caught:
        steady(sewer(), inflows)
    assert said in str(caught.value)


def test_what_overtops_is_a_flood_and_says_so(demo_document):
    """380 L/s into the head of a run: before, 36 m above datum and no word; now the rest runs away, and is told."""
    net = parse_project(demo_document).option.network
    head = next(id_ for id_, node in net.nodes.items() if node.name == "A1")
    found = steady(net, {head: 0.38}, spacing=30.0)
    assert found.floods
    assert sum(found.floods.values()) + sum(found.outflow.values()) == pytest.approx(0.38, rel=1e-3)
    for id_, level in found.level.items():
        assert level < net.nodes[id_].cover + 0.5
    with pytest.raises(ModelError, match="beyond any drain"):
        steady(net, {head: 1e5})
    assert steady(sewer(), {HEAD: 0.15}, NormalDepth()).floods == {}


def test_a_channel_over_its_bank_says_by_how_much():
    section = Rectangular(width=1.0, height=0.5).model_dump()
    net = network(
        {"head": {"kind": "manhole", "cover": 20, "invert": 10.4}, "out": {"kind": "outfall", "invert": 10}},
        {"reach": {"kind": "channel", "upstream": "head", "downstream": "out", "length": 100, "upstream_invert": 10.4,
                   "downstream_invert": 10, "section": section, "roughness": 0.03}},
    )  # fmt: skip
    assert steady(net, {HEAD: 1.5}).over_bank[REACH] > 0.1
    assert steady(net, {HEAD: 0.2}).over_bank == {}


def line_of_six():
    """Six pipes of 2640 ft, 60 in, n 0.015, 1:1000; covers high enough that nothing floods."""
    foot, length = 0.3048, 2640 * 0.3048
    names = ["head", *(f"m{k}" for k in range(5)), "out"]
    inverts = [100.0 - k * length / 1000 for k in range(7)]
    nodes = {name: {"kind": "manhole", "invert": z, "cover": z + 40.0} for name, z in zip(names, inverts, strict=True)}
    nodes["out"] = {"kind": "outfall", "invert": inverts[-1], "tail_water": {"kind": "normal"}}
    links = {
        f"p{k}": {"kind": "pipe", "upstream": a, "downstream": b, "length": length, "upstream_invert": inverts[k],
                  "downstream_invert": inverts[k + 1], "roughness": 0.015,
                  "section": {"shape": "circular", "diameter": 60 * 0.0254}}
        for k, (a, b) in enumerate(itertools.pairwise(names))
    }  # fmt: skip
    return network(nodes, links), foot, length


def test_above_the_greatest_uniform_flow_a_normal_depth_outfall_is_a_full_pipe_with_its_grade_line_at_the_soffit():
    """By hand, 50 Mgal/d: friction (Q/Q_full)² of the fall over six reaches; before, 431 ft everywhere."""
    net, foot, length = line_of_six()
    million = 3785.411784 / 86400  # Mgal/d in m3/s
    diameter = 60 * 0.0254
    full = uniform_flow(Circular(diameter=diameter), 0.015, 0.001, diameter)
    found = steady(net, {HEAD: 50 * million}, spacing=200.0)
    surcharge = found.level[HEAD] - 100.0 - diameter
    assert (50 * million / full) ** 2 > 1.0757**2  # no uniform flow
    by_hand = ((50 * million / full) ** 2 - 1.0) * 0.001 * 6 * length
    by_hand += (50 * million / (np.pi / 4 * diameter**2)) ** 2 / (2 * 9.81)  # it is set in motion at the head
    assert surcharge == pytest.approx(by_hand, abs=0.02)
    assert 2.7 * foot < surcharge < 3.3 * foot
    free = steady(net, {HEAD: 49 * million}, spacing=200.0)
    assert free.level[HEAD] - 100.0 < diameter + 0.1
    reach = found.reaches[identity("p0")]
    assert reach.full == pytest.approx(full, rel=1e-3)
    assert reach.most == pytest.approx(1.0757 * full, rel=2e-3)
