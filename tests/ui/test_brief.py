"""The permitted discharge on the Brief: ways side by side, one of them in use."""

import re

from playwright.sync_api import Page, expect

from tests.ui.conftest import up_to_date
from tests.ui.hands import patched, undone


def test_another_way_to_the_permitted_rate_judges_the_rule(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Brief")).click()
    expect(demo.get_by_test_id("limit-4-0")).to_have_value("14.0")
    rate = demo.get_by_test_id("permit-rate")
    rate.fill("6 L/s")
    patched(demo, lambda: rate.press("Enter"))
    shown = demo.get_by_test_id("rate-hectare")
    expect(shown).to_have_text("17.3")
    patched(demo, lambda: demo.get_by_test_id("use-hectare").click())
    up_to_date(demo)
    expect(demo.get_by_test_id("permitted-by")).to_contain_text("17.3 L/s")
    expect(demo.get_by_test_id("way-hectare")).to_contain_text("in use")
    expect(demo.locator("footer")).to_contain_text("permitted 17.3 L/s")
    patched(demo, lambda: demo.get_by_test_id("permit-counted").select_option("paved"))
    expect(shown).not_to_have_text("17.3")
    patched(demo, lambda: demo.get_by_test_id("use-model").click())
    up_to_date(demo)
    expect(demo.get_by_test_id("way-model")).to_contain_text("meets")
    undone(demo, 4)


def test_a_rule_leaves_a_pipe_out_by_name_and_its_elements_are_told(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Brief")).click()
    worst = demo.get_by_test_id("tile-0").inner_text()
    demo.get_by_test_id("scope-0").click()
    fields = demo.get_by_test_id("scope-fields-0")
    fields.get_by_label("what No surcharge, 2 yr is asked of").select_option("all but")
    names = fields.get_by_label("elements of No surcharge, 2 yr")
    names.fill("nothing so called")
    names.press("Enter")
    expect(fields).to_contain_text("nothing is called “nothing so called”")
    names.fill("e1–e2")
    patched(demo, lambda: names.press("Enter"))
    expect(demo.get_by_test_id("scope-0")).to_have_text("every conduit but E1–E2")
    why = fields.get_by_label("why No surcharge, 2 yr is not asked of all")
    why.fill("it is short")
    patched(demo, lambda: why.blur())
    up_to_date(demo)
    expect(demo.get_by_test_id("tile-0")).not_to_have_text(worst)
    demo.get_by_test_id("tile-0").click()
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Verdict")).click()
    told = demo.get_by_test_id("rule-elements")
    expect(told).to_contain_text("Left out: E1–E2, because it is short.")
    undone(demo, 2)


def test_rules_are_added_with_several_return_periods_muted_and_taken_as_a_set(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Brief")).click()
    demo.get_by_role("button", name="add a rule").click()
    patched(demo, lambda: demo.get_by_test_id("add-pipe_size").click())
    expect(demo.get_by_test_id("rule-6")).to_contain_text("every pipe")
    expect(demo.get_by_test_id("state-6")).to_contain_text(re.compile("meets|fails|tight"))
    patched(demo, lambda: demo.get_by_test_id("also-1").click())
    expect(demo.get_by_test_id("rule-1").get_by_text("leave out").first).to_be_visible()
    up_to_date(demo)
    expect(demo.get_by_test_id("margin-strip")).to_contain_text("No flooding, 30 yr, 2 yr")
    patched(demo, lambda: demo.get_by_role("switch", name="judge No surcharge, 2 yr").click())
    expect(demo.get_by_test_id("state-0")).to_contain_text("muted")
    expect(demo.get_by_test_id("tile-0")).to_have_count(0)
    demo.get_by_test_id("starting-sets").click()
    patched(demo, lambda: demo.get_by_role("button", name="take", exact=True).first.click())
    expect(demo.get_by_test_id("rule-0")).to_contain_text("below the soffit of")
    up_to_date(demo)
    expect(demo.get_by_test_id("margin-strip")).not_to_contain_text("not judged")
    undone(demo, 4)


def test_the_elements_that_break_a_rule_are_picked_and_saved(demo: Page, tmp_path):
    demo.get_by_test_id("tile-3").click()
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Verdict")).click()
    told = demo.get_by_test_id("rule-elements")
    expect(told).to_contain_text("break it")
    with demo.expect_download() as download:
        told.get_by_role("button", name="CSV").click()
    text = (tmp_path / "rule.csv", download.value.save_as(tmp_path / "rule.csv"))[0].read_text()
    assert text.splitlines()[0].startswith('"element","state"')
    assert text.splitlines()[1].startswith('"B1","breaks"')
    told.get_by_test_id("pick-breaking").click()
    expect(told.get_by_role("row", name=re.compile("B1"))).to_have_class(re.compile("bg-hi"))
