"""Stores fitted on the screen: from a broken rule, watched, stopped, applied; single changes, repair, trials by hand."""

import itertools
import re

from playwright.sync_api import Page, expect

from tests.ui.conftest import up_to_date
from tests.ui.hands import held, network_of, patched, undone
from tests.ui.test_reading import show_at, to_stage


def from_rule(demo: Page, rule: str):
    to_stage(demo, "Verdict")
    demo.get_by_test_id("margin-strip").get_by_text(rule).click()
    expect(demo.get_by_test_id("rule-elements")).to_contain_text(rule)


def judged(demo: Page):
    demo.get_by_test_id("fit-begin").click()
    expect(demo.get_by_test_id("fit-outcome")).to_contain_text("governs")


def volume(text: str) -> float:
    return float(re.match(r"[\d.]+", text.strip())[0])


def test_a_broken_outflow_leads_to_a_fitted_pond_that_becomes_an_option_in_one_step(demo: Page):
    before = held(demo)
    from_rule(demo, "Outflow to the Leat, 100 yr +40 %")
    demo.get_by_test_id("fit-this").click()
    fit = demo.get_by_test_id("fit")
    # the pond and what lets its water out, and the rules that stores answer for
    expect(fit.get_by_test_id("may-area-P1")).to_be_checked()
    expect(fit.get_by_test_id("may-size-P1 orifice")).to_be_checked()
    expect(fit.get_by_test_id("may-level-P1 overflow")).not_to_be_checked()
    judged(demo)
    expect(fit.get_by_test_id("fit-trials")).to_contain_text("as drawn")
    expect(fit.get_by_test_id("fit-trials")).to_contain_text("2 % less")
    expect(fit.get_by_test_id("fit-governed")).to_contain_text("2 % less breaks")
    expect(fit.get_by_test_id("fit-governed")).to_contain_text("add a longer one")
    shown = volume(fit.get_by_test_id("fit-volume").inner_text())
    assert held(demo)["revision"] == before["revision"]  # nothing changes before it is applied
    fit.get_by_test_id("fit-stop").click()
    expect(fit.get_by_test_id("fit-said")).to_contain_text("Stopped after")
    fit.get_by_test_id("fit-apply").click()
    demo.get_by_test_id("fit-apply-name").fill("Fitted")
    patched(demo, lambda: demo.get_by_test_id("fit-apply-name").press("Enter"))
    expect(demo.get_by_test_id("options")).to_contain_text("Fitted")
    up_to_date(demo)
    network = network_of(demo)
    pond = next(node for node in network["nodes"].values() if node["name"] == "P1")
    rows = pond["table"]
    kept = sum((b["depth"] - a["depth"]) * (a["area"] + b["area"]) / 2 for a, b in itertools.pairwise(rows))
    assert abs(kept - shown) < 2.0
    tile = demo.get_by_test_id("margin-strip").locator("button", has_text="Outflow to the Leat")
    expect(tile).not_to_contain_text("fails")
    undone(demo)
    assert len(held(demo)["document"]["options"]) == len(before["document"]["options"])


def test_what_cannot_hold_is_said_with_the_pair(demo: Page):
    show_at(demo, "links", "P1 orifice", "100%2B40-1440-winter")
    demo.get_by_test_id("fit-this").click()
    fit = demo.get_by_test_id("fit")
    expect(fit.get_by_test_id("least-largest")).to_be_visible()  # a control alone
    high = fit.get_by_test_id("high-size-P1 orifice")
    high.fill("60")
    high.press("Enter")
    low = fit.get_by_test_id("low-size-P1 orifice")
    low.fill("50")
    low.press("Enter")
    fit.get_by_test_id("fit-begin").click()
    expect(fit.get_by_test_id("fit-wrong")).to_contain_text("cannot hold within these bounds")
    expect(fit.get_by_test_id("fit-wrong")).to_contain_text("at its bound: orifice P1 orifice, size")
    demo.keyboard.press("Escape")
    expect(demo.get_by_test_id("plan")).to_be_visible()


def test_single_changes_and_repair_stand_beside_the_broken_rule(demo: Page):
    before = held(demo)
    from_rule(demo, "Contained, 100 yr +40 %")
    demo.get_by_test_id("repair-begin").click()
    repair = demo.get_by_test_id("repair")
    expect(repair).to_contain_text("All of them hold, over all storms")
    demo.get_by_test_id("single-changes-begin").click()
    changes = demo.get_by_test_id("single-changes")
    expect(changes.get_by_test_id("apply-B3–B4")).to_be_visible()
    expect(changes).to_contain_text("B3–B4 up 2 sizes, 300 to 400 mm")
    expect(changes.locator("tr", has_text="B1–B2").get_by_role("button")).to_have_count(0)  # it floods the next
    changes.get_by_test_id("apply-B3–B4").click()
    patched(demo, lambda: demo.get_by_test_id("apply-B3–B4-name").press("Enter"))
    up_to_date(demo)
    expect(demo.get_by_test_id("options")).to_contain_text("B3–B4")
    tile = demo.get_by_test_id("margin-strip").locator("button", has_text="Contained, 100 yr +40 %")
    expect(tile).not_to_contain_text("fails")
    undone(demo)
    assert held(demo)["document"]["options"] == before["document"]["options"]


def test_margins_follow_the_hand_and_the_rest_confirms(demo: Page):
    show_at(demo, "links", "P1 orifice", "100%2B40-1440-winter")
    tile = demo.get_by_test_id("margin-strip").locator("button", has_text="Outflow to the Leat")
    expect(tile).to_contain_text("−0.9")
    box = demo.get_by_test_id("grip-opening-P1 orifice").bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    demo.mouse.move(x, y)
    demo.mouse.down()
    demo.mouse.move(x, y + 3)
    demo.mouse.move(x, y + 6)  # a millimetre for each pixel
    expect(tile).to_contain_text("by hand")
    expect(tile).to_contain_text("+0.9")
    expect(tile).to_contain_text("was −0.9")
    assert (
        next(c for c in network_of(demo)["links"].values() if c["name"] == "P1 orifice")["section"]["diameter"] == 0.08
    )
    patched(demo, demo.mouse.up)
    up_to_date(demo)
    expect(tile).not_to_contain_text("by hand")
    expect(tile).to_contain_text("+0.9")
    changed = next(c for c in network_of(demo)["links"].values() if c["name"] == "P1 orifice")
    assert changed["section"]["diameter"] == 0.074
    undone(demo)


def test_how_much_more_a_node_bears(demo: Page):
    show_at(demo, "nodes", "P1", "100%2B40-1440-winter")
    demo.get_by_test_id("how-much-more").locator("summary").click()
    demo.get_by_test_id("more-begin").click()
    found = demo.get_by_test_id("more-found")
    expect(found).to_contain_text(re.compile(r"× 1\.\d+ of all rain; then .* breaks at"))
    demo.get_by_test_id("more-of").select_option("paved")
    expect(found).to_contain_text("of all rain")  # what was found stays what it is of
    demo.get_by_test_id("more-begin").click()
    expect(found).to_contain_text("m² of paved ground; then Freeboard, 100 yr +40 % breaks at P1")


def test_what_if_stands_as_a_column_and_one_element_is_copied_from_another_option(demo: Page):
    from_rule(demo, "Contained, 100 yr +40 %")
    demo.get_by_test_id("repair-begin").click()
    demo.get_by_test_id("repair-apply").click()
    demo.get_by_test_id("repair-apply-name").fill("Larger pipe")
    patched(demo, lambda: demo.get_by_test_id("repair-apply-name").press("Enter"))
    up_to_date(demo)
    to_stage(demo, "Options")
    demo.get_by_test_id("what-if").locator("summary").click()
    demo.get_by_test_id("what-if-add").click()
    column = demo.get_by_test_id("what-if-+10 % rain-3")
    expect(column).to_contain_text("100 yr +40 %, 15 min, winter")
    own = demo.get_by_test_id("margin-Larger pipe-3").inner_text()
    assert column.inner_text().split()[0] != own.split()[0]
    demo.get_by_role("button", name="take the column +10 % rain away").click()
    expect(column).to_have_count(0)
    # the pipes of the first option, back into this one: their fields are then those of the first
    demo.get_by_test_id("differences-A, as drawn").locator("summary").click()
    patched(demo, lambda: demo.get_by_test_id("take-B1–B2").click())
    expect(demo.get_by_test_id("take-B1–B2")).to_have_count(0)
    patched(demo, lambda: demo.get_by_test_id("take-B3–B4").click())
    expect(demo.get_by_text("the same network as Larger pipe")).to_be_visible()
    undone(demo, 3)
