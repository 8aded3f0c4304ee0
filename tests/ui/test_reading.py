"""From a rule to its storm, its element and the cause; critical durations in boxes, in a table and on the plan."""

import re

from playwright.sync_api import Page, expect

from tests.ui.conftest import up_to_date
from tests.ui.hands import network_of, patched, undone


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


def test_backwater_names_its_bottleneck_and_shows_the_chain(demo: Page):
    show_at(demo, "links", "A7–T1", "100%2B40-1440-winter")
    cause = demo.get_by_test_id("cause")
    expect(cause).to_contain_text("backwater from")
    expect(cause).to_contain_text("its water stands at")
    cause.get_by_test_id("show-chain").click()
    expect(demo.get_by_test_id("inspector-title")).to_contain_text(re.compile("picked"))


def test_each_node_has_its_own_critical_duration(demo: Page):
    to_stage(demo, "Verdict")
    demo.get_by_test_id("over-row").click()
    demo.get_by_test_id("critical-row").select_option("100 yr +40 %")
    table = demo.get_by_test_id("critical-table")
    expect(table).to_contain_text("P1")
    demo.get_by_test_id("critical-filter").fill("P1")
    expect(table.locator("tbody tr")).to_have_count(1)
    expect(table.locator("tbody tr")).to_contain_text("1440")
    demo.get_by_test_id("critical-filter").fill("")
    durations = table.get_by_role("button", name=re.compile("critical min"))
    durations.click()
    expect(table.locator("tbody tr").first.locator("td").nth(1)).to_contain_text("15")
    durations.click()
    expect(table.locator("tbody tr").first.locator("td").nth(1)).to_contain_text("1440")
    demo.get_by_test_id("critical-links").click()
    expect(table).to_contain_text("L/s")
    demo.get_by_test_id("map-durations").click()
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
    expect(demo.get_by_test_id("critical")).to_contain_text("30 min by")
    demo.get_by_test_id("statistic").select_option("median")
    expect(demo.get_by_test_id("critical")).to_contain_text("highest median")
    patched(demo, lambda: demo.get_by_test_id("extend").click())
    up_to_date(demo)
    undone(demo, 2)


def test_a_sight_is_kept_and_found_again_and_changes_no_fingerprint(demo: Page):
    show_at(demo, "nodes", "E1", "30-15-winter", "&t=300")
    project = re.search(r"/p/([^/]+)/", demo.url)[1]
    mark = lambda: demo.request.get(f"/api/projects/{project}").json()["fingerprint"]  # noqa: E731
    before = mark()
    demo.get_by_test_id("sights").click()
    patched(demo, lambda: demo.get_by_test_id("keep-sight").click())
    assert mark() == before
    to_stage(demo, "Verdict")
    demo.get_by_test_id("storm-2-60-summer").last.click()
    demo.get_by_test_id("sights").click()
    demo.get_by_test_id("sight-0").click()
    expect(demo).to_have_url(re.compile(r"/network\?.*storm=30-15-winter"))
    expect(demo.get_by_test_id("inspector-title")).to_contain_text("E1")
    undone(demo, 1)


def test_picked_elements_stand_in_one_graph_and_go_out_as_csv(demo: Page):
    network = show_at(demo, "nodes", "E1", "30-15-winter")
    to_stage(demo, "Network")
    demo.get_by_test_id("plan").press("Control+a")
    graph = demo.get_by_test_id("together")
    expect(graph).to_contain_text("the first 8 of")
    expect(graph.get_by_role("img", name=re.compile("^level of"))).to_be_visible()
    graph.get_by_role("button", name="flows").click()
    with demo.expect_download() as download:
        graph.get_by_test_id("together-csv").click()
    lines = download.value.path().read_text(encoding="utf-8").splitlines()
    links = network["links"]
    assert len(lines[0].split(",")) == 1 + len(links)
    assert len(lines) == 362
    assert "flow L/s" in lines[0]
