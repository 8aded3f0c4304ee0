"""The quick estimate of a store over the API."""

import uuid

from tests.web.hands import of


def store_of(project):
    document = project["document"]
    nodes = document["options"][document["in_view"]]["network"]["nodes"]
    return next(id_ for id_, node in nodes.items() if node["name"] == "P1")


def test_every_return_period_has_a_range_and_less_outflow_needs_more(client, project):
    at = f"{of(project)}/stores/{store_of(project)}/estimate"
    told = client.get(at, params={"rate": 0.014}).json()
    found = told["rows"]
    assert told["above"] == ["T1"]  # the tank above holds some of it back: no lower bound
    assert [one["row"] for one in found] == ["2 yr", "30 yr", "100 yr +40 %"]
    assert all(0 < one["least"] < one["orifice"] for one in found)
    assert found[0]["least"] < found[1]["least"] < found[2]["least"]
    tighter = client.get(at, params={"rate": 0.007}).json()["rows"]
    assert all(b["least"] > a["least"] for a, b in zip(found, tighter, strict=True))


def test_what_is_no_store_or_no_rate_is_refused(client, project):
    at = f"{of(project)}/stores"
    assert client.get(f"{at}/{uuid.uuid4()}/estimate", params={"rate": 0.01}).status_code == 404
    for rate in ("0", "-1", "nan", "inf", "x"):
        assert client.get(f"{at}/{store_of(project)}/estimate", params={"rate": rate}).status_code == 422
