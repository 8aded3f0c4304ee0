"""Runs: cancel keeps what is done, a killed run goes on, the newest edit wins, reading starts and stops nothing."""

import asyncio
import copy
import threading
import time
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import replace

import numpy as np
import pytest
from structlog.testing import capture_logs

from madidus.core import ensemble as ensemble_module
from madidus.core.ensemble import Outcome, run_job
from madidus.core.errors import ModelError
from madidus.core.model import parse_project
from madidus.runs import runs as runs_module
from madidus.runs.ranks import Rank
from madidus.runs.runs import Runs
from madidus.runs.scheduler import Local
from madidus.store.results import Results
from madidus.store.series import SeriesCache
from madidus.web.running import answer_events


@pytest.fixture
def revision(projects, demo_document):
    """A project whose figures nobody has computed: its lengths are its own."""
    document = copy.deepcopy(demo_document)
    for link in network_of(document)["links"].values():
        if link["kind"] == "pipe":
            link["length"] += time.time() % 1.0
    made = projects.create(parse_project(document))
    yield made
    projects.remove(made.project_id)


@pytest.fixture
def begin(projects, engine, cache):
    """Makes run managers, and closes them."""
    begun = []

    def make(scheduler=None, cache=cache):
        begun.append(Runs(projects, Results(engine), cache, scheduler or Local(2)))
        return begun[-1]

    yield make
    for runs in begun:
        runs.close()


def network_of(document):
    return document["options"][document["in_view"]]["network"]


def option_of(revision):
    return revision.document["in_view"]


def wait_until_idle(answer):
    deadline = time.monotonic() + 180
    while answer.busy:
        assert time.monotonic() < deadline
        time.sleep(0.02)


class Through(Local):
    """Threads of this process; `meet` is called with each job before it is computed."""

    def __init__(self, meet, threads=2):
        super().__init__(threads)
        self.meet, self.ranks = meet, []

    def submit(self, hydraulics, job, rank, group):
        self.ranks.append(rank)

        def work():
            self.meet(job)
            return run_job(hydraulics, job)

        return self._threads.submit(rank, group, work)


def test_cancel_keeps_what_is_done_and_a_new_manager_goes_on(projects, engine, revision, begin):
    # all but the first storms wait until the run is stopped
    first_ones, stopped = threading.Semaphore(8), threading.Event()
    runs = begin(Through(lambda job: first_ones.acquire(blocking=False) or stopped.wait(60)))
    option = option_of(revision)
    answer = runs.run(revision, option)
    version = answer.version
    while len(answer.figures) < 4 and answer.running:
        version = runs.wait(answer, version, 5.0)
    runs.cancel(revision.project_id, "another option")
    assert not answer.stop.is_set()
    runs.cancel(revision.project_id, option)
    stopped.set()
    wait_until_idle(answer)
    done = set(answer.figures)
    assert 4 <= len(done) < 54

    # what a kill leaves behind: a run still marked as running
    results = Results(engine)
    results.open_run(revision.project_id, option, revision.number, answer.plan.digests)
    after = begin()
    known = after.answer(revision, option)
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
    deadline = time.monotonic() + 60
    while any(row.project_id == revision.project_id for row in results.interrupted()):
        assert time.monotonic() < deadline
        time.sleep(0.05)


def test_reading_starts_nothing_and_stops_nothing(projects, revision, begin):
    runs, option = begin(), option_of(revision)
    answer = runs.answer(revision, option)
    assert not answer.busy
    assert answer.figures == {}
    running = runs.run(revision, option)
    assert runs.answer(revision, option) is running is answer
    assert not running.stop.is_set()
    wait_until_idle(running)


def test_more_projects_than_are_remembered_do_not_stop_a_run(projects, demo_document, revision, begin, monkeypatch):
    monkeypatch.setattr(runs_module, "_ANSWERS", 3)
    gate = threading.Event()
    runs, option = begin(Through(lambda job: gate.wait(60))), option_of(revision)
    long_one = runs.run(revision, option)
    others = [projects.create(parse_project(demo_document)) for _ in range(6)]
    for other in others:
        runs.answer(other, option_of(other))
    assert len(runs._answers) <= 4
    assert runs.answer(revision, option) is long_one
    assert not long_one.stop.is_set()
    gate.set()
    wait_until_idle(long_one)
    assert long_one.complete
    for other in others:
        projects.remove(other.project_id)


def test_storms_that_the_solver_sees_alike_share_what_is_kept(engine, demo_document):
    plan = ensemble_module.make_plan(parse_project(demo_document))
    key = plan.storms[0].key
    figures = run_job(plan.hydraulics, plan.job(key)).result
    results, digest, other = Results(engine), plan.digests[key], "of another network"
    results.keep({key: digest}, [figures])
    found = results.find({key: digest, "twin": digest, "unlike": other})
    assert set(found) == {key, "twin"}
    assert found["twin"].key == "twin"
    assert np.array_equal(found["twin"].level, found[key].level, equal_nan=True)
    assert found["twin"].level == pytest.approx(figures.level, abs=1e-3, nan_ok=True)


def test_series_that_the_cache_has_lost_are_computed_again(revision, begin, tmp_path):
    runs, option = begin(), option_of(revision)
    answer = runs.run(revision, option)
    wait_until_idle(answer)
    key = answer.plan.storms[5].key
    (kept,) = runs.series(answer, [key], [0, 3])
    threads = Through(lambda job: None)
    elsewhere = begin(threads, SeriesCache(tmp_path))
    known = elsewhere.answer(revision, option)
    (again,) = elsewhere.series(known, [key], [0, 3])
    assert threads.ranks == [Rank.REPLAY]
    assert again.time == pytest.approx(kept.time)
    assert again.scale == kept.scale
    assert np.abs(again.values - kept.values).max() < 1e-3  # the kept ones are rounded
    assert np.array_equal(
        elsewhere.series(known, [key], [0, 3])[0].values, runs.series(answer, [key], [0, 3])[0].values
    )
    # a result that another solver left is not passed off as this one's
    known.figures[key] = replace(known.figures[key], level=known.figures[key].level + 0.01)
    (tmp_path / f"{known.plan.digests[key]}.npy").unlink()
    with pytest.raises(ModelError, match=r"differ by 10\.0 mm"):
        elsewhere.series(known, [key])


def edited(projects, revision, change):
    document = copy.deepcopy(revision.document)
    change(document)
    return projects.save(revision.project_id, parse_project(document), revision.number)


def without_a_link(document):
    network_of(document)["links"].popitem()


def test_the_newest_edit_wins(projects, revision, begin):
    runs, option = begin(Through(lambda job: time.sleep(0.02))), option_of(revision)
    first = runs.run(revision, option)
    newer = edited(projects, revision, without_a_link)
    runs.edited(newer)
    assert first.stop.is_set()
    second = runs.answer(newer, option)
    wait_until_idle(first)
    wait_until_idle(second)
    assert not first.complete
    assert second.complete


@pytest.mark.parametrize(
    "change",
    [
        lambda d: d.update(name="Another name"),
        lambda d: d["options"][d["in_view"]].update(name="Renamed", note="as drawn in May"),
        lambda d: d["saved_views"].append({"name": "here", "stage": "network", "option": d["in_view"]}),
        lambda d: d["check_limits"].update(drop=2.0),
    ],
)
def test_an_edit_that_changes_no_input_plans_and_stops_nothing(projects, revision, begin, monkeypatch, change):
    runs, option = begin(Through(lambda job: time.sleep(0.02))), option_of(revision)
    running = runs.run(revision, option)
    monkeypatch.setattr(runs_module, "make_plan", None)  # nobody may call it
    newer = edited(projects, revision, change)
    runs.edited(newer)
    assert not running.stop.is_set()
    assert runs.answer(newer, option) is running
    assert running.revision == newer.number
    assert running.project.name == newer.document["name"]
    wait_until_idle(running)
    assert running.complete


def test_edits_of_one_option_leave_the_run_of_another_alone(projects, revision, begin):
    first = option_of(revision)
    other = "00000000-0000-4000-8000-00000000000b"

    def with_another(document):
        document["options"][other] = copy.deepcopy(document["options"][first]) | {"name": "B"}
        document["order"].append(other)
        next(iter(document["options"][other]["network"]["links"].values()))["length"] += 1.5

    both = edited(projects, revision, with_another)
    runs = begin(Through(lambda job: time.sleep(0.01)))
    of_first, of_other = runs.run(both, first), runs.run(both, other)
    assert of_first.plan.digests != of_other.plan.digests
    newer = edited(projects, both, lambda d: d["options"][other]["network"]["links"].popitem())
    runs.edited(newer)
    assert of_other.stop.is_set()
    assert not of_first.stop.is_set()
    for answer in (of_first, of_other):
        wait_until_idle(answer)
    assert runs.answer(newer, first) is of_first
    assert of_first.complete
    # switching shows what is kept: nothing is computed again
    shown = begin().answer(newer, first)
    assert shown.complete


def test_a_question_from_before_an_edit_does_not_stop_the_run_of_the_edit(projects, revision, begin):
    """Read at the old revision, it may arrive when the new one is under way."""
    runs, option = begin(Through(lambda job: time.sleep(0.01))), option_of(revision)
    newer = edited(projects, revision, without_a_link)
    present = runs.run(newer, option)
    for late in (runs.answer, runs.run, runs.ask):
        stale = late(revision, option)
        assert stale.revision == revision.number
        assert not stale.running
    assert not present.stop.is_set()
    assert runs.answer(newer, option) is present
    wait_until_idle(present)
    assert present.complete


def test_whoever_looks_after_an_edit_finds_it_awaited_or_under_way(projects, revision, begin):
    """Several requests follow an edit at once: none of them may see a plan that nobody works on."""
    runs, option = begin(), option_of(revision)
    newer = edited(projects, revision, without_a_link)
    runs.edited(newer)
    with ThreadPoolExecutor(8) as pool:
        answers = list(pool.map(lambda _: (a := runs.answer(newer, option), a.busy or a.complete), range(8)))
    assert all(busy for _, busy in answers)
    assert len({id(answer) for answer, _ in answers}) == 1
    wait_until_idle(answers[0][0])
    assert answers[0][0].complete


def test_an_edit_of_a_long_ensemble_waits_to_be_asked(projects, revision, begin, monkeypatch):
    monkeypatch.setattr(runs_module, "_LIVE_SECONDS", 0.0)
    runs, option = begin(), option_of(revision)
    newer = edited(projects, revision, without_a_link)
    runs.edited(newer)
    answer = runs.answer(newer, option)
    wait_until_idle(answer)
    assert answer.figures == {}


def test_planning_one_project_lets_others_be_read(projects, demo_document, revision, begin, monkeypatch):
    """Planning a large network takes seconds; it must not stand in the way of anybody else's question."""
    planning, gate, plan = threading.Event(), threading.Event(), runs_module.make_plan

    def slow(project):
        if project.name == "slow":
            planning.set()
            assert gate.wait(60)
        return plan(project)

    monkeypatch.setattr(runs_module, "make_plan", slow)
    runs = begin()
    known = runs.answer(revision, option_of(revision))
    heavy = projects.create(parse_project({**demo_document, "name": "slow"}))
    with ThreadPoolExecutor(2) as pool:
        both = [pool.submit(runs.answer, heavy, option_of(heavy)) for _ in range(2)]
        assert planning.wait(10)
        assert runs.answer(revision, option_of(revision)) is known
        gate.set()
        assert both[0].result() is both[1].result()  # who asks second waits for the first one's plan
    projects.remove(heavy.project_id)


def test_an_edit_overtakes_a_run(projects, demo_document, revision, begin):
    """A small project is answered while the storms of another's long run wait."""
    runs = begin(Through(lambda job: time.sleep(0.03), threads=1))
    long_run = runs.run(revision, option_of(revision))
    document = copy.deepcopy(demo_document)
    document["rain"]["ensemble"].update(durations=[15, 30])
    for link in network_of(document)["links"].values():
        link["flap"] = True
    small = projects.create(parse_project(document))
    runs.edited(small)
    answer = runs.answer(small, option_of(small))
    while answer.running or answer.awaited:
        time.sleep(0.01)
    assert answer.complete
    assert long_run.running
    assert len(long_run.figures) < 45
    wait_until_idle(long_run)
    wait_until_idle(answer)
    projects.remove(small.project_id)


def test_a_storm_that_breaks_off_is_tried_once_more_alone_and_then_its_own_failure(revision, begin):
    met: dict[str, list[int]] = {}

    def meet(job):
        met.setdefault(job.key, []).append(len(met))
        if job.key == "2-60-winter" or (job.key == "30-15-summer" and len(met[job.key]) == 1):
            raise ValueError("a matrix of 9 by 9 is singular " + "x" * 20_000)

    runs, option = begin(Through(meet)), option_of(revision)
    with capture_logs() as logs:
        answer = runs.run(revision, option)
        while answer.running:
            time.sleep(0.01)
    assert len(answer.figures) == 53
    (failure,) = answer.failures.values()
    assert failure.key == "2-60-winter"
    assert "ValueError" in failure.problem
    assert len(failure.problem) < 400
    assert len(met["2-60-winter"]) == len(met["30-15-summer"]) == 2
    assert answer.log[-1].what == "ends"
    (line,) = [log for log in logs if log["event"] == "storm failed"]
    assert line["storm"] == "2-60-winter"
    assert "meet" in line["trace"]
    assert len(str(line)) < 2500
    # the matrix's button: that storm alone
    meet_again = dict(met)
    runs.run(revision, option, only={"2-60-winter"})
    wait_until_idle(answer)
    assert {key for key, seen in met.items() if len(seen) != len(meet_again[key])} <= {"2-60-winter"}
    assert set(answer.failures) == {"2-60-winter"}


def test_the_stream_ends_with_an_answer_that_is_neither_running_nor_checked(revision, begin):
    runs, option = begin(), option_of(revision)

    async def told():
        answer = runs.run(revision, option)

        class Look:
            def __init__(self):
                self.state = "running" if answer.running else "settled"
                self.worth = self
                self.looking = answer.looking

            def model_dump_json(self):
                return self.state + self.looking

        return [event async for event in answer_events(runs, answer, Look)], answer

    events, answer = asyncio.run(told())
    said = [event.split("data: ")[1].strip() for event in events]
    assert said[-2:] == ["settled", "{}"]
    assert said[0] == "running"
    assert answer.listeners == set()


def test_streams_hold_no_thread(revision, begin):
    """Sixty open streams starved the server: each kept one of its forty threads."""
    gate = threading.Event()
    runs, option = begin(Through(lambda job: gate.wait(60))), option_of(revision)
    answer = runs.run(revision, option)

    class Look:
        worth = type("worth", (), {"looking": ""})

        def __init__(self):
            self.state = "running" if answer.running else "settled"

        def model_dump_json(self):
            return self.state

    async def crowd():
        streams = [answer_events(runs, answer, Look) for _ in range(60)]
        for stream in streams:
            await anext(stream)  # each is at the point of waiting
        before = threading.active_count()
        waiting = [asyncio.ensure_future(anext(stream)) for stream in streams]
        await asyncio.sleep(0.3)
        held = threading.active_count() - before
        gate.set()
        done = await asyncio.wait_for(asyncio.gather(*waiting), 60)
        for stream in streams:
            await stream.aclose()
        return held, done

    held, done = asyncio.run(crowd())
    assert held < 5
    assert all(text.startswith("event: answer") for text in done)
    wait_until_idle(answer)


def cover_rule(revision, clearance):
    """The project judged by one rule, of water below the cover in 2 years."""
    document = copy.deepcopy(revision.document)
    document["brief"]["rules"] = [
        {"kind": "cover", "name": "dry", "limits": [{"return_period": 2, "value": clearance}], "asked": True}
    ]
    return parse_project(document)


def test_once_all_storms_are_in_those_that_decide_are_checked_and_close_ones_refined_when_asked(
    projects, revision, begin
):
    runs, option = begin(), option_of(revision)
    first = projects.save(revision.project_id, cover_rule(revision, 0.0), revision.number)
    plain = runs.ask(first, option)
    wait_until_idle(plain)
    (verdict,) = plain.verdicts(plain.figures)
    assert verdict.deciding <= plain.finer.half.keys()
    assert (verdict.close, plain.finer.quarter) == (False, {})
    runs.refine(first, option)
    wait_until_idle(plain)
    assert plain.finer.quarter == {}  # nothing is close: nothing to refine

    clearance = verdict.governing.value - 0.5 * verdict.band
    newer = projects.save(revision.project_id, cover_rule(revision, clearance), plain.revision)
    near = runs.ask(newer, option)
    wait_until_idle(near)
    (close,) = near.verdicts(near.figures)
    assert (close.close, close.refined) == (True, False)
    runs.refine(newer, option)
    wait_until_idle(near)
    (refined,) = near.verdicts(near.figures)
    assert refined.refined
    assert refined.band <= close.band
    assert abs(refined.governing.value - close.governing.value) <= close.band

    # what was computed once is found again, and not computed anew
    class Nobody(Local):
        def submit(self, hydraulics, job, rank, group):
            done: Future[Outcome] = Future()
            done.set_exception(AssertionError("computed again"))
            return done

    known = begin(Nobody(1)).ask(newer, option)
    wait_until_idle(known)
    (again,) = known.verdicts(known.figures)
    assert (again.governing, again.band, again.refined) == (refined.governing, refined.band, True)


def test_a_refinement_that_is_asked_for_while_the_check_ends_is_not_lost(revision, begin, monkeypatch):
    runs, option = begin(), option_of(revision)
    looked: list[str] = []

    def last_moment(judged, figures, wanted, compute):
        wanted(set())
        looked.append(answer.looking)
        if len(looked) == 1:
            runs.refine(revision, option)

    monkeypatch.setattr(runs_module, "look_closer", last_moment)
    answer = runs.answer(revision, option)
    runs.run(revision, option)
    wait_until_idle(answer)
    assert looked == ["checking", "refining"]


def test_a_check_that_breaks_off_leaves_the_run_as_it_is(revision, begin, monkeypatch):
    def broken(*_):
        raise RuntimeError

    monkeypatch.setattr(runs_module, "look_closer", broken)
    answer = begin().run(revision, option_of(revision))
    wait_until_idle(answer)
    assert answer.complete
    assert all(v.band is None for v in answer.verdicts(answer.figures))


def test_after_an_edit_the_storms_that_governed_run_first_and_make_the_margins_provisional(projects, revision, begin):
    order, watching = [], threading.Event()
    seen: dict[str, int] = {}

    def watched(job):
        if not watching.is_set():
            return
        if job.key not in governed and not seen:
            seen.update({v.criterion.name: v.seen for v in later.verdicts(dict(later.figures)) if v.provisional})
        order.append(job.key)

    runs, option = begin(Through(watched, threads=1)), option_of(revision)
    first = runs.run(revision, option)
    wait_until_idle(first)
    governed = first.tells().deciding
    assert 4 <= len(governed) < 30

    def rougher(document):
        links = network_of(document)["links"].values()
        next(link for link in links if link["kind"] == "pipe")["roughness"] *= 1.01

    newer = edited(projects, revision, rougher)
    later = runs.answer(newer, option)
    watching.set()
    runs.run(newer, option)
    wait_until_idle(later)
    assert later.before == first.tells()
    assert set(order[: len(governed)]) == governed
    whole = {v.criterion.name: v for v in later.verdicts(later.figures)}
    assert seen
    assert all(0 < count < whole[name].due for name, count in seen.items())
    assert not any(v.provisional for v in whole.values())
    assert later.tells().deciding != frozenset()


def test_an_edit_of_a_long_ensemble_runs_at_once_what_decided_before(projects, revision, begin, monkeypatch):
    order = []
    runs, option = begin(Through(lambda job: order.append(job.key))), option_of(revision)
    first = runs.run(revision, option)
    wait_until_idle(first)
    judged = {key for v in first.verdicts(first.figures) for key in v.judged}
    served = [key in judged for key in order[: len(first.figures)]]
    assert served == sorted(served, reverse=True)  # the very first run begins with what a rule judges
    deciding = first.tells().deciding
    monkeypatch.setattr(runs_module, "_LIVE_SECONDS", 0.0)
    order.clear()

    def rougher(document):
        links = network_of(document)["links"].values()
        next(link for link in links if link["kind"] == "pipe")["roughness"] *= 1.01

    newer = edited(projects, revision, rougher)
    later = runs.ask(newer, option)
    wait_until_idle(later)
    assert set(order) == set(later.figures) == deciding
    found = [v for v in later.verdicts(later.figures) if v.due]
    assert all(v.provisional or v.state == "fails" for v in found)
    assert not later.complete
    assert later.log[-1].what == "ends"
    runs.run(newer, option)
    wait_until_idle(later)
    assert later.complete
    assert not any(v.provisional for v in later.verdicts(later.figures))


def test_a_run_that_is_asked_for_while_what_decides_runs_follows_it(projects, revision, begin, monkeypatch):
    runs, option = begin(), option_of(revision)
    wait_until_idle(runs.run(revision, option))
    monkeypatch.setattr(runs_module, "_LIVE_SECONDS", 0.0)
    newer = edited(projects, revision, without_a_link)
    later = runs.ask(newer, option)
    assert later.running
    assert runs.run(newer, option) is later
    wait_until_idle(later)
    assert later.complete
