"""Peaks over durations and patterns, of one element and of all, against the figures of the answer itself."""

import copy
import csv
import io
import json
import uuid
from pathlib import Path

import numpy as np
import openpyxl
import pyarrow as pa
import pytest

from tests.web.hands import of, report_words, settled

FLAT = json.loads((Path(__file__).parents[2] / "demo" / "ferry_flat.madidus.json").read_text(encoding="utf-8"))
ROW = "1 % AEP"


@pytest.fixture(scope="module")
def flat(client):
    document = copy.deepcopy(FLAT)
    document["name"] = f"Flat {uuid.uuid4().hex[:6]}"
    made = client.post("/api/projects/import", json=document).json()
    yield made, settled(client, made)
    client.delete(f"/api/projects/{made['id']}")


def element(project, collection, name):
    network = next(iter(project["document"]["options"].values()))["network"]
    return next(id_ for id_, e in network[collection].items() if e["name"] == name)


def test_a_nodes_peaks_are_boxed_by_duration(client, flat):
    project, answer = flat
    id_ = element(project, "nodes", "S4")
    found = client.get(f"{of(project)}/elements/{id_}/spread", params={"row": ROW}).json()
    assert found["measure"] == "level"
    assert [d["duration"] for d in found["durations"]] == [5, 15, 30, 60, 120, 360]
    for d in found["durations"]:
        peaks = np.array(list(d["peaks"].values()))
        assert len(peaks) == 10
        assert d["mean"] == pytest.approx(peaks.mean())
        assert d["quartiles"] == pytest.approx(np.quantile(peaks, [0.25, 0.75]))
    every = [peak for d in found["durations"] for peak in d["peaks"].values()]
    assert max(every) <= answer["nodes"][id_]["level"] + 1e-12
    critical = found["critical"]
    means = {d["duration"]: d["mean"] for d in found["durations"]}
    assert means[critical["duration"]] == max(means.values())
    assert critical["peak"] > critical["value"]


def test_the_statistic_and_the_measure_are_chosen(client, flat):
    project, answer = flat
    id_ = element(project, "nodes", "River")
    ask = lambda **query: client.get(  # noqa: E731
        f"{of(project)}/elements/{id_}/spread", params={"row": ROW, **query}
    )
    highest = ask(by="highest").json()
    assert highest["measure"] == "outflow"
    assert highest["critical"]["value"] == pytest.approx(answer["nodes"][id_]["outflow"])
    assert ask(by="median").json()["critical"]["value"] < highest["critical"]["value"]
    assert ask(row="7 % AEP").json() == {"measure": "outflow", "durations": [], "critical": None}
    assert ask(measure="speed").status_code == 404
    assert ask(by="mode").status_code == 422


def test_every_element_has_its_own_critical_duration(client, flat):
    project, _ = flat
    found = client.get(f"{of(project)}/critical", params={"row": ROW}).json()
    network = next(iter(project["document"]["options"].values()))["network"]
    assert set(found) == set(network["nodes"]) | set(network["links"])
    id_ = element(project, "links", "S3–S4")
    one = client.get(f"{of(project)}/elements/{id_}/spread", params={"row": ROW}).json()
    assert found[id_] == one["critical"]
    assert found[id_]["at_end"] in ("shortest", None)


def test_the_cause_of_a_surcharge_is_told_with_its_chain(client, flat):
    project, answer = flat
    links = next(iter(project["document"]["options"].values()))["network"]["links"]
    ask = lambda id_, storm: client.get(  # noqa: E731
        f"{of(project)}/elements/{id_}/cause", params={"storm": storm}
    )
    storm = next(s["key"] for s in answer["storms"] if s["row"] == ROW and s["duration"] == 15)
    found = {link["name"]: ask(id_, storm).json() for id_, link in links.items()}
    assert None in found.values()
    told = {name: cause for name, cause in found.items() if cause is not None}
    assert any(cause["kind"] == "capacity" for cause in told.values())
    assert all(links[cause["chain"][0]]["name"] == name for name, cause in told.items())
    anything = next(iter(links))
    assert ask(anything, "none").status_code == 422
    assert ask(uuid.uuid4(), storm).status_code == 404


def test_the_workbook_tells_critical_durations_and_peaks_go_out_as_one_table(client, flat):
    project, answer = flat
    book = openpyxl.load_workbook(io.BytesIO(client.get(f"{of(project)}/files/workbook.xlsx").content))
    rows = list(book[f"Critical {ROW}"].iter_rows(values_only=True))
    assert rows[0][:3] == ("Element", "Critical min", "Highest mean level m")
    found = client.get(f"{of(project)}/critical", params={"row": ROW}).json()
    river = next(row for row in rows if row[0] == "outfall River")
    assert river[1] == found[element(project, "nodes", "River")]["duration"]
    assert river[3] == pytest.approx(1000 * found[element(project, "nodes", "River")]["value"])
    peaks = list(csv.DictReader(io.StringIO(client.get(f"{of(project)}/files/peaks.csv").text)))
    assert len(peaks) == len(answer["storms"]) * len(found)
    level = max(float(row["level"]) for row in peaks if row["name"] == "S4" and row["level"])
    assert level == pytest.approx(answer["nodes"][element(project, "nodes", "S4")]["level"])


def test_a_measure_in_every_storm_of_one_element_and_of_the_worst(client, flat):
    project, answer = flat
    id_ = element(project, "nodes", "S4")
    url = f"{of(project)}/peaks"
    own = client.get(url, params={"measure": "level", "element": id_}).json()
    assert set(own) == {s["key"] for s in answer["storms"]}
    assert max(peak["value"] for peak in own.values()) == pytest.approx(answer["nodes"][id_]["level"])
    assert own[answer["nodes"][id_]["level_storm"]]["value"] == max(peak["value"] for peak in own.values())
    flows = client.get(url, params={"measure": "flow"}).json()
    key, worst = max(flows.items(), key=lambda item: item[1]["value"])
    most = max(answer["links"].items(), key=lambda item: item[1]["flow"])
    assert worst["element"] == most[0]
    assert key == most[1]["flow_storm"]
    assert 0 < worst["time"] < next(s["end_time"] for s in answer["storms"] if s["key"] == key)
    # a node has no flow
    assert client.get(url, params={"measure": "flow", "element": id_}).status_code == 404


def test_the_highest_water_along_conduits_is_that_of_each_rarity_and_of_all(client, flat):
    project, answer = flat
    links = next(iter(project["document"]["options"].values()))["network"]["links"]
    id_ = next(one for one, link in links.items() if link["kind"] == "pipe")
    found = client.get(f"{of(project)}/highest", params={"link": [id_, str(uuid.uuid4())]}).json()
    assert set(found["rows"]) == {s["row"] for s in answer["storms"]}
    assert list(found["chainage"]) == [id_]
    assert found["chainage"][id_][0] == 0.0
    assert found["chainage"][id_][-1] == pytest.approx(links[id_]["length"])
    every = np.array([levels[id_] for levels in found["rows"].values()])
    assert found["highest"][id_] == pytest.approx(every.max(axis=0))
    up = answer["nodes"][links[id_]["upstream"]]["level"]
    assert found["highest"][id_][0] == pytest.approx(max(up, links[id_]["upstream_invert"]))


def test_water_and_energy_along_a_conduit_come_with_the_storm(client, flat):
    project, answer = flat
    links = next(iter(project["document"]["options"].values()))["network"]["links"]
    id_ = next(one for one, link in links.items() if link["kind"] == "pipe")
    key = answer["storms"][0]["key"]
    sent = client.get(f"{of(project)}/storms/{key}/profile", params={"link": [id_]})
    table = pa.ipc.open_stream(sent.content).read_all()
    rows = {row["name"]: np.array(row["values"]) for row in table.to_pylist()}
    chainage = json.loads(table.schema.metadata[b"chainage"])[id_]
    count = len(chainage)
    assert list(rows) == [
        "time",
        *(f"water:{id_}:{k}" for k in range(count)),
        *(f"energy:{id_}:{k}" for k in range(count)),
    ]
    whole = pa.ipc.open_stream(client.get(f"{of(project)}/storms/{key}").content).read_all()
    series = {row["name"]: np.array(row["values"]) for row in whole.to_pylist()}
    assert rows["time"] == pytest.approx(series["time"])
    bed = np.interp(chainage, [0.0, chainage[-1]], [links[id_]["upstream_invert"], links[id_]["downstream_invert"]])
    assert rows[f"water:{id_}:1"] == pytest.approx(np.maximum(series[f"head:{id_}"], bed[1]), abs=1e-4)
    for k in range(count):
        assert (rows[f"water:{id_}:{k}"] >= bed[k] - 1e-4).all()
        assert (rows[f"energy:{id_}:{k}"] >= rows[f"water:{id_}:{k}"]).all()
    assert client.get(f"{of(project)}/storms/none/profile", params={"link": [id_]}).status_code == 422


def test_traces_of_one_element_in_all_storms(client, flat):
    project, answer = flat
    id_ = element(project, "nodes", "S4")
    keys = [s["key"] for s in answer["storms"]]
    url = f"{of(project)}/traces"
    asked = {"element": id_, "quantity": ["level", "speed"], "storm": keys}
    table = pa.ipc.open_stream(client.get(url, params=asked).content).read_all().to_pylist()
    assert [row["storm"] for row in table] == keys  # a node has no speed: there are no rows for it
    peaks = client.get(f"{of(project)}/peaks", params={"measure": "level", "element": id_}).json()
    for row in table:
        assert max(row["values"]) == pytest.approx(peaks[row["storm"]]["value"], abs=0.03)
        end = next(s["end_time"] for s in answer["storms"] if s["key"] == row["storm"])
        assert len(row["times"]) == len(row["values"])
        assert row["times"][-1] == pytest.approx(end, abs=1.0)
        assert 0.001 < row["tolerance"] < 0.01
    refused = client.get(url, params={**asked, "storm": ["none"]})
    assert refused.status_code == 422
    assert "matrix" in refused.json()["detail"]


def test_a_kept_selection_is_what_the_files_tell_of(client, flat):
    project, _ = flat
    base = f"/api/projects/{project['id']}"
    ids = [element(project, "nodes", "S4"), element(project, "links", "S1–S2")]
    value = {"name": "Two of them", "elements": ids}
    now = client.get(base)
    patch = [{"op": "add", "path": "/selections/-", "value": value}]
    edited = client.patch(base, json=patch, headers={"If-Match": now.headers["ETag"]}).json()
    # what is only looked at makes nothing stale
    assert edited["fingerprint"] == now.json()["fingerprint"]
    asked = {"selection": "Two of them"}
    rows = list(csv.DictReader(io.StringIO(client.get(f"{of(project)}/files/peaks.csv", params=asked).text)))
    assert {row["name"] for row in rows} == {"S4", "S1–S2"}
    assert len(rows) == 2 * 180
    book = openpyxl.load_workbook(io.BytesIO(client.get(f"{of(project)}/files/workbook.xlsx", params=asked).content))
    nodes = next(sheet for sheet in book if sheet.title.startswith("Nodes 1 %"))
    assert [row[0].value for row in nodes.iter_rows(min_row=2)] == ["S4"]
    assert "Two of them" in report_words(client, project, **asked)
    assert client.get(f"{of(project)}/files/report.pdf", params={"selection": "none"}).status_code == 404
    client.post(f"{base}/undo", headers={"If-Match": client.get(base).headers["ETag"]})


def test_what_happened_when_in_a_storm(client, flat):
    project, answer = flat
    key = max(answer["storms"], key=lambda s: s["depth"] / s["duration"])["key"]  # the fiercest
    found = client.get(f"{of(project)}/storms/{key}/moments").json()
    end = next(s["end_time"] for s in answer["storms"] if s["key"] == key)
    for span in found["spans"]:
        assert 0 <= span["begin"] <= span["end"] <= end
        assert span["over"] or span["end"] == end
    flooded = {f["element"]: f for f in found["floods"]}
    assert element(project, "nodes", "N1") in flooded
    for flood in flooded.values():
        assert flood["volume"] == pytest.approx(flood["returned"] + flood["lost"], abs=0.5)
        assert 0 < flood["lasted"] < end
    assert set(found["half_drained"]) == {element(project, "nodes", "Basin")}  # the one store
    assert client.get(f"{of(project)}/storms/none/moments").status_code == 422


def test_series_of_storms_that_are_not_in_are_not_computed_by_the_dozen(client, demo_document):
    document = copy.deepcopy(demo_document)
    document["name"] = f"Waits {uuid.uuid4().hex[:6]}"
    for node in next(iter(document["options"].values()))["network"]["nodes"].values():
        node["name"] = f"{node['name']}."[:40]
    document["rain"]["ensemble"]["durations"] = [15, 30, 60]
    made = client.post("/api/projects/import", json=document).json()
    settled(client, made)
    id_ = element(made, "nodes", "P1.")
    asked = {"element": id_, "quantity": "level", "storm": "2-15-winter"}
    url = f"{of(made)}/traces"
    assert client.get(url, params=asked).status_code == 200
    many = {"element": [id_] * 100, "quantity": ["level", "depth"], "storm": ["2-15-winter"] * 30}
    refused = client.get(url, params=many)
    assert refused.status_code == 422
    assert "fewer" in refused.json()["detail"]
    # an element that is not there, or has no such figure, gives no rows
    for nothing in ({**asked, "element": str(uuid.uuid4())}, {**asked, "quantity": "speed"}):
        assert pa.ipc.open_stream(client.get(url, params=nothing).content).read_all().num_rows == 0
    client.delete(f"/api/projects/{made['id']}")


def test_storms_say_what_makes_them_doubtful_and_where_figures_come_from(client, flat):
    _, answer = flat
    assert answer["solver"]
    results = [s["result"] for s in answer["storms"]]
    assert len(set(results)) == len(results)
    assert [s["beyond"] for s in answer["storms"] if s["beyond"]] == []  # begun at rest, nothing sways


def test_nodes_and_links_tell_their_state_and_the_time_of_their_peak(client, flat):
    _, answer = flat
    ends = {s["key"]: s["end_time"] for s in answer["storms"]}
    states = {n["state"] for n in answer["nodes"].values()}
    assert states == {"flooded", "surcharged", "ok"}
    for node in answer["nodes"].values():
        assert (node["flooded"] > 0) == (node["state"] == "flooded")
        if node["outflow"] is None:
            assert 0 <= node["level_time"] <= ends[node["level_storm"]]
        else:
            assert node["level_time"] is None
            assert 0 < node["outflow_time"] < ends[node["outflow_storm"]]
    for link in answer["links"].values():
        assert 0 < link["flow_time"] < ends[link["flow_storm"]]
        assert (link["state"] == "surcharged") == (link["clearance"] is not None and link["clearance"] < 0)
