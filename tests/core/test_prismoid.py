"""Stores by their dimensions: the prismoid's closed form, and each unknown found back from the others."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from madidus.core.elements import Basin
from madidus.core.elements.offset import figures_of, turned
from madidus.core.errors import ModelError
from madidus.core.ground.prismoid import Prismoid, rectangle, solved
from madidus.core.hydraulics.layout import held_at

lengths, slopes, depths = st.floats(5.0, 200.0), st.floats(0.0, 6.0), st.floats(0.2, 6.0)


def test_a_rectangle_by_the_prismoidal_formula():
    """V = D/6 (A0 + 4 Am + A1), exact for sides that rise evenly."""
    length, width, slope, depth = 30.0, 12.0, 3.0, 1.8
    sides = [(length + 2 * slope * z) * (width + 2 * slope * z) for z in (0.0, depth / 2, depth)]
    one = rectangle("base", length, width, slope, depth)
    assert one.volume == pytest.approx(depth / 6 * (sides[0] + 4 * sides[1] + sides[2]), rel=1e-12)
    assert one.area_at(depth) == pytest.approx(sides[2], rel=1e-12)


def test_a_box_is_length_by_width_by_depth():
    assert rectangle("base", 10.0, 4.0, 0.0, 2.5).volume == pytest.approx(100.0)
    assert rectangle("base", 10.0, 4.0, 0.0, 2.5).table() == [(0.0, 40.0), (2.5, 40.0)]


@settings(max_examples=200, deadline=None)
@given(length=lengths, width=lengths, slope=slopes, depth=depths)
def test_a_store_from_its_top_is_the_one_from_its_base(length, width, slope, depth):
    up = rectangle("base", length, width, slope, depth)
    down = rectangle("top", length + 2 * slope * depth, width + 2 * slope * depth, slope, depth)
    assert down.volume == pytest.approx(up.volume, rel=1e-9)
    for height in (0.0, 0.3 * depth, depth):
        assert down.area_at(height) == pytest.approx(up.area_at(height), rel=1e-9)


@settings(max_examples=200, deadline=None)
@given(length=lengths, width=lengths, slope=st.floats(0.2, 6.0), depth=depths, at=st.sampled_from(["base", "top"]))
def test_each_unknown_is_found_back_from_the_others(length, width, slope, depth, at):
    if at == "top":
        length, width = length + 2 * slope * depth, width + 2 * slope * depth
    one = rectangle(at, length, width, slope, depth)
    wrong = {"depth": {"depth": 0.1}, "slope": {"slope": 0.0}, "area": {}}
    for unknown, off in wrong.items():
        fields = {"length": length, "width": width, "slope": slope, "depth": depth, **off}
        if unknown == "area":
            fields.update(length=length / 2, width=width / 2)
        if unknown == "area" and at == "top" and slope * depth >= min(length, width) / 4:
            continue
        found = solved(rectangle(at, **fields), one.volume, unknown)
        assert found.volume == pytest.approx(one.volume, rel=1e-6)
        if unknown == "area":
            assert found.scale == pytest.approx(2.0, rel=1e-4)
        else:
            assert getattr(found, unknown) == pytest.approx(getattr(one, unknown), rel=1e-4)


def test_the_table_holds_what_the_formula_says():
    one = rectangle("base", 20.0, 10.0, 4.0, 3.0)
    depth, area = zip(*one.table(), strict=True)
    held = 0.0
    for k in range(1, len(depth)):
        held += 0.5 * (area[k] + area[k - 1]) * (depth[k] - depth[k - 1])
    assert held == pytest.approx(one.volume, rel=1e-3)


def test_the_outline_of_a_basin_has_the_same_volume():
    base = [(0.0, 0.0), (24.0, 0.0), (18.0, 15.0), (3.0, 11.0)]
    basin = Basin(name="B", x=0, y=0, invert=8.0, cover=9.6, base=base, side_slope=2.5)
    one = Prismoid("base", *figures_of(turned(basin.base)), slope=2.5, depth=1.6)
    depths, areas = basin.areas()
    volume = float(np.trapezoid(areas, depths))
    assert one.volume == pytest.approx(volume, rel=1e-3)
    assert held_at(np.array([depths, areas, np.append(0, np.cumsum(np.diff(depths) * 0.5 * (areas[1:] + areas[:-1])))]),
                   np.array(1.6)) == pytest.approx(one.volume, rel=1e-3)  # fmt: skip


def test_sides_that_meet_above_the_base_are_refused_with_where():
    with pytest.raises(ModelError, match=r"its sides meet 1\.67 m below its top"):
        solved(rectangle("top", 20.0, 10.0, 3.0, 2.0), 0.0, "volume")
    # at the very depth where they meet it holds all that it can
    most = rectangle("top", 20.0, 10.0, 3.0, 10.0 / 6.0).volume
    with pytest.raises(ModelError, match="no depth makes it"):
        solved(rectangle("top", 20.0, 10.0, 3.0, 1.0), most + 1.0, "depth")


def test_a_volume_that_no_slope_makes_says_what_the_others_allow():
    with pytest.raises(ModelError, match=r"no slope makes it 100\.0 m³: with the other figures it holds 400\.0 m³ to"):
        solved(rectangle("base", 20.0, 10.0, 3.0, 2.0), 100.0, "slope")


def test_the_meeting_of_sides_is_half_the_width_of_a_rectangle():
    assert rectangle("top", 30.0, 8.0, 2.0, 1.0).meets == pytest.approx(4.0)
    assert math.isinf(rectangle("base", 30.0, 8.0, 2.0, 1.0).meets)
