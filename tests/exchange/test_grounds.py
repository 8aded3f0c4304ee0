"""Terrain, pictures and drawings under the plan: where they come to lie, and what is refused."""

import contextlib
import io
import json
import zlib

import numpy as np
import pyproj
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image
from rasterio.transform import Affine

from madidus.core.errors import ModelError
from madidus.exchange import dxf
from madidus.exchange.dxf import read_drawing
from madidus.exchange.lines import lines_of_dxf, lines_of_geojson
from madidus.exchange.raster import pack_terrain, read_picture, read_terrain, unpack_terrain
from tests.exchange import grounds

GRID = "EPSG:32631"


@pytest.mark.parametrize("content", [grounds.geotiff(), grounds.ascii_grid()], ids=["geotiff", "ascii"])
def test_a_terrain_lies_where_its_file_says(content):
    ground = read_terrain(content, None)
    assert ground.extent == (grounds.WEST, grounds.SOUTH, 360.0, 240.0)
    for x, y in ((0.0, 0.0), (123.4, 56.7), (333.0, 200.0)):
        assert ground.level(x, y) == pytest.approx(grounds.levels(x, y), abs=0.002)
    again = unpack_terrain(pack_terrain(ground))
    assert again.extent == ground.extent
    assert np.array_equal(again.levels, ground.levels)


def test_holes_stay_holes_and_nonsense_becomes_one():
    values = grounds.grid_of_levels()
    values[:20] = -9999
    values[50, 50] = 1e30
    ground = read_terrain(grounds.geotiff(values), None)
    assert not np.isfinite(ground.levels[:20]).any()
    assert not np.isfinite(ground.levels[50, 50])
    assert ground.level(0.0, 235.0) is None


def test_a_terrain_in_degrees_is_turned_into_the_projects_grid():
    to_degrees = pyproj.Transformer.from_crs(GRID, "EPSG:4326", always_xy=True)
    west, south = to_degrees.transform(500_000.0, 5_500_000.0)
    east, north = to_degrees.transform(500_400.0, 5_500_400.0)
    size = 200
    place = Affine((east - west) / size, 0, west, 0, -(north - south) / size, north)
    rising = np.tile(np.linspace(10, 20, size, dtype=np.float32), (size, 1))
    content = grounds.geotiff(rising, crs="EPSG:4326", transform=place)
    ground = read_terrain(content, GRID)
    assert ground.level(500_200.0, 5_500_200.0) == pytest.approx(15.0, abs=0.1)
    assert ground.level(500_300.0, 5_500_100.0) == pytest.approx(17.5, abs=0.15)
    with pytest.raises(ModelError, match="in degrees"):
        read_terrain(content, None)


@pytest.mark.parametrize(
    ("content", "why"),
    [
        (b"II*\x00 nothing", "cannot be read"),
        (b"ncols x", "cannot be read"),
        (grounds.geotiff(np.full((4, 4), -9999, dtype=np.float32)), "holds no level"),
        (grounds.geotiff(transform=Affine(1, 0.3, 0, 0.3, -1, 0)), "no squares with north up"),
        (grounds.geotiff(transform=Affine(1, 0, 0, 0, -2, 0)), "no squares with north up"),
    ],
)
def test_a_terrain_that_is_none_is_refused_in_words(content, why):
    with pytest.raises(ModelError, match=why):
        read_terrain(content, None)


def test_a_picture_lies_by_its_world_file():
    png, extent = read_picture(grounds.picture(), grounds.world(), None)
    assert extent == pytest.approx((0.0, 0.0, 300.0, 200.0))
    image = Image.open(io.BytesIO(png))
    assert image.getpixel((5, 5))[:3] == (30, 90, 120)
    assert image.getpixel((50, 35))[:3] == (200, 190, 160)


def test_a_picture_that_lies_askew_is_turned_upright():
    turned = b"0\n5\n5\n0\n0\n0\n"  # a quarter turn: rows of the file run east
    png, extent = read_picture(grounds.picture(), turned, None)
    west, south, east, north = extent
    assert (east - west, north - south) == pytest.approx((200.0, 300.0))
    image = Image.open(io.BytesIO(png))
    assert image.size == (40, 60)
    assert image.getpixel((3, 55))[:3] == (30, 90, 120)  # the first pixel lies in the south-west


def test_a_coloured_geotiff_is_a_picture_with_its_place():
    bands = np.zeros((3, 20, 30), dtype=np.uint8)
    bands[0, :10] = 255
    png, extent = read_picture(grounds.geotiff(bands, transform=Affine(2, 0, 100, 0, -2, 80)), None, None)
    assert extent == pytest.approx((100, 40, 160, 80))
    assert Image.open(io.BytesIO(png)).getpixel((5, 2))[:3] == (255, 0, 0)


def bomb() -> bytes:
    """A PNG that claims 60,000 by 60,000 pixels in a few hundred bytes."""

    def chunk(kind: bytes, body: bytes) -> bytes:
        return len(body).to_bytes(4, "big") + kind + body + zlib.crc32(kind + body).to_bytes(4, "big")

    head = (60_000).to_bytes(4, "big") * 2 + bytes([8, 2, 0, 0, 0])
    return (
        b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(b"\0" * 1000)) + chunk(b"IEND", b"")
    )


@pytest.mark.parametrize(
    ("content", "world", "why"),
    [
        (grounds.picture(), None, "world file: is missing"),
        (grounds.picture(), b"5 0 0", "six numbers"),
        (grounds.picture(), b"five\n0\n0\n-5\n0\n0", "six numbers"),
        (grounds.picture(), b"0\n0\n0\n0\n0\n0", "no area"),
        (b"\x89PNG\r\n\x1a\nrubbish", grounds.world(), "cannot be read"),
        (bomb(), grounds.world(), "pixels|bomb"),
    ],
)
def test_a_picture_that_cannot_lie_anywhere_is_refused_in_words(content, world, why):
    with pytest.raises(ModelError, match=why):
        read_picture(content, world, None)


@pytest.mark.parametrize(("unit", "scale"), [(6, 1.0), (4, 1000.0), (2, 1 / 0.3048)], ids=["m", "mm", "ft"])
def test_a_drawing_is_in_metres_whatever_its_units(unit, scale):
    drawn = read_drawing(grounds.drawing(unit, scale), explode=False)
    kerb = [line for line in drawn.lines if line.layer == "KERB"]
    assert [line.points[-1] for line in kerb] == [pytest.approx((100.0, 0.0)), pytest.approx((60.0, 40.0))]
    island = next(line for line in drawn.lines if line.layer == "ISLAND")
    assert island.closed
    assert all(np.hypot(x - 30, y - 30) == pytest.approx(8.0, abs=5e-3) for x, y in island.points)
    run = next(line for line in drawn.lines if line.layer == "DRAIN")
    assert run.levels == pytest.approx([10.4, 10.2, 10.0])
    assert [(b.name, b.words["NAME"], b.level) for b in drawn.blocks] == [
        ("COVER", "M1", pytest.approx(12.0)), ("COVER", "M2", pytest.approx(11.5)),
    ]  # fmt: skip
    assert drawn.left == {"HATCH": 1}


def test_a_drawing_under_the_plan_keeps_its_lines_words_and_blocks():
    found = json.loads(lines_of_dxf(grounds.drawing()))["features"]
    layers = {f["properties"]["layer"] for f in found}
    assert {"KERB", "ISLAND", "WORDS"} <= layers
    assert any(f["properties"].get("text") == "Market" for f in found)
    assert sum(f["geometry"]["type"] == "LineString" for f in found) >= 6  # both covers are drawn as rings


def test_geojson_in_degrees_lies_in_the_named_grid_and_else_stays():
    to_degrees = pyproj.Transformer.from_crs(GRID, "EPSG:4326", always_xy=True)
    ring = [to_degrees.transform(500_000 + dx, 5_500_000 + dy) for dx, dy in ((0, 0), (100, 0), (100, 50))]
    feature = {
        "type": "Feature",
        "properties": {"name": "Yard"},
        "geometry": {"type": "Polygon", "coordinates": [ring]},
    }
    content = json.dumps({"type": "FeatureCollection", "features": [feature]}).encode()
    (turned,) = json.loads(lines_of_geojson(content, GRID))["features"]
    assert turned["geometry"]["coordinates"][1] == pytest.approx([500_100.0, 5_500_000.0], abs=0.01)
    assert turned["properties"]["text"] == "Yard"
    (plain,) = json.loads(lines_of_geojson(content, None))["features"]
    assert plain["geometry"]["coordinates"][0] == pytest.approx(ring[0], abs=1e-3)


@pytest.mark.parametrize(
    "content",
    [b"", b"{", b"[]", b'{"type":"FeatureCollection"}', b'{"type":"FeatureCollection","features":[1]}',
     b'{"type":"FeatureCollection","features":[{"geometry":{"type":"LineString","coordinates":[[1e300,0],[0,0]]}}]}',
     b"[" * 50_000, b'{"type":"FeatureCollection","features":[]}'],
)  # fmt: skip
def test_broken_geojson_is_refused(content):
    with pytest.raises(ModelError):
        lines_of_geojson(content, None)


DRAWING = grounds.drawing()


@settings(max_examples=40, deadline=None)
@given(st.integers(0, len(DRAWING) - 1), st.binary(min_size=1, max_size=40))
def test_a_damaged_drawing_is_read_or_refused_never_more(at, rubbish):
    damaged = DRAWING[:at] + rubbish + DRAWING[at + len(rubbish) :]
    with contextlib.suppress(ModelError):  # any other error fails
        assert lines_of_dxf(damaged).startswith(b"{")


def test_blocks_within_blocks_without_end_are_cut_off(monkeypatch):
    import ezdxf

    document = ezdxf.new()
    for k in range(12):
        block = document.blocks.new(f"B{k}")
        if k:
            for j in range(10):
                block.add_blockref(f"B{k - 1}", (j, 0))
        else:
            block.add_line((0, 0), (1, 1))
    document.modelspace().add_blockref("B11", (0, 0))
    text = io.StringIO()
    document.write(text)
    monkeypatch.setattr(dxf, "_MOST_BLOCKS", 500)
    with pytest.raises(ModelError, match="more than 500 blocks"):
        lines_of_dxf(text.getvalue().encode())
