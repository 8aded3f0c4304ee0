"""Sizing over the API: what lies, what each aim would lay, and what is refused."""

import copy

import jsonpatch
import pytest

from tests.web.hands import of, settled


def ask(client, project, **fields):
    return client.post(f"{of(project)}/sizing", json=fields)


def test_every_aim_stands_beside_what_lies_and_nothing_changes(client, project):
    found = ask(client, project, return_period=5).json()
    assert set(found["aims"]) == {"excavation", "diameter", "cost"}
    for aim, figure in (("excavation", "excavation"), ("diameter", "diameter_length"), ("cost", "cost")):
        assert found["aims"][aim][figure] == min(one[figure] for one in found["aims"].values())
    assert set(found["order"]) <= set(found["before"]["pipes"])
    kept = client.get(f"/api/projects/{project['id']}").json()
    assert kept["revision"] == project["revision"]
    network = kept["document"]["options"][kept["document"]["in_view"]]["network"]
    assert jsonpatch.apply_patch(network, found["aims"]["cost"]["patch"]) != network


def test_flows_of_a_storm_that_is_in(client, project):
    refused = ask(client, project, source="storm", storm="30-16-autumn")
    assert refused.status_code == 422
    assert "is not in" in refused.json()["title"]
    settled(client, project)
    found = ask(client, project, source="storm", storm="30-15-winter").json()
    assert found["before"]["pipes"]


def test_refusals_name_the_pair_and_reasons_are_in_the_units_of_the_project(client, project):
    limits = {"min_velocity": 3, "max_velocity": 1}
    refused = ask(client, project, rules={"limits": limits})
    assert refused.status_code == 422
    assert "the least, 3, is not below the greatest, 1" in refused.json()["title"]
    document = copy.deepcopy(project["document"]) | {"name": "sized in feet", "units": "us"}
    made = client.post("/api/projects/import", json=document).json()
    found = ask(client, made).json()
    told = [one["why"] for one in found["before"]["unmet"]]
    assert told
    assert any(" ft " in why for why in told)
    client.delete(f"/api/projects/{made['id']}")


@pytest.mark.parametrize("fields", [{"return_period": -1}, {"pipes": ["x"]}, {"source": "guess"}])
def test_bad_questions_are_refused(client, project, fields):
    assert ask(client, project, **fields).status_code == 422


def test_a_limit_is_allowed_with_a_reason_and_told_all_the_same(client, project):
    deep = {"limits": {"deepest": 1.3, "cover": 1.2}}
    found = ask(client, project, rules=deep).json()["aims"]["cost"]["unmet"]
    assert found
    assert all(one["reason"] is None for one in found)
    first = found[0]
    allowed = [{"pipe": first["pipe"], "limit": first["limit"], "reason": "agreed with the adopter"}]
    again = ask(client, project, rules={**deep, "allowed": allowed}).json()["aims"]["cost"]["unmet"]
    assert [one["limit"] for one in again] == [one["limit"] for one in found]
    told = {(one["pipe"], one["limit"]): one["reason"] for one in again}
    assert told[first["pipe"], first["limit"]] == "agreed with the adopter"
    assert sum(reason is not None for reason in told.values()) == 1
    assert ask(client, project, rules={"allowed": [{**allowed[0], "reason": ""}]}).status_code == 422
