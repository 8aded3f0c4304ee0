"""What lies under the plan: files, terrain, maps by address."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.exchange import grounds
from tests.ui.conftest import up_to_date
from tests.ui.hands import draw, edited, network_of, on_plan, undone


@pytest.fixture
def under(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Network")).click()
    demo.get_by_test_id("under-plan").click()
    return demo


def add(page: Page, *files: dict):
    with edited(page):
        page.get_by_test_id("layer-file").set_input_files(list(files))


def file(name: str, content: bytes) -> dict:
    return {"name": name, "mimeType": "application/octet-stream", "buffer": content}


def test_a_drawing_and_a_picture_lie_under_the_plan(under: Page):
    with under.expect_response(re.compile(r"/files/[0-9a-f]{64}$")) as drawn:
        add(under, file("kerbs.dxf", grounds.drawing()))
    assert drawn.value.json()["features"]
    with under.expect_response(lambda r: "/files/" in r.url and r.headers["content-type"] == "image/png"):
        add(under, file("old.png", grounds.picture()), file("old.pgw", grounds.world()))
    under.get_by_test_id("layer-file").set_input_files([file("alone.png", grounds.picture())])
    expect(under.get_by_test_id("layer-wrong")).to_contain_text("add the picture and its world file")
    under.keyboard.press("Escape")
    undone(under, 2)


def test_new_manholes_take_their_cover_from_the_terrain(under: Page):
    before = network_of(under)
    with under.expect_response(re.compile("terrain/contours")) as contours:
        add(under, file("hill.tif", grounds.geotiff()))
    assert contours.value.json()["features"]
    expect(under.get_by_test_id("ground")).to_contain_text("400 × 280 m in cells of 2.00 m")
    under.get_by_test_id("drape").click()
    expect(under.get_by_test_id("ground")).to_contain_text("covers would change")
    with edited(under):
        under.get_by_test_id("drape-apply").click()
    draped = network_of(under)
    node = next(n for n in draped["nodes"].values() if n["name"] == "B4")
    assert node["cover"] == pytest.approx(grounds.levels(node["x"], node["y"]), abs=0.01)
    under.keyboard.press("Escape")
    up_to_date(under)
    draw(under, "manhole")
    with edited(under):
        on_plan(under, 60, 160)
    fresh = next(n for id_, n in network_of(under)["nodes"].items() if id_ not in before["nodes"])
    assert fresh["cover"] == pytest.approx(grounds.levels(fresh["x"], fresh["y"]), abs=0.01)
    undone(under, 3)
    assert network_of(under) == before


@pytest.mark.parametrize(
    ("service", "path", "layer", "asked"),
    [
        ("xyz", "xyz/{z}/{x}/{y}.png", "mesh", r"demo-map/xyz/\d+/\d+/\d+\.png"),
        ("wms", "wms", "mesh", r"demo-map/wms\?.*SRS=EPSG%3A32631"),
        ("wmts", "wmts", "mesh", r"demo-map/wmts/\d+/\d+/\d+\.png"),
    ],
)
def test_a_map_by_address_is_drawn_once_the_grid_is_named(under: Page, address, service, path, layer, asked):
    under.get_by_test_id("map-service").select_option(service)
    under.get_by_test_id("map-address").fill(f"{address}/demo-map/{path}")
    under.get_by_test_id("map-layer").fill(layer)
    with edited(under):
        under.get_by_test_id("add-map").click()
    expect(under.get_by_test_id(f"layer-{layer}")).to_contain_text("needs a named coordinate system")
    under.get_by_test_id("grid-search").fill("32631")
    with under.expect_response(re.compile(asked)) as tile:
        under.get_by_test_id("grid-EPSG:32631").click()
    assert tile.value.status == 200
    assert tile.value.headers["content-type"] == "image/png"
    expect(under.get_by_test_id("grid")).to_contain_text("UTM zone 31N")
    under.keyboard.press("Escape")
    undone(under, 2)
