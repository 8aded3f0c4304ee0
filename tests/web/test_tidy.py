"""What may go goes, and nothing that is current, named or recent."""

import copy
from datetime import UTC, datetime, timedelta

import pytest
from sqlalchemy import text
from typer.testing import CliRunner

from madidus.cli import app
from madidus.core.ensemble import make_plan, run_job
from madidus.core.model import parse_project
from madidus.store.issues import Issues
from madidus.store.project_store import Missing
from madidus.store.results import Results
from madidus.store.tidy import tidy, tidy_results

OLD = datetime.now(UTC) - timedelta(days=90)


@pytest.fixture
def revision(projects, demo_document):
    made = projects.create(parse_project(demo_document | {"name": "Tidied"}))
    yield made
    projects.remove(made.project_id)


def edited(projects, revision, name):
    document = copy.deepcopy(revision.document) | {"name": name}
    return projects.save(revision.project_id, parse_project(document), revision.number)


def aged(engine, table, where, **values):
    column = {"storm": "used", "run": "started", "revision": "made"}[table]
    with engine.begin() as connection:
        connection.execute(text(f"UPDATE {table} SET {column} = :old WHERE {where}"), {"old": OLD, **values})


def kept(engine, digests):
    with engine.begin() as connection:
        rows = connection.execute(text("SELECT digest FROM storm WHERE digest = ANY(:all)"), {"all": list(digests)})
        return {row.digest for row in rows}


def test_results_that_nobody_asked_for_lately_go_unless_the_newest_run_has_them(
    engine, projects, revision, demo_document
):
    plan = make_plan(parse_project(demo_document))
    key = plan.storms[0].key
    figures, results, option = (
        run_job(plan.hydraulics, plan.job(key)).result,
        Results(engine),
        revision.document["in_view"],
    )
    names = {"old": "tidy-old", "recent": "tidy-recent", "of the newest": "tidy-newest", "of an older": "tidy-older"}
    for digest in names.values():
        results.keep({key: digest}, [figures])
    older = results.open_run(revision.project_id, option, 1, {key: names["of an older"]})
    newest = results.open_run(revision.project_id, option, 1, {key: names["of the newest"]})
    for run in (older, newest):
        results.close_run(run, "done", [])
    aged(engine, "run", "project_id = :id", id=revision.project_id)
    aged(engine, "storm", "digest LIKE 'tidy-%' AND digest <> 'tidy-recent'")
    assert tidy(engine, dry=True).storms >= 2
    assert kept(engine, names.values()) == set(names.values())  # said, and kept
    runs, storms = tidy_results(engine)
    assert (runs, storms) >= (1, 2)
    assert kept(engine, names.values()) == {"tidy-recent", "tidy-newest"}
    # asking for a result makes it recent again
    aged(engine, "storm", "digest = 'tidy-recent'")
    assert set(results.find({key: "tidy-recent"})) == {key}
    tidy_results(engine)
    assert "tidy-recent" in kept(engine, names.values())


def test_revisions_go_that_are_old_and_beyond_the_steps_of_undo(engine, projects, revision):
    at = revision
    for k in range(5):
        at = edited(projects, at, f"Step {k}")
    back = projects.undo(at.project_id, at.number)  # what was taken back is no step of undo
    aged(engine, "revision", "project_id = :id", id=at.project_id)
    assert tidy(engine, steps=2).revisions >= 3
    assert projects.get(at.project_id).document["name"] == "Step 3"
    with pytest.raises(Missing, match="nothing to redo"):
        projects.redo(at.project_id, back.number)
    for name in ("Step 2", "Step 1"):
        back = projects.undo(at.project_id, back.number)
        assert back.document["name"] == name
    assert not back.can_undo
    with pytest.raises(Missing, match="nothing to undo"):
        projects.undo(at.project_id, back.number)


def test_recent_revisions_stay_however_many(engine, projects, revision):
    at = revision
    for k in range(4):
        at = edited(projects, at, f"Step {k}")
    tidy(engine, steps=0)
    assert projects.undo(at.project_id, at.number).document["name"] == "Step 2"


def test_files_go_with_the_last_revision_that_names_them(engine, projects, revision):
    named, forgotten = (
        projects.keep_file(revision.project_id, b"a picture"),
        projects.keep_file(revision.project_id, b"none"),
    )
    document = copy.deepcopy(revision.document)
    document["layers"] = [{"kind": "lines", "name": "ground", "file": named}]
    projects.save(revision.project_id, parse_project(document), revision.number)
    assert tidy(engine).files >= 1
    assert projects.file(revision.project_id, named) == b"a picture"
    with pytest.raises(Missing):
        projects.file(revision.project_id, forgotten)


def test_the_command_says_what_went(open_folder):
    for flag, said in (("--dry-run", "Would let go: 0 results"), ("--days=1", "Let go: 0 results")):
        ran = CliRunner().invoke(app, ["tidy", "--data", str(open_folder / "data"), flag])
        assert ran.exit_code == 0, ran.output
        assert said in ran.output


def test_results_and_files_of_an_issued_report_stay(engine, projects, revision, demo_document):
    plan = make_plan(parse_project(demo_document))
    key = plan.storms[0].key
    figures, results = run_job(plan.hydraulics, plan.job(key)).result, Results(engine)
    for digest in ("tidy-issued", "tidy-not-issued"):
        results.keep({key: digest}, [figures])
    logo = projects.keep_file(revision.project_id, b"a logo")
    document = copy.deepcopy(revision.document)
    document["title"]["logo"] = logo
    with_logo = projects.save(revision.project_id, parse_project(document), revision.number)
    option = revision.document["in_view"]
    issued = Issues(engine).add(with_logo, option, "1", {"name": "x"}, {key: "tidy-issued"}, {}, "", b"%PDF")
    projects.undo(revision.project_id, with_logo.number)
    projects.save(revision.project_id, parse_project(revision.document | {"name": "Without"}), revision.number)
    aged(engine, "revision", "project_id = :id AND number = :n", id=revision.project_id, n=with_logo.number)
    aged(engine, "storm", "digest LIKE 'tidy-%issued'")
    tidy(engine, steps=0)
    assert kept(engine, ("tidy-issued", "tidy-not-issued")) == {"tidy-issued"}
    assert projects.file(revision.project_id, logo) == b"a logo"
    assert Issues(engine).get(revision.project_id, issued.id).sha256 == issued.sha256
    with pytest.raises(Missing):
        Issues(engine).get(revision.project_id, 10**9 + 2)
