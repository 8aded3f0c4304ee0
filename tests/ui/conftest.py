"""A browser on the running server, with the demo open."""

import pytest
from playwright.sync_api import Page, expect, sync_playwright

ARGUMENTS = [
    "--no-sandbox", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update",
    "--disable-sync", "--disable-gpu",
]  # fmt: skip


@pytest.fixture(scope="module")
def browser():
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
        yield browser
        browser.close()


@pytest.fixture
def page(browser, address):
    page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=address)
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    foreign: list[str] = []
    page.on("request", lambda r: foreign.append(r.url) if not r.url.startswith((address, "data:", "blob:")) else None)
    page.set_default_timeout(30_000)
    yield page
    page.close()
    assert errors == []
    assert foreign == []


@pytest.fixture
def demo(page: Page):
    page.goto("/")
    page.get_by_test_id("card-Quillmere Boatyard").get_by_role("link", name="Quillmere Boatyard", exact=True).click()
    up_to_date(page)
    return page


def up_to_date(page: Page):
    expect(page.get_by_test_id("up-to-date")).to_have_text("Up to date", timeout=60_000)
