"""Which storms run first, and what the others will cost."""

import pytest

from madidus.core.ensemble import before_edit, expected
from madidus.core.ensemble.order import in_order
from tests.core.test_bigger import demo


@pytest.fixture(scope="module")
def ran():
    _, plan, figures = demo()
    return plan, figures, plan.verdicts(figures)


def test_what_decided_comes_with_the_next_shorter_and_longer_of_its_kind(ran):
    plan, figures, verdicts = ran
    found = before_edit(plan.storms, figures, verdicts).deciding
    own = {key for v in verdicts for key in v.deciding}
    kinds = {s.key: (s.row, s.season) for s in plan.storms}
    durations = sorted({s.duration for s in plan.storms})
    place = {s.key: durations.index(s.duration) for s in plan.storms}
    assert own
    assert found == {
        key for key in kinds if any(kinds[key] == kinds[one] and abs(place[key] - place[one]) <= 1 for one in own)
    }


def test_the_order_goes_by_collection_and_then_by_length(ran):
    plan, _, _ = ran
    duration = {s.key: s.duration for s in plan.storms}
    keys = list(duration)
    found = in_order(plan.storms, keys, [{keys[3], keys[0]}, {keys[5], keys[0]}])
    assert set(found[:2]) == {keys[0], keys[3]}
    assert found[2] == keys[5]
    rest = [duration[key] for key in found[3:]]
    assert rest == sorted(rest, reverse=True)
    assert sorted(found) == sorted(keys)


def test_a_storm_is_expected_to_cost_what_it_did_before_by_how_much_dearer_all_have_become(ran):
    plan, _, _ = ran
    a, b, c = (s.key for s in plan.storms[:3])
    assert expected(plan.storms, [c], {a: 200.0, b: 100.0}, {a: 100.0, b: 50.0, c: 70.0}) == {c: 140.0}


def test_without_a_run_before_it_is_expected_to_cost_what_those_of_a_like_duration_took(ran):
    plan, _, _ = ran
    by = sorted(plan.storms, key=lambda s: s.duration)
    short, long, also_long = by[0].key, by[-1].key, by[-2].key
    assert by[-2].duration == by[-1].duration
    assert expected(plan.storms, [also_long], {short: 900.0, long: 100.0}, {}) == {also_long: 100.0}
    assert expected(plan.storms, [short], {}, {}) == {}
