"""Every element under a rule, and rules to begin with, as the interface asks for them."""

import pytest

from tests.web.hands import of, report_words, settled


def edited(client, project, *operations):
    at = {"If-Match": f'"{project["revision"]}"'}
    answer = client.patch(f"/api/projects/{project['id']}", json=list(operations), headers=at)
    assert answer.status_code == 200, answer.text
    return answer.json()


def id_of(project, collection, name):
    document = project["document"]
    network = document["options"][document["in_view"]]["network"]
    return next(id_ for id_, e in network[collection].items() if e["name"] == name)


def place_of(answer, kind):
    return next(k for k, v in enumerate(answer["verdicts"]) if v["kind"] == kind)


def test_every_element_that_breaks_a_rule_is_told_with_its_storm_and_cause(client, project):
    answer = settled(client, project)
    k = place_of(answer, "flood_volume")
    found = client.get(f"{of(project)}/verdicts/{k}/elements").json()
    verdict = answer["verdicts"][k]
    first = found["elements"][0]
    assert (first["element"], first["storm"]) == (verdict["element"], verdict["storm"])
    assert first["margin"] == pytest.approx(verdict["value"])
    assert first["value"] == pytest.approx(first["limit"] - first["margin"])
    assert (first["state"], first["cause"]) == ("fails", "capacity")
    margins = [one["margin"] for one in found["elements"]]
    assert margins == sorted(margins)
    assert {one["state"] for one in found["elements"] if one["margin"] >= 0.0} <= {"tight", "meets"}
    assert len(margins) == 48
    assert client.get(f"{of(project)}/verdicts/99/elements").status_code == 404


def test_a_rule_that_leaves_a_pipe_out_says_so_with_its_reason_on_screen_and_in_the_report(client, project):
    answer = settled(client, project)
    k = place_of(answer, "surcharge")
    worst = answer["verdicts"][k]["element"]
    scope = {"of": "all but", "elements": [worst], "reason": "it stands in the pond's water"}
    project = edited(client, project, {"op": "add", "path": f"/brief/rules/{k}/scope", "value": scope})
    after = settled(client, project)["verdicts"][k]
    assert after["element"] != worst
    assert after["value"] > answer["verdicts"][k]["value"]
    found = client.get(f"{of(project)}/verdicts/{k}/elements").json()
    assert worst not in [one["element"] for one in found["elements"]]
    assert found["why"] == "it stands in the pond's water"
    assert len(found["left_out"]) == 1
    assert f"all but {found['left_out'][0]}: it stands in the pond's water" in report_words(client, project)


def test_rules_of_volume_and_half_drain_are_run_for_as_long_as_they_ask(client, project):
    """The storm goes on until the volume is known, and no storm of another return period does."""
    before = settled(client, project)
    outfall = id_of(project, "nodes", "O1")
    rule = {"kind": "volume", "name": "day", "element": outfall, "within": 259_200.0,
            "limits": [{"return_period": 30, "duration": 15, "value": 1.0}]}  # fmt: skip
    half = {"kind": "half_drain", "name": "half", "limits": [{"return_period": 30, "duration": 15, "value": 400.0}]}
    project = edited(
        client, project, {"op": "add", "path": "/brief/rules/-", "value": rule},
        {"op": "add", "path": "/brief/rules/-", "value": half},
    )  # fmt: skip
    after = settled(client, project)
    ends = {s["key"]: s["end_time"] for s in after["storms"]}
    same = {s["key"] for s in before["storms"] if ends[s["key"]] == s["end_time"]}
    assert {s["key"] for s in after["storms"]} - same == {"30-15-summer", "30-15-winter"}
    assert min(ends["30-15-summer"], ends["30-15-winter"]) >= 259_200.0
    volume = after["verdicts"][place_of(after, "volume")]
    assert (volume["state"], volume["due"], volume["time"]) == ("fails", 2, 259_200.0)
    left = volume["limit"] - volume["value"]
    assert left > 0.0
    # of the run's own account: all but what the stores still hold
    series = client.get(f"{of(project)}/peaks", params={"measure": "outflow"}).json()
    assert left < 259_200.0 * max(peak["value"] for key, peak in series.items() if key.startswith("30-15"))
    drained = after["verdicts"][place_of(after, "half_drain")]
    assert drained["state"] == "fails"
    assert drained["limit"] - drained["value"] > 400.0


def test_rules_to_begin_with_are_judged_in_the_storms_that_are_run(client, project):
    sets = client.get(f"{of(project)}/rule-sets").json()
    assert {one["units"] for one in sets} == {"metric", "us"}
    metric = next(one for one in sets if one["units"] == "metric")
    contained = next(rule for rule in metric["rules"] if rule["kind"] == "flood_volume")
    assert contained["limits"][0]["allowance"] == 0.4  # 100 years are run with it alone
    outflow = next(rule for rule in metric["rules"] if rule["kind"] == "outflow")
    assert outflow["element"] == id_of(project, "nodes", "O1")
    project = edited(client, project, {"op": "replace", "path": "/brief/rules", "value": metric["rules"]})
    verdicts = settled(client, project)["verdicts"]
    assert "not judged" not in [v["state"] for v in verdicts]
    assert sum(v["kind"] == "outflow" for v in verdicts) == 3
    assert len({v["name"] for v in verdicts}) == len(verdicts)


def test_a_rule_that_makes_no_sense_is_refused_by_name_and_changes_nothing(client, project):
    at = {"If-Match": f'"{project["revision"]}"'}
    for value, why in (
        ({"of": "elements", "elements": []}, "names none"), ({"of": "somewhere"}, "scope"),
    ):  # fmt: skip
        operation = {"op": "add", "path": "/brief/rules/0/scope", "value": value}
        refused = client.patch(f"/api/projects/{project['id']}", json=[operation], headers=at)
        assert refused.status_code == 422
        assert why in refused.text
    assert client.get(f"/api/projects/{project['id']}").json()["revision"] == project["revision"]
