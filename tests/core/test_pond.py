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
from madidus.core.elements import Basin
from madidus.core.elements.offset import area_of, figures_of, offset, turned
from madidus.core.errors import ModelError
from madidus.core.model.network import Network
from madidus.core.pond import earthworks, edges, lowest_on_rim
from madidus.core.ran import Ran

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


@pytest.mark.parametrize(
    ("ground", "top", "low"),
    [(12.0, None, False), (11.8, None, True), (11.8, 11.4, False), (11.8, 11.6, True), (12.5, 12.4, False)],
)
def test_low_ground_is_held_against_top_water_with_freeboard(ground, top, low):
    """The freeboard that is asked is 0.30 m; before storms are in the bank itself counts."""
    project = tank_project()
    id_ = next(iter(project.option.network.nodes))
    project.option.network.nodes[id_] = pond(side_slope=3.0)
    seen = Ran() if top is None else Ran(top={id_: (top, "30 yr, 60 min")})
    found = [f for f, _ in judged(project, seen, None, lambda x, y: ground) if f.check == "rim-low"]
    assert bool(found) == low
    if found and top is not None:
        assert "11.90 m in 30 yr, 60 min" in str(found[0].why)
    assert not [f for f, _ in judged(project, seen, None, lambda x, y: None) if f.check == "rim-low"]


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
