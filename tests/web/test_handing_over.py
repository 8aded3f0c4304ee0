"""What is not whole is never handed over as if it were: it is refused, or says so on every page and sheet."""

import copy
import io
import time
import uuid

import openpyxl
import pypdf
import pytest

from tests.web.hands import of, report_words, settled


@pytest.fixture
def made(client, demo_document):
    """Makes projects, and takes them away again."""
    ids = []

    def make(change):
        document = copy.deepcopy(demo_document)
        document["name"] = f"Whole {uuid.uuid4().hex[:6]}"
        change(document)
        project = client.post("/api/projects/import", json=document).json()
        ids.append(project["id"])
        return project

    yield make
    for id_ in ids:
        client.delete(f"/api/projects/{id_}")


def many(document):
    """So many storms that they wait to be asked for."""
    ensemble = document["rain"]["ensemble"]
    ensemble["durations"] = list(range(15, 15 + 12 * 60, 12))
    block = {key: ensemble[key] for key in ("durations", "probabilities", "seasons")}
    document["run"] = {"lag": 600.0 + time.time() % 100.0}  # nobody has computed these
    document["rain"]["further"] = [{"name": name, **block} for name in ("b", "c", "d")]


def only_30_years(document):
    ensemble = document["rain"]["ensemble"]
    ensemble["durations"] = [15, 60]
    ensemble["probabilities"] = [{"return_period": 30}]


def test_a_project_that_never_ran_is_refused_and_goes_out_marked_when_asked_for(client, made):
    project = made(many)
    assert client.get(f"{of(project)}/answer").json()["overall"]["missing"] == "0 of 1440 storms are in"
    for file in ("report.pdf", "workbook.xlsx", "peaks.csv"):
        refused = client.get(f"{of(project)}/files/{file}")
        assert refused.status_code == 409
        assert refused.json()["title"] == "0 of 1440 storms are in"
    pages = pypdf.PdfReader(io.BytesIO(client.get(f"{of(project)}/files/report.pdf?incomplete=true").content)).pages
    assert all("INCOMPLETE: 0 of 1440 storms are in" in page.extract_text() for page in pages)
    assert "rule is met" not in pages[0].extract_text()
    out = client.get(f"{of(project)}/files/workbook.xlsx?incomplete=true")
    assert "incomplete" in out.headers["content-disposition"]
    book = openpyxl.load_workbook(io.BytesIO(out.content))
    assert all(sheet["A1"].value == "INCOMPLETE: 0 of 1440 storms are in" for sheet in book.worksheets)
    assert client.get(f"{of(project)}/files/peaks.csv?incomplete=true").text.startswith("# INCOMPLETE: 0 of 1440")


def test_rules_without_storms_are_not_judged_anywhere(client, made):
    project = made(only_30_years)
    overall = settled(client, project)["overall"]
    assert (overall["state"], overall["missing"]) == ("not judged", "")
    assert overall["said"] == "5 of 6 rules are not judged"
    text = report_words(client, project)
    assert "5 of 6 rules are not judged" in text
    assert "no storm of 2 yr" in text
    rows = list(
        openpyxl.load_workbook(io.BytesIO(client.get(f"{of(project)}/files/workbook.xlsx").content))["Verdicts"].values
    )
    assert [row[rows[0].index("Verdict")] for row in rows[1:]].count("not judged") == 5


def test_the_report_prints_limits_and_only_what_the_project_does(client, made):
    def change(document):
        only_30_years(document)
        document["run"] = {"half_drain": False}

    project = made(change)
    settled(client, project)
    text = report_words(client, project)
    assert "given back half" not in text
    assert "at most 14 L/s" in text
    with_rule = made(only_30_years)
    settled(client, with_rule)
    assert "given back half" in report_words(client, with_rule)
