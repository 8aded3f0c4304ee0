"""Edits of a network over the API: one request, one step to undo, of the option that is named."""

from uuid import uuid4

import pytest

from .hands import of


def edit(client, project, *edits, revision=None, option=None):
    option = option or project["document"]["in_view"]
    return client.post(
        f"/api/projects/{project['id']}/options/{option}/edits", json=list(edits),
        headers={"If-Match": f'"{project["revision"] if revision is None else revision}"'},
    )  # fmt: skip


def network_of(project):
    return project["document"]["options"][project["document"]["in_view"]]["network"]


def pipes_of(project):
    return {id_: link for id_, link in network_of(project)["links"].items() if link["kind"] == "pipe"}


def test_several_edits_are_one_step_and_tell_what_they_made(client, project):
    link, pipe = next(iter(pipes_of(project).items()))
    edited = edit(
        client, project,
        {"edit": "split", "link": link, "share": 0.5},
        {"edit": "set", "element": link, "field": "roughness", "value": 0.02},
        {"edit": "draw node", "drawn": "tank", "x": 1.0, "y": 2.0, "ground": 9.0},
    ).json()  # fmt: skip
    node, tank = edited["made"]
    after = network_of(edited)
    assert after["links"][link]["downstream"] == node
    assert after["links"][link]["length"] == pytest.approx(pipe["length"] / 2, abs=0.01)
    assert after["links"][link]["roughness"] == 0.02
    assert (after["nodes"][tank]["form"], after["nodes"][tank]["cover"]) == ("tank", 9.0)
    back = client.post(f"/api/projects/{project['id']}/undo", headers={"If-Match": f'"{edited["revision"]}"'}).json()
    assert network_of(back) == network_of(project)
    assert not back["can_undo"]


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        ({"edit": "join", "node": str(uuid4())}, "is not in the network"),
        ({"edit": "set", "element": "LINK", "field": "section/diameter", "value": -1}, "must be more than 10 mm"),
        ({"edit": "set", "element": "LINK", "field": "upstream", "value": str(uuid4())}, "there is no node"),
        ({"edit": "split", "link": "LINK", "share": 2}, "must be less than 1"),
        ({"edit": "draw node", "drawn": "siphon", "x": 0, "y": 0}, "must be 'manhole'"),
        ({"edit": "paste", "clip": {"nodes": 3}}, "clipboard"),
        ({"edit": "paint"}, "paint"),
    ],
)  # fmt: skip
def test_a_wrong_edit_is_told_and_none_of_them_is_done(client, project, wrong, said):
    link = next(iter(pipes_of(project)))
    wrong = {key: link if value == "LINK" else value for key, value in wrong.items()}
    answer = edit(client, project, {"edit": "turn round", "link": link}, wrong)
    assert answer.status_code == 422
    assert said in f"{answer.json()['title']} {answer.json()['detail']}"
    now = client.get(f"/api/projects/{project['id']}").json()
    assert (now["revision"], now["document"]) == (project["revision"], project["document"])


def test_an_edit_of_an_old_revision_or_of_no_option_is_refused(client, project):
    turn = {"edit": "turn round", "link": next(iter(pipes_of(project)))}
    assert edit(client, project, turn, revision=project["revision"] + 1).status_code == 412
    assert edit(client, project, turn, option=str(uuid4())).status_code == 422
    assert edit(client, project).status_code == 422
    assert edit(client, project, turn).status_code == 200
    assert edit(client, project, turn).status_code == 412


def test_a_field_that_is_refused_has_its_page(client, project):
    link = next(iter(pipes_of(project)))
    wrong = edit(client, project, {"edit": "set", "element": link, "field": "length", "value": 0}).json()
    (told,) = client.get("/api/about", params={"field": wrong["field"]}).json()
    assert told["field"] == "length"


def test_an_edit_is_answered_by_the_whole_ensemble(client, project):
    before = client.get(f"{of(project)}/checks").json()
    link = next(iter(pipes_of(project)))
    edited = edit(client, project, {"edit": "set", "element": link, "field": "roughness", "value": 0.9}).json()
    assert client.get(f"{of(edited)}/answer").json()["revision"] == edited["revision"]
    assert client.get(f"{of(edited)}/checks").json() != before


def test_an_edit_that_changes_nothing_is_no_step_to_undo(client, project):
    link, pipe = next(iter(pipes_of(project).items()))
    same = edit(client, project, {"edit": "set", "element": link, "field": "length", "value": pipe["length"]})
    assert (same.status_code, same.json()["revision"]) == (200, project["revision"])


def test_levels_of_a_run_are_set_at_once(client, project):
    link = next(iter(pipes_of(project)))
    levels = {"edit": "set levels", "links": [link], "how": "gradient", "gradient": 0.02}
    after = network_of(edit(client, project, levels).json())["links"][link]
    assert after["upstream_invert"] - after["downstream_invert"] == pytest.approx(0.02 * after["length"], abs=1e-3)
