"""US customary units in what is exported, and that no result follows from them."""

import copy
import io
import json
import pickle
import re
import uuid
from pathlib import Path

import openpyxl
import pytest

from madidus.core.ensemble import make_plan
from madidus.core.model.project import parse_project
from madidus.core.quantities import Quantity, Units, said
from madidus.report.blocks import Column, Table, in_units
from madidus.report.schedules import ids_in_flow_order, schedule
from tests.web.hands import of, report_words, settled
from tests.web.test_api import edit


def project_in(demo_document, **units):
    return parse_project({**demo_document, **units})


def test_switching_units_changes_no_storm(demo_document):
    plans = [
        make_plan(project_in(demo_document, **units))
        for units in ({}, {"units": "us"}, {"units": "us", "flow_unit": "gal/min"})
    ]
    assert plans[0].digests == plans[1].digests == plans[2].digests


def test_headings_and_figures_turn_together(demo_document):
    units = Units("us", None)
    columns = ["Name", Column("Size", "mm"), Column("Length", "m"), Column("Peak flow", "L/s"), Column("Area", "m²"),
               Column("Flooded", "m³"), Column("Gradient 1 in", figures=1)]  # fmt: skip
    sheet = Table("x", columns,
                  [["P", said("2 × Ø", Quantity(300.0, "mm", 0, bare=True)), 30.48, 28.316846592, 0.09290304, 0.028316846592, 110.0]])  # fmt: skip
    turned = in_units(sheet, units)
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
    ("parts", "metric", "us"),
    [
        (("v-notch ", Quantity(0.5, "m")), "v-notch 0.5 m", "v-notch 1.64 ft"),
        ((Quantity(1200.0, "mm", 0, bare=True), " × ", Quantity(800.0, "mm", 0, bare=True)), "1200 × 800", "47.2 × 31.5"),
        (("3 pumps, off at ", Quantity(2.0, "m", 2)), "3 pumps, off at 2.00 m", "3 pumps, off at 6.56 ft"),
        ((Quantity(28.3168, "L/s", 1), " at most"), "28.3 L/s at most", "1.000 ft³/s at most"),
        ((Quantity(6.096012192, "m"),), "6.096012 m", "20 ft"),
        ((Quantity(432100.123, "m"),), "432100.123 m", "1417651.322 ft"),
        ((Quantity(-0.00012, "L/s"),), "-0.00012 L/s", "-0.000000004238 ft³/s"),
        (("nothing of a unit",), "nothing of a unit", "nothing of a unit"),
    ],
)  # fmt: skip
def test_sentences_are_told_in_the_units_that_are_read(parts, metric, us):
    sentence = said(*parts)
    assert sentence == metric == Units("metric", None).words(sentence)
    assert Units("us", None).words(sentence).rstrip("0") == us.rstrip("0") or us.startswith("-0.0000")
    assert Units("us", None).words(said("and so: ", sentence)) == "and so: " + Units("us", None).words(sentence)
    assert pickle.loads(pickle.dumps(sentence)).parts == sentence.parts


def test_numbers_of_a_name_are_no_figures():
    assert Units("us", None).words("Main 300 × 200, 2 m wide") == "Main 300 × 200, 2 m wide"


def test_metric_with_litres_stays_as_it_is():
    units = Units("metric", None)
    sheet = Table(
        "x", [Column("Size", "mm"), Column("Length", "m"), Column("Peak flow", "L/s")], [["Ø300", 30.5, 12.0]]
    )
    assert in_units(sheet, units) == sheet
    assert [column.digits(1.0) for column in sheet.told] == [1, 3, 2]


def test_a_heading_that_looks_like_a_unit_is_none():
    """What a figure is follows from its column, not from the letters that its heading ends with."""
    sheet = Table("x", ["Station m", Column("Out at Main m", "L/s")], [[10.0, 28.316846592]])
    turned = in_units(sheet, Units("us", None))
    assert turned.header == ["Station m", "Out at Main m ft³/s"]
    assert turned.rows[0] == pytest.approx([10.0, 1.0])
    assert Units("metric", "m3/h").figure(10.0, "L/s") == (pytest.approx(36.0), "m³/h")


def test_a_weir_coefficient_is_told_with_its_unit_and_an_orifice_s_has_none(demo_document):
    project = project_in(demo_document, units="us")
    sheet = in_units(schedule(project, "controls", *ids_in_flow_order(project.option.network)), Units("us", None))
    told = {row[0]: row[sheet.header.index("Coefficient")] for row in sheet.rows}
    assert told["P1 overflow"] == "3.26 ft½/s"  # 1.8 m½/s
    assert told["P1 orifice"] == 0.6


def test_report_and_workbook_are_in_the_units_of_the_project(client, demo_document):
    document = demo_document | {"name": "In feet", "units": "us"}
    document["rain"] = {**document["rain"], "ensemble": {**document["rain"]["ensemble"], "durations": [60]}}
    made = client.post("/api/projects/import", json=document).json()
    client.post(f"{of(made)}/run")
    settled(client, made)
    book = openpyxl.load_workbook(io.BytesIO(client.get(f"{of(made)}/files/workbook.xlsx").content))
    heads = [cell.value for cell in book["Manholes"][1]]
    assert heads[4:7] == ["Cover ft", "Invert ft", "Depth ft"]
    header, *rows = book["Verdicts"].iter_rows(values_only=True)
    column = header.index
    assert {row[column("Unit")] for row in rows} == {"ft", "ft³", "ft³/s"}
    assert all(row[column("Grid may err by")] in (None, "") or row[column("Grid may err by")] > 0.0 for row in rows)
    text = report_words(client, made)
    assert "Length ft" in text
    assert " L/s" not in text
    answer = edit(client, made, [{"op": "add", "path": "/flow_unit", "value": "furlongs"}])
    assert answer.status_code == 422
    client.delete(f"/api/projects/{made['id']}")


def test_a_us_project_is_told_feet_by_errors_findings_and_previews(client, demo_document):
    document = json.loads(json.dumps(demo_document)) | {"name": "In feet", "units": "us"}
    document["rain"]["ensemble"]["durations"] = [60]
    made = client.post("/api/projects/import", json=document).json()
    path = f"/api/projects/{made['id']}"
    option = made["document"]["in_view"]
    nodes = made["document"]["options"][option]["network"]["nodes"]
    id_ = next(k for k, node in nodes.items() if node["name"] == "A1")
    low = [{"op": "replace", "path": f"/options/{option}/network/nodes/{id_}/cover", "value": 3.0}]
    low_made = edit(client, made, low).json()
    told = client.get(f"{of(low_made)}/answer").json()["problem"]["problem"]
    assert told == "9.843 ft is not above the invert 15.000 ft" or " ft is not above the invert " in told
    assert " m " not in told
    why = [
        f["why"]
        for f in client.get(f"{of(low_made)}/checks").json()
        if f["check"] == "cover-below-invert" or "cover" in f["why"]
    ]
    assert why
    assert all(" m " not in text for text in why)
    refused = client.get(f"{of(low_made)}/rain").json()
    assert " ft is not above the invert " in refused["title"]
    network = client.get(f"{of(made)}/files/network.geojson").content.replace(b'"cover": 5.27', b'"cover": 6.096012192')
    client.post(f"{path}/undo", headers={"If-Match": f'"{low_made["revision"]}"'})
    changes = [
        f
        for e in client.post(f"{of(made)}/import?format=geojson", content=network).json()["entries"]
        for f in e["fields"]
    ]
    assert ("cover", "17.29 ft", "20 ft") in [(f["field"], f["now"], f["new"]) for f in changes]
    client.delete(path)


EVERY_PART = [
    "cover", "verdicts", "method", "rainfall", "schedules", "storms", "results", "critical", "spread", "events", "quality",
    "accepted", "graphs", "plan", "section", "changes",
]  # fmt: skip
METRIC = re.compile(r"(?<![\w.])(?:mm|cm|m|m²|m³|L/s|m³/s|m/s|mm/h|m½/s|ha)(?![\w/½²³])")


def metric_in(text: str) -> list[str]:
    """Metric units in a text, with what stands around them."""
    return [text[max(m.start() - 40, 0) : m.end() + 20] for m in METRIC.finditer(text)]


def test_nothing_of_a_us_project_is_told_in_metric_units(client):
    """Every string of the report with all its parts, of the workbook and of the tables, but what a format says is SI."""
    library = json.loads(Path(__file__).parents[2].joinpath("demo/alder_hill_library.madidus.json").read_text("utf-8"))
    formula = {"kind": "formula", "rows": [{"return_period": p, "a": 900.0 * p**0.2, "b": 8.0, "c": 0.8}
                                           for p in (1, 2, 5, 10, 25, 50, 100)]}  # fmt: skip
    for rainfall in (library["rain"]["rainfall"], formula):
        document = copy.deepcopy(library) | {"name": f"In feet {uuid.uuid4().hex[:4]}"}
        document["rain"]["rainfall"] = rainfall
        document["brief"]["rules"].append({"kind": "pipe_size", "name": "Sizes", "limit": 0.305})
        document["layouts"] = [{"name": "All of it", "parts": [{"kind": kind} for kind in EVERY_PART]}]
        made = client.post("/api/projects/import", json=document).json()
        assert "id" in made, made
        client.post(f"{of(made)}/run")
        settled(client, made)
        assert metric_in(report_words(client, made)) == []
        book = openpyxl.load_workbook(io.BytesIO(client.get(f"{of(made)}/files/workbook.xlsx").content))
        cells = [str(cell) for sheet in book for row in sheet.iter_rows(values_only=True) for cell in row if cell]
        assert metric_in("\n".join([*cells, *book.sheetnames])) == []
        for name in ("statistics.csv",):
            assert metric_in(client.get(f"{of(made)}/files/{name}").text) == []
        found = client.get(f"{of(made)}/checks").json()
        assert metric_in("\n".join(f"{one['why']} {one['remedy']}" for one in found)) == []
        client.delete(f"/api/projects/{made['id']}")
