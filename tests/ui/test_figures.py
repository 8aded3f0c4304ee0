"""What the screen says of figures: what was not computed is not good, what is drawn is what was computed."""

import copy
import re

import pytest
from playwright.sync_api import Page, expect

from tests.exchange.test_landxml import TWO
from tests.ui.conftest import up_to_date
from tests.ui.hands import patched
from tests.ui.test_import import choose, page_of_files  # noqa: F401
from tests.ui.test_reading import show_at
from tests.web.hands import of


@pytest.fixture
def copied(page: Page, short_document):
    """Makes a project of one's own of the demo, and shows it at a stage."""
    made: list[str] = []

    def open_(stage: str, change=lambda document: None) -> dict:
        document = copy.deepcopy(short_document)
        document["name"] = f"Figures {len(made)}"
        change(document)
        answer = page.request.post("/api/projects/import", data=document)
        assert answer.ok, answer.text()
        made.append(answer.json()["id"])
        page.goto(f"/p/{made[-1]}/{stage}")
        return answer.json()

    yield open_
    for id_ in made:
        page.request.delete(f"/api/projects/{id_}")


def test_what_is_not_all_in_is_handed_over_as_incomplete_alone(page: Page, copied):
    def others(document):  # than other tests have run: what is known already is in at once
        document["rain"]["ensemble"]["durations"] = [17, 21, 26, 33, 41, 52, 66, 83, 104, 131, 165, 207, 260, 327, 411]

    project = copied("deliver", others)
    page.get_by_role("button", name=re.compile("^Stop, keep")).click()
    expect(page.get_by_role("button", name=re.compile("^Stop, keep"))).to_have_count(0)
    expect(page.get_by_label("Stages")).to_contain_text("not all in")
    expect(page.get_by_test_id("will-say")).to_contain_text(re.compile("not judged|incomplete"))
    expect(page.get_by_test_id("get-report.pdf")).to_have_count(0)
    refused = page.request.get(f"{of(project)}/files/workbook.xlsx")
    assert refused.status == 409
    page.get_by_test_id("incomplete").check()
    expect(page.get_by_test_id("get-report.pdf")).to_have_text("take, incomplete")
    with page.expect_download() as download:
        page.get_by_test_id("get-peaks.csv").click()
    assert "INCOMPLETE: " in download.value.path().read_text(encoding="utf-8").splitlines()[0]


def test_a_rule_says_by_which_statistic_of_its_patterns_it_is_judged(page: Page, copied):
    shares = {"a": [0.7, 0.1, 0.1, 0.1], "b": [0.1, 0.7, 0.1, 0.1], "c": [0.1, 0.1, 0.1, 0.7]}

    def patterned(document):
        block = document["rain"]["ensemble"]
        block["durations"] = [30]
        block["patterns"] = [{"name": name, "duration": 30, "increments": own} for name, own in shares.items()]

    copied("brief", patterned)
    up_to_date(page)
    choice = page.get_by_test_id("patterns-1")
    expect(choice).to_have_value("mean")
    strip = page.get_by_test_id("margin-strip")
    expect(strip).to_contain_text("mean")
    by_mean = strip.inner_text()
    patched(page, lambda: choice.select_option("every"))
    up_to_date(page)
    expect(strip).not_to_have_text(by_mean)


def test_a_table_that_reads_two_ways_shows_both_and_asks(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Rain")).click()
    demo.get_by_test_id("other-table").click()
    demo.get_by_test_id("table-text").fill("\t5\t10\t30\n5\t8\t10\t13\n10\t11\t14\t19\n30\t16\t21\t29\n")
    both = demo.get_by_test_id("two-readings")
    expect(both.locator("figure")).to_have_count(2)
    expect(demo.get_by_test_id("use-table")).to_be_disabled()
    demo.get_by_test_id("reading-across").click()
    expect(both).to_have_count(0)
    expect(demo.get_by_test_id("use-table")).to_be_enabled()


def test_the_time_bar_opens_on_the_storm_and_comes_closer(demo: Page):
    show_at(demo, "links", "A6–A7", "2-15-winter")
    shown, trace = demo.get_by_test_id("whole-run").locator("title"), demo.get_by_test_id("trace")
    expect(shown).to_contain_text("shown: 00:00 to")
    box = trace.bounding_box()
    trace.dblclick(position={"x": box["width"] / 2, "y": box["height"] / 2})
    expect(shown).to_contain_text("all of the run is shown")
    trace.dblclick(position={"x": box["width"] / 2, "y": box["height"] / 2})
    expect(shown).to_contain_text("shown: 00:00 to")
    before = shown.text_content()
    trace.hover(position={"x": box["width"] / 2, "y": box["height"] / 2})
    demo.mouse.wheel(0, -600)
    expect(shown).not_to_have_text(before)
    demo.mouse.wheel(0, -8000)
    expect(trace).to_contain_text(re.compile(r"\d\d:\d\d:\d\d"))  # seconds on the axis


def test_steady_flow_tells_what_floods(demo: Page):
    show_at(demo, "nodes", "A1", "2-15-winter")
    demo.get_by_test_id("show-steady").click()
    demo.get_by_text("let water in at A1").click()
    field = demo.get_by_test_id("steady-A1")
    field.fill("380")
    field.press("Enter")
    floods = demo.get_by_test_id("steady-floods")
    expect(floods).to_contain_text(re.compile(r"A\d floods, [\d.]+ L/s run away"))
    field.fill("5")
    field.press("Enter")
    expect(floods).to_have_count(0)


def test_networks_of_a_file_are_chosen_by_type(page_of_files: Page):  # noqa: F811
    page = page_of_files
    choose(page, "three.xml", TWO)
    counts = page.get_by_test_id("import-counts")
    expect(counts).to_contain_text("6 new")
    expect(page.get_by_test_id("import-remarks")).to_contain_text("pipe network Mains is of type water")
    page.get_by_test_id("network-type-water").select_option("storm")
    page.get_by_test_id("import-compare").click()
    expect(counts).to_contain_text("9 new")
    expect(page.get_by_test_id("import-rows")).to_contain_text("Mains: B")
    page.keyboard.press("Escape")
