"""Pipes sized on the screen: from a pipe and from a broken rule, locked, compared, applied as an option."""

import re

from playwright.sync_api import Page, expect

from tests.ui.conftest import up_to_date
from tests.ui.hands import held, network_of, patched, undone
from tests.ui.test_reading import show_at


def pipe_of(network: dict, name: str) -> dict:
    return next(link for link in network["links"].values() if link["name"] == name)


def opened(demo: Page):
    show_at(demo, "links", "F1–F2", "30-15-winter")
    demo.get_by_test_id("size-all").click()
    expect(demo.get_by_test_id("sizing-table")).to_contain_text("F1–F2")
    return demo.get_by_test_id("sizing")


def test_aims_stand_side_by_side_and_one_becomes_an_option_in_one_step(demo: Page):
    before = held(demo)
    sizing = opened(demo)
    expect(sizing.get_by_test_id("sizing-unmet")).to_contain_text("Every limit is met")
    sizing.get_by_test_id("aim-diameter").click()
    expect(sizing.get_by_test_id("aim-diameter")).to_have_attribute("aria-checked", "true")
    sizing.get_by_test_id("sizing-apply").click()
    demo.get_by_test_id("sizing-apply-name").fill("Sized")
    patched(demo, lambda: demo.get_by_test_id("sizing-apply-name").press("Enter"))
    expect(demo.get_by_test_id("options")).to_contain_text("Sized")
    up_to_date(demo)
    after = held(demo)["document"]
    new = next(one for one in after["options"].values() if one["name"] == "Sized")
    old = before["document"]["options"][before["document"]["in_view"]]
    # an upstream invert that is as the page told it, and the old option as it was
    assert pipe_of(new["network"], "E1–E2")["upstream_invert"] != pipe_of(old["network"], "E1–E2")["upstream_invert"]
    assert after["options"][before["document"]["in_view"]] == old
    demo.get_by_test_id("undo").click()
    expect(demo.get_by_test_id("options")).not_to_contain_text("Sized")
    assert len(held(demo)["document"]["options"]) == len(before["document"]["options"])


def test_a_lock_binds_and_a_limit_that_cannot_be_met_is_told_with_what_stands_in_the_way(demo: Page):
    sizing = opened(demo)
    patched(demo, lambda: sizing.get_by_test_id("lock-diameter-F1–F2").click())
    row = sizing.get_by_test_id("sizing-table").locator("tr", has_text="F1–F2")
    expect(row).to_contain_text("150")
    cover = sizing.get_by_test_id("sizing-cover")
    cover.fill("4.5")
    patched(demo, lambda: cover.press("Enter"))
    expect(sizing.get_by_test_id("sizing-unmet")).to_contain_text("Not met")
    expect(sizing.get_by_test_id("sizing-unmet")).to_contain_text(re.compile("limit"))
    slow = sizing.get_by_test_id("sizing-slow")
    slow.fill("9")
    patched(demo, lambda: slow.press("Enter"))
    expect(demo.get_by_test_id("sizing-wrong")).to_contain_text("velocity: the least, 9, is not below the greatest, 3")
    demo.get_by_test_id("sizing-close").click()
    undone(demo, 3)


def test_a_broken_rule_leads_to_the_pipes_that_break_it(demo: Page):
    before = network_of(demo)
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Verdict")).click()
    demo.get_by_text("Contained, 100 yr +40 %").first.click()
    demo.get_by_test_id("size-breaking").click()
    expect(demo.get_by_test_id("sizing")).to_contain_text("picked")
    expect(demo.get_by_test_id("sizing-table")).to_contain_text("B1–B2")
    demo.keyboard.press("Escape")
    expect(demo.get_by_test_id("plan")).to_be_visible()
    assert network_of(demo) == before
