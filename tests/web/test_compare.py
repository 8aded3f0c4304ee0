"""Options side by side over the API: each by its own network and results, and what is missing said."""

import copy
import uuid

from tests.web.hands import settled


def test_options_are_compared_each_by_its_own_results(client, project):
    document = copy.deepcopy(project["document"])
    first = document["in_view"]
    second = str(uuid.uuid4())
    document["options"][second] = copy.deepcopy(document["options"][first]) | {"name": "Wider"}
    links = document["options"][second]["network"]["links"]
    pipe = next(link for link in links.values() if link["name"] == "B1–B2")
    pipe["section"]["diameter"] = 0.6
    document["order"] = [first, second]
    document["name"] = "compared"
    made = client.post("/api/projects/import", json=document).json()
    settled(client, made)
    here, other = client.get(f"/api/projects/{made['id']}/compare").json()
    assert (here["option"], here["in_view"], here["missing"], here["differences"]) == (first, True, "", [])
    # nobody has run the other one: its rules are not judged, and nothing of it counts as good
    assert other["missing"] == "0 of 18 storms are in"
    assert {verdict["state"] for verdict in other["verdicts"]} == {"not judged"}
    assert other["state"] == "not judged"
    assert [(one["name"], one["what"], one["fields"]) for one in other["differences"]] == [
        ("B1–B2", "changed", ["section"])
    ]
    assert other["bill"]["excavation"] > here["bill"]["excavation"]
    at = f"/api/projects/{made['id']}/options/{second}"
    client.post(f"{at}/run")
    for _ in range(1800):
        answer = client.get(f"{at}/answer").json()
        if answer["state"] == "settled":
            break
    here, other = client.get(f"/api/projects/{made['id']}/compare").json()
    assert other["missing"] == ""
    for told, direct in zip(other["verdicts"], answer["verdicts"], strict=True):
        assert (told["value"], told["storm"]) == (direct["value"], direct["storm"])
    assert [v["value"] for v in other["verdicts"]] != [v["value"] for v in here["verdicts"]]
    governing = {v["storm"] for v in other["verdicts"] if v["storm"]}
    assert governing <= set(other["storms"])
    client.delete(f"/api/projects/{made['id']}")


def test_an_option_that_cannot_run_says_so(client, project):
    document = copy.deepcopy(project["document"]) | {"name": "with an empty one"}
    empty = str(uuid.uuid4())
    document["options"][empty] = {"name": "Empty", "network": {"nodes": {}, "links": {}, "catchments": {}}}
    document["order"].append(empty)
    made = client.post("/api/projects/import", json=document).json()
    _, other = client.get(f"/api/projects/{made['id']}/compare").json()
    assert other["missing"] == "cannot be computed"
    assert other["problem"]
    assert other["verdicts"] == []
    client.delete(f"/api/projects/{made['id']}")
