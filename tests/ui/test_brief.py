"""The permitted discharge on the Brief: ways side by side, one of them in use."""

import re

from playwright.sync_api import Page, expect

from tests.ui.conftest import up_to_date
from tests.ui.hands import patched, undone


def test_another_way_to_the_permitted_rate_judges_the_rule(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Brief")).click()
    expect(demo.get_by_test_id("permitted")).to_have_value("14.0")
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
