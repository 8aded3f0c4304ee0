"""Who computes first: by rank, and within a rank by turns."""

import threading

import pytest

from madidus.runs.ranks import Rank, RankedThreads


@pytest.fixture
def held():
    """One thread that is kept busy until it is let go, and the order in which it then works."""
    threads, gate, begun = RankedThreads(1), threading.Event(), threading.Event()
    threads.submit(Rank.RUN, "holder", lambda: begun.set() or gate.wait(10))
    assert begun.wait(10)
    yield threads, gate
    gate.set()
    threads.close()


def order(held, *asked):
    threads, gate = held
    done: list[str] = []
    futures = [threads.submit(rank, group, lambda name=name: done.append(name)) for rank, group, name in asked]
    gate.set()
    for future in futures:
        future.result(10)
    return done


def test_the_best_rank_goes_first_whenever_it_came(held):
    asked = [(rank, "one", rank.name) for rank in (Rank.SEARCH, Rank.CHECK, Rank.RUN)]
    assert order(held, *asked) == ["RUN", "CHECK", "SEARCH"]


def test_an_edit_does_not_wait_for_the_storm_of_a_run_that_is_under_way(held):
    threads, gate = held
    assert threads.submit(Rank.EDIT, "edit", lambda: "answered").result(10) == "answered"
    waiting = threads.submit(Rank.RUN, "run", lambda: None)
    assert not gate.is_set()
    assert not waiting.done()  # the one more thread takes nothing of a run


def test_an_edit_overtakes_a_replay(held):
    threads, _ = held
    shut, begun, done = threading.Event(), threading.Event(), []
    first = threads.submit(Rank.REPLAY, "replay", lambda: begun.set() or shut.wait(10))
    assert begun.wait(10)
    futures = [threads.submit(rank, "one", lambda rank=rank: done.append(rank)) for rank in (Rank.REPLAY, Rank.EDIT)]
    shut.set()
    for future in (first, *futures):
        future.result(10)
    assert done == [Rank.EDIT, Rank.REPLAY]


def test_groups_of_one_rank_take_turns_and_each_keeps_its_order(held):
    a = [(Rank.RUN, "a", f"a{k}") for k in range(4)]
    b = [(Rank.RUN, "b", f"b{k}") for k in range(3)]
    assert order(held, *a, *b) == ["a0", "b0", "a1", "b1", "a2", "b2", "a3"]


def test_who_comes_later_begins_where_the_others_are():
    """It neither waits for all that was asked before, nor overtakes those who have been served long."""
    threads, done = RankedThreads(1), []
    second, came = threading.Event(), threading.Event()

    def work(name):
        done.append(name)
        if name == "a2":
            came.set()
            assert second.wait(10)

    futures = [threads.submit(Rank.RUN, "a", lambda name=f"a{k}": work(name)) for k in range(6)]
    assert came.wait(10)
    futures += [threads.submit(Rank.RUN, "b", lambda name=f"b{k}": work(name)) for k in range(3)]
    second.set()
    for future in futures:
        future.result(10)
    assert done == ["a0", "a1", "a2", "a3", "b0", "a4", "b1", "a5", "b2"]
    threads.close()


def test_what_is_cancelled_is_not_done_and_what_raises_harms_nobody(held):
    threads, gate = held
    done = []
    cancelled = threads.submit(Rank.RUN, "a", lambda: done.append("cancelled"))
    broken = threads.submit(Rank.RUN, "a", lambda: 1 / 0)
    whole = threads.submit(Rank.RUN, "a", lambda: done.append("whole"))
    assert cancelled.cancel()
    gate.set()
    whole.result(10)
    assert done == ["whole"]
    assert isinstance(broken.exception(10), ZeroDivisionError)


def test_closing_cancels_what_waits_and_takes_no_more(held):
    threads, gate = held
    waiting = threads.submit(Rank.RUN, "a", lambda: None)
    closing = threading.Thread(target=threads.close)
    closing.start()
    while not waiting.cancelled():
        pass
    gate.set()
    closing.join(10)
    assert not closing.is_alive()
    with pytest.raises(RuntimeError):
        threads.submit(Rank.RUN, "a", lambda: None)


def test_edits_alone_take_no_more_than_the_threads_there_are():
    """One more beside them would only slow each of them down."""
    threads, shut, begun = RankedThreads(1), threading.Event(), threading.Event()
    first = threads.submit(Rank.EDIT, "edit", lambda: begun.set() or shut.wait(10))
    assert begun.wait(10)
    second = threads.submit(Rank.EDIT, "edit", shut.is_set)
    with pytest.raises(TimeoutError):
        second.result(0.2)
    shut.set()
    assert first.result(10)
    assert second.result(10)
    threads.close()
