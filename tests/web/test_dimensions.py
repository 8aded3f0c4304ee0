"""Stores by their dimensions over the API, and what cannot be."""

import pytest

BOX = {"at": "base", "length": 20, "width": 10, "slope": 0, "depth": 2, "unknown": "volume"}


@pytest.fixture
def ask(client, project):
    return lambda **fields: client.post(f"/api/projects/{project['id']}/stores/dimensions", json={**BOX, **fields})


def test_any_one_follows_from_the_others(ask):
    assert ask().json()["volume"] == pytest.approx(400.0)
    found = ask(volume=500, unknown="depth").json()
    assert found["depth"] == pytest.approx(2.5)
    assert found["table"][-1] == [2.5, 200.0]
    ring = [[0, 0], [20, 0], [20, 10], [0, 10]]
    assert ask(ring=ring, slope=3).json()["volume"] == pytest.approx(ask(slope=3).json()["volume"])


@pytest.mark.parametrize(
    ("fields", "status", "says"),
    [
        ({"volume": 1, "unknown": "slope"}, 422, "holds 400.0 m³ to"),
        ({"at": "top", "slope": 5}, 422, "sides meet"),
        ({"depth": 0}, 422, "depth"),
        ({"ring": [[0, 0], [1, 1], [2, 2]]}, 422, "no area"),
        ({"length": 1e300}, 422, "length"),
    ],
)
def test_what_cannot_be_is_refused_and_named(ask, fields, status, says):
    refused = ask(**fields)
    assert refused.status_code == status
    assert says in refused.text


def test_the_refusal_is_in_the_units_of_the_project(client, project):
    document = project["document"] | {"name": "in feet", "units": "us"}
    made = client.post("/api/projects/import", json=document).json()
    refused = client.post(
        f"/api/projects/{made['id']}/stores/dimensions", json={**BOX, "volume": 1, "unknown": "slope"}
    )
    assert "holds 14125.9 ft³ to" in refused.json()["title"]
    client.delete(f"/api/projects/{made['id']}")
