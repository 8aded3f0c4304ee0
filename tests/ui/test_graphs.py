"""Graphs of picked elements: over time in many storms, one quantity against another, kept by name, taken out."""

import csv
import itertools
import re

from playwright.sync_api import Page, expect

from tests.ui.hands import patched, undone
from tests.ui.test_reading import show_at


def graphs_of(demo: Page, collection: str, name: str, storm: str = "30-15-winter") -> dict:
    network = show_at(demo, collection, name, storm)
    demo.get_by_test_id("view-graphs").click()
    return network


def test_one_element_in_all_storms_of_its_rarity_leads_to_another_storm(demo: Page):
    graphs_of(demo, "nodes", "P1")
    demo.get_by_test_id("quantity-flow").click()  # a pond has levels, no flow
    demo.get_by_test_id("graph-storms").select_option("row")
    panels = demo.get_by_test_id("graph-panels")
    expect(panels.locator("polyline")).to_have_count(6)
    expect(panels).to_contain_text("level, m")
    demo.get_by_test_id("graph-storms").select_option("all")
    expect(panels.locator("polyline")).to_have_count(18)
    box = panels.bounding_box()
    # the highest line of all: the longest storm of the rarest
    panels.hover(position={"x": box["width"] * 0.85, "y": 90})
    expect(demo.get_by_test_id("graph-reading")).to_contain_text("P1, 100 yr +40 %, 1440 min")
    panels.click(position={"x": box["width"] * 0.85, "y": 90})
    expect(demo.locator("footer")).to_contain_text("100 yr +40 %, 1440 min")
    expect(demo).to_have_url(re.compile(r"storm=100%2B40-1440-.*view=graphs"))


def test_one_quantity_against_another(demo: Page):
    graphs_of(demo, "links", "A6–A7")
    demo.get_by_test_id("graph-against-choice").select_option("speed")
    against = demo.get_by_test_id("graph-against")
    expect(against).to_contain_text("velocity, m/s")
    expect(against.locator("polyline")).to_have_count(1)
    demo.get_by_test_id("view-plan").click()
    demo.get_by_test_id("pick-many").click()
    demo.get_by_test_id("pick-page").get_by_role("button", name="below A6–A7").click()
    demo.get_by_test_id("graph-picked").click()
    demo.get_by_test_id("graph-against-choice").select_option("level")
    # the tank has no flow of its own, and pipes have both
    expect(against.locator("polyline")).not_to_have_count(0)
    expect(against).to_contain_text("flow, L/s")
    expect(against).to_contain_text("level, m")


def test_a_graph_is_kept_by_name_and_found_again(demo: Page):
    graphs_of(demo, "nodes", "P1")
    demo.get_by_test_id("quantity-volume").click()
    demo.get_by_test_id("graph-storms").select_option("duration")
    demo.get_by_test_id("kept-graphs").click()
    demo.get_by_test_id("keep-graph").click()
    demo.get_by_test_id("graph-name").fill("Pond fills")
    patched(demo, lambda: demo.get_by_test_id("graph-name").press("Enter"))
    demo.get_by_test_id("quantity-volume").click()
    demo.get_by_test_id("graph-storms").select_option("picked")
    demo.get_by_test_id("view-plan").click()
    demo.get_by_test_id("section-name-L2").click()
    demo.get_by_test_id("view-graphs").click()
    demo.get_by_test_id("kept-graphs").click()
    demo.get_by_test_id("graph-0").click()
    expect(demo.get_by_test_id("inspector-title")).to_contain_text("P1")
    expect(demo.get_by_test_id("quantity-volume")).to_have_attribute("aria-pressed", "true")
    expect(demo.get_by_test_id("graph-panels")).to_contain_text("volume, m³")
    undone(demo, 1)


def test_peaks_by_duration_stand_on_an_axis_under_a_title_and_are_kept(demo: Page):
    graphs_of(demo, "nodes", "P1")
    demo.get_by_test_id("graph-against-choice").select_option("duration")
    spreads = demo.get_by_test_id("graph-spreads")
    expect(spreads).to_contain_text("highest level, m; 30 yr")
    expect(spreads).to_contain_text("critical by mean")
    expect(spreads.locator("circle")).to_have_count(6 + 1)  # two seasons of three durations, and the picked one's ring
    demo.get_by_test_id("graph-title").fill("Pond <by> duration")
    with demo.expect_download() as download:
        demo.get_by_test_id("graph-csv").click()
    rows = list(csv.DictReader(download.value.path().read_text(encoding="utf-8").splitlines()))
    assert [row["duration min"] for row in rows][:2] == ["15", "720"]
    assert all(float(row["lowest"]) <= float(row["mean"]) <= float(row["highest"]) for row in rows)
    with demo.expect_download() as download:
        demo.get_by_test_id("graph-svg").click()
    assert "Pond &lt;by&gt; duration" in download.value.path().read_text(encoding="utf-8")
    demo.get_by_test_id("kept-graphs").click()
    demo.get_by_test_id("keep-graph").click()
    patched(demo, lambda: demo.get_by_test_id("graph-name").press("Enter"))
    demo.get_by_test_id("graph-title").fill("")
    demo.get_by_test_id("graph-against-choice").select_option("")
    demo.get_by_test_id("kept-graphs").click()
    demo.get_by_test_id("graph-0").click()
    expect(demo.get_by_test_id("graph-title")).to_have_value("Pond <by> duration")
    expect(spreads).to_contain_text("highest level, m; 30 yr")
    undone(demo, 1)


def test_a_store_shows_its_inflow_and_outflow_in_one_graph(demo: Page):
    show_at(demo, "nodes", "P1", "30-1440-winter")
    demo.get_by_test_id("store-graph").click()
    panels = demo.get_by_test_id("graph-panels")
    expect(panels).to_contain_text("inflow of stores and, thinner, outflow of stores, L/s")
    expect(panels.locator("polyline")).to_have_count(3)


def test_graphs_go_out_as_csv_svg_and_png(demo: Page):
    network = show_at(demo, "nodes", "E1", "30-15-winter")
    demo.get_by_test_id("plan").press("Control+a")
    demo.get_by_test_id("graph-picked").click()
    expect(demo.get_by_test_id("graphs")).to_contain_text(re.compile("the first 8 of \\d+"))
    with demo.expect_download() as download:
        demo.get_by_test_id("graph-csv").click()
    lines = download.value.path().read_text(encoding="utf-8").splitlines()
    assert lines[0].startswith("storm,time s,")
    levels = sum("level m" in head for head in lines[0].split(","))
    flows = sum("flow L/s" in head for head in lines[0].split(","))
    assert flows >= 50
    assert levels + flows == len(lines[0].split(",")) - 2
    moments = [float(row["time s"]) for row in csv.DictReader(lines)]
    assert len(moments) > 60
    apart = [b - a for a, b in itertools.pairwise(moments)]
    assert min(apart) >= 0.0  # tenths of a second
    assert max(apart) > 20 * min(gap for gap in apart if gap > 0.0)  # they follow the water
    expect(demo.get_by_test_id("graph-interval")).to_contain_text(f"to {max(apart):.0f} s apart")
    assert len(network["links"]) == 50
    with demo.expect_download() as download:
        demo.get_by_test_id("graph-svg").click()
    svg = download.value.path().read_text(encoding="utf-8")
    assert svg.startswith("<svg")
    assert "var(" not in svg
    with demo.expect_download() as download:
        demo.get_by_test_id("graph-png").click()
    assert download.value.path().read_bytes()[:8] == b"\x89PNG\r\n\x1a\n"


def test_a_control_shows_its_way_on_its_curve(demo: Page):
    show_at(demo, "links", "P1 orifice", "100%2B40-1440-winter", "&t=40000")
    duty = demo.get_by_test_id("rating")
    expect(duty.get_by_test_id("phase")).to_be_visible()
    points = duty.get_by_test_id("phase").get_attribute("points").split(" ")
    assert len(points) > 100
    # the storm goes up and comes back
    heads = [float(p.split(",")[1]) for p in points]
    assert min(heads) < heads[0] - 20
    assert heads[-1] > min(heads)
