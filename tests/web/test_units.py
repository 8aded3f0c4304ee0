"""US customary units in what is exported, and that no result follows from them."""

import io

import httpx
import openpyxl
import pypdf
import pytest

from madidus.core.ensemble import make_plan
from madidus.core.model.project import parse_project
from madidus.report.schedules import Sheet, schedules
from madidus.report.units import Units
from tests.web.hands import of, settled
from tests.web.test_api import edit


@pytest.fixture
def client(address):
    with httpx.Client(base_url=address, timeout=60) as client:
        yield client


def project_in(demo_document, **units):
    return parse_project({**demo_document, **units})


def test_switching_units_changes_no_storm(demo_document):
    plans = [
        make_plan(project_in(demo_document, **units))
        for units in ({}, {"units": "us"}, {"units": "us", "flow_unit": "gal/min"})
    ]
    assert plans[0].digests == plans[1].digests == plans[2].digests


def test_headings_and_figures_turn_together(demo_document):
    units = Units(project_in(demo_document, units="us"))
    sheet = Sheet("x", ["Name", "Size mm", "Length m", "Peak flow L/s", "Area m²", "Flooded m³", "Gradient 1 in"],
                  [["P", "2 × Ø300", 30.48, 28.316846592, 0.09290304, 0.028316846592, 110.0]])  # fmt: skip
    turned = units.sheet(sheet)
    assert turned.header == [
        "Name",
        "Size in",
        "Length ft",
        "Peak flow ft³/s",
        "Area ft²",
        "Flooded ft³",
        "Gradient 1 in",
    ]
    assert turned.rows[0][:2] == ["P", "2 × Ø11.8"]
    assert turned.rows[0][2:] == pytest.approx([100.0, 1.0, 1.0, 1.0, 110.0])


@pytest.mark.parametrize(
    ("words", "turned"),
    [("v-notch 0.5 m", "v-notch 1.64 ft"), ("rectangular 1200 × 800", "rectangular 47.2 × 31.5"),
     ("3 pumps, off at 2.00 m", "3 pumps, off at 6.56 ft"), ("28.3 L/s at most", "1.00 ft³/s at most")],
)  # fmt: skip
def test_sizes_in_words_are_turned(demo_document, words, turned):
    assert Units(project_in(demo_document, units="us")).words(words) == turned


def test_metric_with_litres_stays_as_it_is(demo_document):
    units = Units(project_in(demo_document))
    sheet = Sheet("x", ["Size mm", "Length m", "Peak flow L/s"], [["Ø300", 30.5, 12.0]])
    assert units.sheet(sheet) == sheet
    assert Units(project_in(demo_document, flow_unit="m3/h")).figure(10.0, "L/s") == (pytest.approx(36.0), "m³/h")


def test_a_weir_coefficient_is_told_with_its_unit_and_an_orifice_s_has_none(demo_document):
    project = project_in(demo_document, units="us")
    sheet = next(Units(project).sheet(s) for s in schedules(project) if s.title == "Controls")
    told = {row[0]: row[-1] for row in sheet.rows}
    assert told["P1 overflow"] == "3.260 ft½/s"  # 1.8 m½/s
    assert told["P1 orifice"] == 0.6


def test_report_and_workbook_are_in_the_units_of_the_project(client, demo_document):
    document = demo_document | {"name": "In feet", "units": "us"}
    document["rain"] = {**document["rain"], "ensemble": {**document["rain"]["ensemble"], "durations": [60]}}
    made = client.post("/api/projects/import", json=document).json()
    client.post(f"{of(made)}/run")
    settled(client, made)
    book = openpyxl.load_workbook(io.BytesIO(client.get(f"{of(made)}/workbook.xlsx").content))
    heads = [cell.value for cell in book["Manholes"][1]]
    assert heads[2:5] == ["Cover ft", "Invert ft", "Depth ft"]
    header, *rows = book["Verdicts"].iter_rows(values_only=True)
    column = header.index
    assert {row[column("Unit")] for row in rows} == {"ft", "ft³", "ft³/s"}
    assert all(row[column("Grid may err by")] in (None, "") or row[column("Grid may err by")] > 0.0 for row in rows)
    pages = pypdf.PdfReader(io.BytesIO(client.get(f"{of(made)}/report.pdf").content)).pages
    text = "".join(page.extract_text() for page in pages)
    assert "Length ft" in text
    assert " L/s" not in text
    answer = edit(client, made, [{"op": "add", "path": "/flow_unit", "value": "furlongs"}])
    assert answer.status_code == 422
    client.delete(f"/api/projects/{made['id']}")
