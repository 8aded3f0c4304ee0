"""Every stage against the WCAG rules that a machine can check, by axe."""

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

AXE = (Path(__file__).parents[2] / "ui" / "node_modules" / "axe-core" / "axe.min.js").read_text(encoding="utf-8")


def violations(page: Page) -> list[str]:
    page.evaluate(AXE)
    found = page.evaluate("axe.run(document, {runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa']})")
    return [f"{v['id']}: {node['target']} {node['failureSummary']}" for v in found["violations"] for node in v["nodes"]]


def test_the_projects(page: Page):
    page.goto("/")
    page.get_by_test_id("card-Quillmere Boatyard").wait_for()
    assert violations(page) == []


@pytest.mark.parametrize("stage", ["brief", "network", "rain", "storms", "verdict", "deliver"])
def test_a_stage(demo: Page, stage):
    demo.locator(f"nav a[href*='/{stage}']").click()
    demo.locator("main").wait_for()
    assert violations(demo) == []


@pytest.mark.parametrize("view", ["graphs", "3d"])
def test_a_view_of_the_network(demo: Page, view):
    demo.get_by_test_id("section-name-P1").click()
    demo.get_by_test_id(f"view-{view}").click()
    demo.get_by_test_id("graph-panels" if view == "graphs" else "three").or_(demo.get_by_test_id("no-three")).wait_for()
    assert violations(demo) == []


def test_the_lines_of_the_section(demo: Page):
    demo.get_by_test_id("section-look").click()
    demo.get_by_test_id("exaggeration").wait_for()
    assert violations(demo) == []


def test_files_while_none_is_picked(demo: Page):
    demo.locator("nav a[href*='/deliver']").click()
    demo.get_by_test_id("everything").wait_for()
    ticked = demo.get_by_test_id("files").get_by_role("checkbox", checked=True)
    while ticked.count():
        ticked.first.click()
    expect(demo.get_by_test_id("nothing-picked")).to_have_text("Nothing is picked that can be written")
    assert violations(demo) == []
