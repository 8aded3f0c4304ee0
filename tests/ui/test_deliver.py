"""What is handed over, on the screen: parts, pages, sheets put together by hand, issues."""

import json
import re

import pypdf
import pytest
from playwright.sync_api import Page, expect

from tests.ui.hands import edited, held, undone


@pytest.fixture
def deliver(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Deliver")).click()
    printed(demo)
    return demo


def printed(page: Page):
    expect(page.get_by_test_id("report-state")).to_have_text("as printed")
    expect(page.get_by_test_id("page-count")).to_have_text(re.compile(r"^\d+ pages$"))


def pages(page: Page) -> int:
    return int(page.get_by_test_id("page-count").inner_text().split()[0])


def place_of(page: Page, kind: str) -> int:
    parts = held(page)["document"]["layouts"][0]["parts"]
    return next(k for k, part in enumerate(parts) if part["kind"] == kind)


def test_parts_are_switched_moved_and_headed_and_pages_follow(deliver: Page):
    page = deliver
    before = pages(page)
    schedules = place_of(page, "schedules")
    own = int(page.get_by_test_id(f"part-pages-{schedules}").inner_text())
    with edited(page):
        page.get_by_test_id(f"part-on-{schedules}").click()
    expect(page.get_by_test_id(f"part-pages-{schedules}")).to_have_text("off")
    expect(page.get_by_test_id("page-count")).not_to_have_text(f"{before} pages")
    assert before - own <= pages(page) < before
    verdicts = place_of(page, "verdicts")
    with edited(page):
        page.get_by_test_id(f"part-name-{verdicts}").press("Alt+ArrowDown")
    assert place_of(page, "verdicts") == verdicts + 1
    page.get_by_test_id(f"part-name-{verdicts + 1}").click()
    with edited(page):
        page.get_by_test_id("part-heading").fill("What is asked for")
        page.get_by_test_id("part-heading").press("Enter")
    expect(page.get_by_test_id(f"part-name-{verdicts + 1}")).to_have_text("What is asked for")
    printed(page)
    with page.expect_download() as download:
        page.get_by_test_id("get-report.pdf").click()
    titles = [mark.title for mark in pypdf.PdfReader(download.value.path()).outline if not isinstance(mark, list)]
    assert titles.index("Method") < titles.index("What is asked for")
    assert "Schedules" not in titles
    undone(page, 3)


def test_a_plan_at_a_larger_scale_takes_more_sheets_and_is_turned_through(deliver: Page):
    page = deliver
    before, plan = pages(page), place_of(page, "plan")
    page.get_by_test_id(f"part-name-{plan}").click()
    page.get_by_test_id("pages-large").click()
    first = page.get_by_test_id("page-number").inner_text()
    expect(page.get_by_test_id("page-large")).to_have_js_property("complete", True)
    with edited(page):
        page.get_by_test_id("plan-scale").select_option("500")
    expect(page.get_by_test_id(f"part-pages-{plan}")).not_to_have_text("1")
    expect(page.get_by_test_id("page-count")).not_to_have_text(f"{before} pages")
    assert pages(page) > before
    page.get_by_test_id("page-next").click()
    expect(page.get_by_test_id("page-number")).not_to_have_text(first)
    narrow = page.get_by_test_id("page-large").bounding_box()["width"]
    page.get_by_test_id("zoom").select_option("2")
    expect(page.get_by_test_id("page-large")).not_to_have_css("width", f"{narrow}px")
    assert page.get_by_test_id("page-large").bounding_box()["width"] > 1.8 * narrow
    assert page.request.get(page.get_by_test_id("page-svg").get_attribute("href")).text().startswith("<svg")
    undone(page, 1)


def test_a_layout_is_copied_saved_and_opened_again(deliver: Page, tmp_path):
    page = deliver
    with edited(page):
        page.get_by_test_id("layout-copy").click()
        page.get_by_test_id("layout-name").fill("For the client")
        page.get_by_test_id("layout-name").press("Enter")
    expect(page.get_by_test_id("layout")).to_have_value("3")
    with page.expect_download() as download:
        page.get_by_test_id("layout-save").click()
    file = tmp_path / "x.layout.json"
    download.value.save_as(file)
    assert json.loads(file.read_text())["layout"]["name"] == "For the client"
    with edited(page):
        page.get_by_test_id("layout-open").set_input_files(file)
    expect(page.get_by_test_id("layout")).to_have_value("4")
    assert [one["name"] for one in held(page)["document"]["layouts"]][-1] == "For the client 2"
    (tmp_path / "no.json").write_text("{}")
    page.get_by_test_id("layout-open").set_input_files(tmp_path / "no.json")
    expect(page.get_by_role("alert").filter(has_text="is no layout")).to_be_visible()
    with edited(page):
        page.get_by_test_id("layout-remove").click()
    undone(page, 3)


def test_a_sheet_is_put_together_by_drag_and_snaps_to_what_is_there(deliver: Page):
    page = deliver
    page.get_by_test_id("compose").click()
    page.get_by_test_id("sheet-add").click()
    with edited(page):
        page.get_by_test_id("sheet-name").press("Enter")
    for kind, k in (("plan", 0), ("section", 1)):
        with edited(page):
            page.get_by_test_id("item-add").select_option(kind)
        expect(page.get_by_test_id(f"item-{k}")).to_be_visible()
    paper = page.get_by_test_id("sheet-paper").bounding_box()
    mm = paper["width"] / 420
    box = page.get_by_test_id("item-1").bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    with edited(page):
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + 100 * mm, y + 20 * mm, steps=3)
        page.mouse.move(x + 193 * mm, y + 1.5 * mm, steps=3)
        page.mouse.up()
    first, second = held(page)["document"]["sheets"][0]["items"]
    assert second["x"] == pytest.approx(first["x"] + first["wide"])  # beside the plan, edge on edge
    assert second["y"] == pytest.approx(first["y"])
    with edited(page):
        page.get_by_test_id("item-1").press("Shift+ArrowRight")
    assert held(page)["document"]["sheets"][0]["items"][1]["wide"] == pytest.approx(second["wide"] + 1)
    svg = page.get_by_test_id("composer").get_by_role("link", name="SVG").get_attribute("href")
    assert "along 1 :" in page.request.get(svg).text()
    undone(page, 5)


def test_a_report_is_issued_and_held_against_the_project(deliver: Page, tmp_path):
    page = deliver
    page.get_by_test_id("issue-number").fill("A 1")
    page.get_by_test_id("issue").click()
    expect(page.get_by_test_id("issues")).to_contain_text("A 1")
    expect(page.get_by_test_id("issues")).to_contain_text("stands")
    with page.expect_download() as download:
        page.get_by_test_id("issued-A 1").click()
    file = tmp_path / "a.pdf"
    download.value.save_as(file)
    page.get_by_test_id("verify").set_input_files(file)
    expect(page.get_by_test_id("verified")).to_contain_text("It is issue A 1, byte for byte.")
    page.get_by_test_id("issue-number").fill("A 1")
    page.get_by_test_id("issue").click()
    expect(page.get_by_test_id("issue-wrong")).to_contain_text("already given")
    page.get_by_label("Stages").get_by_role("link", name=re.compile("Brief")).click()
    with edited(page):
        page.get_by_test_id("limit-4-0").fill("20")
        page.get_by_test_id("limit-4-0").press("Enter")
    page.get_by_label("Stages").get_by_role("link", name=re.compile("Deliver")).click()
    expect(page.get_by_test_id("issues")).to_contain_text("superseded")
    page.get_by_test_id("changes-A 1").click()
    expect(page.get_by_test_id("changes")).to_contain_text(re.compile("Outflow.*fails.*meets"))
    page.get_by_test_id("verify").set_input_files(file)
    expect(page.get_by_test_id("verified")).to_contain_text("the project has changed since")
    undone(page, 1)


def test_the_title_block_is_typed_and_chosen_files_come_as_one(deliver: Page):
    page = deliver
    with edited(page):
        page.get_by_test_id("title-number").fill("Q-17")
        page.get_by_test_id("title-number").press("Enter")
    printed(page)
    with page.expect_download() as download:
        page.get_by_test_id("everything").click()
    assert download.value.suggested_filename == "quillmere_boatyard.zip"
    undone(page, 1)
