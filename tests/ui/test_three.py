"""The network in 3D, drawn by software, on the same clock and with the same pick; a message where it cannot be."""

import re

import numpy as np
import pypdf
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.ui.conftest import ARGUMENTS, PATIENCE, launched, up_to_date
from tests.ui.hands import at_rest, comes, edited, held, patched, undone
from tests.ui.test_reading import show_at, to_stage

SOFTWARE = [a for a in ARGUMENTS if a != "--disable-gpu"] + ["--use-angle=swiftshader", "--enable-unsafe-swiftshader"]


@pytest.fixture(scope="module")
def drawing_browser():
    with launched(SOFTWARE) as browser:
        yield browser


@pytest.fixture
def scene(drawing_browser, address):
    """The demo in 3D while its worst storm floods, at the first sight."""
    page = drawing_browser.new_page(viewport={"width": 1280, "height": 800}, base_url=address)
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    page.set_default_timeout(PATIENCE)
    page.goto("/")
    page.get_by_test_id("card-Quillmere Boatyard").get_by_role("link", name="Quillmere Boatyard", exact=True).click()
    up_to_date(page)
    show_at(page, "nodes", "B1", "100%2B40-15-winter", "&t=780&view=3d")
    expect(page.get_by_test_id("three-name-P1")).to_be_visible()
    yield page
    page.close()
    assert errors == []


def pixels(page: Page, tone: tuple[int, int, int], near: int = 26) -> int:
    """How many pixels of the canvas are about of a tone."""
    return page.evaluate(
        """([tone, near]) => {
          const canvas = document.querySelector("[data-testid=three] canvas");
          const flat = document.createElement("canvas");
          [flat.width, flat.height] = [canvas.width, canvas.height];
          const context = flat.getContext("2d");
          context.drawImage(canvas, 0, 0);
          const { data } = context.getImageData(0, 0, flat.width, flat.height);
          let count = 0;
          for (let k = 0; k < data.length; k += 4)
            if (data[k + 3] > 0 && tone.every((v, i) => Math.abs(data[k + i] - v) < near)) count++;
          return count;
        }""",
        [list(tone), near],
    )


def test_floods_stand_over_their_covers_and_go_with_the_clock(scene: Page):
    expect(scene.get_by_test_id("three-name-B1")).to_contain_text(re.compile(r"B1 0\.1\d m over"))
    comes(scene, lambda: pixels(scene, (29, 36, 39)) > 300)
    at_rest(scene, scene.get_by_test_id("three-name-B1"))
    drawn = scene.get_by_test_id("three").screenshot()
    scene.get_by_test_id("trace").press("Home")
    expect(scene.get_by_test_id("three-name-B1")).to_have_text("B1")
    comes(scene, lambda: scene.get_by_test_id("three").screenshot() != drawn)


def test_an_element_is_picked_by_a_click_and_everywhere(scene: Page):
    name = at_rest(scene, scene.get_by_test_id("three-name-K2"))
    # the name stands beside its lid
    scene.mouse.click(name["x"] - 4, name["y"] + name["height"] + 6)
    expect(scene.get_by_test_id("inspector-title")).to_contain_text("K2")
    scene.get_by_test_id("view-plan").click()
    expect(scene.get_by_test_id("inspector-title")).to_contain_text("K2")


def test_the_sight_is_turned_tilted_and_drawn_higher_by_keys_and_by_the_panel(scene: Page):
    panel, three = scene.get_by_test_id("three-panel"), scene.get_by_test_id("three")
    expect(panel).to_contain_text("193°")
    three.focus()
    three.press("ArrowLeft")
    expect(panel).to_contain_text("203°")
    three.press("ArrowUp")
    expect(panel).to_contain_text("39°")
    three.press("Home")
    expect(panel).to_contain_text("193°")
    place = lambda: scene.get_by_test_id("three-name-H1").bounding_box()  # noqa: E731
    before = place()
    scene.get_by_test_id("upward-1").click()
    comes(scene, lambda: place() != before)
    for ground in ("solid", "off", "glass"):
        scene.get_by_test_id(f"ground-{ground}").click()
        expect(scene.get_by_test_id(f"ground-{ground}")).to_have_attribute("aria-pressed", "true")
    panel.get_by_label("names").uncheck()
    expect(scene.get_by_test_id("three-name-H1")).to_have_count(0)


def test_what_is_seen_is_a_picture_that_goes_into_the_report_with_its_view(scene: Page):
    before = held(scene)
    at_rest(scene, scene.get_by_test_id("three-name-H1"))
    with scene.expect_download() as download:
        scene.get_by_test_id("take-picture").click()
    picture = Image.open(download.value.path()).convert("RGB")
    assert picture.width == 2400
    assert (np.asarray(picture).max(axis=2) < 90).sum() > 5000  # pipes, names and the line below
    assert picture.getextrema()[0][0] < 40
    scene.get_by_test_id("saved-views").click()
    scene.get_by_test_id("keep-saved-view").click()
    scene.get_by_test_id("view-name").fill("From the south")
    patched(scene, lambda: scene.get_by_test_id("view-name").press("Enter"))
    view = held(scene)["document"]["saved_views"][-1]
    assert view["picture"]["inputs"] == held(scene)["fingerprint"]
    assert view["picture"]["storm"] == "100 yr +40 %, 15 min, winter"
    layouts = held(scene)["document"]["layouts"]
    part = next(k for k, part in enumerate(layouts[0]["parts"]) if part["kind"] == "views")
    to_stage(scene, "Deliver")
    with edited(scene):
        scene.get_by_test_id(f"part-on-{part}").click()
    with scene.expect_download() as download:
        scene.get_by_test_id("get-report.pdf").click()
    pages = pypdf.PdfReader(download.value.path()).pages
    said = " ".join(" ".join(page.extract_text() for page in pages).split())
    assert "From the south" in said
    assert "In 3D: 100 yr +40 %, 15 min, winter, 0 h 13 min after it began." in said
    assert "Of earlier inputs" not in said
    undone(scene, 2)
    assert held(scene)["document"] == before["document"]


def test_no_picture_is_made_of_the_water_of_another_storm(scene: Page):
    held_back = []
    scene.route("**/storms/30-15-winter", lambda route: held_back.append(route))
    scene.get_by_test_id("storm-30-15-winter").click()
    scene.get_by_test_id("take-picture").click()
    expect(scene.get_by_test_id("notice")).to_contain_text("of another storm; wait until it is up to date")
    held_back[0].continue_()
    expect(scene.get_by_test_id("three-name-B1")).to_have_text("B1")  # this one floods nothing
    with scene.expect_download():
        scene.get_by_test_id("take-picture").click()


def test_without_webgl_a_message_leads_back_to_the_plan(drawing_browser, address):
    page = drawing_browser.new_page(viewport={"width": 1280, "height": 800}, base_url=address)
    page.add_init_script(
        """const plain = HTMLCanvasElement.prototype.getContext;
        HTMLCanvasElement.prototype.getContext = function (kind, ...more) {
          return kind.startsWith("webgl") ? null : plain.call(this, kind, ...more);
        };"""
    )
    page.goto("/")
    page.get_by_test_id("card-Quillmere Boatyard").get_by_role("link", name="Quillmere Boatyard", exact=True).click()
    up_to_date(page)
    page.get_by_test_id("view-3d").click()
    missing = page.get_by_test_id("no-three")
    expect(missing).to_contain_text("WebGL 2 is missing")
    missing.get_by_role("button").click()
    expect(page.get_by_test_id("plan")).to_be_visible()
    page.close()
