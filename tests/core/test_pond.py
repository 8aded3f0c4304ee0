"""Ponds by their outlines: sides of their own slopes, shelves, ramps, what vanishes, and how they lie in the ground."""

import math
import uuid

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from madidus.core.checks import judged
from madidus.core.edit import EDITS
from madidus.core.edit.reshape import moved_sides
from madidus.core.elements import Bank, Basin, Outfall, Store
from madidus.core.elements.offset import area_of, figures_of, offset, turned
from madidus.core.errors import ModelError
from madidus.core.ground.pond import earthworks, edges, lowest_on_rim, with_rim_ground
from madidus.core.hydraulics.flatten import flatten
from madidus.core.hydraulics.inflow import Inflow
from madidus.core.hydraulics.simulate import simulate
from madidus.core.model.network import Network
from madidus.core.results.reduction import Reduction
from madidus.core.rules.kinds import Freeboard

from .searched import tank_project

POND = str(uuid.uuid5(uuid.NAMESPACE_OID, "pond"))
BOX = [(0.0, 0.0), (20.0, 0.0), (20.0, 10.0), (0.0, 10.0)]


def pond(depth=2.0, **fields):
    fields = fields if {"base", "rim"} & fields.keys() else {"base": BOX, **fields}
    return Basin(name="P", invert=10.0, cover=10.0 + depth, **fields)


def volume(basin):
    depths, areas = basin.areas()
    return float(np.trapezoid(areas, depths))


def test_every_side_has_its_own_slope():
    """Sides of 1:2 and 1:4 across, 1:3 along: the rim is a rectangle again, its volume that of the prismoid."""
    slopes = [{"side": 1, "slope": 2.0}, {"side": 3, "slope": 4.0}]
    found = pond(side_slope=3.0, side_slopes=slopes)
    rim = np.array(edges(found).rim)
    assert rim.min(axis=0) == pytest.approx([-6.0, -4.0])
    assert rim.max(axis=0) == pytest.approx([26.0, 18.0])
    exact = sum((20.0 + 6.0 * h) * (10.0 + 6.0 * h) for h in (np.arange(2000) + 0.5) / 1000.0) / 1000.0
    assert volume(found) == pytest.approx(exact, rel=5e-4)
    # the same drawn the other way round: sides keep their numbers by the corners they lie between
    other = pond(base=BOX[::-1], side_slope=3.0, side_slopes=[{"side": 3, "slope": 2.0}, {"side": 1, "slope": 4.0}])
    assert volume(other) == pytest.approx(volume(found))


def test_a_pond_drawn_at_its_rim_is_the_one_drawn_at_its_base():
    below = pond(side_slope=2.5, base=[(0.0, 0.0), (30.0, 0.0), (30.0, 12.0), (14.0, 12.0), (14.0, 26.0), (0.0, 26.0)])
    rim = [(float(x), float(y)) for x, y in below.ring(2.0)]
    above = pond(rim=rim, side_slope=2.5)
    assert volume(above) == pytest.approx(volume(below), rel=1e-9)
    assert above.areas()[1] == pytest.approx(below.areas()[1])
    assert np.array(edges(above).base) == pytest.approx(np.array(edges(below).base))


@settings(max_examples=40, deadline=None)
@given(
    corners=st.lists(st.floats(0.0, 2 * math.pi), min_size=4, max_size=9, unique=True), out=st.floats(0.05, 6.0),
    radius=st.floats(8.0, 30.0),
)  # fmt: skip
def test_an_even_offset_outward_is_area_and_perimeter_and_corners(corners, out, radius):
    angles = np.sort(corners)
    if np.diff(np.append(angles, angles[0] + 2 * math.pi)).max() > 2.5 or np.diff(angles).min() < 0.15:
        return
    ring = turned([(radius * math.cos(a), radius * math.sin(a)) for a in angles])
    area, perimeter, turns = figures_of(ring)
    moved = offset(ring, np.full(len(ring), out))
    assert area_of(moved) == pytest.approx(area + perimeter * out + turns * out**2, rel=1e-9)
    assert offset(moved, np.full(len(moved), -out)) == pytest.approx(ring, abs=1e-7)


def test_a_short_side_goes_out_and_its_neighbours_meet():
    """A corner cut off by a short side: moved inward it is gone, and the rest is a plain rectangle's."""
    cut = turned([(0.0, 0.0), (20.0, 0.0), (20.0, 9.0), (19.0, 10.0), (0.0, 10.0)])
    plain = turned(BOX)
    far = 3.0
    # the cut lies sqrt(1/2) m inside the corner: past it, it touches the rectangle's inner corner no more
    assert len(offset(cut, np.full(5, -far))) == 4
    assert area_of(offset(cut, np.full(5, -far))) == pytest.approx(area_of(offset(plain, np.full(4, -far))))
    assert len(offset(plain, np.full(4, -5.1))) == 0


def test_a_shelf_and_a_ramp_change_the_volume_by_their_own():
    plain = pond(side_slope=3.0)
    shelf = pond(side_slope=3.0, shelf={"height": 0.5, "width": 1.5})
    for h in (0.2, 1.0, 1.8):
        side = 3.0 * h + (1.5 if h > 0.5 else 0.0)
        assert np.interp(h, *shelf.areas()) == pytest.approx((20.0 + 2 * side) * (10.0 + 2 * side), rel=1e-3)
    assert len(edges(shelf).shelf) == 2
    ramp = pond(side_slope=3.0, ramp={"side": 2, "width": 3.0, "slope": 6.0})
    assert volume(plain) - volume(ramp) == pytest.approx(3.0 * (6.0 - 3.0) * 2.0**2 / 2.0, rel=1e-6)
    rim = pond(rim=[(0, 0), (40, 0), (40, 30), (0, 30)], side_slope=3.0, shelf={"height": 0.5, "width": 1.5})
    assert rim.areas()[1][0] == pytest.approx((40 - 2 * 7.5) * (30 - 2 * 7.5))


@pytest.mark.parametrize(
    ("fields", "said"),
    [
        ({"rim": BOX, "side_slope": 3.0}, r"its sides meet 1\.\d\d m below its rim"),
        ({"base": BOX, "rim": BOX}, "draw one of them"),
        ({"base": []}, "draw one of them"),
        ({"base": [(0, 0), (9, 0), (18, 0)]}, "the base has no area"),
        ({"rim": [(0, 0), (9, 0)]}, "the rim has no area"),
        ({"side_slopes": [{"side": 5, "slope": 1.0}]}, "there is no side 5"),
        ({"ramp": {"side": 9, "width": 1.0, "slope": 5.0}}, "there is no side 9"),
        ({"shelf": {"height": 2.0, "width": 1.0}}, "lies above the bank"),
        ({"ramp": {"side": 1, "width": 20.0, "slope": 30.0}}, "takes all of the base"),
    ],
)  # fmt: skip
def test_what_is_no_pond_is_refused_with_where(fields, said):
    with pytest.raises(ValueError, match=said):
        pond(**fields)


def test_an_outline_that_is_redrawn_keeps_its_slopes():
    before = pond(side_slope=3.0, side_slopes=[{"side": 1, "slope": 2.0}], shelf={"height": 0.5, "width": 1.0})
    after = Basin.model_validate({**before.model_dump(), "base": [(x * 1.5, y) for x, y in BOX]})
    rim = np.array(edges(after).rim)
    assert np.ptp(rim[:, 1]) == pytest.approx(10.0 + 2.0 * 2.0 + 3.0 * 2.0 + 2.0)
    assert np.ptp(rim[:, 0]) == pytest.approx(30.0 + 2 * 6.0 + 2.0)


def test_level_ground_is_cut_by_the_volume_and_a_bank_over_it_is_filled():
    found = pond(side_slope=3.0)
    level = earthworks(found, lambda x, y: 12.0)
    assert level.cut == pytest.approx(volume(found), rel=0.01)
    assert level.fill == pytest.approx(0.0, abs=1e-6)
    assert level.known == 1.0
    low = earthworks(found, lambda x, y: 11.0)
    below = sum((20.0 + 6.0 * h) * (10.0 + 6.0 * h) for h in (np.arange(1000) + 0.5) / 1000.0) / 1000.0
    assert low.cut == pytest.approx(below, rel=0.02)
    ring = sum((32.0 * 22.0) - (20.0 + 6.0 * h) * (10.0 + 6.0 * h) for h in 1.0 + (np.arange(1000) + 0.5) / 1000.0)
    assert low.fill == pytest.approx(ring / 1000.0, rel=0.03)
    half = earthworks(found, lambda x, y: 12.0 if x < 10.0 else None)
    assert half.known == pytest.approx(0.5, abs=0.02)


def test_the_lowest_ground_on_the_rim_is_found_and_told():
    found = pond(side_slope=3.0)
    lowest = lowest_on_rim(found, lambda x, y: 12.0 + 0.1 * abs(x - 26.0) + 0.05 * abs(y - 4.0))
    assert (lowest.x, lowest.y) == pytest.approx((26.0, 4.0), abs=0.3)
    assert lowest.level == pytest.approx(12.0, abs=0.03)
    assert lowest_on_rim(found, lambda x, y: None) is None


@pytest.mark.parametrize(("ground", "low"), [(None, False), (12.5, False), (11.97, False), (11.5, True)])
def test_a_pond_spills_over_the_lowest_ground_on_its_rim_unless_a_bank_is_built(ground, low):
    """Sides upright on 20 × 10 m, 2 m deep: 200 m² for each metre that counts."""
    upright = pond(side_slope=0.0, rim_ground=ground)
    spills = 12.0 if ground is None else min(ground, 12.0)
    assert upright.spill_level == spills
    assert volume(upright) == pytest.approx(200.0 * (spills - 10.0))
    built = upright.model_copy(update={"bank": Bank()})
    assert (built.spill_level, volume(built)) == (12.0, pytest.approx(400.0))
    project = tank_project()
    id_ = next(iter(project.option.network.nodes))
    project.option.network.nodes[id_] = upright
    found = [f for f, _ in judged(project) if f.check == "rim-low"]
    assert bool(found) == low
    for one in found:
        assert "0.50 m below its bank: it spills there, and 300.0 m³ of 400.0 m³ count" in str(one.why)
        assert [fix.patch[0]["path"].rpartition("/")[2] for fix in (one.fix, one.instead)] == ["bank", "cover"]
    project.option.network.nodes[id_] = built
    assert not [f for f, _ in judged(project) if f.check == "rim-low"]


def test_the_solver_floods_a_pond_and_rules_count_from_where_it_spills():
    """An hour of 0.1 m³/s into 200 m²: 1.8 m to the bank, but the ground on the rim lies 1 m above the base."""
    project = tank_project()
    network = project.option.network
    id_ = next(i for i, node in network.nodes.items() if isinstance(node, Store))
    outfall = next(i for i, node in network.nodes.items() if isinstance(node, Outfall))
    fields = {"side_slope": 0.0, "rim_ground": 11.0, "ponded_area": 200.0, "ponded_side_slope": 0.0}
    out = {"kind": "weir", "name": "W", "upstream": id_, "downstream": outfall, "crest": 11.9, "length": 0.001}
    plain = Network(nodes={id_: pond(**fields), outfall: network.nodes[outfall]}, links={POND: out})
    hour = np.array([0.0, 3600.0])
    inflow = Inflow(hour, np.array([[0.1], [0.1]]), [id_], np.zeros(1))
    for flooding, standing in (("stored", 11.8), ("lost", 11.0)):
        node = plain.nodes[id_].model_copy(update={"flooding": flooding})
        own = plain.model_copy(update={"nodes": {**plain.nodes, id_: node}})
        flat = flatten(own)
        run = simulate(flat, inflow, until=3600.0)
        figures = Reduction(own, flat).figures("s", run)
        k = sorted(own.nodes).index(id_)
        assert figures.level[k] == pytest.approx(standing, abs=0.02)
        assert figures.flooded[k] == pytest.approx(360.0 - 200.0, abs=5.0)
        left = Freeboard(name="f", limits=[{"return_period": 100.0}]).look(0.0, own).spare(figures)
        assert left == pytest.approx([11.0 - figures.level[k]])
        assert abs(run.balance.error) < 1e-12


def test_what_is_filled_for_a_bank_is_that_of_a_prism_along_a_straight_rim():
    """Level ground 1 m under the bank: within the rim the sides' fill; outside crest and slope, 1 + 3/2 m² a metre."""
    level = lambda x, y: 11.0  # noqa: E731
    banked = pond(side_slope=0.0, bank=Bank(crest_width=1.0, outer_slope=3.0))
    assert earthworks(banked, level).bank == pytest.approx(2.5 * 60.0, rel=1e-9)
    assert earthworks(pond(side_slope=0.0), level).bank == 0.0
    tilted = lambda x, y: 12.0 - 0.05 * x  # noqa: E731  0 to 1 m under the bank along 20 m
    a, b = (np.trapezoid(f, dx=0.001) for h in [np.linspace(0, 1, 20001)] for f in (h, h**2))
    whole = 10.0 * 2.5 + 2 * (20.0 / 20.0) * (a + 1.5 * b)
    assert earthworks(banked, tilted).bank == pytest.approx(whole, rel=2e-3)


def test_the_lowest_ground_on_a_rim_follows_the_terrain():
    """A plane that falls to the east: the lowest ground is at the corner farthest down, whatever the base."""
    plane = lambda x, y: 13.0 - 0.1 * x if x < 30.0 else None  # noqa: E731
    net = Network(nodes={POND: pond(side_slope=3.0)})
    assert with_rim_ground(net, plane).nodes[POND].rim_ground == pytest.approx(13.0 - 2.6)
    moved = with_rim_ground(Network(nodes={POND: pond(side_slope=3.0, base=[(x - 5.0, y) for x, y in BOX])}), plane)
    assert moved.nodes[POND].rim_ground == pytest.approx(13.0 - 2.1)
    unknown = with_rim_ground(moved, lambda x, y: None)
    assert unknown is moved


@pytest.mark.parametrize("ring", [BOX, BOX[::-1]])
def test_sides_are_moved_in_parallel_all_or_one(ring):
    net = Network(nodes={POND: pond(base=ring)})

    def corners(by, side=None):
        return np.array(moved_sides(net, POND, by, side).nodes[POND].base)

    assert area_of(corners(1.0)) == pytest.approx(math.copysign(22.0 * 12.0, area_of(np.array(ring))))
    side = next(k + 1 for k, (a, b) in enumerate(zip(ring, [*ring[1:], ring[0]], strict=True)) if a[0] == b[0] == 20.0)
    one = corners(3.0, side)
    assert one.max(axis=0) == pytest.approx([23.0, 10.0])
    assert one.min(axis=0) == pytest.approx([0.0, 0.0])
    for by, which, said in ((-6.0, None, "would vanish"), (1.0, 9, "is not there")):
        with pytest.raises(ModelError, match=said):
            moved_sides(net, POND, by, which)
    with pytest.raises(ModelError, match="is none"):
        moved_sides(net, "gone", 1.0)
    sent = EDITS.validate_python([{"edit": "move sides", "element": POND, "by": 1.0}])
    assert np.array(sent[0].on(net, tank_project())[0].nodes[POND].base) == pytest.approx(corners(1.0))
