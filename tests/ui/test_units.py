"""A project in feet shows no metric unit on any screen."""

import json
import re

import pytest
from playwright.sync_api import Page

from tests.conftest import ROOT
from tests.ui.conftest import up_to_date

STAGES = ("brief", "network", "rain", "storms", "verdict", "options", "deliver")
TABLES = ("shafts", "pipes", "open", "areas", "stores", "controls", "outfalls")
# every text that is seen or read aloud; what a select offers besides is a choice between units
TEXTS = """() => {
    const found = [];
    const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
    for (let node = walk.nextNode(); node; node = walk.nextNode()) {
        const holder = node.parentElement;
        if (!holder || holder.closest("select, style, script")) continue;
        const whole = holder.closest("p, td, th, li, label, button, text, span, b, h2, div");
        if (node.data.trim()) found.push([node.data, (whole?.textContent ?? "").slice(0, 160)]);
    }
    for (const one of document.querySelectorAll("[aria-label], [title], [placeholder]"))
        for (const name of ["aria-label", "title", "placeholder"]) {
            const text = one.getAttribute(name);
            if (text) found.push([text, `${name}: ${text}`]);
        }
    return found;
}"""
METRIC = re.compile(r"(?<![\w.,/-])(mm|cm|m|km|ha|m²|m2|m³|m3|mm/h|m/s|L/s|m³/s|m³/h|ML/d|m½/s)(?![\w²³½/-])")
SI_FILE = "one row for each storm and element, in m, m³/s and s: for statistics elsewhere"


@pytest.fixture
def us(page: Page, projects):
    document = json.loads((ROOT / "demo" / "alder_hill_library.madidus.json").read_text(encoding="utf-8"))
    project = page.request.post("/api/projects/import", data=document).json()
    page.goto(f"/p/{project['id']}/network")
    up_to_date(page)
    yield page, project
    page.goto("about:blank")
    projects.remove(project["id"])


def metric(page: Page, where: str) -> list[str]:
    return [
        f"{where}: “{text.strip()}” in “{whole}”"
        for text, whole in page.evaluate(TEXTS)
        if METRIC.search(text) and text != SI_FILE
    ]


def test_no_screen_of_a_project_in_feet_has_a_metric_unit(us):
    page, project = us
    found: list[str] = []
    for stage in STAGES:
        page.goto(f"/p/{project['id']}/{stage}")
        up_to_date(page)
        page.wait_for_load_state("networkidle")
        found += metric(page, stage)
    network = project["document"]["options"][project["document"]["in_view"]]["network"]
    seen = set()
    for group in ("nodes", "links", "catchments"):
        for id_, element in network[group].items():
            kind = element.get("form") or element.get("kind", "catchment")
            if kind in seen:
                continue
            seen.add(kind)
            page.goto(f"/p/{project['id']}/network?element={id_}")
            up_to_date(page)
            page.get_by_test_id("inspector-title").wait_for()
            page.evaluate("document.querySelectorAll('details').forEach((one) => { one.open = true; })")
            found += metric(page, f"inspector of {kind}")
    page.get_by_test_id("show-tables").click()
    for table in TABLES:
        page.get_by_test_id(f"table-{table}").click()
        found += metric(page, f"table {table}")
    page.get_by_test_id("all-findings").click()
    found += metric(page, "findings")
    assert found == []
