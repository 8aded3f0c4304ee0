"""The interface in headless Chromium, as a newcomer would use it on the demo."""

import json
import re

import pytest
from playwright.sync_api import Page, expect

from tests.ui.conftest import up_to_date
from tests.ui.hands import cell, comes, edited, lay_over, network_of, open_pipes, removed, undone


def pick(page: Page, name: str):
    page.get_by_test_id(f"section-{name}").click()
    expect(page.get_by_test_id("inspector-title")).to_contain_text(name)


def test_verdicts_are_seen_at_once(demo: Page):
    for i in range(6):
        expect(demo.get_by_test_id(f"margin-{i}")).to_have_text(re.compile(r"^[+−]?\d"))
    expect(demo.get_by_test_id("margin-strip")).to_contain_text("fails")
    expect(demo.get_by_test_id("margin-strip")).to_contain_text("winter")


def test_a_tile_sets_element_storm_and_moment(demo: Page):
    tile = demo.get_by_test_id("tile-4")
    tile.click()
    expect(demo.get_by_test_id("inspector-title")).to_have_text("Outfall O1")
    expect(demo).to_have_url(re.compile("storm=100%2B40-"))
    assert demo.get_by_test_id("clock").inner_text() != "00:00"


def test_edit_a_pipe_and_see_the_verdict_change_then_undo(demo: Page):
    demo.get_by_test_id("tile-0").click()
    title = demo.get_by_test_id("inspector-title").inner_text()
    assert title.startswith("Pipe")
    before = demo.get_by_test_id("margin-0").inner_text()
    field = demo.get_by_test_id("diameter")
    old = field.input_value()
    field.fill("100 mm")
    field.press("Enter")
    expect(demo.get_by_test_id("margin-0")).not_to_have_text(before)
    up_to_date(demo)
    after = demo.get_by_test_id("margin-0").inner_text()
    assert after.startswith("−")
    expect(demo.get_by_test_id("was-0")).to_contain_text(before)
    demo.get_by_test_id("undo").click()
    up_to_date(demo)
    expect(demo.get_by_test_id("margin-0")).to_have_text(before)
    expect(demo.get_by_test_id("diameter")).to_have_value(old)


def test_nonsense_in_a_field_is_marked_and_changes_nothing(demo: Page):
    demo.get_by_test_id("tile-0").click()
    field = demo.get_by_test_id("length")
    old = field.input_value()
    field.fill("forty")
    field.press("Enter")
    expect(field).to_have_attribute("aria-invalid", "true")
    field.press("Escape")
    expect(field).to_have_value(old)
    field.fill("-5")
    field.press("Enter")
    expect(demo.get_by_test_id("notice")).to_contain_text("length")


def test_pick_a_storm_and_replay_it(demo: Page):
    demo.get_by_test_id("storm-2-720-summer").click()
    expect(demo.get_by_label("Time and storms").or_(demo.locator("footer"))).to_contain_text("2 yr, 720 min, summer")
    trace = demo.get_by_test_id("trace")
    trace.focus()
    trace.press("Home")
    expect(demo.get_by_test_id("clock")).to_have_text("00:00")
    demo.get_by_test_id("play").click()
    expect(demo.get_by_test_id("clock")).not_to_have_text("00:00")
    demo.get_by_test_id("play").click()
    shown = demo.get_by_test_id("clock").inner_text()
    expect(demo.get_by_label("Long section", exact=True).first).to_contain_text(shown)
    expect(demo.get_by_label("Plan", exact=True).first).to_contain_text(shown)


def test_pick_on_the_long_section(demo: Page):
    demo.get_by_test_id("tile-4").click()
    pick(demo, "L1–L2")
    expect(demo.get_by_test_id("size-225")).to_be_checked()


def test_pick_on_the_plan(demo: Page):
    pond = next(n for n in network_of(demo)["nodes"].values() if n["name"] == "P1")
    plan = demo.get_by_test_id("plan")
    x, y = plan.evaluate("(el, at) => el.pixelOf(at[0], at[1])", [pond["x"], pond["y"]])
    plan.click(position={"x": x, "y": y})
    expect(demo.get_by_test_id("inspector-title")).to_have_text("Pond P1")
    expect(demo.get_by_test_id("hydrograph")).to_be_visible()


@pytest.mark.parametrize("stage", ["brief", "network", "rain", "storms", "verdict", "deliver"])
def test_every_stage_opens(demo: Page, stage):
    demo.locator(f"nav a[href$='/{stage}']").click()
    expect(demo).to_have_url(re.compile(f"/{stage}"))
    expect(demo.locator("main")).not_to_be_empty()


def test_the_permitted_rate_is_a_field_of_its_rule(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Brief")).click()
    field = demo.get_by_test_id("limit-4-0")
    field.fill("20")
    field.press("Enter")
    expect(demo.get_by_test_id("margin-4")).to_have_text(re.compile(r"^\+"))
    demo.get_by_test_id("undo").click()
    expect(demo.get_by_test_id("margin-4")).to_have_text(re.compile("^−"))


def test_report_and_project_file_download(demo: Page, tmp_path):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Deliver")).click()
    with demo.expect_download() as download:
        demo.get_by_test_id("get-report.pdf").click()
    assert download.value.suggested_filename == "quillmere_boatyard.report.pdf"
    with demo.expect_download() as download:
        demo.get_by_test_id("get-madidus.json").click()
    file = tmp_path / "copy.madidus.json"
    download.value.save_as(file)
    document = json.loads(file.read_text())
    document["name"] = "Brought back"
    file.write_text(json.dumps(document))
    demo.goto("/")
    demo.get_by_test_id("import").set_input_files(file)
    expect(demo.get_by_test_id("project-name")).to_have_text("Brought back")
    demo.goto("/")
    demo.on("dialog", lambda dialog: dialog.accept())
    demo.get_by_test_id("card-Brought back").get_by_role("button", name="remove").click()
    expect(demo.get_by_test_id("card-Brought back")).to_have_count(0)


def test_a_blank_sheet_says_what_comes_first(page: Page):
    page.goto("/")
    page.get_by_role("button", name="Begin with a blank sheet").click()
    expect(page.get_by_test_id("run-state")).to_contain_text("cannot run")
    expect(page.get_by_test_id("checks")).to_contain_text("add a pipe")
    removed(page, "Untitled site")


def test_a_broken_file_is_refused_in_words(page: Page, tmp_path):
    page.goto("/")
    broken = tmp_path / "broken.madidus.json"
    broken.write_text("{ not json")
    page.get_by_test_id("import").set_input_files(broken)
    expect(page.get_by_test_id("notice")).to_contain_text("is not JSON")


def test_rain_is_edited_cell_by_cell_and_answers(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Rain")).click()
    before = demo.get_by_test_id("margin-4").inner_text()
    cell = demo.get_by_test_id("depth-100-1440")
    cell.fill("90")
    cell.press("Enter")
    expect(demo.get_by_test_id("margin-4")).not_to_have_text(before)
    up_to_date(demo)
    demo.get_by_test_id("undo").click()
    expect(demo.get_by_test_id("margin-4")).to_have_text(before)


def test_a_falling_rainfall_table_is_refused_in_words(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Rain")).click()
    cell = demo.get_by_test_id("depth-2-30")
    cell.fill("3")
    cell.press("Enter")
    expect(demo.get_by_test_id("notice")).to_contain_text("less than")


def test_durations_and_runoff_make_other_storms(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Rain")).click()
    demo.get_by_test_id("duration-480").click()
    expect(demo.get_by_test_id("ensemble")).to_contain_text("24 storms")
    up_to_date(demo)
    expect(demo.get_by_test_id("storm-2-480-summer")).to_be_visible()
    demo.get_by_test_id("undo").click()
    expect(demo.get_by_test_id("ensemble")).to_contain_text("18 storms")
    before = demo.get_by_test_id("margin-4").inner_text()
    field = demo.get_by_test_id("winter_paved")
    field.fill("70")
    field.press("Enter")
    expect(demo.get_by_test_id("margin-4")).not_to_have_text(before)
    demo.get_by_test_id("undo").click()
    up_to_date(demo)


def test_a_table_is_pasted_with_its_headings(page: Page):
    page.goto("/")
    page.get_by_role("button", name="Begin with a blank sheet").click()
    page.get_by_label("Stages").get_by_role("link", name=re.compile("Rain")).click()
    text = page.get_by_test_id("table-text")
    text.fill("yr\t15\t60\n2\t8.1\n")
    expect(page.get_by_test_id("table-found")).to_contain_text("row 2, column 3")
    expect(page.get_by_test_id("use-table")).to_be_disabled()
    text.fill("yr\t15\t60\n2\t8.1\t14\n30\t17\t29.5\n")
    page.get_by_test_id("use-table").click()
    expect(page.get_by_test_id("depth-30-60")).to_have_value("29.5")
    removed(page, "Untitled site")


def test_a_catchment_is_picked_from_its_node_and_edited(demo: Page):
    demo.get_by_test_id("tile-3").click()
    demo.get_by_role("button", name="Hall roof north-east").click()
    expect(demo.get_by_test_id("inspector-title")).to_have_text("Catchment Hall roof north-east")
    area = demo.get_by_test_id("ground-area")
    old = area.input_value()
    area.fill("0.05 ha")
    area.press("Enter")
    up_to_date(demo)
    expect(area).to_have_value("500")
    demo.get_by_test_id("undo").click()
    expect(area).to_have_value(old)
    up_to_date(demo)


def test_the_splitter_moves_by_keyboard_and_is_kept(demo: Page):
    splitter = demo.get_by_test_id("splitter")
    before = int(splitter.get_attribute("aria-valuenow") or "0")
    splitter.focus()
    splitter.press("ArrowUp")
    splitter.press("ArrowUp")
    expect(splitter).to_have_attribute("aria-valuenow", str(before - 8))
    demo.reload()
    expect(demo.get_by_test_id("splitter")).to_have_attribute("aria-valuenow", str(before - 8))


def test_a_stage_picked_while_the_address_is_written_is_kept(demo: Page):
    """The cursor goes into the address a moment after it moves: that must not call a reader back."""
    for k, stage in enumerate(["brief", "network", "rain", "network", "storms", "network", "verdict", "network"]):
        demo.get_by_test_id(f"tile-{k % 6}").click()
        demo.wait_for_timeout(120 + 8 * k)
        demo.locator(f"nav a[href*='/{stage}']").click()
        expect(demo).to_have_url(re.compile(f"/{stage}"))
        demo.wait_for_timeout(250)
        expect(demo).to_have_url(re.compile(f"/{stage}"))


def test_a_stage_is_picked_while_its_project_is_still_on_its_way(page: Page):
    waiting = []
    page.route(re.compile(r"/api/projects/[0-9a-f-]{36}$"), lambda route: waiting.append(route), times=1)
    page.goto("/")
    page.get_by_role("link", name="Quillmere Boatyard", exact=True).click()
    page.locator("nav a[href*='/rain']").click()
    expect(page).to_have_url(re.compile(r"/p/[0-9a-f-]{36}/rain"))
    for route in waiting:
        route.continue_()
    up_to_date(page)
    expect(page.get_by_text("Every storm")).to_be_visible()


def test_a_weir_takes_another_form_and_says_what_it_carries(demo: Page):
    demo.locator("nav a[href*='/network']").click()
    demo.goto(demo.url)
    up_to_date(demo)
    pick(demo, "P1 orifice")
    demo.get_by_label("Opening in").select_option("bottom")
    up_to_date(demo)
    expect(demo.get_by_test_id("worst-duty")).to_be_visible()
    demo.get_by_test_id("undo").click()
    up_to_date(demo)


def test_a_storm_tells_where_its_water_went(demo: Page):
    demo.locator("nav a[href*='/storms']").click()
    report = demo.get_by_test_id("storm-report")
    expect(report).to_contain_text("Rain on catchments")
    expect(report).to_contain_text(re.compile(r"lost: runoff coefficient, green ground−[\d.]+m³"))
    expect(report).to_contain_text(re.compile(r"left by outfall O1−[\d.]+m³"))
    demo.locator("aside table tr", has_text="100 yr +40 %, 15 min, winter").click()
    expect(report).to_contain_text("flood begins")
    report.get_by_role("button", name="manhole").first.click()
    demo.locator("nav a[href*='/network']").click()
    expect(demo.get_by_test_id("inspector-title")).to_contain_text("Manhole")


def test_steady_flow_is_drawn_and_its_capacity_found(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Network")).click()
    head = demo.locator("[data-testid^=section-name-]").first
    head.click()
    name = head.text_content()
    expect(demo.get_by_test_id("inspector-title")).to_contain_text(name)
    demo.get_by_test_id("show-steady").click()
    demo.get_by_text(f"let water in at {name}").click()
    field = demo.get_by_test_id(f"steady-{name}")
    field.fill("5")
    field.press("Enter")
    expect(demo.get_by_test_id("steady-water").first).to_be_visible()
    demo.get_by_test_id("find-capacity").click()
    table = demo.get_by_test_id("capacities")
    expect(table.get_by_role("row")).to_have_count(4)
    most = float(table.get_by_role("row").nth(1).get_by_role("cell").nth(1).inner_text())
    assert most > 5.0
    demo.get_by_test_id("tail-water").select_option("fixed")
    level = demo.get_by_test_id("tail-level")
    level.fill("3.0")
    level.press("Enter")
    expect(table).not_to_be_visible()
    field.fill("-4")
    field.press("Enter")
    expect(demo.get_by_test_id("steady-water")).to_have_count(0)
    demo.get_by_text("back to the storm").click()
    expect(demo.get_by_test_id("steady-flow")).to_have_count(0)


def test_the_end_of_a_storm_is_the_projects_rule(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Storms")).last.click()
    ends = demo.get_by_test_id("storm-end")
    ends.locator("summary").click()
    field = demo.get_by_test_id("lag")
    field.fill("60")
    field.press("Enter")
    up_to_date(demo)
    expect(ends.locator("summary")).to_contain_text("for 60 min")
    ends.get_by_label("stores have half drained").click()
    expect(ends.locator("summary")).not_to_contain_text("half drained")
    demo.get_by_test_id("undo").click()
    expect(ends.locator("summary")).to_contain_text("for 60 min, stores half drained")
    demo.get_by_test_id("undo").click()
    expect(ends.locator("summary")).to_contain_text("for 10 min, stores half drained")


def test_a_finding_is_explained_mended_or_accepted(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Network")).click()
    checks = demo.get_by_test_id("checks")
    expect(checks).to_contain_text("4 accepted")  # with the overflow that no storm reaches, once all are in
    demo.get_by_test_id("tile-4").click()
    pick(demo, "L1–L2")
    field = demo.get_by_test_id("length")
    was = field.input_value()
    field.fill("80")
    field.press("Enter")
    expect(checks).to_contain_text("typed 80.0 m, drawn")
    checks.locator("span", has_text="typed 80.0 m").get_by_text("why?").first.click()
    page = demo.get_by_test_id("findings-page")
    expect(page).to_contain_text("Friction and gradient follow the typed length.")
    reason = page.get_by_test_id("reason-length-against-drawing")
    reason.fill("drawn as a sketch")
    reason.press("Enter")
    expect(page).to_contain_text("Stays as it is: drawn as a sketch")
    expect(checks).not_to_contain_text("typed 80.0 m")
    page.get_by_test_id("finding-length-against-drawing").get_by_text("take back").click()
    page.get_by_test_id("fix-length-against-drawing").click()
    expect(page.get_by_test_id("finding-length-against-drawing")).to_have_count(0)
    page.get_by_text("close").click()
    expect(field).to_have_value(was)


def test_a_changed_landxml_updates_the_network_as_one_step(demo: Page, tmp_path):
    demo.goto(demo.url.replace("/verdict", "/network"))
    up_to_date(demo)
    demo.get_by_role("link", name="Deliver").first.click()
    with demo.expect_download() as download:
        demo.get_by_test_id("get-network.xml").click()
    text = download.value.path().read_text(encoding="utf-8")
    changed = tmp_path / "changed.xml"
    changed.write_text(
        text.replace('elevRim="5.45"', 'elevRim="5.52"')
        .replace(
            "</Structs>",
            '<Struct name="N1" elevRim="5.6" elevSump="4.3"><Center>30 300</Center><CircStruct diameter="1200"/></Struct>'
            '<Struct name="N2"><Center>60 330</Center><InletStruct/></Struct></Structs>',
        )
        .replace("</Pipes>", '<Pipe name="N1-A1" refStart="N1" refEnd="A1"><CircPipe diameter="225"/></Pipe></Pipes>'),
        encoding="utf-8",
    )
    demo.get_by_role("link", name="Network").first.click()
    demo.get_by_test_id("import").click()
    demo.get_by_test_id("import-file").set_input_files(changed)
    counts, rows = demo.get_by_test_id("import-counts"), demo.get_by_test_id("import-rows")
    expect(counts).to_contain_text("1 in conflict")
    expect(counts).to_contain_text("2 new")
    expect(counts).to_contain_text("1 changed")
    expect(rows.locator("tr[data-action=conflict]")).to_contain_text("no cover was read from the file; add it there")
    expect(rows.locator("tr[data-action=update]")).to_contain_text("cover 5.45 m 5.52 m")
    apply = demo.get_by_test_id("import-apply")
    demo.get_by_label("take A1").uncheck()
    expect(apply).to_have_text("Import 2 elements")
    demo.get_by_label("take A1").check()
    apply.click()
    expect(demo.get_by_test_id("import-page")).to_have_count(0)
    up_to_date(demo)
    assert len(network_of(demo)["links"]) == 51
    undone(demo)
    assert len(network_of(demo)["links"]) == 50


def test_a_file_that_is_no_network_is_refused_on_its_page(demo: Page, tmp_path):
    demo.get_by_role("link", name="Network").first.click()
    demo.get_by_test_id("import").click()
    broken = tmp_path / "broken.xml"
    broken.write_text("<LandXML", encoding="utf-8")
    demo.get_by_test_id("import-file").set_input_files(broken)
    expect(demo.get_by_test_id("import-wrong")).to_contain_text("is not well formed")
    expect(demo.get_by_test_id("import-apply")).to_have_count(0)


def test_a_block_is_pasted_into_a_table_looked_at_and_taken_back(demo: Page):
    open_pipes(demo)
    cell(demo, 1, 3).click()
    expect(demo.get_by_test_id("inspector-title")).to_contain_text("A2–A3")
    lay_over(demo, "Length\tDiameter\n41.5\t375\nn/a\t400\n22\t300\n")
    bar = demo.get_by_test_id("staged")
    expect(bar).to_contain_text("5 fit, 1 does not (“n/a” is no number); nothing has changed yet")
    expect(cell(demo, 2, 3)).to_have_attribute("aria-invalid", "true")
    demo.keyboard.press("Escape")
    expect(bar).to_have_count(0)
    expect(cell(demo, 1, 3)).to_have_text("24.08")
    lay_over(demo, "41.5\t375\nn/a\t400\n22\t300\n")
    demo.get_by_test_id("accept-staged").click()
    expect(cell(demo, 1, 3)).to_have_text("41.50")
    expect(cell(demo, 2, 3)).to_have_text("24.08")
    expect(cell(demo, 2, 4)).to_have_text("400")
    expect(demo.get_by_test_id("diameter")).to_have_value("375")
    up_to_date(demo)
    demo.get_by_test_id("undo").click()
    expect(cell(demo, 1, 3)).to_have_text("24.08")
    up_to_date(demo)


def test_cells_are_typed_filled_down_sorted_and_filtered_by_keyboard(demo: Page):
    open_pipes(demo)
    cell(demo, 0, 7).click()
    demo.keyboard.type("wide")
    demo.keyboard.press("Enter")
    expect(cell(demo, 0, 7)).to_have_attribute("title", "“wide” is no number")
    demo.keyboard.press("Escape")
    expect(cell(demo, 0, 7)).to_have_text("0.0130")
    demo.keyboard.type("0.016")
    demo.keyboard.press("Enter")
    expect(cell(demo, 0, 7)).to_have_text("0.0160")
    demo.keyboard.press("ArrowUp")
    demo.keyboard.press("Shift+ArrowDown")
    demo.keyboard.press("Shift+ArrowDown")
    demo.keyboard.press("Control+d")
    expect(demo.get_by_test_id("staged")).to_contain_text("2 fit")
    demo.keyboard.press("Enter")
    expect(cell(demo, 2, 7)).to_have_text("0.0160")
    up_to_date(demo)
    for _ in range(2):
        with demo.expect_response(lambda r: r.url.endswith("/undo")):
            demo.get_by_test_id("undo").click()
    expect(cell(demo, 2, 7)).to_have_text("0.0130")
    demo.get_by_role("button", name="Length").click()
    demo.get_by_role("button", name="Length").click()
    expect(demo.locator("th[aria-sort=descending]")).to_contain_text("Length")
    demo.get_by_test_id("grid").press("Control+Home")
    longest, next_ = (float(cell(demo, k, 3).inner_text()) for k in (0, 1))
    assert longest >= next_
    demo.get_by_test_id("filter-rows").fill("K1–K2")
    expect(demo.get_by_test_id("grid")).to_have_attribute("aria-rowcount", "2")
    demo.get_by_test_id("filter-rows").fill("B3–B4")
    cell(demo, 0, 0).click()
    demo.get_by_test_id("filter-rows").fill("")
    demo.get_by_test_id("scope").select_option("above")
    expect(demo.get_by_test_id("grid")).to_have_attribute("aria-rowcount", "4")  # B1–B2, B2–B3 and itself
    demo.get_by_test_id("scope").select_option("all")
    demo.get_by_test_id("filter-rows").fill("A1–A2")
    expect(cell(demo, 0, 5)).to_have_text("4.163")
    demo.get_by_test_id("levels-or-depths").click()
    expect(cell(demo, 0, 5)).to_have_text("1.287")  # below the cover of A1 at 5.45
    demo.get_by_test_id("levels-or-depths").click()
    demo.get_by_test_id("filter-rows").fill("")
    demo.get_by_test_id("tile-5").click()  # the pond's freeboard: picking it turns to the page of stores
    expect(demo.get_by_test_id("table-stores")).to_have_attribute("aria-selected", "true")
    up_to_date(demo)


def test_undo_as_fast_as_it_can_be_clicked_loses_nothing(demo: Page):
    demo.get_by_test_id("tile-0").click()
    before = network_of(demo)
    field = demo.get_by_test_id("length")
    for metres in ("31", "32", "33", "34", "35"):
        field.fill(metres)
        field.press("Enter")
    expect(field).to_have_value("35.00")
    up_to_date(demo)
    demo.get_by_test_id("undo").evaluate("button => { for (let i = 0; i < 5; i++) button.click(); }")
    for _ in range(100):
        if network_of(demo) == before:
            break
        demo.wait_for_timeout(100)
    assert network_of(demo) == before
    up_to_date(demo)


def test_what_is_typed_over_a_selected_figure_replaces_it_whatever_is_answered_meanwhile(demo: Page):
    demo.get_by_test_id("tile-0").click()
    field = demo.get_by_test_id("length")
    held = []
    demo.route(re.compile(r"/api/projects/[0-9a-f-]{36}$"), lambda route: held.append(route), times=1)
    field.fill("31")
    field.press("Enter")
    comes(demo, lambda: held != [])
    field.select_text()
    held[0].continue_()
    expect(field).to_have_value("31.00")
    demo.keyboard.type("35")
    expect(field).to_have_value("35")
    field.press("Escape")
    undone(demo)


def test_undo_after_a_reload_says_what_it_takes_back_unless_it_was_made_here(demo: Page):
    before = network_of(demo)
    id_, node = next((i, n) for i, n in before["nodes"].items() if n["kind"] == "manhole")
    demo.goto(f"{demo.url.split('?')[0]}?element={id_}")
    up_to_date(demo)
    expect(demo.get_by_test_id("standing-on")).to_contain_text("with what stands on it:")
    with edited(demo):
        demo.get_by_test_id("invert").fill(f"{node['invert'] - 0.1:.3f}")
        demo.get_by_test_id("invert").press("Enter")
    after = network_of(demo)
    moved = [i for i, link in after["links"].items() if link != before["links"][i]]
    assert moved
    assert all(after["links"][i]["upstream_invert"] == after["nodes"][id_]["invert"] for i in moved
               if after["links"][i]["upstream"] == id_)  # fmt: skip
    demo.evaluate("localStorage.clear()")
    demo.reload()
    up_to_date(demo)
    demo.get_by_test_id("undo").click()
    bar = demo.get_by_test_id("undoing")
    expect(bar).to_contain_text(f"{node['name']}: invert {node['invert']:g} m → ")
    bar.get_by_role("button", name="leave it").click()
    expect(bar).to_have_count(0)
    assert network_of(demo) == after
    demo.get_by_test_id("undo").click()
    bar.get_by_role("button", name="take it back").click()
    expect(bar).to_have_count(0)
    assert network_of(demo) == before
