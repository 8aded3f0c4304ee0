"""A client of the server, and a small project on it."""

import copy
import uuid

import httpx
import pytest


@pytest.fixture(scope="module")
def client(address):
    with httpx.Client(base_url=address, timeout=60) as client:
        yield client


@pytest.fixture
def project(client, demo_document):
    """A fresh copy of the demo, small: six storms."""
    document = copy.deepcopy(demo_document)
    document["name"] = f"Test {uuid.uuid4().hex[:6]}"
    document["rain"]["ensemble"]["durations"] = [15, 60, 360]
    made = client.post("/api/projects/import", json=document).json()
    yield made
    client.delete(f"/api/projects/{made['id']}")
