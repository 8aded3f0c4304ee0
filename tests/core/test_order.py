"""Which storms run first, and what the others will cost."""

import pytest

from madidus.core.ensemble import before_edit, expected
from madidus.core.ensemble.order import in_order
from tests.core.test_single_change import demo


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
    found = in_order(plan.storms, keys, [{keys[3], keys[0], keys[-1]}, {keys[5], keys[0]}])
    assert set(found[:3]) == {keys[0], keys[3], keys[-1]}
    assert [duration[key] for key in found[:3]] == sorted((duration[key] for key in found[:3]), reverse=True)
    assert found[3] == keys[5]
    assert sorted(found) == sorted(keys)
    assert in_order(plan.storms, reversed(keys), [{keys[3], keys[0], keys[-1]}, {keys[5], keys[0]}]) == found


def test_the_others_come_scattered_so_that_the_first_of_them_are_of_all_intensities(ran):
    plan, _, _ = ran
    peak = {s.key: float(s.intensity.max()) for s in plan.storms}
    ranked = sorted(peak, key=lambda key: (-peak[key], key))
    for many in (4, 8, 16):
        quarters = [4 * ranked.index(key) // len(ranked) for key in in_order(plan.storms, peak)[:many]]
        assert all(quarters.count(k) >= many // 4 - (many > 4) for k in range(4))
    assert in_order(plan.storms, []) == []
    assert in_order(plan.storms, plan.storms[0].key.split()) == [plan.storms[0].key]


def test_a_storm_is_expected_to_cost_what_it_did_before_by_how_much_dearer_all_have_become(ran):
    plan, _, _ = ran
    a, b, c = (s.key for s in plan.storms[:3])
    assert expected(plan.storms, [c], {a: 200.0, b: 100.0}, {a: 100.0, b: 50.0, c: 70.0}) == {c: 140.0}


def test_without_a_run_before_it_is_expected_to_cost_what_those_of_a_like_duration_and_depth_took(ran):
    plan, _, _ = ran
    by = sorted(plan.storms, key=lambda s: (s.depth, s.duration))
    mild, fierce = by[0], by[-1]
    twin = next(s for s in plan.storms if s is not fierce and (s.depth, s.duration) == (fierce.depth, fierce.duration))
    assert expected(plan.storms, [twin.key], {mild.key: 100.0, fierce.key: 900.0}, {})[twin.key] == pytest.approx(
        900, 0.01
    )
    # between two it lies between what they took
    middle = by[len(by) // 2].key
    assert 100.0 < expected(plan.storms, [middle], {mild.key: 100.0, fierce.key: 900.0}, {})[middle] < 900.0
    longer = next(s for s in plan.storms if s.duration > mild.duration and s.depth < fierce.depth).key
    assert expected(plan.storms, [longer], {mild.key: 100.0, fierce.key: 900.0}, {})[longer] > 100.0
    assert expected(plan.storms, [mild.key], {}, {}) == {}
