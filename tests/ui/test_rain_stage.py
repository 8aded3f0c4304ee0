"""Rainfall, shapes and runoff methods on the screen."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.ui.conftest import up_to_date
from tests.ui.hands import held, patched, undone


def rain_of(page: Page) -> dict:
    return held(page)["document"]["rain"]


@pytest.fixture
def rain(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Rain")).click()
    return demo


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
    expect(rain.get_by_test_id("residuals").locator("tbody td")).to_have_count(40)
    rain.get_by_role("button", name="look at it").click()
    expect(rain.get_by_test_id("staged-rain")).to_contain_text("the storms are made of the table")
    assert rain_of(rain) == before
    patched(rain, lambda: rain.get_by_test_id("use-staged").click())
    expect(rain.get_by_test_id("formula").get_by_test_id("source")).to_have_value(re.compile("^fitted to a table"))
    up_to_date(rain)
    rain.get_by_test_id("use-ratio").click()
    rain.get_by_test_id("ratio-depth").fill("21")
    rain.get_by_test_id("ratio-depth").press("Enter")
    patched(rain, lambda: rain.get_by_test_id("use-staged").click())
    expect(rain.get_by_test_id("ratio")).to_contain_text("factor 1")
    expect(rain.get_by_test_id("ratio").get_by_test_id("source")).to_have_value(
        re.compile("^England and Wales: after the Flood Studies Report")
    )
    up_to_date(rain)
    undone(rain, 2)
    assert rain_of(rain) == before


@pytest.mark.parametrize("way", ["use-ratio", "use-formula"])
def test_another_rainfall_is_only_looked_at_until_it_is_used(rain: Page, way: str):
    """The start values are of no place, and cannot be used; the old rainfall is there all along."""
    before = rain_of(rain)
    rain.get_by_test_id(way).click()
    staged = rain.get_by_test_id("staged-rain")
    expect(staged).to_contain_text("start values, of no place")
    expect(rain.get_by_test_id("use-staged")).to_be_disabled()
    staged.get_by_test_id("source").fill("the site")
    staged.get_by_test_id("source").press("Enter")
    expect(staged.get_by_test_id("source")).to_have_value("the site")
    expect(rain.get_by_test_id("use-staged")).to_be_disabled()  # a source alone makes them no better
    rain.get_by_role("button", name="keep the old one").click()
    expect(staged).to_have_count(0)
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
    rain.get_by_test_id("storm-2-720-summer").click()
    expect(shown).to_contain_text("2 yr, 720 min, summer")
    before = shown.inner_text()
    shown.get_by_label("catchment").select_option(label="Green")
    expect(shown).not_to_have_text(before)


def test_patterns_come_from_a_file_and_bad_rows_are_named(rain: Page):
    before = rain_of(rain)
    take = rain.get_by_test_id("pattern-file")
    take.set_input_files([{"name": "p.csv", "mimeType": "text/csv", "buffer": b"60,1,0.5,0.4\n"}])
    expect(rain.get_by_role("alert").first).to_contain_text("patterns, row 1")
    rows = b"duration,pattern,a,b\n720,1,0.5,0.5\n720,2,0.2,0.8\n"
    patched(rain, lambda: take.set_input_files([{"name": "p.csv", "mimeType": "text/csv", "buffer": rows}]))
    expect(rain.get_by_test_id("patterns")).to_contain_text("2 for 1 durations")
    expect(rain.get_by_test_id("ensemble")).to_contain_text("24 storms")
    source = rain.get_by_test_id("pattern-source")
    expect(source).to_have_value("p.csv")
    source.fill("Shares of the region, 2024")
    patched(rain, lambda: source.press("Enter"))
    assert rain_of(rain)["ensemble"]["pattern_source"] == "Shares of the region, 2024"
    patched(rain, lambda: rain.get_by_test_id("labels").select_option("aep"))
    expect(rain.locator("svg [role=gridcell]").first).to_have_attribute("aria-label", re.compile("AEP"))
    undone(rain, 3)
    assert rain_of(rain) == before


def test_further_storms_take_a_table_of_their_own_and_are_run_beside_the_main_ones(rain: Page):
    before = rain_of(rain)
    patched(rain, lambda: rain.get_by_test_id("add-block").click())
    expect(rain.get_by_test_id("checks")).to_contain_text("“further 1” has no return period, and makes no storm")
    name = rain.get_by_test_id("block-name")
    name.fill("hill")
    patched(rain, lambda: name.press("Tab"))
    patched(rain, lambda: rain.get_by_test_id("own-rainfall").click())
    rain.get_by_test_id("other-table").click()
    table = "Intensities at the hill\n;1 % AEP;50 % AEP\n15 min;98,5;40\n24 h;4,1;1,6\n"
    rain.get_by_test_id("table-file").set_input_files(
        [{"name": "hill.csv", "mimeType": "text/csv", "buffer": table.encode("utf-8-sig")}]
    )
    expect(rain.get_by_test_id("understood-measure")).to_have_value("intensity")
    expect(rain.get_by_test_id("understood")).to_contain_text("assumed")  # the unit was not said
    patched(rain, lambda: rain.get_by_test_id("use-table").click())
    expect(rain.get_by_test_id("depth-100-1440")).to_have_value("98.4")
    patched(rain, lambda: rain.get_by_role("button", name="add a return period").click())
    up_to_date(rain)
    kept = rain_of(rain)
    assert kept["rainfall"] == before["rainfall"]
    assert kept["further"][0]["rainfall"]["source"] == "hill.csv"
    expect(rain.get_by_test_id("storm-2-15-summer@hill")).to_be_visible()
    expect(rain.get_by_test_id("ensemble")).to_contain_text("24 storms")
    undone(rain, 5)
    assert rain_of(rain) == before


def test_events_of_a_record_are_ranked_and_run(rain: Page):
    before = rain_of(rain)
    rain.get_by_test_id("page-given").click()
    record = rain.get_by_test_id("record-file")
    record.set_input_files([{"name": "r.csv", "mimeType": "text/csv", "buffer": b"time,depth mm\n1,2\n3,4\n"}])
    expect(rain.get_by_test_id("recorded").get_by_role("alert")).to_contain_text("row 2")
    rows = ["time,depth mm"]
    for day, depth in ((3, 1.0), (4, 3.0), (5, 0.2)):
        rows += [f"2031-05-0{day}T10:{5 * k:02},{depth}" for k in range(6)]
    record.set_input_files([{"name": "r.csv", "mimeType": "text/csv", "buffer": "\n".join(rows).encode()}])
    first = rain.get_by_test_id("recorded").locator("tbody tr").first
    expect(first).to_contain_text("2031-05-04 10:00")
    patched(rain, lambda: rain.get_by_test_id("take-event-1").click())
    expect(rain.get_by_test_id("take-event-1")).to_have_text("is run")
    up_to_date(rain)
    rain.get_by_test_id("storm-given-2031.05.04_10.00").click()
    patched(rain, lambda: rain.get_by_role("button", name="give it a return period").click())
    up_to_date(rain)
    depths = rain.get_by_test_id("given-depths")
    depths.fill("2\n4,5\nlots\n")
    expect(rain.get_by_test_id("given-found")).to_contain_text("value 3: “lots” is no depth")
    expect(rain.get_by_test_id("add-given")).to_be_disabled()
    depths.fill("2\n4,5\n")
    patched(rain, lambda: rain.get_by_test_id("add-given").click())
    assert [s["depths"] for s in rain_of(rain)["given"]] == [[3.0] * 6, [2, 4.5]]
    undone(rain, 3)
    assert rain_of(rain) == before


def test_a_storm_is_left_out_and_taken_back(rain: Page):
    before = rain_of(rain)
    rain.get_by_test_id("page-storms").click()
    rain.get_by_test_id("drawn-30-720-summer").click()
    expect(rain.get_by_test_id("storm-rain")).to_contain_text("30 yr, 720 min, summer")
    patched(rain, lambda: rain.get_by_test_id("leave-out").click())
    expect(rain.get_by_test_id("ensemble")).to_contain_text("17 storms")
    expect(rain.get_by_test_id("drawn-30-720-summer")).to_have_count(0)
    patched(rain, lambda: rain.get_by_role("button", name="take it back in").click())
    expect(rain.get_by_test_id("ensemble")).to_contain_text("18 storms")
    assert rain_of(rain) == before
    undone(rain, 2)


def test_areal_reduction_comes_before_the_allowance_and_is_shown(rain: Page):
    before = rain_of(rain)
    patched(rain, lambda: rain.get_by_test_id("areal").select_option("power"))
    up_to_date(rain)
    rain.get_by_test_id("storm-100+40-720-winter").click()
    expect(rain.get_by_test_id("depth-order")).to_contain_text(
        re.compile(r"point 68\.1 × area 0\.9\d\d × allowance 1\.40")
    )
    undone(rain, 1)
    assert rain_of(rain) == before


def test_the_rational_method_gives_a_first_flow_for_every_conduit(rain: Page):
    rain.get_by_test_id("rational").click()
    page = rain.get_by_test_id("rational-page")
    expect(page).to_contain_text("all 46 carry it when full")
    expect(page.get_by_test_id("below-table")).to_contain_text("at which the rainfall begins")
    period = page.get_by_test_id("rational-period")
    period.fill("100")
    period.press("Enter")
    expect(page).to_contain_text("of 46 carry less when full")
    period.fill("7000")
    period.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("7000 years lies outside")


def test_a_catchments_time_is_computed_from_its_flow_path(rain: Page):
    rain.get_by_test_id("tile-3").click()
    rain.get_by_label("Stages").get_by_role("link", name=re.compile("Network")).click()
    rain.get_by_role("button", name="Hall roof north-east").click()
    card = rain.get_by_label("Inspector")
    patched(rain, lambda: card.get_by_test_id("timing").select_option("path"))
    expect(card).to_contain_text("Sheet flow, 12.3 min")
    patched(rain, lambda: card.get_by_label("Shallow flow").click())
    expect(card).to_contain_text(re.compile("Shallow flow, [0-9.]+ min"))
    patched(rain, lambda: rain.get_by_test_id("give-method").click())
    own = card.get_by_label("Paved, summer")
    own.fill("90")
    patched(rain, lambda: own.press("Enter"))
    expect(card).to_contain_text("as the project: 75 %")
    up_to_date(rain)
    undone(rain, 4)


def test_the_table_is_typed_over_as_text_with_another_duration(rain: Page):
    before = rain_of(rain)
    rain.get_by_test_id("table-as-text").click()
    text = rain.get_by_test_id("table-text")
    lines = text.input_value().split("\n")
    assert lines[0].startswith("depth mm\t15 min")
    longer = [line + ("\t2880 min" if i == 0 else f"\t{90 + 10 * i}") for i, line in enumerate(lines)]
    text.fill("\n".join(longer))
    expect(rain.get_by_test_id("table-found")).to_contain_text("11 durations")
    patched(rain, lambda: rain.get_by_test_id("use-table").click())
    after = rain_of(rain)["rainfall"]
    assert after["durations"] == [*before["rainfall"]["durations"], 2880]
    assert [row[:-1] for row in after["depths"]] == before["rainfall"]["depths"]
    assert after["source"] == before["rainfall"]["source"]
    up_to_date(rain)
    undone(rain, 1)


def test_an_error_leads_to_a_page_about_its_field(rain: Page):
    field = rain.get_by_test_id("creep")
    field.fill("300 %")
    field.press("Enter")
    notice = rain.get_by_test_id("notice")
    expect(notice).to_contain_text("creep: is 3 (300%), and can be 1 (100%) at most")
    notice.get_by_test_id("about-field").click()
    page = rain.get_by_test_id("about-page")
    expect(page).to_contain_text("future growth of paved area")
    expect(page).to_contain_text("at most 1")
    page.get_by_role("button", name="close").click()
    notice.get_by_role("button", name="dismiss").click()
    expect(notice).to_have_count(0)
