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


def test_the_chosen_storm_shows_its_rain_and_what_runs_off(rain: Page):
    shown = rain.get_by_test_id("storm-rain")
    expect(shown).to_contain_text("of it runs off")
    expect(shown.get_by_test_id("loss-band")).to_be_visible()
    rain.get_by_test_id("storm-2-60-summer").click()
    expect(shown).to_contain_text("2 yr, 60 min, summer")
    before = shown.inner_text()
    shown.get_by_label("catchment").select_option(label="Green")
    expect(shown).not_to_have_text(before)


def test_patterns_come_from_a_file_and_bad_rows_are_named(rain: Page):
    before = rain_of(rain)
    take = rain.get_by_test_id("pattern-file")
    take.set_input_files([{"name": "p.csv", "mimeType": "text/csv", "buffer": b"60,1,0.5,0.4\n"}])
    expect(rain.get_by_role("alert").first).to_contain_text("patterns, row 1")
    rows = b"duration,pattern,a,b\n60,1,0.5,0.5\n60,2,0.2,0.8\n"
    patched(rain, lambda: take.set_input_files([{"name": "p.csv", "mimeType": "text/csv", "buffer": rows}]))
    expect(rain.get_by_test_id("patterns")).to_contain_text("2 for 1 durations")
    expect(rain.get_by_test_id("ensemble")).to_contain_text("60 storms")
    patched(rain, lambda: rain.get_by_test_id("labels").select_option("aep"))
    up_to_date(rain)
    assert any(
        "AEP" in text for text in rain.locator("svg [role=gridcell]").first.get_attribute("aria-label").split(",")
    )
    undone(rain, 2)
    assert rain_of(rain) == before
