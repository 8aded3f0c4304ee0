"""A page elsewhere neither reads nor writes, whatever name it gives this machine."""

import socket

import httpx
import pytest

from madidus.web.guard import refusal

OURS = "127.0.0.1:8420"


@pytest.mark.parametrize(
    "host", [OURS, "localhost:8420", "LOCALHOST:8420", "[::1]:8420", f"{socket.gethostname()}:8420"]
)
def test_this_machine_under_any_of_its_names_is_served(host):
    assert refusal(host, None, "http", 8420) is None
    assert refusal(host, f"http://{host}", "http", 8420) is None


@pytest.mark.parametrize(
    "host", ["evil.example:8420", "evil.example", "", "localhost", "localhost:80", "localhost.evil.example:8420"]
)
def test_another_name_is_not_even_when_its_page_says_so_itself(host):
    for origin in (None, f"http://{host}"):
        status, reason = refusal(host, origin, "http", 8420)
        assert status == 421
        assert "open http://localhost:8420" in reason


@pytest.mark.parametrize(
    "origin",
    ["http://evil.example", f"http://evil.example//{OURS}", f"https://{OURS}", "http://localhost:8420", "null", ""],
)
def test_an_origin_is_compared_whole(origin):
    assert refusal(OURS, origin, "http", 8420) == (403, "cross-origin request refused")


def test_the_usual_port_need_not_be_said():
    assert refusal("localhost", None, "http", 80) is None
    assert refusal("localhost", None, "https", 443) is None
    assert refusal("localhost", None, "https", 80) is not None


def test_the_running_server_turns_both_away_and_tells_of_no_project(address):
    with httpx.Client(base_url=address, timeout=60) as client:
        found = client.get("/api/projects", headers={"Host": "evil.example"})
        assert (found.status_code, "open http://localhost:" in found.text) == (421, True)
        events = client.get("/api/projects", headers={"Origin": "http://evil.example"})
        assert events.status_code == 403
        before = client.get("/api/projects")
        assert before.status_code == 200
        made = client.post("/api/projects", json={}, headers={"Host": "evil.example", "Origin": "http://evil.example"})
        assert made.status_code == 421
        assert client.get("/api/projects").json()["whole"] == before.json()["whole"]
        same = client.get("/api/projects", headers={"Origin": address})
        assert same.status_code == 200
        assert same.headers["X-Content-Type-Options"] == "nosniff"
