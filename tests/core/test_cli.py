"""The command line: exit status, files, messages."""

import copy
import hashlib
import json
import re
from datetime import datetime, timedelta
from pathlib import Path

import numpy as np
import pyarrow.parquet
import pypdf
import pytest
from typer.testing import CliRunner

from madidus.cli import app
from madidus.core.model.report import Changes
from madidus.report.signature import Signer
from tests.report.made import pipe_project

DEMO = Path(__file__).parents[2] / "demo" / "quillmere_boatyard.madidus.json"


@pytest.fixture
def run(tmp_path):
    def call(document, *options):
        file = tmp_path / "p.madidus.json"
        file.write_text(document if isinstance(document, str) else json.dumps(document), encoding="utf-8")
        return CliRunner().invoke(app, ["run", str(file), "--out", str(tmp_path / "out"), *options]), tmp_path / "out"

    return call


def test_the_printed_schema_is_the_published_one():
    kept = DEMO.parents[1] / "docs" / "project.schema.json"
    assert CliRunner().invoke(app, ["schema"]).stdout == kept.read_text(encoding="utf-8")


@pytest.fixture
def small():
    document = json.loads(DEMO.read_text(encoding="utf-8"))
    document["rain"]["ensemble"]["durations"] = [15, 60]
    return document


def test_a_failing_criterion_is_status_1(run, small):
    result, out = run(small, "--csv")
    assert result.exit_code == 1
    summary = json.loads((out / "summary.json").read_text())
    assert len(summary["storms"]) == 12
    assert any(v["state"] == "fails" for v in summary["verdicts"])
    assert all(abs(s["balance_error"]) < 1e-12 for s in summary["storms"].values())
    peaks = pyarrow.parquet.read_table(out / "peaks.parquet")
    assert {"storm", "name", "level", "flow"} <= set(peaks.column_names)
    assert (out / "peaks.csv").exists()
    assert list(out.glob("series-*.parquet"))


def test_another_grid_is_told_and_gives_other_figures(run, small):
    small["rain"]["ensemble"]["durations"] = [15]

    def computed(*options):
        result, out = run(small, *options)
        cells = json.loads((out / "summary.json").read_text())["cells"]
        return cells, pyarrow.parquet.read_table(out / "peaks.parquet").column("level").to_numpy(), result.stdout

    usual, fine = computed(), computed("--spacing", "8")
    assert usual[0]["longest"] == 30.0
    assert fine[0]["longest"] == 8.0
    assert fine[0]["count"] > usual[0]["count"]
    assert f"on {fine[0]['count']} cells, 8 m long at most" in fine[2]
    off = np.abs(fine[1] - usual[1])
    assert 0.0 < np.nanmax(off) < 0.05  # m
    small["run"] = {**small["run"], "spacing": 8.0}
    assert np.array_equal(computed()[1], fine[1], equal_nan=True)


def test_a_close_verdict_is_told_with_its_band_and_refined_when_asked(run, small):
    def verdict(*options):
        result, out = run(small, *options)
        summary = json.loads((out / "summary.json").read_text())
        return summary["verdicts"][0], summary["overall"], result.stdout

    rule = small["brief"]["rules"][0] = {"kind": "cover", "name": "dry", "limits": [{"return_period": 2}]}
    small["brief"]["rules"] = [rule]
    plain, said, printed = verdict()
    assert plain["band"] > 0.0
    assert not plain["close"]
    assert "close" not in said
    assert f"± {plain['band']:.3f}" in printed
    rule["limits"][0]["value"] = plain["margin"] - 0.5 * plain["band"]
    near, said, printed = verdict()
    assert (near["state"], near["close"], near["refined"]) == ("meets", True, False)
    assert "1 close: within what the grid is worth" in said
    assert "tight," in printed  # the cell is broken where the table is narrow
    assert "close" in printed
    refined, _, _ = verdict("--refine")
    assert refined["refined"]
    assert refined["margin"] != near["margin"]
    assert abs(refined["margin"] - near["margin"]) <= near["band"]


def test_a_margin_within_its_own_uncertainty_after_refinement_is_status_3(run, small):
    rule = {"kind": "cover", "name": "dry", "limits": [{"return_period": 2, "value": 0.0}]}
    small["brief"]["rules"] = [rule]

    def verdict():
        result, out = run(small, "--refine")
        return json.loads((out / "summary.json").read_text())["verdicts"][0], result

    for _ in range(2):  # the first only comes near: what is far is not refined
        found, result = verdict()
        rule["limits"][0]["value"] += found["margin"]
    found, result = verdict()
    assert (found["state"], found["refined"], result.exit_code) == ("too close", True, 3)
    assert abs(found["margin"]) < found["band"]
    assert "too close to call" in re.sub(r"[\s│]+", " ", result.stdout)
    assert "1 of 1 rule is too close to call" in result.stdout


def test_all_pass_is_status_0(run, small):
    small["brief"]["rules"] = [{"kind": "cover", "name": "dry", "limits": [{"return_period": 2}]}]
    assert run(small)[0].exit_code == 0


def test_a_criterion_that_is_not_asked_fails_nothing_and_meets_nothing(run, small):
    spoiled = copy.deepcopy(small)
    for rule in spoiled["brief"]["rules"]:
        rule["asked"] = False
    result, _ = run(spoiled)
    assert result.exit_code == 3
    assert "no rule is asked" in result.output


def test_rules_that_no_storm_judges_are_status_3(run, small):
    small["rain"]["ensemble"]["probabilities"] = [{"return_period": 2}]
    small["brief"]["rules"] = [
        {"kind": "cover", "name": "dry", "limits": [{"return_period": 2}]}, {"kind": "cover", "name": "rare", "limits": [{"return_period": 30}]},
    ]  # fmt: skip
    result, out = run(small)
    assert result.exit_code == 3
    summary = json.loads((out / "summary.json").read_text())
    assert summary["overall"] == "1 of 2 rules is not judged"
    assert [(v["state"], v["reason"]) for v in summary["verdicts"]] == [
        ("meets", ""), ("not judged", "no storm of 30 yr"),
    ]  # fmt: skip


@pytest.mark.parametrize("text", ["{", "[]", "nonsense", '{"format": "madidus-project", "version": 1, "x": NaN}'])
def test_what_is_no_project_is_status_2(run, text):
    result, out = run(text)
    assert result.exit_code == 2
    assert not out.exists()


def test_an_unknown_node_is_named(run, small):
    network = next(iter(small["options"].values()))["network"]
    link = next(iter(network["links"].values()))
    link["downstream"] = "00000000-0000-4000-8000-00000000dead"
    result, _ = run(small)
    assert result.exit_code == 2
    assert link["name"] in result.output.replace("\n", "")


def test_one_of_two_separate_networks_runs_alone(run, small):
    option = next(iter(small["options"].values()))["network"]
    away = {
        f"00000000-0000-4000-8000-00000000000{k}": node
        for k, node in enumerate(
            [
                {"kind": "manhole", "name": "Z1", "cover": 12, "invert": 10},
                {"kind": "outfall", "name": "Z2", "invert": 9},
            ]
        )
    }
    up, down = away
    option["nodes"].update(away)
    option["links"]["00000000-0000-4000-8000-0000000000aa"] = {
        "kind": "pipe", "name": "ZP", "upstream": up, "downstream": down, "length": 50, "upstream_invert": 10,
        "downstream_invert": 9, "section": {"shape": "circular", "diameter": 0.3},
    }  # fmt: skip
    result, out = run(small, "--only", "Z1")
    assert result.exit_code == 3  # rules about elements of the other network are not judged here
    names = set(pyarrow.parquet.read_table(out / "peaks.parquet").column("name").to_pylist())
    assert names == {"Z1", "Z2", "ZP"}
    assert "is not in the project" in run(small, "--only", "nobody")[0].output.replace("\n", " ")


def test_steady_flow_and_capacity_are_printed(small, tmp_path):
    path = tmp_path / "small.madidus.json"
    path.write_text(json.dumps(small), encoding="utf-8")
    printed = CliRunner().invoke(app, ["steady", str(path), "--inflow", "E1=4", "--tail", "free"])
    profile = json.loads(printed.stdout)
    assert profile["outflow_m3s"]["O1"] == pytest.approx(0.004, rel=0.01)
    table = CliRunner().invoke(app, ["capacity", str(path), "--inflow", "E1=4", "--keep", "cover"]).stdout
    assert all(word in table for word in ("own", "free", "normal"))
    wrong = CliRunner().invoke(app, ["steady", str(path), "--inflow", "E1=much"])
    assert wrong.exit_code == 2


def test_a_record_is_run_in_windows(small, tmp_path):
    path, rain = tmp_path / "small.madidus.json", tmp_path / "rain.csv"
    path.write_text(json.dumps(small), encoding="utf-8")
    wet = {0: 20, 1: 20, 2000: 1, 4000: 30}
    start = datetime(2020, 1, 1)
    rows = [f"{(start + timedelta(minutes=5 * k)).isoformat()},{wet.get(k, 0)}" for k in range(4100)]
    rain.write_text("time,intensity mm/h\n" + "\n".join(rows) + "\n", encoding="utf-8")
    options = ["recorded", str(path), "--rain", str(rain), "--out", str(tmp_path / "out"), "--least", "2"]
    printed = CliRunner().invoke(app, options)
    assert printed.exit_code == 0, printed.output
    assert "2 of 3 events in 2 windows" in printed.output.replace("\n", " ")
    found = pyarrow.parquet.read_table(tmp_path / "out" / "events.parquet")
    assert found.column("window").to_pylist() == [0, None, 1]
    assert CliRunner().invoke(app, [*options, "--winter", "spring"]).exit_code == 2


def test_a_network_goes_out_and_a_changed_one_comes_in(tmp_path):
    file, changed = tmp_path / "n.xml", tmp_path / "changed.madidus.json"
    assert CliRunner().invoke(app, ["export", str(DEMO), str(file)]).exit_code == 0
    text = file.read_text(encoding="utf-8")
    file.write_text(text.replace('elevRim="5.45"', 'elevRim="5.52"'), encoding="utf-8")
    result = CliRunner().invoke(app, ["import", str(DEMO), str(file), "--out", str(changed)])
    assert result.exit_code == 0
    assert "update: manhole A1: cover 5.45 m -> 5.52 m" in result.stdout
    assert "133 same, 1 update" in result.stdout
    again = CliRunner().invoke(app, ["import", str(changed), str(file)])
    assert "134 same" in again.stdout


@pytest.mark.parametrize(("name", "content", "words"), [
    ("n.dwg", "x", "does not tell its format"), ("n.xml", "<LandXML", "is not well formed"),
    ("n.geojson", "[]", "is no feature collection"), ("gone.xml", None, "cannot be read"),
])  # fmt: skip
def test_a_file_that_is_no_network_is_refused(tmp_path, name, content, words):
    file = tmp_path / name
    if content is not None:
        file.write_text(content, encoding="utf-8")
    result = CliRunner().invoke(app, ["import", str(DEMO), str(file)])
    assert result.exit_code == 2
    assert words in result.stdout


def test_edits_from_a_file_are_all_done_or_none(small, tmp_path):
    project, edits, out = tmp_path / "p.json", tmp_path / "edits.json", tmp_path / "out.json"
    project.write_text(json.dumps(small), encoding="utf-8")
    (option,) = small["options"].values()
    pipe = next(id_ for id_, link in option["network"]["links"].items() if link["kind"] == "pipe")

    def edit(*wanted):
        edits.write_text(json.dumps(wanted), encoding="utf-8")
        return CliRunner().invoke(app, ["edit", str(project), str(edits), "--out", str(out)])

    good = {"edit": "split", "link": pipe, "share": 0.5}
    assert edit(good, {"edit": "paint"}).exit_code == 2
    wrong = edit(good, {"edit": "set", "element": pipe, "field": "length", "value": -1.0})
    assert wrong.exit_code == 2
    assert "length" in wrong.stdout
    assert not out.exists()
    done = edit(good)
    assert (done.exit_code, done.stdout.strip()) == (0, "1 edit, 1 made")
    (edited,) = json.loads(out.read_text(encoding="utf-8"))["options"].values()
    assert len(edited["network"]["links"]) == len(option["network"]["links"]) + 1


@pytest.fixture(autouse=True)
def own_data(tmp_path, monkeypatch):
    """Whatever a command keeps, it keeps there."""
    monkeypatch.setenv("MADIDUS_DATA", str(tmp_path / "data"))


def call(*words):
    return CliRunner().invoke(app, [str(word) for word in words])


def test_a_report_is_written_and_held_against_its_project(tmp_path):
    project = tmp_path / "p.madidus.json"
    project.write_text(json.dumps(pipe_project().model_dump(mode="json")), encoding="utf-8")
    written = call("report", project, "--out", tmp_path / "out", "--day", "2026-03-14", "--file", "report.pdf",
                   "--file", "workbook.xlsx")  # fmt: skip
    assert written.exit_code == 0, written.output
    first = (tmp_path / "out" / "one_pipe.report.pdf").read_bytes()
    assert (tmp_path / "out" / "one_pipe.workbook.xlsx").stat().st_size > 5000
    call("report", project, "--out", tmp_path / "again", "--day", "2026-03-14", "--file", "report.pdf")
    assert (tmp_path / "again" / "one_pipe.report.pdf").read_bytes() == first
    draft = call("verify", tmp_path / "out" / "one_pipe.report.pdf", project)
    assert draft.exit_code == 3
    assert "No issue is kept" in draft.output
    project.write_text(json.dumps(pipe_project(99.0).model_dump(mode="json")), encoding="utf-8")
    told = call("verify", tmp_path / "out" / "one_pipe.report.pdf", project)
    assert told.exit_code == 1
    assert "It does not belong" in told.output
    assert call("verify", project, project).exit_code == 2
    assert call("report", project, "--out", tmp_path, "--layout", "none").exit_code == 2
    assert call("report", project, "--out", tmp_path, "--file", "none").exit_code == 2
    assert call("report", project, "--out", tmp_path, "--day", "soon").exit_code == 2
    assert call("report", project, "--out", tmp_path / "zip", "--file", "report.pdf", "--together").exit_code == 0
    assert (tmp_path / "zip" / "one_pipe.zip").exists()


def test_a_report_is_issued_and_changes_are_told_since(tmp_path, monkeypatch):
    project = tmp_path / "p.madidus.json"

    def saved(length):
        own = pipe_project(length)
        parts = [part for part in own.layouts[0].parts if part.on and part.kind != "changes"]
        layout = own.layouts[0].model_copy(update={"parts": [*parts, Changes()]})
        document = own.model_copy(update={"layouts": [layout]}).model_dump(mode="json")
        project.write_text(json.dumps(document), encoding="utf-8")

    def report(*more):
        return call("report", project, "--out", tmp_path, "--day", "2026-03-14", *more)

    def text(name):
        return " ".join(" ".join(page.extract_text() for page in pypdf.PdfReader(tmp_path / name).pages).split())

    saved(100.0)
    assert report("--number", "P 1").exit_code == 0
    issued = tmp_path / "one_pipe_p_1.issue.json"
    pdf = (tmp_path / "one_pipe_p_1.report.pdf").read_bytes()
    assert "P 1" in text("one_pipe_p_1.report.pdf")
    assert json.loads(issued.read_text())["sha256"] == hashlib.sha256(pdf).hexdigest()
    held = call("verify", tmp_path / "one_pipe_p_1.report.pdf", project)
    assert held.exit_code == 0
    assert "It is issue P 1, byte for byte." in held.output
    (tmp_path / "other.pdf").write_bytes(pdf + b"\n")
    assert call("verify", tmp_path / "other.pdf", project).exit_code == 1
    other = call("verify", tmp_path / "other.pdf", project, "--record", issued)
    assert other.exit_code == 1
    assert "Its signature does not fit its content." in other.output
    # without its record the signature proves it, where its certificate is known
    away = tmp_path / "away"
    away.mkdir()
    (away / "p1.pdf").write_bytes(pdf)
    alone = call("verify", away / "p1.pdf", project)
    assert alone.exit_code == 0
    assert "It is issue P 1, as it was signed." in alone.output
    kept = Signer(tmp_path / "data" / "signing").certificate
    monkeypatch.setenv("MADIDUS_DATA", str(tmp_path / "another machine"))
    assert call("verify", away / "p1.pdf", project).exit_code == 3
    (away / "certificate.pem").write_bytes(kept)
    assert call("verify", away / "p1.pdf", project, "--certificate", away / "certificate.pem").exit_code == 0
    assert call("verify", away / "p1.pdf", project, "--certificate", project).exit_code == 2
    assert not (tmp_path / "another machine").exists()  # looking makes no key
    monkeypatch.setenv("MADIDUS_DATA", str(tmp_path / "data"))
    saved(99.0)
    changed = call("verify", tmp_path / "one_pipe_p_1.report.pdf", project)
    assert changed.exit_code == 1
    assert "the project has changed since" in changed.output
    again = report("--number", "P 1")
    assert again.exit_code == 2
    assert "already given" in again.output
    assert (tmp_path / "one_pipe_p_1.report.pdf").read_bytes() == pdf
    assert report("--number", "P 2", "--since", issued).exit_code == 0
    assert "Since issue P 1 of 2026-03-14" in text("one_pipe_p_2.report.pdf")
    assert re.search("pipe P1 length 100 99", text("one_pipe_p_2.report.pdf"))
    issued.write_text(issued.read_text().replace("100.0", "98.0"), encoding="utf-8")
    assert "fingerprint differs" in report("--since", issued).output
    assert "issue p.madidus.json" in report("--since", project).output
    assert report("--since", tmp_path / "none").exit_code == 2
    assert "is none" in report("--number", "a\nb").output
    for refused in (["--together"], ["--file", "workbook.xlsx"]):
        assert "report of its own" in report("--number", "P 3", *refused).output
    assert not list(tmp_path.glob("*p_3*"))
