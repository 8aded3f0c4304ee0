"""Outlines of catchments, and the ground under them."""

import numpy as np
import pytest

from madidus.core.errors import ModelError
from madidus.core.ground.outline import outlined
from madidus.core.ground.terrain import Terrain, between_covers
from tests.cases.build import identity, network

SQUARE = [(0.0, 0.0), (40.0, 0.0), (40.0, 40.0), (0.0, 40.0)]


def made(catchments: dict[str, list[tuple[float, float]]], **nodes: tuple[float, float, float]):
    found = network({
        name: {"kind": "manhole", "x": x, "y": y, "cover": cover, "invert": cover - 2}
        for name, (x, y, cover) in nodes.items()
    }, {})  # fmt: skip
    given = {identity(name): {"name": name, "area": 1.0, "polygon": ring} for name, ring in catchments.items()}
    return type(found).model_validate({**found.model_dump(), "catchments": given})


def nowhere(_x: float, _y: float) -> None:
    return None


def test_a_free_outline_keeps_its_area_and_drains_to_the_lowest_shaft_within():
    net = made({}, high=(10, 10, 20.0), low=(30, 30, 19.0), outside=(60, 10, 10.0))
    found = outlined(net, SQUARE, nowhere)
    assert found.area == 1600.0
    assert found.node == identity("low")


def test_neighbours_keep_what_is_theirs():
    net = made({"left": [(-10, -10), (15, -10), (15, 50), (-10, 50)]})
    found = outlined(net, SQUARE, nowhere)
    assert found.area == pytest.approx(25 * 40)
    assert any("left keeps what is theirs" in remark for remark in found.remarks)
    assert found.node is None


def test_the_largest_piece_is_kept_where_a_strip_cuts_through():
    net = made({"strip": [(25, -1), (30, -1), (30, 41), (25, 41)]})
    found = outlined(net, SQUARE, nowhere)
    assert found.area == pytest.approx(25 * 40)
    assert "1 smaller piece cut off, left out" in found.remarks


def test_ground_around_another_catchment_is_one_outline_without_its_area():
    net = made({"yard": [(10, 10), (20, 10), (20, 20), (10, 20)]})
    found = outlined(net, SQUARE, nowhere)
    assert found.area == pytest.approx(1500.0)
    x, y = np.array(found.polygon).T
    assert abs(0.5 * (x @ np.roll(y, -1) - y @ np.roll(x, -1))) == pytest.approx(1500.0)


def test_the_receiver_is_the_nearest_shaft_downhill_not_the_nearest_one():
    net = made({}, uphill=(45, 20, 25.0), downhill=(80, 20, 15.0), farther=(120, 20, 14.0))
    assert outlined(net, SQUARE, lambda _x, _y: 20.0).node == identity("downhill")
    assert outlined(net, SQUARE, nowhere).node == identity("uphill")


@pytest.mark.parametrize(
    ("ring", "why"),
    [
        ([(0, 0), (40, 40), (40, 0), (0, 40)], "crosses itself"),
        ([(0, 0), (20, 20), (40, 40)], "no area|crosses itself"),
        ([(1, 1), (2, 1), (2, 2)], "lies within all"),
    ],
)
def test_an_impossible_outline_is_refused_in_words(ring, why):
    with pytest.raises(ModelError, match=why):
        outlined(made({"all": SQUARE}), ring, nowhere)


def plane(rows: int = 30, columns: int = 40, cell: float = 2.0) -> Terrain:
    x = 100.0 + (np.arange(columns) + 0.5) * cell
    y = 50.0 + (rows - np.arange(rows) - 0.5) * cell
    return Terrain((10.0 + 0.03 * x[None, :] - 0.02 * y[:, None]).astype(np.float64), 100.0, 50.0, cell)


def test_levels_between_cells_lie_on_the_plane():
    ground = plane()
    for x, y in ((101.0, 51.0), (133.3, 77.7), (178.9, 108.9)):
        assert ground.level(x, y) == pytest.approx(10.0 + 0.03 * x - 0.02 * y, abs=1e-9)
    assert ground.level(99.0, 60.0) is None
    assert ground.level(120.0, 111.0) is None


def test_beside_a_gap_the_known_cells_decide():
    levels = plane().levels.copy()
    levels[:, :10] = np.nan
    ground = Terrain(levels, 100.0, 50.0, 2.0)
    assert ground.level(105.0, 80.0) is None
    assert ground.level(120.2, 80.0) == pytest.approx(float(levels[14, 10]), abs=0.1)


def test_contours_of_a_plane_are_straight_and_at_their_level():
    step, lines = plane().contours()
    assert len({level for level, _ in lines}) > 5
    for level, points in lines:
        assert 10.0 + 0.03 * points[:, 0] - 0.02 * points[:, 1] == pytest.approx(level, abs=1e-9)
        assert level / step == pytest.approx(round(level / step))


def test_a_coarser_grid_keeps_the_mean_and_the_place():
    ground = plane(rows=32, columns=40)
    coarse = ground.coarser(10)
    assert coarse.cell == 8.0
    assert coarse.levels.mean() == pytest.approx(ground.levels.mean())
    x, y = 140.0, 80.0
    assert coarse.level(x, y) == pytest.approx(10.0 + 0.03 * x - 0.02 * y, abs=1e-3)


def test_the_light_comes_from_the_north_west():
    rising_east = Terrain(np.tile(np.arange(8.0), (8, 1)), 0.0, 0.0, 1.0)
    falling_east = Terrain(-np.tile(np.arange(8.0), (8, 1)), 0.0, 0.0, 1.0)
    flat = Terrain(np.zeros((8, 8)), 0.0, 0.0, 1.0)
    west, level, east = (float(t.shade().mean()) for t in (rising_east, flat, falling_east))
    assert west > level > east
    assert level == pytest.approx(2**-0.5)
    northern = Terrain(np.tile(np.arange(8.0)[:, None], (1, 8)), 0.0, 0.0, 1.0)  # rises to the south: faces north
    assert float(northern.shade().mean()) > level


def test_between_covers_the_ground_is_theirs_at_a_shaft():
    ground = between_covers(made({}, a=(0, 0, 20.0), b=(100, 0, 10.0)))
    assert ground(0.0, 0.0) == pytest.approx(20.0, abs=0.01)
    assert ground(50.0, 0.0) == pytest.approx(15.0, abs=0.01)
    assert between_covers(made({}))(0.0, 0.0) is None


def test_ground_within_an_outline_is_draped():
    ring = [(110.0, 60.0), (150.0, 60.0), (150.0, 90.0), (110.0, 90.0)]
    lie = plane().under(ring)
    slope = np.hypot(0.03, 0.02)
    assert lie.slope == pytest.approx(slope, rel=1e-6)
    assert lie.area == pytest.approx(40 * 30 * np.sqrt(1 + slope**2), rel=1e-9)
    assert lie.lowest == pytest.approx(10 + 0.03 * 111 - 0.02 * 89, abs=1e-6)
    assert plane().under([(0.0, 0.0), (5.0, 0.0), (5.0, 5.0)]) is None


def test_a_flood_widens_as_the_ground_lies():
    """A cone-shaped hollow of 1:40 floods as a cone of 1:40; beside a ridge only the near side counts."""
    y, x = np.mgrid[0:201, 0:201] - 100.0
    hollow = Terrain((10.0 + np.hypot(x, y) / 40.0).astype(np.float32), 0.0, 0.0, 1.0)
    assert hollow.cone(100.5, 100.5, 1e-6) == pytest.approx(40.0, rel=0.05)
    assert hollow.cone(100.5, 100.5, np.pi * 4.0**2) == pytest.approx(20.0, rel=0.1)  # 8 m at 0.2 m, 4 m of it at first
    ridge = hollow.levels.copy()
    ridge[:, 103] = 20.0
    assert Terrain(ridge, 0.0, 0.0, 1.0).cone(100.5, 100.5, 1e-6) < 36.0
    assert hollow.cone(-5.0, 0.0, 1.0) is None


def test_water_is_followed_down_the_ground_to_the_shaft_that_it_comes_by():
    """A valley that runs west: what is nearest lies over the ridge, and what is nearest downhill off the water's way."""
    net = made({}, over=(20, 70, 9.0), beside=(-30, 50, 8.0), valley=(-80, 1, 7.0), past=(-200, 0, 2.0))

    def ground(x: float, y: float) -> float:
        return 20.0 + 0.02 * x + 0.1 * abs(y)

    assert outlined(net, SQUARE, ground).node == identity("valley")
    # where nobody knows the ground the nearest one is as good as any
    assert outlined(net, SQUARE, nowhere).node == identity("over")
