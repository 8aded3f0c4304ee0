"""Questions of rain over the API: tables, curves, records, further storms and what is left out."""

import copy
import io
import json
import uuid
from pathlib import Path

import openpyxl
import pytest

from tests.web.hands import of, report_words, settled

DEMO = json.loads((Path(__file__).parents[2] / "demo" / "quillmere_boatyard.madidus.json").read_text(encoding="utf-8"))


@pytest.fixture
def project(client):
    document = copy.deepcopy(DEMO)
    document["name"] = f"Rain {uuid.uuid4().hex[:6]}"
    document["rain"]["ensemble"]["durations"] = [15, 60]
    made = client.post("/api/projects/import", json=document).json()
    yield made
    client.delete(f"/api/projects/{made['id']}")


def edited(client, project, *changes):
    response = client.patch(
        f"/api/projects/{project['id']}", content=json.dumps(changes),
        headers={"if-match": f'"{project["revision"]}"', "content-type": "application/json-patch+json"},
    )  # fmt: skip
    assert response.status_code == 200, response.text
    return response.json()


def answer(client, project):
    return client.get(f"{of(project)}/answer").json()


def test_a_table_is_read_with_what_was_assumed(client):
    text = "mm/h\t15 min\t1 h\n50 %\t40\t17,5\n"
    read = client.post("/api/rain/table", params={"assume": "in"}, content=text.encode()).json()
    assert read["table"]["depths"] == [[10.0, 17.5]]
    assert read["assumed"] == []
    bare = client.post("/api/rain/table", params={"assume": "in", "measure": "depth"}, content=b"\t15\n2\t1\n").json()
    assert bare["table"]["depths"] == [[25.4]]
    assert "unit" in bare["assumed"]


def test_a_bad_cell_is_named(client):
    response = client.post("/api/rain/table", params={"assume": "mm"}, content=b"\t15\n2\tx\n")
    assert response.status_code == 422
    assert "row 2, column 2" in response.text


def test_curves_of_every_kind_of_rainfall_and_holes_where_nothing_is_known(client):
    formula = {"kind": "formula", "rows": [{"return_period": 10, "a": 1500, "b": 12, "c": 0.85}]}
    found = client.post("/api/rain/curves", json=formula).json()
    at = found["durations"].index(60)
    assert found["depths"][0][at] == pytest.approx(1500 / 72**0.85)
    ratio = {
        "kind": "ratio", "depth": 20, "ratio": 0.4, "return_periods": [2, 30],
        "growth": [{"depth": 15, "factors": [0.8, 1.5]}, {"depth": 30, "factors": [0.8, 1.5]}],
    }  # fmt: skip
    found = client.post("/api/rain/curves", json=ratio).json()
    assert found["return_periods"] == [2, 5, 30]
    assert found["depths"][0][0] is None
    assert found["depths"][2][at] == pytest.approx(30, rel=1e-3)


def test_a_record_is_parted_and_ranked(client):
    rows = ["time;depth mm"]
    for day, depths in (("01", (1, 1, 1, 1, 1, 1, 1)), ("02", (0.2, 5, 0.2)), ("03", (0.1,))):
        rows += [f"2022-07-{day}T10:{5 * k:02}:00;{str(d).replace('.', ',')}" for k, d in enumerate(depths)]
    content = "\n".join(rows).encode()
    by_depth = client.post("/api/rain/recorded", params={"least": 1}, content=content).json()
    assert by_depth["found"] == 2
    assert [round(e["depth"], 3) for e in by_depth["events"]] == [7.0, 5.4]
    by_peak = client.post("/api/rain/recorded", params={"least": 1, "by": "peak"}, content=content).json()
    assert by_peak["events"][0]["peak"] == pytest.approx(60)
    within = client.post("/api/rain/recorded", params={"least": 1, "by": "within", "span": 5}, content=content).json()
    assert [round(e["within"], 3) for e in within["events"]] == [5.0, 1.0]
    assert within["events"][0]["storm"]["depths"] == [0.2, 5, 0.2]


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"", "cannot be read"),
        (b"time,depth mm\n2022-07-01T10:00,1\n2022-07-01T09:00,1\n", "earlier than the row above"),
        (b"time;depth mm\n2022-07-01T10:00;1,2\n2022-07-01T10:05;much\n", "row 3"),
        (b"time,level\n1,2\n", "headings"),
    ],
)
def test_a_bad_record_is_refused_in_words(client, content, said):
    response = client.post("/api/rain/recorded", content=content)
    assert response.status_code == 422
    assert said in response.text


def test_further_and_given_storms_are_run_and_judged(client, project):
    more = {"name": "hill", "durations": [30], "probabilities": [{"return_period": 30}],
            "seasons": [{"name": "winter", "shape": {"kind": "block"}}]}  # fmt: skip
    cloudburst = {"name": "cloudburst", "interval": 5, "depths": [5, 30, 25], "return_period": 30}
    project = edited(
        client, project, {"op": "add", "path": "/rain/further/-", "value": more},
        {"op": "add", "path": "/rain/given/-", "value": cloudburst},
        {"op": "add", "path": "/rain/excluded/-", "value": "2-15-summer"},
    )  # fmt: skip
    found = answer(client, project)
    keys = [storm["key"] for storm in found["storms"]]
    assert len(keys) == 2 * 2 * 3 - 1 + 2
    assert {"30-30-winter@hill", "given-cloudburst"} < set(keys)
    assert "2-15-summer" not in keys
    assert found["estimate"] > 0
    rule = next(v for v in found["verdicts"] if v["name"].startswith("No flooding"))
    assert rule["due"] == 2 * 2 + 2
    drawn = client.get(f"{of(project)}/rain").json()
    assert set(drawn) == set(keys)
    assert drawn["given-cloudburst"] == [60, 360, 300]


def test_allowance_and_area_are_told_apart(client, project):
    project = edited(
        client,
        project,
        {"op": "add", "path": "/rain/areal", "value": {"kind": "formula", "form": "power", "area": 5e6}},
    )
    storm = next(s for s in answer(client, project)["storms"] if s["key"] == "100+40-60-winter")
    assert storm["areal"] < 1
    assert storm["depth"] == pytest.approx(storm["point"] * storm["areal"] * 1.4)


def test_the_ways_to_a_permitted_rate_lie_side_by_side(client, project):
    rule = next(i for i, c in enumerate(project["document"]["brief"]["rules"]) if c["kind"] == "outflow")
    found = client.get(f"{of(project)}/permits/{rule}").json()
    assert found["periods"] == [2, 30, 100]
    assert found["ways"]["typed"]["rates"] == [0.014] * 3
    assert found["ways"]["hectare"]["rate"] == pytest.approx(found["area"] / 1e4 * 0.005)
    assert found["ways"]["formula"]["rates"] == sorted(found["ways"]["formula"]["rates"])
    assert found["ways"]["model"]["rates"][0] is None  # a meadow swallows an hour of two years
    assert found["ways"]["model"]["rates"][2] > 0
    drawn = client.get(f"{of(project)}/permits/{rule}/before/100+40-60-winter").json()
    assert 0.0 < max(drawn["flow"]) <= found["ways"]["model"]["rates"][2] * 1.002  # its rain is cut otherwise
    assert len(drawn["times"]) == len(drawn["flow"])
    before = answer(client, project)["verdicts"][rule]
    project = edited(
        client, project, {"op": "add", "path": f"/brief/rules/{rule}/by", "value": "formula"},
        {"op": "add", "path": f"/brief/rules/{rule}/formula/growth", "value": [{"return_period": 2, "factor": 0.9},
                                                                             {"return_period": 50, "factor": 2.5}]},
    )  # fmt: skip
    refused = answer(client, project)  # the rest runs all the same
    assert refused["problem"] is None
    assert "100 years lies outside" in refused["verdicts"][rule]["reason"]
    assert refused["verdicts"][rule]["state"] == "not judged"
    assert "100 years lies outside" in client.get(f"{of(project)}/permits/{rule}").json()["ways"]["formula"]["problem"]
    project = edited(client, project, {"op": "replace", "path": f"/brief/rules/{rule}/by", "value": "hectare"})
    after = answer(client, project)["verdicts"][rule]
    assert after["scale"] == pytest.approx(found["ways"]["hectare"]["rate"])
    assert after["scale"] != before["scale"]
    assert client.get(f"{of(project)}/permits/0/before/30-15-winter").status_code == 404
    assert client.get(f"{of(project)}/permits/99/before/30-15-winter").status_code == 404
    assert client.get(f"{of(project)}/permits/0").status_code == 404
    assert client.get(f"{of(project)}/permits/99").status_code == 404


def test_the_report_tells_where_rain_and_limits_come_from(client, project):
    rule = next(i for i, c in enumerate(project["document"]["brief"]["rules"]) if c["kind"] == "outflow")
    project = edited(
        client, project, {"op": "add", "path": f"/brief/rules/{rule}/by", "value": "hectare"},
        {"op": "add", "path": "/rain/areal", "value": {"kind": "formula", "form": "power", "area": 5e6}},
        {"op": "add", "path": "/rain/given/-", "value": {"name": "cloudburst", "interval": 5, "depths": [5, 30]}},
        {"op": "add", "path": "/rain/excluded/-", "value": "2-15-summer"},
    )  # fmt: skip
    text = report_words(client, project, incomplete="true")
    for words in ("reduced over the area", "run as they fell: cloudburst", "left out: 2-15-summer", "a rate by area"):
        assert words in text


def test_times_of_concentration_and_flows_by_the_rational_method(client, project):
    option, body = next(iter(project["document"]["options"].items()))
    id_ = next(iter(body["network"]["catchments"]))
    typed = client.get(f"{of(project)}/catchments/{id_}/time").json()
    assert (typed["used"], typed["stretches"]) == (300, {})
    timing = {"kind": "path", "sheet": {"length": 40}, "channel": {"length": 100}}
    project = edited(
        client, project, {"op": "add", "path": f"/options/{option}/network/catchments/{id_}/timing", "value": timing}
    )
    computed = client.get(f"{of(project)}/catchments/{id_}/time").json()
    assert computed["used"] == pytest.approx(60 * sum(computed["stretches"].values()), abs=3)
    flows = client.get(f"{of(project)}/rational", params={"return_period": 30}).json()
    assert len(flows) == sum(
        link["kind"] in ("pipe", "channel", "trench") for link in body["network"]["links"].values()
    )
    assert all(flow["flow"] >= 0 for flow in flows)
    refused = client.get(f"{of(project)}/rational", params={"return_period": 5000})
    assert refused.status_code == 422
    assert "5000 years lies outside" in refused.text
    assert client.get(f"{of(project)}/catchments/{uuid.uuid4()}/time").status_code == 404


def test_a_workbook_keeps_sheets_apart_whose_names_begin_alike(client, project):
    long = "a rather long name of a hill side"
    blocks = [
        {"name": f"{long} {k}", "durations": [30], "probabilities": [{"return_period": 30}],
         "seasons": [{"name": "winter", "shape": {"kind": "block"}}]}
        for k in (1, 2)
    ]  # fmt: skip
    project = edited(client, project, {"op": "add", "path": "/rain/further", "value": blocks})
    settled(client, project)
    book = openpyxl.load_workbook(io.BytesIO(client.get(f"{of(project)}/files/workbook.xlsx").content))
    assert len(set(book.sheetnames)) == len(book.sheetnames)
    assert sum(name.startswith("Nodes 30 yr (a rather") for name in book.sheetnames) == 2
