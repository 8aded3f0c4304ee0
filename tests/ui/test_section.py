"""The long section as an editor, and the catalogue."""

import itertools
import re

import pytest
from playwright.sync_api import Page, expect

from tests.ui.conftest import up_to_date
from tests.ui.hands import comes, edited, network_of, on_plan, undone


@pytest.fixture
def section(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Network")).click()
    demo.get_by_test_id("tile-4").click()
    return demo


def link_of(page: Page, name: str) -> dict:
    return next(link for link in network_of(page)["links"].values() if link["name"] == name)


def drag_down(page: Page, grip: str, pixels: float, keys: str | None = None):
    box = page.get_by_test_id(grip).bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    if keys:
        page.keyboard.down(keys)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + pixels, steps=4)
    expect(page.get_by_test_id("drag-label")).to_contain_text("cover")
    with edited(page):
        page.mouse.up()
    if keys:
        page.keyboard.up(keys)


def test_an_invert_is_dragged_and_the_whole_pipe_with_shift(section: Page):
    before = network_of(section)
    old = link_of(section, "L1–L2")
    drag_down(section, "grip-up-L1–L2", 6)
    new = link_of(section, "L1–L2")
    assert new["upstream_invert"] < old["upstream_invert"]
    assert new["downstream_invert"] == old["downstream_invert"]
    assert new["upstream_invert"] == pytest.approx(round(new["upstream_invert"] * 200) / 200)
    drag_down(section, "grip-down-L1–L2", 4, keys="Shift")
    whole = link_of(section, "L1–L2")
    fall = new["upstream_invert"] - new["downstream_invert"]
    assert whole["upstream_invert"] - whole["downstream_invert"] == pytest.approx(fall)
    assert whole["downstream_invert"] < new["downstream_invert"]
    undone(section, 2)
    assert network_of(section) == before


def test_the_picked_pipe_is_lowered_and_sized_by_keys(section: Page):
    before = network_of(section)
    section.get_by_test_id("section-L1–L2").click()
    drawing = section.get_by_test_id("long-section")
    drawing.focus()
    old = link_of(section, "L1–L2")
    for key in ("ArrowDown", "+"):
        with edited(section):
            drawing.press(key)
    new = link_of(section, "L1–L2")
    assert new["downstream_invert"] == pytest.approx(old["downstream_invert"] - 0.01)
    assert new["section"]["diameter"] > old["section"]["diameter"]
    undone(section, 2)
    assert network_of(section) == before


def test_a_run_is_given_one_gradient_and_matched_soffits(section: Page):
    before = network_of(section)
    nodes = before["nodes"]
    at = next((n["x"], n["y"]) for n in nodes.values() if n["name"] == "A1")
    on_plan(section, *at)
    section.get_by_test_id("shape-run").click()
    for how in ("gradient", "soffits"):
        with edited(section):
            section.get_by_test_id(f"shape-by-{how}").click()
        if how == "gradient":
            fall = link_of(section, "A3–A4")
            assert (fall["upstream_invert"] - fall["downstream_invert"]) / fall["length"] == pytest.approx(
                0.01, abs=1e-4
            )
    run = [link_of(section, f"A{k}–A{k + 1}") for k in range(2, 7)]
    assert len({pipe["section"]["diameter"] for pipe in run}) > 1
    for above, below in itertools.pairwise(run):
        arriving = above["downstream_invert"] + above["section"]["diameter"]
        assert below["upstream_invert"] + below["section"]["diameter"] == pytest.approx(arriving, abs=2e-3)
    section.get_by_test_id("shape-by-soffits").click()
    expect(section.get_by_test_id("notice")).to_contain_text("so already")
    undone(section, 2)
    assert network_of(section) == before


def test_what_joins_and_the_least_cover_are_drawn(section: Page):
    nodes = network_of(section)["nodes"]
    on_plan(section, *next((n["x"], n["y"]) for n in nodes.values() if n["name"] == "A4"))
    expect(section.get_by_test_id("joins-B5–A5").first).to_be_visible()
    expect(section.get_by_test_id("least-cover")).to_be_visible()


def test_the_section_follows_several_picked_nodes(section: Page):
    nodes = network_of(section)["nodes"]
    place = {n["name"]: (n["x"], n["y"]) for n in nodes.values()}
    on_plan(section, *place["A5"])
    section.keyboard.down("Shift")
    on_plan(section, *place["B2"])
    section.keyboard.up("Shift")
    expect(section.get_by_label("Long section", exact=True).first).to_contain_text("B2 to A5")


def test_the_catalogue_is_edited_and_give_a_pipe_its_roughness(section: Page):
    section.get_by_test_id("catalogue").click()
    sizes = section.get_by_test_id("material-clay").get_by_label("diameters, mm")
    sizes.fill("150 wide")
    sizes.press("Enter")
    expect(section.get_by_role("alert").first).to_contain_text("“wide” is no diameter")
    with edited(section):
        sizes.fill("400 150 250")
        sizes.press("Enter")
    expect(sizes).to_have_value("150 250 400")
    section.keyboard.press("Escape")
    section.get_by_test_id("section-L1–L2").click()
    with edited(section):
        section.get_by_test_id("material").select_option("clay")
    assert link_of(section, "L1–L2")["roughness"] == 0.012
    expect(section.get_by_test_id("size-250")).to_be_visible()
    undone(section, 2)
    up_to_date(section)


def middle(page: Page, node: str) -> tuple[float, float]:
    box = page.get_by_test_id(f"section-node-{node}").bounding_box()
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


@pytest.mark.parametrize("factor", ["", "20"])
def test_the_wheel_reaches_one_manhole_whatever_the_vertical_factor(section: Page, factor: str):
    """The one under the pointer stays in the drawing; its neighbours leave it, and come back."""
    section.get_by_test_id("section-look").click()
    section.get_by_test_id("exaggeration").select_option(factor)
    section.keyboard.press("Escape")
    names = [n["name"] for n in network_of(section)["nodes"].values()]
    shown = [n for n in names if section.get_by_test_id(f"section-node-{n}").count()]
    here = shown[len(shown) // 2]
    drawing = section.get_by_test_id("long-section").bounding_box()
    before = middle(section, here)
    section.mouse.move(*before)
    for _ in range(16):
        section.mouse.wheel(0, -240)

    def inside() -> list[str]:
        there = [n for n in shown if section.get_by_test_id(f"section-node-{n}").count()]
        return [n for n in there if drawing["x"] < middle(section, n)[0] < drawing["x"] + drawing["width"]]

    comes(section, lambda: inside() == [here])
    for _ in range(20):
        section.mouse.wheel(0, 240)
    comes(section, lambda: inside() == shown)
