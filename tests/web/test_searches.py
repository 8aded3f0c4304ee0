"""Searches over the API: begun, looked at, stopped, refused; what was confirmed needs no run when it is applied."""

import time
import uuid

from tests.web.hands import of, settled


def ended(client, project, search):
    """A search once it has ended."""
    for _ in range(1800):
        found = client.get(f"{of(project)}/searches/{search['id']}").json()
        if found["state"] != "running":
            return found
        time.sleep(0.1)
    raise AssertionError("the search does not end")


def begun(client, project, kind, body):
    answer = client.post(f"{of(project)}/searches/{kind}", json=body)
    assert answer.status_code == 202, answer.text
    return answer.json()


def ids_of(project):
    network = project["document"]["options"][project["document"]["in_view"]]["network"]
    return {one["name"]: id_ for group in ("nodes", "links") for id_, one in network[group].items()}


def rules_of(client, project, *kinds):
    answer = settled(client, project)
    return [[v["rule"], v["row"]] for v in answer["verdicts"] if v["kind"] in kinds]


def fit_of(client, project, **changes):
    ids = ids_of(project)
    return {
        "variables": [
            {"element": ids["P1"], "what": "area", "low": 0.4, "high": 2.5},
            {"element": ids["P1 orifice"], "what": "size", "low": 0.04, "high": 0.2},
        ],
        "rules": rules_of(client, project, "outflow", "freeboard"), "least": "volume", **changes,
    }  # fmt: skip


def test_what_may_change_is_listed_with_bounds(client, project):
    found = client.get(f"{of(project)}/changeable").json()
    ids = ids_of(project)
    own = {one["what"]: one for one in found if one["element"] == ids["P1 orifice"]}
    assert own["size"]["value"] == 0.08
    assert own["size"]["low"] < 0.08 < own["size"]["high"]
    assert {one["what"] for one in found if one["element"] == ids["P1"]} == {"area", "depth"}


def test_a_fit_that_is_applied_is_known_already(client, project):
    search = begun(client, project, "fit", fit_of(client, project))
    assert search["state"] == "running"
    found = ended(client, project, search)
    fit = found["fit"]
    assert found["state"] == "done"
    assert found["problem"] is None
    assert fit["best"]["holds"]
    assert fit["best"]["whole"]
    assert not fit["less"]["holds"]
    assert fit["best"]["volume"] < fit["drawn"]["volume"]
    assert fit["took"] <= found["seconds"]
    chosen = {(one["rule"], one["row"]) for one in fit["rules"]}
    assert all(v["state"] == "meets" for v in fit["outcome"]["after"] if (v["rule"], v["row"]) in chosen)
    assert len(fit["points"]) == len(fit["more"]) == 6
    assert fit["lower"] == []  # the tank above holds some of it back
    assert fit["stores"][0]["top"] < fit["stores"][0]["after"][-1][0]
    option = project["document"]["in_view"]
    patch = [{**one, "path": f"/options/{option}/network{one['path']}"} for one in fit["patch"]]
    changed = client.patch(
        f"/api/projects/{project['id']}", json=patch, headers={"If-Match": str(project["revision"])}
    )  # fmt: skip
    assert changed.status_code == 200, changed.text
    answer = client.get(f"{of(project)}/answer").json()
    assert all(storm["state"] == "in" for storm in answer["storms"])
    after = {(v["rule"], v["row"]): v["value"] for v in answer["verdicts"]}
    for v in fit["outcome"]["after"]:
        assert after[v["rule"], v["row"]] == v["value"]
    assert client.get(f"{of(project)}/searches/{search['id']}").json()["stale"]


def test_a_search_is_stopped(client, project):
    search = begun(client, project, "fit", fit_of(client, project))
    assert client.delete(f"{of(project)}/searches/{search['id']}").status_code == 204
    assert ended(client, project, search)["state"] == "stopped"


def test_a_later_search_of_the_same_kind_stops_the_earlier_one_and_no_other(client, project):
    first = begun(client, project, "fit", fit_of(client, project))
    other = begun(client, project, "what-if", {"rain": 0.1, "creep": 0.0})
    second = begun(client, project, "fit", fit_of(client, project, least="area"))
    assert ended(client, project, first)["state"] == "stopped"
    assert client.get(f"{of(project)}/searches/{second['id']}").json()["state"] == "running"
    assert ended(client, project, other)["state"] == "done"
    client.delete(f"{of(project)}/searches/{second['id']}")


def test_single_changes_repair_and_capacity_are_told(client, project):
    outflow = rules_of(client, project, "outflow")[0]
    found = ended(client, project, begun(client, project, "single-changes", {"rule": outflow}))
    assert found["state"] == "done"
    assert found["single_changes"]["changes"][0]["holds"]
    assert len(found["single_changes"]["changes"]) == found["single_changes"]["due"]
    pipes = rules_of(client, project, "surcharge", "flood_volume")
    repaired = ended(client, project, begun(client, project, "repair", {"rules": pipes}))["repair"]
    assert repaired["holds"]
    assert repaired["raised"]
    assert {v["state"] for v in repaired["outcome"]["after"] if [v["rule"], v["row"]] in pipes} == {"meets"}
    body = {"load": "rain", "rules": rules_of(client, project, "freeboard")}
    capacity = ended(client, project, begun(client, project, "capacity", body))["capacity"]
    assert 0.0 < capacity["most"] < capacity["beyond"]
    body = {"load": ids_of(project)["P1"], "rules": rules_of(client, project, "freeboard")}
    assert ended(client, project, begun(client, project, "capacity", body))["capacity"]["most"] > 100.0


def test_a_supposition_tells_every_rule_and_leaves_the_project_alone(client, project):
    answer = settled(client, project)
    before = answer["verdicts"]
    search = begun(client, project, "what-if", {"rain": 0.2})
    found = ended(client, project, search)["what_if"]
    assert found["seen"] == found["due"] == len(answer["storms"])
    worse = zip(before, found["verdicts"], strict=True)
    assert all(b["value"] > a["value"] for b, a in worse)
    assert client.get(f"{of(project)}/answer").json()["verdicts"] == before


def test_what_cannot_be_searched_is_refused_at_once_or_says_why(client, project):
    at = f"{of(project)}/searches"
    ids = ids_of(project)
    rules = rules_of(client, project, "freeboard")
    size = {"element": ids["P1 orifice"], "what": "size", "low": 0.04, "high": 0.2}
    assert client.post(f"{at}/fit", json={"variables": [size], "rules": [[77, 0]], "least": "area"}).status_code == 422
    assert client.post(f"{at}/fit", json={"variables": [size], "rules": [], "least": "area"}).status_code == 422
    wrong = {**size, "low": "nan"}
    assert client.post(f"{at}/fit", json={"variables": [wrong], "rules": rules, "least": "area"}).status_code == 422
    assert client.post(f"{at}/what-if", json={"rain": 1e9}).status_code == 422
    assert client.get(f"{at}/{uuid.uuid4()}").status_code == 404
    assert client.delete(f"{at}/{uuid.uuid4()}").status_code == 404
    found = ended(
        client, project, begun(client, project, "fit", {"variables": [size], "rules": rules, "least": "area"})
    )
    assert found["state"] == "failed"
    assert "no store may change" in found["problem"]["problem"]
    met = rules_of(client, project, "surcharge")[0]
    found = ended(client, project, begun(client, project, "single-changes", {"rule": met}))
    assert "is not broken" in found["problem"]["problem"]
