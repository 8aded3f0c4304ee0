"""A browser on the running server, with the demo open."""

from contextlib import contextmanager, suppress
from uuid import UUID

import httpx
import pytest
from playwright.sync_api import Error, Page, Request, expect, sync_playwright

from madidus.core.model import parse_project
from madidus.store.project_store import Conflict

ARGUMENTS = [
    "--no-sandbox", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update",
    "--disable-sync", "--disable-gpu",
]  # fmt: skip

VIEWPORT = {"width": 1280, "height": 800}

# a busy machine is no fault, and yet a test that fails is known soon
PATIENCE = 20_000  # ms
expect.set_options(timeout=PATIENCE)


@contextmanager
def launched(arguments: list[str]):
    """Debian's Chromium with arguments."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=arguments)
        yield browser
        browser.close()


@pytest.fixture(scope="module")
def browser():
    with launched(ARGUMENTS) as browser:
        yield browser


@pytest.fixture(scope="module")
def sheet(browser, address):
    """The page of a file's tests: it loads the program quicker than a new one, and keeps nothing of a test."""
    page = browser.new_page(viewport=VIEWPORT, base_url=address)
    page.set_default_timeout(PATIENCE)
    yield page
    page.close()


@pytest.fixture
def page(sheet: Page, address):
    """A page as a browser opens it for the first time."""
    errors: list[str] = []
    foreign: list[str] = []

    def noted(error: Error):
        errors.append(str(error))

    def asked(request: Request):
        if not request.url.startswith((address, "data:", "blob:", "about:")):
            foreign.append(request.url)

    sheet.on("pageerror", noted)
    sheet.on("request", asked)
    yield sheet
    sheet.unroute_all(behavior="ignoreErrors")
    sheet.context.new_cdp_session(sheet).send(
        "Storage.clearDataForOrigin", {"origin": address, "storageTypes": "local_storage"}
    )
    sheet.goto("about:blank")  # what a test began is not waited for
    sheet.remove_listener("pageerror", noted)
    sheet.remove_listener("request", asked)
    sheet.context.clear_permissions()
    sheet.set_viewport_size(VIEWPORT)
    assert errors == []
    assert foreign == []


@pytest.fixture(scope="session")
def demo_address(address):
    """Where the demo lies: the projects itself is opened by tests of its own."""
    listed = httpx.get(f"{address}/api/projects", timeout=60).json()["projects"]
    return f"/p/{next(entry['id'] for entry in listed if entry['name'] == 'Quillmere Boatyard')}/network"


@pytest.fixture
def demo(page: Page, demo_address, projects):
    """The demo on the screen. What a test that fails half-way leaves behind would fail those after it."""
    project = UUID(demo_address.split("/")[2])
    before = projects.get(project)
    page.goto(demo_address)
    up_to_date(page)
    yield page
    for _ in range(5):
        after = projects.get(project)
        with suppress(Conflict):  # an edit of the page that is still on its way
            if after.document != before.document:
                projects.save(project, parse_project(before.document), after.number)
            return


def up_to_date(page: Page):
    expect(page.get_by_test_id("up-to-date")).to_have_text("Up to date")
