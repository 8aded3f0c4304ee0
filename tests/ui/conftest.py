"""A browser on the running server, with the demo open."""

from contextlib import contextmanager, suppress
from uuid import UUID

import httpx
import pytest
from playwright.sync_api import Page, expect, sync_playwright

from madidus.core.model import parse_project
from madidus.store.project_store import Conflict

ARGUMENTS = [
    "--no-sandbox", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update",
    "--disable-sync", "--disable-gpu",
]  # fmt: skip

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


@pytest.fixture
def page(browser, address):
    page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=address)
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    foreign: list[str] = []
    page.on("request", lambda r: foreign.append(r.url) if not r.url.startswith((address, "data:", "blob:")) else None)
    page.set_default_timeout(PATIENCE)
    yield page
    page.close()
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
