"""Options of a project: each with its results, one looked at, switched at a click."""

import copy
import re
from uuid import UUID

import pytest
from playwright.sync_api import Page, expect

from madidus.core.model import parse_project
from tests.ui.conftest import up_to_date
from tests.ui.hands import held, patched, undone
from tests.ui.test_interface import pick


@pytest.fixture
def site(page: Page, projects, short_document):
    """A project of the test's own, on the screen."""
    document = copy.deepcopy(short_document) | {"name": "Two ways"}
    document["rain"]["ensemble"]["durations"] = [15, 60]
    made = projects.create(parse_project(document))
    page.goto(f"/p/{made.project_id}/network")
    up_to_date(page)
    yield page
    projects.remove(made.project_id)


def menu(page: Page, item: str):
    page.get_by_test_id("options").click()
    page.get_by_test_id(item).click()


def named(page: Page, item: str, name: str):
    menu(page, item)
    page.get_by_test_id("option-name").fill(name)
    page.get_by_test_id("option-name").press("Enter")
    expect(page.get_by_test_id("options")).to_contain_text(name)
    up_to_date(page)


def margin(page: Page) -> str:
    return page.get_by_test_id("margin-0").inner_text()


def test_an_option_is_copied_changed_and_switched_with_its_results(site: Page):
    before = margin(site)
    named(site, "option-copy", "B, smaller pipe")
    document = held(site, "Two ways")["document"]
    assert [document["options"][id_]["name"] for id_ in document["order"]] == ["A, as drawn", "B, smaller pipe"]
    assert document["in_view"] == document["order"][1]
    assert margin(site) == before  # the same inputs: the same results
    pick(site, "L1–L2")
    patched(site, lambda: site.get_by_test_id("size-150").click())
    up_to_date(site)
    smaller = margin(site)
    a, b = held(site, "Two ways")["document"]["order"]
    found = held(site, "Two ways")["document"]["options"]
    assert found[a]["network"] != found[b]["network"]

    # back to A: its results are there, and nothing runs
    runs = []
    site.on("request", lambda r: runs.append(r.url) if r.url.endswith("/run") else None)
    menu(site, "option-A, as drawn")
    up_to_date(site)
    expect(site.get_by_test_id("margin-0")).to_have_text(before)
    assert runs == []
    expect(site).to_have_url(re.compile(f"option={a}"))
    # a link opens the option that it names
    site.goto(re.sub("option=[0-9a-f-]+", f"option={b}", site.url))
    expect(site.get_by_test_id("options")).to_contain_text("B, smaller pipe")
    up_to_date(site)
    assert margin(site) == smaller


def test_an_option_is_ranked_and_drawn_beside_another(site: Page):
    named(site, "option-copy", "B, smaller pipe")
    pick(site, "L1–L2")
    patched(site, lambda: site.get_by_test_id("size-150").click())
    up_to_date(site)
    site.get_by_test_id("view-graphs").click()
    expect(site.locator("[data-beside]")).to_have_count(0)
    site.get_by_test_id("graph-beside").select_option(label="A, as drawn")
    expect(site.locator("[data-beside='A, as drawn']").first).to_be_attached()
    own, other = (
        site.locator(f"[aria-label='Graphs'] polyline{kind}").first.get_attribute("points")
        for kind in (":not([data-beside])", "[data-beside]")
    )
    assert own != other
    site.get_by_label("Stages").get_by_role("link", name=re.compile("Options")).click()
    first, second = held(site, "Two ways")["document"]["order"]
    patched(site, lambda: site.get_by_test_id("rank-up-B, smaller pipe").click())
    assert held(site, "Two ways")["document"]["order"] == [second, first]
    expect(site.get_by_test_id("rank-up-B, smaller pipe")).to_be_disabled()


def test_renaming_an_option_changes_no_result(site: Page, projects):
    before = margin(site)
    named(site, "option-copy", "B")
    named(site, "option-rename", "0 comes first by name")
    assert margin(site) == before
    project = held(site, "Two ways")
    kept = projects.get(UUID(project["id"]))
    assert kept.document["in_view"] == kept.document["order"][1]
    # a name that is taken is refused in words
    menu(site, "option-rename")
    site.get_by_test_id("option-name").fill("A, as drawn")
    site.get_by_test_id("option-name").press("Enter")
    expect(site.get_by_test_id("notice")).to_contain_text("give this one a name of its own")


def test_an_option_is_noted_and_retired_and_taken_up_again(site: Page):
    site.get_by_test_id("options").click()
    expect(site.get_by_test_id("option-retire")).to_have_attribute("aria-disabled", "true")  # the only one
    site.keyboard.press("Escape")
    named(site, "option-copy", "B")
    menu(site, "option-note")
    site.get_by_test_id("option-note-text").fill("too dear: two more ponds")
    patched(site, lambda: site.get_by_test_id("option-note-done").click())
    menu(site, "option-retire")
    expect(site.get_by_test_id("options")).to_contain_text("A, as drawn")
    up_to_date(site)
    site.get_by_test_id("options").click()
    expect(site.get_by_test_id("option-B")).to_contain_text("(retired)")
    expect(site.get_by_test_id("option-B")).to_contain_text("too dear: two more ponds")
    site.get_by_test_id("option-B").click()
    expect(site.get_by_test_id("options")).to_contain_text("retired")
    menu(site, "option-retire")
    expect(site.get_by_test_id("options")).not_to_contain_text("retired")


def test_an_empty_option_cannot_run_and_undo_takes_it_away(site: Page):
    named_empty = "C, from nothing"
    menu(site, "option-add")
    site.get_by_test_id("option-name").fill(named_empty)
    site.get_by_test_id("option-name").press("Enter")
    expect(site.get_by_test_id("options")).to_contain_text(named_empty)
    expect(site.get_by_test_id("run-state")).to_contain_text("cannot run")
    undone(site, 2)  # that it was looked at, and that it was added
    expect(site.get_by_test_id("options")).to_contain_text("A, as drawn")
    up_to_date(site)
    assert len(held(site, "Two ways")["document"]["options"]) == 1


def test_a_saved_view_brings_its_option_back(site: Page):
    named(site, "option-copy", "B")
    site.get_by_test_id("saved-views").click()
    site.get_by_test_id("keep-saved-view").click()
    site.get_by_test_id("view-name").fill("here")
    patched(site, lambda: site.get_by_test_id("view-name").press("Enter"))
    menu(site, "option-A, as drawn")
    up_to_date(site)
    site.get_by_test_id("saved-views").click()
    expect(site.get_by_test_id("saved-view-0")).to_contain_text("option B")
    site.get_by_test_id("saved-view-0").click()
    expect(site.get_by_test_id("options")).to_contain_text("Option B")


def test_options_stand_side_by_side_with_what_differs_and_what_is_missing(site: Page):
    site.get_by_test_id("options").click()
    site.get_by_test_id("option-copy").click()
    site.get_by_test_id("option-name").fill("Beside")
    site.get_by_test_id("option-name").press("Enter")
    expect(site.get_by_test_id("options")).to_contain_text("Beside")
    up_to_date(site)
    site.get_by_label("Stages").get_by_role("link", name=re.compile("Options")).click()
    stage = site.get_by_test_id("options-stage")
    expect(stage).to_contain_text("Beside")
    expect(stage).to_contain_text("the same network as Beside")
    first = stage.locator("[data-testid^='look-at-']").first
    name = first.get_attribute("data-testid").removeprefix("look-at-")
    expect(stage.get_by_test_id(f"margin-{name}-0")).to_be_visible()
    first.click()
    expect(site.get_by_test_id("options")).to_contain_text(name)
    expect(stage).to_contain_text(f"the same network as {name}")
