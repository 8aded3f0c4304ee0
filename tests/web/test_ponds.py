"""Ponds and trials by hand over the API."""

import pytest

from tests.exchange import grounds
from tests.web.hands import of, settled
from tests.web.test_api import edit
from tests.web.test_layers import taken
from tests.web.test_searches import ids_of


def with_pond(client, project, **fields):
    """The project with P1 as a pond by its outline."""
    id_ = ids_of(project)["P1"]
    option = project["document"]["in_view"]
    at = f"/options/{option}/network/nodes/{id_}"
    node = project["document"]["options"][option]["network"]["nodes"][id_]
    x, y = node["x"], node["y"]
    base = [[x - 10, y - 10], [x + 10, y - 10], [x + 10, y + 10], [x - 10, y + 10]]
    kept = {key: value for key, value in node.items() if key not in ("kind", "form", "table")}
    pond = {**kept, "kind": "basin", "base": base, "side_slope": 3.0, **fields}
    return id_, edit(client, project, [{"op": "replace", "path": at, "value": pond}])


def test_edges_of_a_pond_and_what_the_terrain_says_of_it(client, project):
    id_, edited = with_pond(client, project)
    assert edited.status_code == 200
    project = edited.json()
    pond = client.get(f"{of(project)}/ponds").json()[id_]
    rim = pond["edges"]["rim"]
    assert max(x for x, _ in rim) - min(x for x, _ in rim) == pytest.approx(20.0 + 6.0 * 1.75)
    assert pond["lowest"] is pond["works"] is None  # no terrain, and covers say nothing of a rim
    layer = taken(client, project, ("hill.tif", grounds.geotiff())).json()
    project = edit(client, project, [{"op": "add", "path": "/terrain", "value": layer}]).json()
    pond = client.get(f"{of(project)}/ponds").json()[id_]
    assert pond["lowest"]["level"] == pytest.approx(min(grounds.levels(x, y) for x, y in rim), abs=0.2)
    assert pond["works"]["known"] == 1.0
    assert pond["works"]["cut"] > 0.0
    node = project["document"]["options"][project["document"]["in_view"]]["network"]["nodes"][id_]
    assert node["rim_ground"] == pytest.approx(pond["lowest"]["level"], abs=5e-4)  # it came with the terrain
    checks = {one["check"] for one in client.get(f"{of(project)}/checks").json() if one["element"] == id_}
    assert ("rim-low" in checks) == (node["rim_ground"] < node["cover"] - 0.05)
    edits = [{"edit": "move", "elements": [id_], "east": 12.0, "north": 0.0}]
    sent = client.post(f"{of(project)}/edits", json=edits, headers={"If-Match": str(project["revision"])}).json()
    moved = sent["document"]["options"][project["document"]["in_view"]]["network"]["nodes"][id_]
    again = client.get(f"{of(sent)}/ponds").json()[id_]["lowest"]["level"]
    assert moved["rim_ground"] == pytest.approx(again, abs=5e-4) != node["rim_ground"]


def test_a_pond_that_cannot_be_is_refused_with_where(client, project):
    _, refused = with_pond(client, project, side_slopes=[{"side": 9, "slope": 2.0}])
    assert refused.status_code == 422
    assert "there is no side 9" in refused.text


def test_a_trial_tells_margins_by_the_storms_that_govern_and_keeps_nothing(client, project):
    answer = settled(client, project)
    orifice = ids_of(project)["P1 orifice"]
    change = [{"edit": "set", "element": orifice, "field": "section/diameter", "value": 0.07}]
    found = client.post(f"{of(project)}/trial", json=change).json()
    governing = {v["storm"] for v in answer["verdicts"]}
    assert set(found["storms"]) <= governing
    place = next(k for k, v in enumerate(found["verdicts"]) if v["kind"] == "outflow")
    assert found["verdicts"][place]["value"] > answer["verdicts"][place]["value"]
    assert found["verdicts"][place]["state"] == "not judged"  # other storms may come to govern
    assert client.get(f"/api/projects/{project['id']}").json()["revision"] == project["revision"]
    same = client.post(f"{of(project)}/trial", json=[{**change[0], "value": 0.08}]).json()
    assert [v["value"] for v in same["verdicts"]] == [v["value"] for v in answer["verdicts"]]


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"edit": "set", "element": "P1 orifice", "field": "section/diameter", "value": -1}, "diameter"),
        ({"edit": "draw node", "drawn": "manhole", "x": 0, "y": 0}, "nodes or catchments of their own"),
    ],
)
def test_a_trial_that_cannot_be_says_why(client, project, change, said):
    settled(client, project)
    given = {**change, "element": ids_of(project)[change["element"]]} if "element" in change else change
    refused = client.post(f"{of(project)}/trial", json=[given])
    assert refused.status_code == 422
    assert said in refused.text
