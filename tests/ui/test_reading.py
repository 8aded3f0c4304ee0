"""From a rule to its storm, its element and the cause; critical durations in boxes, in a table and on the plan."""

import json
import re

import pytest
from playwright.sync_api import Page, expect

from tests.ui.conftest import up_to_date
from tests.ui.hands import comes, held, network_of, patched, undone
from tests.web.hands import of


def to_stage(page: Page, name: str):
    page.get_by_label("Stages").get_by_role("link", name=re.compile(name)).click()


def show_at(page: Page, collection: str, name: str, storm: str, more: str = "") -> dict:
    """Open the Network stage at an element and a storm; the network."""
    network = network_of(page)
    element = next(id_ for id_, e in network[collection].items() if e["name"] == name)
    page.goto(re.sub(r"/p/([^/]+)/.*", r"/p/\1/network", page.url) + f"?storm={storm}&element={element}{more}")
    up_to_date(page)
    return network


def test_a_failing_rule_leads_to_its_element_and_the_cause(demo: Page):
    to_stage(demo, "Network")
    demo.get_by_test_id("tile-3").click()  # contained, 100 yr +40 %
    expect(demo.get_by_test_id("inspector-title")).to_contain_text("B1")
    cause = demo.get_by_test_id("cause")
    expect(cause).to_contain_text(re.compile("Surcharged by (its own capacity|backwater from)"))


def test_what_breaks_the_picked_rule_is_flagged_on_the_section_and_nothing_else(demo: Page):
    demo.get_by_text("Contained, 100 yr +40 %").first.click()
    show_at(demo, "nodes", "B1", "100%2B40-15-winter")
    demo.get_by_text("Contained, 100 yr +40 %").first.click()
    section = demo.get_by_test_id("long-section")
    expect(section.get_by_test_id("flag-B1")).to_have_count(1)
    # it holds five cubic metres at most, and B2 floods with fewer
    expect(section.get_by_test_id("flag-B2")).to_have_count(0)
    demo.get_by_text("No flooding, 30 yr").first.click()
    expect(section.get_by_test_id("flag-B1")).to_have_count(0)


def test_the_way_from_a_rule_to_the_moment_takes_two_clicks(demo: Page):
    """Criterion, storm, element, cause, moment."""
    to_stage(demo, "Verdict")
    demo.get_by_test_id("tile-3").click()
    tile = demo.get_by_test_id("tile-3")
    storm = tile.inner_text()
    expect(demo.locator("footer")).to_contain_text("100 yr +40 %, 15 min, winter")
    assert "15 min" in storm
    expect(demo.get_by_test_id("clock")).to_contain_text("00:14")
    to_stage(demo, "Network")
    expect(demo.get_by_test_id("inspector-title")).to_contain_text("B1")
    expect(demo.get_by_test_id("cause")).to_contain_text("Surcharged")
    expect(demo.get_by_test_id("held-back")).to_contain_text("deep at 00:14")
    expect(demo.get_by_test_id("flood-drop")).to_be_attached()
    expect(demo).to_have_url(re.compile(r"storm=100%2B40-15-winter&t=\d+&rule=\d+&element="))


def test_backwater_names_its_bottleneck_and_shows_the_chain(demo: Page):
    show_at(demo, "links", "A7–T1", "100%2B40-1440-winter")
    cause = demo.get_by_test_id("cause")
    expect(cause).to_contain_text("backwater from")
    expect(cause).to_contain_text("its water stands at")
    cause.get_by_test_id("show-chain").click()
    expect(demo.get_by_test_id("inspector-title")).to_contain_text(re.compile("picked"))
    expect(demo.get_by_test_id("chain-on-section")).to_contain_text("water backs up from")
    demo.get_by_test_id("section-name-A7").click()
    expect(demo.get_by_test_id("chain-on-section")).to_have_count(0)


def test_each_node_has_its_own_critical_duration(demo: Page):
    to_stage(demo, "Verdict")
    demo.get_by_test_id("verdict-critical").click()
    demo.get_by_test_id("critical-row").select_option("100 yr +40 %")
    table = demo.get_by_test_id("result-table")
    expect(table).to_contain_text("P1")
    demo.get_by_test_id("results-filter").fill("P1")
    expect(table.locator("tbody tr")).to_have_count(1)
    expect(table.locator("tbody tr")).to_contain_text("1440")
    demo.get_by_test_id("results-filter").fill("")
    durations = table.get_by_role("button", name=re.compile("critical min"))
    durations.click()
    expect(table.locator("tbody tr").first.locator("td").nth(1)).to_contain_text("15")
    durations.click()
    expect(table.locator("tbody tr").first.locator("td").nth(1)).to_contain_text("1440")
    demo.get_by_test_id("results-links").click()
    expect(table).to_contain_text("L/s")
    demo.get_by_test_id("duration-at-P1").click()
    expect(demo.locator("footer")).to_contain_text("1440 min")


def test_a_critical_duration_at_the_end_of_the_range_is_told_and_the_range_extended(demo: Page):
    show_at(demo, "nodes", "E1", "30-15-winter")
    critical = demo.get_by_test_id("critical")
    expect(critical).to_contain_text("15 min by")
    expect(demo.get_by_test_id("at-end")).to_contain_text("There is no rain in the table for 7.5 min")
    to_stage(demo, "Rain")
    patched(demo, lambda: demo.get_by_test_id("duration-15").click())
    up_to_date(demo)
    demo.go_back()
    expect(demo.get_by_test_id("critical")).to_contain_text("720 min by")
    demo.get_by_test_id("statistic").select_option("median")
    expect(demo.get_by_test_id("critical")).to_contain_text("highest median")
    patched(demo, lambda: demo.get_by_test_id("extend").click())
    up_to_date(demo)
    undone(demo, 2)


def test_a_view_is_saved_and_found_again_and_changes_no_fingerprint(demo: Page):
    show_at(demo, "nodes", "E1", "30-15-winter", "&t=300")
    project = re.search(r"/p/([^/]+)/", demo.url)[1]
    mark = lambda: demo.request.get(f"/api/projects/{project}").json()["fingerprint"]  # noqa: E731
    before = mark()
    demo.get_by_test_id("saved-views").click()
    demo.get_by_test_id("keep-saved-view").click()
    expect(demo.get_by_test_id("view-name")).to_have_value("E1, 30 yr, 15 min, winter, 00:05")
    demo.get_by_test_id("view-name").fill("Head of the terrace")
    patched(demo, lambda: demo.get_by_test_id("view-name").press("Enter"))
    assert mark() == before
    to_stage(demo, "Verdict")
    demo.get_by_test_id("storm-2-720-summer").last.click()
    demo.get_by_test_id("saved-views").click()
    expect(demo.get_by_test_id("saved-view-0")).to_contain_text("Head of the terrace")
    demo.get_by_test_id("saved-view-0").click()
    expect(demo).to_have_url(re.compile(r"/network\?.*storm=30-15-winter"))
    expect(demo.get_by_test_id("inspector-title")).to_contain_text("E1")
    undone(demo, 1)


def test_a_saved_view_brings_back_what_was_in_sight_and_what_the_plan_showed(demo: Page):
    network = show_at(demo, "nodes", "B1", "30-15-winter")
    plan = demo.get_by_test_id("plan")
    node = next(n for n in network["nodes"].values() if n["name"] == "B1")

    def seen() -> list[float]:
        return plan.evaluate("(el, [x, y]) => el.pixelOf(x, y)", [node["x"], node["y"]])

    demo.get_by_test_id("plan-theme").select_option("flood")
    demo.get_by_test_id("plan-row").select_option("100 yr +40 %")
    legend = demo.get_by_test_id("plan-legend")
    expect(legend).to_contain_text("does not flood")
    whole = seen()
    plan.click(position={"x": 5, "y": 5}, modifiers=["Alt"])
    plan.press("f")  # what is picked fills the sight
    demo.wait_for_function("([x, y, a]) => document.querySelector('[data-testid=plan]').pixelOf(x, y)[0] !== a",
                           arg=[node["x"], node["y"], whole[0]])  # fmt: skip
    near = seen()
    demo.get_by_test_id("saved-views").click()
    demo.get_by_test_id("keep-saved-view").click()
    patched(demo, lambda: demo.get_by_test_id("view-name").press("Enter"))
    demo.get_by_test_id("plan-theme").select_option("water")
    demo.keyboard.press("Escape")
    demo.reload()
    expect(demo.get_by_test_id("plan-theme")).to_have_value("water")
    assert seen() == pytest.approx(whole, abs=3)
    demo.get_by_test_id("saved-views").click()
    demo.get_by_test_id("saved-view-0").click()
    expect(demo.get_by_test_id("plan-theme")).to_have_value("flood")
    expect(legend).to_contain_text("100 yr +40 %")
    comes(demo, lambda: seen() == pytest.approx(near, abs=3))
    undone(demo, 1)


def test_the_plan_counts_what_the_results_table_tells(demo: Page):
    demo.get_by_test_id("plan-theme").select_option("state")
    demo.get_by_test_id("plan-row").select_option("100 yr +40 %")
    id_ = demo.url.split("/p/")[1].split("/")[0]
    option = demo.request.get(f"/api/projects/{id_}").json()["document"]["in_view"]
    found = demo.request.get(
        f"/api/projects/{id_}/options/{option}/results", params={"over": "row", "of": "100 yr +40 %"}
    ).json()[0]["elements"]["nodes"]
    floods = sum(one["state"] == "flooded" for one in found.values())
    assert floods > 5
    row = demo.get_by_test_id("plan-legend").locator("tr", has_text="floods")
    expect(row.locator("td").last).to_have_text(str(floods))


def test_the_matrix_shows_any_measure_of_any_element(demo: Page):
    to_stage(demo, "Verdict")
    demo.get_by_test_id("results-over-all").click()
    demo.get_by_test_id("results-links").click()
    demo.get_by_test_id("results-filter").fill("A6–A7")
    demo.get_by_test_id("result-table").locator("tbody tr").first.click()
    worst = demo.get_by_test_id("result-table").locator("tbody td").nth(2).inner_text()
    demo.get_by_test_id("verdict-storms").click()
    matrix = demo.get_by_test_id("storm-matrix").first
    demo.get_by_test_id("matrix-measure").select_option("level")
    governs = demo.get_by_test_id("matrix-governs")
    expect(governs).to_contain_text("100 yr +40 %, 15 min, winter")
    governs.click()
    expect(demo.locator("footer")).to_contain_text("100 yr +40 %, 15 min, winter")
    demo.get_by_test_id("matrix-measure").select_option("flow")
    show_at(demo, "links", "A6–A7", "100%2B40-15-winter")
    to_stage(demo, "Verdict")
    demo.get_by_test_id("verdict-storms").click()
    demo.get_by_test_id("matrix-measure").select_option("flow")
    demo.get_by_test_id("matrix-element").select_option("own")
    expect(governs).to_contain_text(worst)
    expect(matrix).to_have_attribute("aria-label", re.compile("peak flow, L/s"))


def test_results_are_filtered_sorted_and_taken_out(demo: Page):
    to_stage(demo, "Verdict")
    demo.get_by_test_id("results-over-all").click()
    table = demo.get_by_test_id("result-table")
    rows = table.locator("tbody tr")
    expect(rows).to_have_count(48)
    demo.get_by_test_id("results-filter").fill("floods winter")
    expect(rows).not_to_have_count(48)
    for state in table.locator("tbody td:nth-child(7)").all_inner_texts():
        assert state.startswith("floods")
    demo.get_by_test_id("results-filter").fill("")
    table.get_by_role("button", name=re.compile("flood m³")).click()
    expect(rows.first.locator("td").first).to_contain_text("B1")  # the largest flood first
    rows.first.click()
    expect(demo.get_by_test_id("clock")).to_contain_text("00:14")  # and the moment of its peak
    with demo.expect_download() as download:
        demo.get_by_test_id("results-csv").click()
    lines = download.value.path().read_text(encoding="utf-8").splitlines()
    assert len(lines) == 49
    assert lines[0].startswith('"node","governing storm","level m","at","depth m","below cover m","state"')
    assert lines[1].startswith('"B1"')


def test_states_stand_side_by_side_by_return_period_and_stores_say_what_they_hold(demo: Page):
    to_stage(demo, "Verdict")
    table = demo.get_by_test_id("result-table")
    expect(table).to_contain_text("100 yr +40 % rules: Contained")
    row = table.get_by_role("row", name=re.compile("^B1"))
    expect(row).to_contain_text("within")
    expect(row).to_contain_text("floods 7.5 m³")
    row.locator("td").nth(7).click()
    expect(demo.locator("footer")).to_contain_text("100 yr +40 %, 15 min, winter")
    demo.get_by_test_id("results-storage").click()
    expect(table).to_contain_text("67 %")
    demo.get_by_test_id("results-over-duration").click()
    demo.get_by_test_id("results-of").select_option("1440")
    expect(table.get_by_role("row", name=re.compile("^P1"))).to_contain_text("100 yr +40 %, 1440 winter")
    demo.get_by_test_id("results-outfalls").click()
    expect(table).to_contain_text("14.9")
    demo.get_by_test_id("results-over-storm").click()
    expect(demo.get_by_test_id("results")).to_contain_text("100 yr +40 %, 15 min, winter")


def test_a_store_tells_what_it_did_in_the_picked_storm(demo: Page):
    show_at(demo, "nodes", "P1", "100%2B40-1440-winter")
    told = demo.get_by_test_id("store-performance")
    expect(told).to_contain_text("67 % used")
    expect(told).to_contain_text("Freeboard0.46m")
    expect(told).to_contain_text(re.compile(r"Half gone after16\.85h"))
    demo.get_by_test_id("storm-2-720-summer").last.click()
    expect(told).not_to_contain_text("67 % used")


def test_a_storm_tells_what_floods_and_jumps_to_it(demo: Page):
    show_at(demo, "nodes", "B1", "100%2B40-15-winter")
    expect(demo.get_by_test_id("held-back")).to_contain_text("all of it is back in the network by the end")
    expect(demo.get_by_test_id("lane-floods").locator("rect").first).to_be_visible()
    demo.get_by_test_id("jump-flood").click()
    expect(demo.get_by_test_id("clock")).to_contain_text("00:0")
    demo.get_by_test_id("jump-peak").click()
    expect(demo.get_by_test_id("clock")).to_contain_text("00:14")
    demo.get_by_test_id("jump-half").click()
    expect(demo.get_by_test_id("inspector-title")).to_contain_text(re.compile("P1|T1"))
    demo.get_by_test_id("storm-2-15-summer").last.click()
    expect(demo.get_by_test_id("jump-flood")).to_be_disabled()
    expect(demo.get_by_test_id("held-back")).to_have_count(0)


def test_the_section_shows_lines_by_rarity_reads_values_and_prints_to_scale(demo: Page):
    show_at(demo, "nodes", "A5", "100%2B40-1440-winter", "&t=60000")
    demo.get_by_test_id("section-look").click()
    page = demo.get_by_role("dialog")
    page.get_by_label("energy line").check()
    page.get_by_label("highest of each return period").check()
    expect(demo.get_by_test_id("egl").first).to_be_attached()
    expect(demo.get_by_test_id("hgl-probability")).to_have_count(3)
    demo.get_by_test_id("exaggeration").select_option("20")
    with demo.expect_download() as download:
        demo.get_by_test_id("print-section").click()
    svg = download.value.path().read_text(encoding="utf-8")
    wide = float(re.search(r'width="([\d.]+)mm"', svg)[1])
    run = float(
        demo.get_by_test_id("long-section").locator("text").filter(has_text=re.compile(r"^\d{3}$")).last.text_content()
    )
    assert abs(wide - 80 * 25.4 / 96 - run * 1000 / 500) < 2.0
    demo.get_by_test_id("exaggeration").select_option("")
    demo.keyboard.press("Escape")
    box = demo.get_by_test_id("long-section").bounding_box()
    demo.mouse.move(box["x"] + 0.4 * box["width"], box["y"] + 60)
    reading = demo.get_by_test_id("section-reading")
    expect(reading).to_contain_text(re.compile(r"ground [\d.]+ m"))
    expect(reading).to_contain_text("velocity")
    expect(demo.get_by_test_id("flood-risk-line")).to_be_attached()
    expect(demo.get_by_test_id("freeboard-P1")).to_contain_text("freeboard 0.46 m")


def test_figures_tell_where_they_come_from_and_storms_whether_they_are_to_be_checked(demo: Page):
    network = show_at(demo, "nodes", "B1", "100%2B40-15-winter")
    assert network
    demo.get_by_test_id("provenance").locator("summary").click()
    expect(demo.get_by_test_id("provenance")).to_contain_text(
        re.compile(r"revision \d+.*solver [0-9a-f]{8}, result [0-9a-f]{12}", re.S)
    )
    to_stage(demo, "Storms")
    expect(demo.get_by_test_id("quality")).to_contain_text("no storm is to be checked")
    demo.get_by_test_id("run-log").locator("summary").click()
    expect(demo.get_by_test_id("run-log")).to_contain_text(re.compile("steps|Every storm was kept"))


def test_durations_are_added_until_the_critical_one_is_bracketed(demo: Page):
    show_at(demo, "nodes", "P1", "30-720-winter")
    expect(demo.get_by_test_id("bracket")).to_contain_text("Between 15 and 1440 min")
    asked = len(held(demo)["document"]["rain"]["ensemble"]["durations"])
    demo.get_by_test_id("refine").click()
    expect(demo.get_by_test_id("bracket")).to_contain_text("Bracketed within")
    found = re.search(r"Between (\d+) and (\d+)", demo.get_by_test_id("bracket").inner_text())
    critical = float(demo.get_by_test_id("critical").locator("b").first.inner_text())
    assert critical / float(found[1]) <= 1.4
    assert float(found[2]) / critical <= 1.4
    durations = held(demo)["document"]["rain"]["ensemble"]["durations"]
    while len(durations) > asked:  # a round adds one or two
        undone(demo)
        durations = held(demo)["document"]["rain"]["ensemble"]["durations"]
    expect(demo.get_by_test_id("bracket")).to_contain_text("Between 15 and 1440 min")
    demo.get_by_test_id("spread-measure").select_option("flooded")
    expect(demo.get_by_test_id("critical")).to_contain_text("m³")


def test_a_selection_is_kept_picked_again_and_reported(demo: Page):
    show_at(demo, "nodes", "E1", "30-15-winter")
    demo.get_by_test_id("pick-many").click()
    demo.get_by_test_id("pick-page").get_by_role("button", name="below E1").click()
    title = demo.get_by_test_id("inspector-title").inner_text()
    demo.get_by_test_id("keep-selection").click()
    demo.get_by_test_id("selection-name").fill("East run")
    patched(demo, lambda: demo.get_by_test_id("selection-name").press("Enter"))
    demo.get_by_test_id("section-name-P1").click()
    demo.get_by_test_id("pick-many").click()
    demo.get_by_test_id("selection-0").click()
    expect(demo.get_by_test_id("inspector-title")).to_have_text(title)
    to_stage(demo, "Deliver")
    patched(demo, lambda: demo.get_by_test_id("report-selection").select_option("East run"))
    with demo.expect_download() as download:
        demo.get_by_test_id("get-peaks.csv").click()
    names = {line.split(",")[2] for line in download.value.path().read_text(encoding="utf-8").splitlines()[1:]}
    assert '"E1"' in names or "E1" in names
    assert not names & {'"A1"', "A1"}
    undone(demo, 2)


def test_the_address_holds_the_view_and_a_replay_moves_the_water(demo: Page):
    show_at(demo, "nodes", "P1", "100%2B40-15-winter", "&view=graphs&t=60")
    expect(demo.get_by_test_id("view-graphs")).to_have_attribute("aria-selected", "true")
    demo.get_by_test_id("view-plan").click()
    before = demo.get_by_test_id("hgl").get_attribute("points")
    demo.get_by_test_id("play").click()
    expect(demo.get_by_test_id("hgl")).not_to_have_attribute("points", before)
    demo.get_by_test_id("play").click()


def test_a_close_margin_shows_its_band_and_is_refined_by_a_click(demo: Page):
    project = held(demo)
    rules = project["document"]["brief"]["rules"]
    k = next(i for i, rule in enumerate(rules) if rule["kind"] == "flood_volume")
    verdict = demo.request.get(f"{of(project)}/answer").json()["verdicts"][k]
    expect(demo.get_by_test_id(f"band-{k}")).to_have_count(0)
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Brief")).click()
    limit = demo.get_by_test_id(f"limit-{k}-0")
    limit.fill(str(verdict["limit"] - verdict["value"] + 0.3 * verdict["band"]))
    patched(demo, lambda: limit.press("Enter"))
    up_to_date(demo)
    expect(demo.get_by_test_id(f"tile-{k}")).to_contain_text("close")
    expect(demo.get_by_test_id(f"tile-{k}").locator("path[data-band]")).to_have_count(1)
    expect(demo.get_by_test_id(f"band-{k}")).to_contain_text(re.compile(r"± 0\.0\d m³ refine"))
    demo.get_by_test_id(f"refine-{k}").click()
    expect(demo.get_by_test_id(f"band-{k}")).to_contain_text(re.compile(r"± 0\.0\d+ m³ refined"))
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Storms")).click()
    demo.get_by_test_id("grid").locator("summary").click()
    expect(demo.get_by_test_id("worth")).to_contain_text("of them on a quarter")
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Network")).click()
    demo.get_by_test_id(f"tile-{k}").click()
    expect(demo.get_by_test_id("by-the-grid")).to_contain_text(re.compile(r"± [\d.]+ mm by the grid"))
    undone(demo, 1)


def test_provisional_margins_are_underlined_and_say_how_many_storms_are_in(demo: Page):
    answer = demo.request.get(f"{of(held(demo))}/answer").json()
    answer["state"] = "running"
    answer["verdicts"][0] |= {
        "state": "not judged",
        "provisional": True,
        "seen": 5,
        "due": 18,
        "reason": "5 of 18 storms in",
    }
    answer["verdicts"][1] |= {"state": "not judged", "seen": 5, "due": 18, "reason": "5 of 18 storms in"}
    body = f"event: answer\ndata: {json.dumps(answer)}\n\n"
    demo.route("**/events", lambda route: route.fulfill(body=body, content_type="text/event-stream"))
    demo.reload()
    expect(demo.get_by_test_id("tile-0")).to_contain_text("provisional, 5 of 18")
    expect(demo.get_by_test_id("margin-0")).to_have_css("text-decoration-style", "dashed")
    expect(demo.get_by_test_id("tile-1")).to_contain_text("so far")
    expect(demo.get_by_test_id("margin-1")).not_to_have_css("text-decoration-style", "dashed")
