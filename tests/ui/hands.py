"""What a user's hands do on the screen, and what the server then holds."""

import time
from collections.abc import Callable
from contextlib import contextmanager

from playwright.sync_api import Locator, Page, Response, expect

from madidus.core.elements import DRAWN_LINKS, DRAWN_NODES, Conduit, Store
from tests.ui.conftest import up_to_date

MENU = {
    **{drawn: "stores" if issubclass(kind, Store) else "nodes" for drawn, kind in DRAWN_NODES.items()},
    **{drawn: "conduits" if issubclass(kind, Conduit) else "controls" for drawn, kind in DRAWN_LINKS.items()},
}
"""Which menu each kind of element is drawn from."""


def draw(page: Page, kind: str):
    """Choose what the next clicks on the plan draw."""
    if kind in MENU:
        page.get_by_test_id(f"draw-{MENU[kind]}").click()
    page.get_by_test_id(f"draw-{kind}").click()
    expect(page.get_by_test_id("drawing")).to_be_visible()


def on_plan(page: Page, x: float, y: float):
    """Click a place of the plan, in the project's metres."""
    plan = page.get_by_test_id("plan")
    box = plan.bounding_box()
    px, py = plan.evaluate("(e, [x, y]) => e.pixelOf(x, y)", [x, y])
    page.mouse.click(box["x"] + px, box["y"] + py)


def held(page: Page, name: str = "Quillmere Boatyard") -> dict:
    """A project as the server keeps it, by its name."""
    listed = page.request.get("/api/projects").json()["projects"]
    id_ = next(entry["id"] for entry in listed if entry["name"] == name)
    return page.request.get(f"/api/projects/{id_}").json()


def network_of(page: Page, name: str = "Quillmere Boatyard") -> dict:
    """The network of a project's option in view as the server keeps it."""
    document = held(page, name)["document"]
    return document["options"][document["in_view"]]["network"]


def lay_over(page: Page, text: str):
    """Paste a text into the table, as the browser would."""
    page.get_by_test_id("grid").evaluate(
        """(grid, text) => {
            const clipboardData = new DataTransfer();
            clipboardData.setData("text/plain", text);
            grid.dispatchEvent(new ClipboardEvent("paste", { clipboardData, bubbles: true }));
        }""",
        text,
    )


def open_pipes(page: Page):
    """The table of pipes, its first cell chosen."""
    page.get_by_role("link", name="Network").first.click()
    page.get_by_test_id("show-tables").click()
    page.get_by_test_id("table-pipes").click()
    page.get_by_test_id("grid").press("Control+Home")


def cell(page: Page, row: int, column: int):
    return page.get_by_test_id("grid").locator(f"tr[aria-rowindex='{row + 2}'] td").nth(column)


def comes(page: Page, condition: Callable[[], bool], within: float = 20.0):
    """Waits until something is so that the page tells of by no attribute: what is drawn, or where."""
    end = time.monotonic() + within
    while not condition():
        assert time.monotonic() < end, "it does not come"
        page.wait_for_timeout(50)


def at_rest(page: Page, locator: Locator) -> dict:
    """Where an element stands once it no longer moves."""
    seen: list[dict | None] = [None]

    def same() -> bool:
        seen.append(locator.bounding_box())
        return seen[-1] is not None and seen[-1] == seen[-2]

    comes(page, same)
    return seen[-1]


def removed(page: Page, name: str):
    """Take a project off the list, and wait until the server has done so."""
    page.goto("/")
    page.once("dialog", lambda dialog: dialog.accept())
    with page.expect_response(lambda r: r.request.method == "DELETE"):
        page.get_by_test_id(f"card-{name}").get_by_role("button", name="remove").click()
    expect(page.get_by_test_id(f"card-{name}")).to_have_count(0)


def undone(page: Page, steps: int = 1):
    for _ in range(steps):
        with page.expect_response(lambda r: r.url.endswith("/undo")) as answer:
            page.get_by_test_id("undo").click()
        taken(page, answer.value, "===")
    up_to_date(page)


def taken(page: Page, answer: Response, how: str):
    """Waits until the page shows what the server has answered: until then it is up to date with what was before."""
    if answer.ok:
        shown = "Number(document.querySelector('[data-revision]').dataset.revision)"
        page.wait_for_function(f"{shown} {how} {answer.json()['revision']}")


@contextmanager
def edited(page: Page):
    """Waits for the server's answer to an edit of the document, and for the page to take it."""
    with page.expect_response(lambda r: r.request.method == "PATCH" or r.url.endswith("/edits")) as answer:
        yield answer
    taken(page, answer.value, ">=")  # another edit may have followed


def patched(page: Page, act):
    """Do what changes the document, and wait until the server has taken it."""
    with edited(page) as answer:
        act()
    assert answer.value.status == 200
