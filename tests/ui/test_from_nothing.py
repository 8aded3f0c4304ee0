"""A network drawn from nothing to a verdict, as an engineer would on a first morning."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.ui.conftest import up_to_date
from tests.ui.hands import draw, edited, lay_over, network_of, removed, undone

RAIN = "yr\t15\t30\t60\t120\n2\t8.1\t10.4\t13.2\t16.9\n30\t18.5\t23.8\t29.9\t37.0\n100\t24.9\t32.1\t40.3\t49.6\n"


@pytest.fixture
def blank(page: Page):
    page.goto("/")
    page.get_by_role("button", name="Begin with a blank sheet").click()
    expect(page.get_by_test_id("run-state")).to_contain_text("cannot run")
    yield page
    removed(page, "Untitled site")


def stage(page: Page, name: str):
    page.get_by_label("Stages").get_by_role("link", name=re.compile(name)).click()


def held(page: Page) -> dict:
    return network_of(page, "Untitled site")


def click(page: Page, x: float, y: float):
    """A click on the plan in pixels; what it lays is awaited."""
    with edited(page):
        page.get_by_test_id("plan").click(position={"x": x, "y": y})


def test_a_network_is_drawn_from_nothing_to_a_verdict(blank: Page):
    page = blank
    stage(page, "Rain")
    page.get_by_test_id("table-text").fill(RAIN)
    page.get_by_test_id("use-table").click()
    for minutes in (15, 30, 60):
        with edited(page):
            page.get_by_test_id(f"duration-{minutes}").click()
    for act in (
        lambda: page.get_by_role("button", name="add a return period").click(),
        lambda: page.get_by_role("button", name="winter", exact=True).click(),
    ):
        with edited(page):
            act()
    years = page.get_by_test_id("ensemble").get_by_label("years")
    with edited(page):
        years.fill("30")
        years.press("Enter")

    stage(page, "Network")
    draw(page, "run")
    for x in (100, 200, 300, 400):
        click(page, x, 120 + 0.1 * x)
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    draw(page, "outfall")
    click(page, 480, 170)
    draw(page, "pipe")
    page.get_by_test_id("plan").click(position={"x": 400, "y": 160})
    click(page, 480, 170)
    page.keyboard.press("Escape")
    draw(page, "ground")
    for x, y in ((80, 60), (180, 60), (180, 110), (80, 110)):
        page.get_by_test_id("plan").click(position={"x": x, "y": y})
    with edited(page):
        page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    network = held(page)
    assert [len(network[group]) for group in ("nodes", "links", "catchments")] == [5, 4, 1]
    names = sorted(n["name"] for n in network["nodes"].values())
    assert names == ["M1", "M2", "M3", "M4", "O1"]
    (ground,) = network["catchments"].values()
    assert ground["area"] == pytest.approx(5000, rel=0.02)
    assert network["nodes"][ground["node"]]["name"] == "M1"

    page.get_by_test_id("show-tables").click()
    page.get_by_test_id("table-areas").click()
    page.get_by_test_id("grid").press("Control+Home")
    lay_over(page, f"Area\tPaved\n{ground['area'] + 500}\t60\n")
    headed = page.get_by_test_id("pasted-rows")
    expect(headed.get_by_test_id("import-counts")).to_contain_text("1 changed")
    expect(headed.get_by_label("unit of Paved", exact=True)).to_have_value("%")
    page.keyboard.press("Escape")
    expect(headed).to_have_count(0)
    lay_over(page, f"{ground['name']}\t1500\t100\tM1\nYard\t800\t90\tM3\nLane\t300\t90\tM9\n")
    bar = page.get_by_test_id("staged")
    expect(bar).to_contain_text("1 new row, 1 beyond the end makes none (“M9” names no node)")
    with edited(page):
        page.get_by_test_id("accept-staged").click()
    assert {c["name"]: c["area"] for c in held(page)["catchments"].values()} == {ground["name"]: 1500, "Yard": 800}

    stage(page, "Brief")
    with edited(page):
        page.get_by_test_id("add-surcharge").click()
    page.get_by_role("button", name="add a rule").click()
    with edited(page):
        page.get_by_test_id("add-flood_volume").click()
    up_to_date(page)
    stage(page, "Verdict")
    for i in range(2):
        expect(page.get_by_test_id(f"margin-{i}")).to_have_text(re.compile(r"^[+−]?\d"))
    expect(page.get_by_test_id("margin-strip")).to_contain_text("winter")


def test_depths_are_read_and_typed_everywhere_at_once(demo: Page):
    stage(demo, "Network")
    demo.get_by_test_id("section-L1–L2").click()
    before = float(demo.get_by_test_id("upstream_invert").input_value())
    demo.get_by_test_id("levels-or-depths").click()
    depth = float(demo.get_by_test_id("upstream_invert").input_value())
    assert 0 < depth < 6
    expect(demo.get_by_test_id("long-section")).to_contain_text("Depth")
    demo.get_by_test_id("show-tables").click()
    expect(demo.get_by_test_id("grid")).to_contain_text("Invert up, below ground")
    field = demo.get_by_test_id("upstream_invert")
    with edited(demo):
        field.fill(f"{depth + 0.1:.3f}")
        field.press("Enter")
    demo.get_by_test_id("levels-or-depths").click()
    expect(field).to_have_value(re.compile(rf"^{before - 0.1:.3f}"))
    with demo.expect_response(lambda r: r.url.endswith("/undo")):
        demo.get_by_test_id("undo").click()
    up_to_date(demo)


def test_a_first_verdict_takes_nine_actions_by_the_list_and_is_judged(blank: Page):
    page = blank
    expect(page.get_by_test_id("empty-sheet")).to_contain_text("Draw a run")
    expect(page.get_by_test_id("up-to-date")).to_have_text("Nothing to run yet")
    need = lambda step: page.get_by_test_id(f"need-{step}")  # noqa: E731
    page.get_by_test_id("first-step-1").click()
    expect(page.get_by_test_id("empty-sheet")).to_have_count(0)
    for x in (150, 290, 430):
        click(page, x, 120 + 0.1 * x)
    page.keyboard.press("Enter")
    expect(need("run").get_by_label("done")).to_be_visible()
    for step, remedy in (("outfall", "end at M3"), ("area", "500 m² at each manhole"), ("rain", "start values")):
        with edited(page):
            need(step).get_by_role("button", name=remedy).click()
        expect(need(step).get_by_label("done")).to_be_visible()
    expect(need("rule").get_by_label("to do")).to_be_visible()
    with edited(page):
        need("rule").get_by_role("button", name="start values").click()
    up_to_date(page)
    expect(page.get_by_test_id("before-first-run")).to_have_count(0)
    strip = page.get_by_test_id("margin-strip")
    expect(strip).to_contain_text("meets")
    expect(strip).not_to_contain_text("not judged")
    # what is made up says so until it is replaced
    stage(page, "Rain")
    expect(page.get_by_test_id("checks")).to_contain_text("the rainfall is made up")


def test_an_element_becomes_another_kind_where_it_stands(demo: Page):
    demo.goto(
        demo.url.split("?")[0]
        + f"?element={next(k for k, n in network_of(demo)['nodes'].items() if n['name'] == 'A3')}"
    )
    title = demo.get_by_test_id("inspector-title")
    expect(title).to_contain_text("Manhole")
    with edited(demo):
        demo.get_by_test_id("change-kind").select_option("junction")
    expect(title).to_contain_text("Junction")
    up_to_date(demo)
    undone(demo, 1)


def test_a_blank_sheet_in_feet_has_pipes_in_inches(blank: Page):
    page = blank
    with edited(page):
        page.get_by_test_id("units").select_option("us")
    page.get_by_test_id("first-step-1").click()
    for x in (150, 290):
        click(page, x, 120)
    page.keyboard.press("Enter")
    (pipe,) = held(page)["links"].values()
    assert pipe["section"]["diameter"] == pytest.approx(12 * 0.0254)
