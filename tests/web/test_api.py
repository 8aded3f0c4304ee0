"""The API against the real database and the real solver."""

import copy
import io
import json
import uuid

import numpy as np
import openpyxl
import pyarrow as pa
import pypdf
import pytest

from tests.web.hands import of, settled


def link_path(project, name):
    option, body = next(iter(project["document"]["options"].items()))
    id_ = next(k for k, link in body["network"]["links"].items() if link["name"] == name)
    return id_, f"/options/{option}/network/links/{id_}"


def network_of(project):
    return project["document"]["options"][project["document"]["in_view"]]["network"]


def edit(client, project, patch):
    return client.patch(f"/api/projects/{project['id']}", json=patch, headers={"If-Match": f'"{project["revision"]}"'})


def test_a_changed_landxml_is_looked_at_then_taken_in_as_one_step(client, project):
    base = f"/api/projects/{project['id']}"
    out = client.get(f"{of(project)}/files/network.xml")
    assert out.headers["content-disposition"].endswith('.xml"')
    changed = out.content.replace(b'elevRim="5.45"', b'elevRim="5.52"')
    proposal = client.post(f"{of(project)}/import?format=landxml", content=changed).json()
    (entry,) = [e for e in proposal["entries"] if e["action"] != "same"]
    cover = {"field": "cover", "now": "5.45 m", "new": "5.52 m", "was": None, "take": "file", "assumed": False}
    assert (entry["name"], entry["fields"]) == ("A1", [cover])
    assert client.get(base).json()["revision"] == project["revision"]  # nothing has changed yet
    option = next(iter(project["document"]["options"]))
    patch = [{**op, "path": f"/options/{option}/network{op['path']}"} for op in entry["patch"]]
    taken = edit(client, project, patch).json()
    assert taken["document"]["options"][option]["network"]["nodes"][entry["element"]]["cover"] == 5.52
    undone = client.post(f"{base}/undo", headers={"If-Match": f'"{taken["revision"]}"'}).json()
    assert undone["fingerprint"] == project["fingerprint"]


def test_a_geojson_of_the_project_changes_nothing(client, project):
    content = client.get(f"{of(project)}/files/network.geojson").content
    proposal = client.post(f"{of(project)}/import?format=geojson", content=content).json()
    assert {entry["action"] for entry in proposal["entries"]} == {"same"}


def test_a_file_that_is_no_network_is_refused_in_words(client, project, monkeypatch):
    base = f"{of(project)}/import"
    refused = client.post(f"{base}?format=landxml", content=b"<!DOCTYPE x [<!ENTITY a 'b'>]><LandXML/>")
    assert refused.status_code == 422
    assert "remove the declaration" in refused.text
    assert client.post(f"{base}?format=dwg", content=b"").status_code == 422
    monkeypatch.setattr("madidus.web.files._LARGEST", 1000)
    assert "larger than" in client.post(f"{base}?format=geojson", content=b" " * 2000).text


def test_an_edit_is_answered_by_the_whole_ensemble(client, project):
    first = settled(client, project)
    assert first["state"] == "settled"
    assert len(first["storms"]) == 18
    assert first["balance_error"] < 1e-12
    _, path = link_path(project, "P1 orifice")
    changed = edit(client, project, [{"op": "replace", "path": f"{path}/section/diameter", "value": 0.12}])
    assert changed.status_code == 200
    second = settled(client, project)
    assert second["revision"] == 2
    outflow = next(i for i, v in enumerate(first["verdicts"]) if v["kind"] == "outflow")
    assert second["verdicts"][outflow]["value"] < first["verdicts"][outflow]["value"] - 0.001


def test_undo_reaches_back_and_finds_the_old_answer(client, project):
    first = settled(client, project)
    _, path = link_path(project, "A6–A7")
    changed = edit(client, project, [{"op": "replace", "path": f"{path}/roughness", "value": 0.02}]).json()
    settled(client, project)
    back = client.post(f"/api/projects/{project['id']}/undo", headers={"If-Match": f'"{changed["revision"]}"'}).json()
    assert back["revision"] == 1
    assert back["can_redo"]
    again = settled(client, project)
    assert client.get(f"{of(project)}/run/log").json() == []  # known storms are not run again
    beside = (
        "band",
        "close",
        "refined",
    )  # what the grid is worth may be known of one of them, and not yet of the other
    said = [[{k: v for k, v in rule.items() if k not in beside} for rule in a["verdicts"]] for a in (first, again)]
    assert said[0] == said[1]
    forth = client.post(f"/api/projects/{project['id']}/redo", headers={"If-Match": '"1"'}).json()
    assert forth["revision"] == 2
    assert client.post(f"/api/projects/{project['id']}/redo", headers={"If-Match": '"2"'}).status_code == 404


def test_a_renamed_pipe_makes_nothing_stale(client, project):
    settled(client, project)
    _, path = link_path(project, "A6–A7")
    edit(client, project, [{"op": "replace", "path": f"{path}/name", "value": "Main"}])
    assert settled(client, project)["state"] == "settled"
    assert client.get(f"{of(project)}/run/log").json() == []


def test_lost_updates_are_refused(client, project):
    _, path = link_path(project, "A6–A7")
    patch = [{"op": "replace", "path": f"{path}/length", "value": 27}]
    assert edit(client, project, patch).status_code == 200
    refused = edit(client, project, patch)
    assert refused.status_code == 412
    assert refused.headers["content-type"].startswith("application/problem+json")


@pytest.mark.parametrize(
    ("field", "value"), [("length", -1), ("length", "x"), ("downstream", "nowhere"), ("section/diameter", 0)]
)
def test_an_invalid_edit_is_refused_and_changes_nothing(client, project, field, value):
    _, path = link_path(project, "A6–A7")
    answer = edit(client, project, [{"op": "replace", "path": f"{path}/{field}", "value": value}])
    assert answer.status_code == 422
    assert field.split("/")[0] in answer.json()["field"]
    assert client.get(f"/api/projects/{project['id']}").json()["revision"] == 1


def test_findings_come_with_their_remedy_and_every_check_is_explained(client, project):
    id_, path = link_path(project, "A6–A7")
    edit(client, project, [{"op": "replace", "path": f"{path}/length", "value": 270}])
    findings = client.get(f"{of(project)}/checks").json()
    found = next(f for f in findings if f["check"] == "length-against-drawing" and f["element"] == id_)
    assert found["accepted"] is None
    assert found["fix"]["patch"][0]["path"] == f"/links/{id_}/length"
    explained = client.get("/api/checks").json()
    assert {f["check"] for f in findings} <= set(explained)
    assert explained["length-against-drawing"]["matters"]


def test_an_incomplete_model_is_legal_and_says_what_is_missing(client):
    made = client.post("/api/projects", json={"name": "Empty"}).json()
    answer = client.get(f"{of(made)}/answer").json()
    assert answer["state"] == "refused"
    assert answer["problem"]["remedy"]
    assert client.get(f"{of(made)}/checks").json()[0]["severity"] == "stops"
    assert client.get(f"{of(made)}/files/report.pdf").status_code == 422
    client.delete(f"/api/projects/{made['id']}")


def test_bad_files_are_refused(client, demo_document):
    assert (
        client.post("/api/projects/import", content=b"{", headers={"Content-Type": "application/json"}).status_code
        == 400
    )
    assert client.post("/api/projects/import", json={"format": "x"}).json()["field"] == "format"
    newer = {**demo_document, "version": 7}
    assert "7" in client.post("/api/projects/import", json=newer).json()["title"]
    assert client.get(f"/api/projects/{uuid.uuid4()}").status_code == 404


def test_pages_of_other_origins_change_nothing(client):
    refused = client.post("/api/projects", json={"name": "x"}, headers={"Origin": "http://elsewhere.example"})
    assert refused.status_code == 403


def test_a_file_comes_back_as_it_went(client, project):
    file = client.get(f"{of(project)}/files/madidus.json")
    assert file.json() == project["document"]
    copied = client.post(f"/api/projects/{project['id']}/duplicate").json()
    assert copied["document"]["name"].endswith("copy")
    assert copied["document"]["options"] == project["document"]["options"]
    client.delete(f"/api/projects/{copied['id']}")


def test_series_agree_with_the_kept_peaks(client, project):
    answer = settled(client, project)
    storm = answer["storms"][0]["key"]
    body = client.get(f"{of(project)}/storms/{storm}").content
    table = pa.ipc.open_stream(io.BytesIO(body)).read_all()
    series = dict(zip(table["name"].to_pylist(), table["values"].to_numpy(), strict=True))
    id_, _ = link_path(project, "A6–A7")
    row = answer["storms"][0]["row"]
    spread = client.get(f"{of(project)}/elements/{id_}/spread", params={"row": row}).json()
    peaks = {key: peak for duration in spread["durations"] for key, peak in duration["peaks"].items()}
    assert series[f"flow:{id_}"].max() == pytest.approx(peaks[storm], rel=0.05)
    # the rain that fell is the depth of the storm
    rain = json.loads(table.schema.metadata[b"rain"])
    fell = np.dot(np.diff(rain["times"]), rain["intensity"]) / 3600
    assert fell == pytest.approx(answer["storms"][0]["depth"], rel=1e-3)
    assert np.all(np.diff(series["time"]) > 0.0)
    assert 0.0 < float(table.schema.metadata[b"tolerance"]) < 0.01
    assert client.get(f"{of(project)}/storms/none").status_code == 422


def test_events_end_by_themselves(client, project):
    with client.stream("GET", f"{of(project)}/events") as stream:
        lines = [line for line in stream.iter_lines() if line.startswith("event:")]
    assert lines[-1] == "event: end"
    assert "event: answer" in lines


def test_report_and_workbook(client, project):
    answer = settled(client, project)
    pdf = pypdf.PdfReader(io.BytesIO(client.get(f"{of(project)}/files/report.pdf").content))
    text = "".join(page.extract_text() for page in pdf.pages)
    assert project["fingerprint"][:12] in text
    fails = sum(v["state"] == "fails" for v in answer["verdicts"])
    assert f"{fails} of 6 rules fail" in text
    assert "A6–A7" in text
    book = openpyxl.load_workbook(io.BytesIO(client.get(f"{of(project)}/files/workbook.xlsx").content), read_only=True)
    assert {"Verdicts", "Manholes", "Conduits", "Storms"} <= set(book.sheetnames)
    assert next(book["Conduits"].iter_rows(min_row=2, values_only=True))[0]
    heads, *rows = book["Rain and outfalls"].iter_rows(values_only=True)
    storms = {row[0]: row for row in book["Storms"].iter_rows(min_row=2, values_only=True)}
    assert len(rows) == len(answer["storms"])
    for row in rows:
        water = dict(zip(heads, row, strict=True))
        went = sum(water[k] for k in ("Drains nowhere m³", "Lost on ground m³", "Held on ground m³", "Ran off m³"))
        assert water["Fallen m³"] == pytest.approx(went)
        assert water["Ran off m³"] == pytest.approx(storms[water["Storm"]][2], rel=1e-3)  # no other water enters
        out = sum(value for head, value in water.items() if head.startswith("Out at "))
        assert out == pytest.approx(storms[water["Storm"]][3], rel=1e-3)


def test_hostile_names_stay_text(client, demo_document):
    document = copy.deepcopy(demo_document)
    document["name"] = '<script>alert(1)</script>"=1+1'
    document["rain"]["ensemble"]["durations"] = [15]
    node = next(iter(next(iter(document["options"].values()))["network"]["nodes"].values()))
    node["name"] = '=cmd|"/c"<img src="file:///etc/passwd">'
    made = client.post("/api/projects/import", json=document).json()
    settled(client, made)
    assert client.get(f"{of(made)}/files/report.pdf").status_code == 200
    book = client.get(f"{of(made)}/files/workbook.xlsx")
    assert book.status_code == 200
    assert "/" not in book.headers["content-disposition"].split("filename=")[1]
    client.delete(f"/api/projects/{made['id']}")


def test_nothing_leaves_the_machine(client):
    page = client.get("/").text
    assert "http://" not in page.replace("http://www.w3.org", "")
    assert "https://" not in page
    assert client.get("/api/docs").status_code == 200


def test_a_storm_reports_where_its_water_went_and_what_acted(client, project):
    answer = settled(client, project)
    report = client.get(f"{of(project)}/storms/{answer['storms'][0]['key']}/report").json()
    gone = report["left"] + report["lost"] + report["infiltrated"] + report["after"]
    assert gone == pytest.approx(report["before"] + report["entered"], rel=1e-9)
    assert report["steps"] > 0
    assert report["smallest_in"]
    flooded = [s["key"] for s in answer["storms"] if s["return_period"] == 100]
    events = [e for key in flooded for e in client.get(f"{of(project)}/storms/{key}/report").json()["events"]]
    assert any(e["kind"] == "flood" and e["begins"] for e in events)


def test_steady_flow_and_capacity(client, project):
    network = next(iter(project["document"]["options"].values()))["network"]
    head = next(id_ for id_, node in network["nodes"].items() if node["name"] == "E1")
    profile = client.post(f"{of(project)}/steady", json={"inflows": {head: 0.004}}).json()
    assert sum(profile["outflow"].values()) == pytest.approx(0.004, rel=0.01)
    assert profile["reaches"]
    found = client.post(f"{of(project)}/capacity", json={"inflows": {head: 0.01}, "keep": "below cover"}).json()
    assert set(found) == {"own", "free", "normal"}
    assert all(one["multiple"] > 0 for one in found.values())
    refused = client.post(f"{of(project)}/steady", json={"inflows": {head: -1}})
    assert refused.status_code == 422
    assert "negative" in refused.text


def test_a_control_gives_its_rating_curve(client, project):
    links = next(iter(project["document"]["options"].values()))["network"]["links"]
    control = next(id_ for id_, link in links.items() if link["kind"] == "orifice")
    duty = client.get(f"{of(project)}/controls/{control}/rating").json()
    assert duty["of"] == "head"
    assert duty["flow"] == sorted(duty["flow"])
    assert client.get(f"{of(project)}/controls/{project['id']}/rating").status_code == 422


def test_full_bore_capacities_come_from_the_server_with_silt(client, project):
    id_, path = link_path(project, "A6–A7")
    before = client.get(f"{of(project)}/full-bore").json()
    pipes = [k for k, link in network_of(project)["links"].items() if link["kind"] == "pipe"]
    assert before.keys() == set(pipes)
    silted = edit(client, project, [{"op": "replace", "path": f"{path}/silt", "value": 0.1}]).json()
    after = client.get(f"{of(silted)}/full-bore").json()
    assert after[id_] < 0.95 * before[id_]
    assert {k for k in pipes if after[k] != before[k]} == {id_}
    size = network_of(silted)["links"][id_]["section"]["diameter"]
    asked = {"diameter": [0.1, size]}
    assert client.get(f"{of(silted)}/links/{id_}/full-bore", params=asked).json() == [None, after[id_]]
    assert client.get(f"{of(silted)}/links/{uuid.uuid4()}/full-bore", params=asked).status_code == 404
    assert client.get(f"{of(silted)}/links/{id_}/full-bore", params={"diameter": [-1]}).status_code == 422
