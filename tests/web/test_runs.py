"""Runs: cancel keeps what is done, a killed run goes on, the newest edit wins."""

import copy
import time
from concurrent.futures import ThreadPoolExecutor
from types import SimpleNamespace

import numpy as np
import pytest

from madidus.core import ensemble as ensemble_module
from madidus.core.errors import ModelError
from madidus.core.model import parse_project
from madidus.runs import manager as manager_module
from madidus.runs.manager import RunManager
from madidus.store.results import Results
from madidus.store.series import SeriesCache
from madidus.web.app import answer_events


@pytest.fixture
def revision(shelf, demo_document):
    """A project whose figures nobody has computed: its lengths are its own."""
    document = copy.deepcopy(demo_document)
    network = next(iter(document["options"].values()))["network"]
    for link in network["links"].values():
        if link["kind"] == "pipe":
            link["length"] += time.time() % 1.0
    made = shelf.create(parse_project(document))
    yield made
    shelf.remove(made.project_id)


def wait_until_idle(answer):
    deadline = time.monotonic() + 90
    while answer.running or answer.looking:
        assert time.monotonic() < deadline
        time.sleep(0.02)


def test_cancel_keeps_what_is_done_and_a_new_manager_goes_on(shelf, engine, revision, cache, monkeypatch):
    monkeypatch.setattr(manager_module, "_LIVE_SECONDS", 0.0)
    quick = ensemble_module.run_storm

    def slow(*args):
        time.sleep(0.02)  # the demo's storms would all be in before anybody could stop them
        return quick(*args)

    monkeypatch.setattr(ensemble_module, "run_storm", slow)
    results = Results(engine)
    runs = RunManager(shelf, results, cache)
    answer = runs.answer(revision)
    assert not answer.running  # too long for a live answer: somebody has to ask
    runs.run(revision)
    version = answer.version
    while len(answer.figures) < 4 and answer.running:
        version = runs.wait(answer, version, 5.0)
    runs.cancel(revision.project_id)
    wait_until_idle(answer)
    done = set(answer.figures)
    assert 4 <= len(done) < 54
    time.sleep(0.3)
    runs.close()

    # what a kill leaves behind: a run still marked as running
    assert answer.plan is not None
    results.open_run(revision.project_id, revision.number, answer.plan.digests)
    after = RunManager(shelf, results, cache)
    known = after.answer(revision)
    assert done <= set(known.figures)
    after.resume()
    wait_until_idle(known)
    assert known.complete
    # the log tells what was kept, and of each storm that was computed
    first, *storms, last = known.log
    computed = len(storms)
    assert first.what == f"begins: {computed} storms to compute, {54 - computed} kept from earlier runs"
    assert {line.storm for line in storms} | done == set(known.figures)
    assert last.what == "ends"
    assert [line.at for line in known.log] == sorted(line.at for line in known.log)
    assert answer.log[-1].what == "was stopped; what is done is kept"
    deadline = time.monotonic() + 10
    while any(row.project_id == revision.project_id for row in results.interrupted()):
        assert time.monotonic() < deadline
        time.sleep(0.05)
    after.close()


def test_storms_that_the_solver_sees_alike_share_what_is_kept(engine, demo_document):
    plan = ensemble_module.make_plan(parse_project(demo_document))
    key = plan.storms[0].key
    figures = ensemble_module.run_storm(plan, key)
    results, digest, other = Results(engine), plan.digests[key], "of another network"
    results.keep({key: digest}, [figures])
    found = results.find({key: digest, "twin": digest, "unlike": other})
    assert set(found) == {key, "twin"}
    assert found["twin"].key == "twin"
    assert np.array_equal(found["twin"].level, found[key].level, equal_nan=True)
    assert found["twin"].level == pytest.approx(figures.level, abs=1e-3, nan_ok=True)


def test_series_that_the_cache_has_lost_are_computed_again(shelf, engine, revision, cache, tmp_path):
    runs = RunManager(shelf, Results(engine), cache)
    answer = runs.answer(revision)
    runs.run(revision)
    wait_until_idle(answer)
    key = answer.plan.storms[5].key
    (kept,) = runs.series(answer, [key], [0, 3])
    elsewhere = RunManager(shelf, Results(engine), SeriesCache(tmp_path))
    known = elsewhere.answer(revision)
    (again,) = elsewhere.series(known, [key], [0, 3])
    assert again.time == pytest.approx(kept.time)
    assert again.scale == kept.scale
    assert np.abs(again.values - kept.values).max() < 1e-3  # the kept ones are rounded
    assert np.array_equal(
        elsewhere.series(known, [key], [0, 3])[0].values, runs.series(answer, [key], [0, 3])[0].values
    )
    # a result that another solver left is not passed off as this one's
    known.figures[key].level[:] += 0.01
    (tmp_path / f"{known.plan.digests[key]}.npy").unlink()
    with pytest.raises(ModelError, match=r"differ by 10\.0 mm"):
        elsewhere.series(known, [key])
    runs.close()
    elsewhere.close()


def test_the_newest_edit_wins(shelf, engine, revision, cache):
    runs = RunManager(shelf, Results(engine), cache)
    first = runs.answer(revision)
    document = copy.deepcopy(revision.document)
    document["name"] = "Newer"
    next(iter(document["options"].values()))["network"]["links"].popitem()
    newer = shelf.save(revision.project_id, parse_project(document), revision.number)
    second = runs.answer(newer)
    assert first.stop.is_set()
    wait_until_idle(first)
    wait_until_idle(second)
    assert second.complete
    runs.close()


def test_a_question_from_before_an_edit_does_not_stop_the_run_of_the_edit(shelf, engine, revision, cache):
    """Read at the old revision, it may arrive when the new one is under way."""
    runs = RunManager(shelf, Results(engine), cache)
    document = copy.deepcopy(revision.document)
    next(iter(document["options"].values()))["network"]["links"].popitem()
    newer = shelf.save(revision.project_id, parse_project(document), revision.number)
    present = runs.answer(newer)
    assert present.running
    for late in (runs.answer, runs.run):
        stale = late(revision)
        assert stale.revision == revision.number
        assert not stale.running
    assert not present.stop.is_set()
    assert runs.answer(newer) is present
    wait_until_idle(present)
    assert present.complete
    runs.close()


def test_the_last_event_is_neither_a_running_one_nor_one_that_is_being_checked():
    """A run that ends between two looks is looked at once more."""
    states = iter([("running", ""), ("running", ""), ("settled", "checking"), ("settled", "")])
    seen: list[int] = []

    class Look:
        def __init__(self):
            self.state, looking = next(states)
            self.worth = SimpleNamespace(looking=looking)

        def model_dump_json(self):
            return self.state + self.worth.looking

    def wait(version: int) -> int:
        seen.append(version)
        return version + 1

    events = list(answer_events(Look, wait))
    told = [e.split("data: ")[1].strip() for e in events]
    assert told == ["running", "running", "settledchecking", "settled", "{}"]
    assert seen == [-1, 0, 1, 2]


def test_who_asks_second_finds_the_run_under_way(shelf, engine, revision, cache):
    """Several requests follow an edit at once: none of them may see a plan that nobody works on."""
    runs = RunManager(shelf, Results(engine), cache)
    with ThreadPoolExecutor(8) as pool:
        answers = list(pool.map(lambda _: (a := runs.answer(revision), a.running or a.complete), range(8)))
    assert all(busy for _, busy in answers)
    assert len({id(answer) for answer, _ in answers}) == 1
    wait_until_idle(answers[0][0])
    runs.close()


def cover_rule(revision, clearance):
    """The project judged by one rule, of water below the cover in 2 years."""
    document = copy.deepcopy(revision.document)
    document["brief"]["criteria"] = [
        {"kind": "cover", "name": "dry", "return_period": 2, "clearance": clearance, "asked": True}
    ]
    return parse_project(document)


def test_once_all_storms_are_in_those_that_decide_are_checked_and_close_ones_refined_when_asked(
    shelf, engine, revision, cache, monkeypatch
):
    runs = RunManager(shelf, Results(engine), cache)
    plain = runs.answer(shelf.save(revision.project_id, cover_rule(revision, 0.0), revision.number))
    wait_until_idle(plain)
    (verdict,) = plain.verdicts(plain.figures)
    assert verdict.deciding <= plain.finer.half.keys()
    assert (verdict.close, plain.finer.quarter) == (False, {})
    runs.refine(shelf.get(revision.project_id))
    wait_until_idle(plain)
    assert plain.finer.quarter == {}  # nothing is close: nothing to refine

    clearance = verdict.governing.value - 0.5 * verdict.band
    newer = shelf.save(revision.project_id, cover_rule(revision, clearance), plain.revision)
    near = runs.answer(newer)
    wait_until_idle(near)
    (close,) = near.verdicts(near.figures)
    assert (close.close, close.refined) == (True, False)
    runs.refine(newer)
    wait_until_idle(near)
    (refined,) = near.verdicts(near.figures)
    assert refined.refined
    assert refined.band <= close.band
    assert abs(refined.governing.value - close.governing.value) <= close.band
    runs.close()

    # what was computed once is found again, and not computed anew
    monkeypatch.setattr(ensemble_module, "run_storm", None)
    after = RunManager(shelf, Results(engine), cache)
    known = after.answer(newer)
    wait_until_idle(known)
    (again,) = known.verdicts(known.figures)
    assert (again.governing, again.band, again.refined) == (refined.governing, refined.band, True)
    after.close()


def test_a_refinement_that_is_asked_for_while_the_check_ends_is_not_lost(shelf, engine, revision, cache, monkeypatch):
    runs = RunManager(shelf, Results(engine), cache)
    looked: list[str] = []

    def last_moment(judged, figures, wanted, compute):
        wanted(set())
        looked.append(answer.looking)
        if len(looked) == 1:
            runs.refine(shelf.get(revision.project_id))

    monkeypatch.setattr(manager_module, "look_closer", last_moment)
    with runs._lock:
        answer = runs.answer(revision)
    wait_until_idle(answer)
    assert looked == ["checking", "refining"]
    runs.close()


def test_a_check_that_breaks_off_leaves_the_run_as_it_is(shelf, engine, revision, cache, monkeypatch):
    def broken(*_):
        raise RuntimeError

    monkeypatch.setattr(manager_module, "look_closer", broken)
    runs = RunManager(shelf, Results(engine), cache)
    answer = runs.answer(revision)
    wait_until_idle(answer)
    assert answer.complete
    assert all(v.band is None for v in answer.verdicts(answer.figures))
    runs.close()


def test_after_an_edit_the_storms_that_governed_run_first_and_make_the_margins_provisional(
    shelf, engine, revision, cache, monkeypatch
):
    runs = RunManager(shelf, Results(engine), cache, threads=1)
    first = runs.answer(revision)
    wait_until_idle(first)
    governed = first.governing
    assert 4 <= len(governed) < 30
    order, quick = [], ensemble_module.run_storm
    seen: dict[str, int] = {}

    def watched(plan, key, record):
        if key not in governed and not seen:
            seen.update({v.criterion.name: v.seen for v in edited.verdicts(dict(edited.figures)) if v.provisional})
            told.append(edited.version)
        order.append(key)
        return quick(plan, key, record)

    told: list[int] = []
    monkeypatch.setattr(ensemble_module, "run_storm", watched)
    document = copy.deepcopy(revision.document)
    network = next(iter(document["options"].values()))["network"]
    next(link for link in network["links"].values() if link["kind"] == "pipe")["roughness"] *= 1.01
    newer = shelf.save(revision.project_id, parse_project(document), revision.number)
    with runs._lock:  # the storms wait until the answer is at hand
        edited = runs.answer(newer)
    wait_until_idle(edited)
    assert edited.before == governed
    assert set(order[: len(governed)]) == governed
    whole = {v.criterion.name: v for v in edited.verdicts(edited.figures)}
    assert seen
    assert all(0 < count < whole[name].due for name, count in seen.items())
    assert not any(v.provisional for v in whole.values())
    assert edited.governing != frozenset()
    runs.close()
