"""Rainfall, shapes and runoff methods on the screen."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.ui.conftest import up_to_date
from tests.ui.hands import undone


def rain_of(page: Page) -> dict:
    shelf = page.request.get("/api/projects").json()
    return next(entry["document"] for entry in shelf if entry["name"] == "Quillmere Boatyard")["rain"]


@pytest.fixture
def rain(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Rain")).click()
    return demo


def patched(page: Page, act):
    with page.expect_response(lambda r: r.request.method == "PATCH") as answer:
        act()
    assert answer.value.status == 200


def test_a_season_takes_another_shape_with_its_own_numbers(rain: Page):
    before = rain_of(rain)
    patched(rain, lambda: rain.get_by_test_id("shape-summer").select_option("chicago"))
    field = rain.get_by_test_id("shape-summer-peak")
    expect(field).to_have_value("40")
    field.fill("30 %")
    patched(rain, lambda: field.press("Enter"))
    summer = next(s for s in rain_of(rain)["ensemble"]["seasons"] if s["name"] == "summer")
    assert summer["shape"] == {"kind": "chicago", "peak": pytest.approx(0.3)}
    undone(rain, 2)
    assert rain_of(rain) == before


def test_a_formula_is_fitted_used_and_answers(rain: Page):
    before = rain_of(rain)
    rain.get_by_test_id("fit").click()
    expect(rain.get_by_test_id("fit-found")).to_contain_text(re.compile(r"within \d\.\d % of every depth"))
    patched(rain, lambda: rain.get_by_role("button", name="use it").click())
    expect(rain.get_by_test_id("formula")).to_contain_text("fitted to a table")
    up_to_date(rain)
    patched(rain, lambda: rain.get_by_test_id("use-ratio").click())
    expect(rain.get_by_test_id("ratio")).to_contain_text("factor 1")
    # the demo's durations lie outside these growth factors: said in words, not guessed
    expect(rain.get_by_test_id("run-state").or_(rain.get_by_test_id("notice")).first).to_be_visible()
    undone(rain, 2)
    assert rain_of(rain) == before


def test_runoff_by_losses_for_all_and_by_unit_hydrograph_for_one(rain: Page):
    before = rain_of(rain)
    patched(rain, lambda: rain.get_by_test_id("method").select_option("losses"))
    patched(rain, lambda: rain.get_by_test_id("method-loss").select_option("green_ampt"))
    expect(rain.get_by_test_id("method-loss-suction")).to_have_value("110.0")
    up_to_date(rain)
    margins = rain.get_by_test_id("margin-1").inner_text()
    rain.get_by_test_id("tile-3").click()
    rain.get_by_label("Stages").get_by_role("link", name=re.compile("Network")).click()
    rain.get_by_test_id("show-tables").click()
    rain.get_by_test_id("table-areas").click()
    rain.get_by_test_id("grid").press("Control+Home")
    rain.get_by_test_id("grid").locator("tr[aria-rowindex='2'] td").first.click()
    patched(rain, lambda: rain.get_by_test_id("give-method").click())
    patched(rain, lambda: rain.get_by_test_id("own-method").select_option("unit_hydrograph"))
    up_to_date(rain)
    assert margins
    undone(rain, 4)
    assert rain_of(rain) == before
