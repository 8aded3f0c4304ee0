"""Geometry of sections against closed forms and published figures."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from madidus.core.elements.geometry import critical_depth, geometry, normal_depth, section_table, uniform_flow
from madidus.core.elements.sections import Arch, Circular, Egg, Irregular, Rectangular, Trapezoidal, WidthTable

TRAPEZOID = Trapezoidal(base_width=2.0, left_slope=1.5, right_slope=1.5, height=2.0)
SURVEY = Irregular(
    stations=[{"offset": x, "elevation": z} for x, z in ((0, 103), (3, 101), (5, 101), (8, 103))]
)  # fmt: skip
ALL = [
    (Circular(diameter=0.9), False), (Egg(height=1.5), False), (Arch(width=2.0, height=1.5, rise=1.0), False),
    (Rectangular(width=1.5, height=1.0), False), (Rectangular(width=1.5, height=1.0), True), (TRAPEZOID, True),
    (SURVEY, True), (WidthTable(rows=[{"depth": 0, "width": 0.4}, {"depth": 1, "width": 1.2}]), True),
]  # fmt: skip


def test_full_circle():
    shape = geometry(Circular(diameter=0.9))
    assert float(shape.area_at(0.9)) == pytest.approx(np.pi * 0.9**2 / 4, rel=1e-6)
    assert float(shape.perimeter_at(0.9)) == pytest.approx(np.pi * 0.9, rel=1e-6)
    assert float(shape.width_at(0.45)) == pytest.approx(0.9)


def test_full_egg_has_the_published_area_and_perimeter():
    """A = 1.1485 B² and P = 3.965 B for the old egg of height 1.5 B (handbooks of sewer design)."""
    shape = geometry(Egg(height=1.5))
    assert float(shape.area_at(1.5)) == pytest.approx(1.1485, rel=1e-3)
    assert float(shape.perimeter_at(1.5)) == pytest.approx(3.965, rel=1e-3)


def test_arch_is_a_box_under_half_an_ellipse():
    shape = geometry(Arch(width=2.0, height=1.5, rise=1.0))
    assert float(shape.area_at(1.5)) == pytest.approx(2.0 * 0.5 + np.pi / 2, rel=1e-5)
    assert float(shape.perimeter_at(1.5)) == pytest.approx(2.0 + 2 * 0.5 + np.pi, rel=1e-5)


def test_a_survey_of_a_trapezoid_is_the_trapezoid():
    surveyed, drawn = geometry(SURVEY, is_open=True), geometry(TRAPEZOID, is_open=True)
    for y in (0.1, 0.7, 1.3, 2.0):
        for name in ("area_at", "width_at", "perimeter_at"):
            assert float(getattr(surveyed, name)(y)) == pytest.approx(float(getattr(drawn, name)(y)))


def test_only_a_closed_box_has_a_roof():
    box = Rectangular(width=1.5, height=1.0)
    assert float(geometry(box).perimeter_at(1.0)) == pytest.approx(5.0)
    assert float(geometry(box, is_open=True).perimeter_at(1.0)) == pytest.approx(3.5)


@given(silt=st.floats(0.01, 0.5), depth=st.floats(0.0, 0.4))
def test_silt_takes_the_lower_part_and_gives_a_flat_bed(silt, depth):
    whole = geometry(Circular(diameter=0.9))
    left = whole.above(silt)
    assert left.height == pytest.approx(0.9 - silt)
    assert float(left.area_at(depth)) == pytest.approx(
        float(whole.area_at(silt + depth) - whole.area_at(silt)), abs=1e-9
    )
    bed = float(whole.width_at(silt))
    expected = float(whole.perimeter_at(silt + depth) - whole.perimeter_at(silt)) + bed
    assert float(left.perimeter_at(depth)) == pytest.approx(expected, abs=1e-9)


@pytest.mark.parametrize(("section", "is_open"), ALL)
def test_area_is_the_integral_of_width(section, is_open):
    shape = geometry(section, is_open=is_open)
    depths = np.linspace(0.0, shape.height * 0.999, 20_001)
    widths = shape.width_at(depths)
    integral = np.cumsum(0.5 * (widths[1:] + widths[:-1]) * np.diff(depths))
    assert shape.area_at(depths[1:]) == pytest.approx(integral, rel=2e-3, abs=1e-5)


@pytest.mark.parametrize(("section", "is_open"), ALL)
def test_depths_are_roots_of_their_equations(section, is_open):
    flow = 0.4 * uniform_flow(section, 0.015, 0.002, section.height, is_open=is_open)
    normal = normal_depth(section, 0.015, 0.002, flow, is_open=is_open)
    assert uniform_flow(section, 0.015, 0.002, normal, is_open=is_open) == pytest.approx(flow)
    critical = critical_depth(section, flow, is_open=is_open)
    shape = geometry(section, is_open=is_open)
    assert flow**2 * float(shape.width_at(critical)) == pytest.approx(
        9.81 * float(shape.area_at(critical)) ** 3, rel=1e-6
    )


def test_barrels_multiply_area_and_leave_the_radius():
    shape = geometry(Circular(diameter=0.9))
    one, three = section_table(shape), section_table(shape, barrels=3)
    assert three.area == pytest.approx(3 * one.area)
    assert three.radius43 == pytest.approx(one.radius43)
    assert three.mean_depth == pytest.approx(one.mean_depth)


def test_an_open_table_goes_on_between_upright_walls():
    shape = geometry(TRAPEZOID, is_open=True)
    table = section_table(shape, is_open=True)
    assert table.height == pytest.approx(3.0)
    assert table.storage[-1] == pytest.approx(float(shape.area_at(2.0)) + 1.0 * 8.0)
