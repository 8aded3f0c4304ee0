"""The overview of boundaries: spans of what is given and of the storms that are in."""

import copy

from tests.web.hands import of, settled


def test_boundaries_stand_beside_the_storms(client, project):
    before = client.get(f"{of(project)}/boundaries").json()
    settled(client, project)
    found = client.get(f"{of(project)}/boundaries").json()
    assert (before["rain"], before["boundaries"]) == (found["rain"], found["boundaries"])
    assert found["missing"] == ""
    shortest, longest = found["rain"]
    assert 0 < shortest < longest < found["run"]
    assert {one["what"] for one in found["boundaries"]} >= {"tail water"}


def test_without_storms_the_boundaries_are_listed_all_the_same(client, project):
    document = copy.deepcopy(project["document"])
    document["rain"]["ensemble"]["durations"] = []
    made = client.post("/api/projects/import", json=document | {"name": "no storms"}).json()
    found = client.get(f"{of(made)}/boundaries").json()
    assert (found["rain"], found["run"]) == (None, None)
    assert found["missing"] == "the option cannot be computed"
    assert found["boundaries"]
    client.delete(f"/api/projects/{made['id']}")
