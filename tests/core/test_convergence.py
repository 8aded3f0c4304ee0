"""What the grid of a run is worth: bands, close and refined verdicts, and which storms are looked at for them."""

from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace

import numpy as np
import pytest

from madidus.core.ensemble import make_plan, run_plan, submit_to
from madidus.core.ensemble.convergence import (
    CHECKED,
    REFINED,
    OnFiner,
    governors,
    to_check,
    to_refine,
    with_bands,
    worth,
)
from madidus.core.model import parse_project
from madidus.core.model.network import Network
from madidus.core.verdicts import judge, overall

from .test_margins import SEASONS, outflow, peaks
from .told import figures_of, outfalls, table_of

KEYS = [storm.key for storm in SEASONS]


def looked_at(rule, storms, figures, half=None, quarter=None, before=(), network=None):
    """The verdict on one rule with what finer cells say of some storms."""
    finer = OnFiner(half or {}, quarter or {})

    def judged(by):
        return judge([rule], network or outfalls("O"), storms, by, before=before)

    return with_bands(judged({**figures, **finer.quarter}), judged(finer.half), judged(finer.quarter), finer)[0]


def by_key(**values):
    return {key: figures_of(key, outflow=[v], outflow_time=[9.0]) for key, v in values.items()}


FIGURES = peaks(0.30, 0.80, 0.50, 0.79)
GOVERNS = KEYS[1]


def test_an_error_that_halves_with_the_cells_stays_within_the_band_on_either_grid():
    exact, error = 0.80, 0.03
    coarse = peaks(0.30, exact + error, 0.50, 0.79)
    half, quarter = by_key(**{GOVERNS: exact + error / 2}), by_key(**{GOVERNS: exact + error / 4})
    v = looked_at(outflow(1.0), SEASONS, coarse, half)
    assert (v.refined, v.storm) == (False, GOVERNS)
    assert v.band == pytest.approx(3 * error / 2)
    assert abs(v.governing.value - (1.0 - exact)) < v.band
    v = looked_at(outflow(1.0), SEASONS, coarse, half, quarter)
    assert v.refined
    assert v.governing.value == pytest.approx(1.0 - exact - error / 4)
    assert v.band == pytest.approx(1.25 * error / 4)
    assert abs(v.governing.value - (1.0 - exact)) < v.band


@pytest.mark.parametrize(
    ("limit", "state", "close"),
    [(0.82, "meets", True), (0.84, "meets", False), (0.79, "fails", True), (0.7, "fails", False)],
)
def test_a_verdict_is_close_when_its_margin_is_less_than_the_grid_may_have_wrong(limit, state, close):
    v = looked_at(outflow(limit), SEASONS, FIGURES, by_key(**{GOVERNS: 0.79}))  # a band of 0.03
    assert (v.state, v.close) == (state, close)
    found = overall([v])
    assert found.close == close
    assert ("; 1 close: within what the grid is worth" in found.said) == close


@pytest.mark.parametrize(
    ("limit", "state"), [(0.805, "too close"), (0.795, "too close"), (0.86, "meets"), (0.7, "fails")]
)
def test_a_margin_within_its_band_on_the_finest_cells_too_is_too_close_to_call(limit, state):
    half, quarter = by_key(**{GOVERNS: 0.81}), by_key(**{GOVERNS: 0.80})  # a band of 1.25 × 0.01
    v = looked_at(outflow(limit), SEASONS, FIGURES, half, quarter)
    assert (v.state, v.refined, v.close) == (state, True, False)
    assert to_refine([v]) == set()
    found = overall([v])
    assert found.state == state
    assert (found.too_close, found.meets, found.fails) == tuple(
        int(state == one) for one in ("too close", "meets", "fails")
    )
    if state == "too close":
        assert found.said == "1 of 1 rule is too close to call"
    others = overall([v, looked_at(outflow(2.0), SEASONS, FIGURES, half)])
    assert others.state == state


def test_what_a_curve_bounds_is_decided_whatever_the_grid_may_have_wrong():
    """A rule at the greatest flow of a control by its curve: the margin is nought, and not in doubt."""
    rows = [{"head": h, "flow": q} for h, q in ((0.0, 0.0), (0.3, 0.5), (0.6, 0.4), (1.0, 0.5))]
    pond = {"kind": "storage", "name": "S", "invert": 1.0, "cover": 3.0,
            "table": [{"depth": 0, "area": 10}, {"depth": 2, "area": 10}]}  # fmt: skip
    ids = [f"00000000-0000-4000-8000-{k:012d}" for k in range(2)]
    control = {"kind": "curve", "name": "V", "upstream": ids[1], "downstream": ids[0], "invert": 1.0, "rows": rows}
    network = Network.model_validate(
        {"nodes": {ids[0]: {"kind": "outfall", "name": "O", "invert": 0.5}, ids[1]: pond}, "links": {ids[0]: control}}
    )

    def judged_at(limit, flow):
        figures = {key: figures_of(key, outflow=[0.0, np.nan], outflow_time=[0.0, 0.0]) for key in KEYS}
        half = {GOVERNS: figures_of(GOVERNS, outflow=[flow - 0.01, np.nan], outflow_time=[0.0, 0.0])}
        figures[GOVERNS] = figures_of(GOVERNS, outflow=[flow, np.nan], outflow_time=[0.0, 0.0])
        return looked_at(outflow(limit), SEASONS, figures, half, network=network)

    v = judged_at(0.5, 0.5)
    assert (v.state, v.close, v.band) == ("meets", False, 0.0)
    assert judged_at(0.52, 0.5).band == 0.0
    assert judged_at(0.49, 0.48).close  # the curve may let out more: in doubt as ever
    assert judged_at(0.49, 0.48).band == pytest.approx(0.02)  # the curve bounds it: 0.5 at most


def test_what_was_not_computed_is_no_band_and_nothing_is_close_by_it():
    v = looked_at(outflow(0.801), SEASONS, FIGURES)
    assert (v.band, v.close, v.refined) == (None, False, False)
    other = looked_at(outflow(0.801), SEASONS, FIGURES, by_key(**{KEYS[0]: 0.2}))  # a storm that does not govern
    assert other.band is None


def test_a_rule_that_waits_for_storms_is_never_close():
    waits = looked_at(outflow(0.801), SEASONS, peaks(0.3, 0.8), by_key(**{GOVERNS: 0.7}))
    assert waits.state == "not judged"
    assert not waits.close


def test_a_mean_over_patterns_is_checked_with_all_of_them_or_not_at_all():
    storms, figures = table_of({"O": {15: [0.2, 0.4, 0.9], 60: [0.1, 0.3, 0.5]}})
    short = [s.key for s in storms[:3]]
    rule = outflow(0.6, "mean")
    v = looked_at(rule, storms, figures, by_key(**{short[2]: 0.8}))
    assert v.deciding == set(short)
    assert v.band is None
    half = by_key(**{key: value for key, value in zip(short, (0.2, 0.4, 0.84), strict=True)})
    assert looked_at(rule, storms, figures, half).band == pytest.approx(3 * 0.02)
    assert looked_at(rule, storms, figures, half, by_key(**{short[2]: 0.8})).refined is False


def test_storms_are_checked_that_decide_and_the_one_that_governs_most_elements():
    network = outfalls("O", "P", "Q")
    figures = {
        key: figures_of(key, outflow=[v, 0.9 - v, 0.95 - v], outflow_time=[9.0] * 3)
        for key, v in zip(KEYS, (0.3, 0.8, 0.5, 0.79), strict=True)
    }
    assert governors(figures) == {KEYS[0], GOVERNS}
    judged = judge([outflow(1.0)], network, SEASONS, figures)
    assert to_check(figures, judged) == {KEYS[0], GOVERNS}
    waiting = judge([outflow(1.0)], network, SEASONS, {key: figures[key] for key in KEYS[:2]})
    assert to_check({}, waiting) == set()
    assert governors({}) == set()


def test_the_storm_with_the_least_room_below_a_soffit_governs_and_not_that_with_the_most():
    room = {"a": [0.5], "b": [0.1], "c": [0.3]}
    figures = {k: replace(figures_of(k, level=[1.0], level_time=[0.0]), clearance=np.array(v)) for k, v in room.items()}
    figures["c"] = replace(figures["c"], level=np.array([2.0]))
    assert governors(figures) == {"b", "c"}


def test_what_may_decide_a_close_verdict_is_refined_and_nothing_else():
    v = looked_at(outflow(0.81), SEASONS, FIGURES, by_key(**{GOVERNS: 0.79}))
    assert to_refine([v]) == {GOVERNS, KEYS[3]}  # 0.79 lies within the band of 0.80, 0.50 does not
    far = looked_at(outflow(1.0), SEASONS, FIGURES, by_key(**{GOVERNS: 0.79}))
    assert to_refine([far]) == set()


def test_a_storm_that_failed_has_no_margin_and_is_not_refined():
    figures = peaks(0.3, 0.8, 0.5)
    finer = OnFiner(by_key(**{GOVERNS: 0.79}))

    def judged(by):
        return judge([outflow(0.79)], outfalls("O"), SEASONS, by, [KEYS[3]])

    (v,) = with_bands(judged(figures), judged(finer.half), judged({}), finer)
    assert (v.state, v.close) == ("fails", True)
    assert to_refine([v]) == {GOVERNS}


def test_a_storm_that_takes_over_once_another_is_refined_is_not_called_refined():
    quarter = by_key(**{GOVERNS: 0.75})
    v = looked_at(outflow(0.81), SEASONS, FIGURES, by_key(**{GOVERNS: 0.78}), quarter)
    assert (v.storm, v.refined, v.band) == (KEYS[3], False, None)


def test_margins_are_provisional_once_the_storms_that_governed_before_are_in():
    def provisional(figures, before):
        return looked_at(outflow(1.0), SEASONS, figures, before=before).provisional

    assert provisional(peaks(0.3, 0.8), {GOVERNS})
    assert not provisional(peaks(0.3), {GOVERNS})  # it is still to come
    assert not provisional(peaks(0.3, 0.8), ())  # nobody knows what governed
    assert not provisional(peaks(0.3, 0.8), {"2-15-winter"})  # a storm that this rule does not judge
    assert not provisional(FIGURES, {GOVERNS})  # all are in: judged
    failed = judge([outflow(1.0)], outfalls("O"), SEASONS, peaks(0.3, 0.8), [KEYS[3]], before={GOVERNS})[0]
    assert not failed.provisional
    assert (failed.state, failed.seen, failed.due) == ("not judged", 2, 4)


def test_each_element_is_worth_three_times_the_largest_difference():
    figures = {
        k: figures_of(k, outflow=[v], level=[v], level_time=[0.0]) for k, v in zip("abc", (1.0, 2.0, 3.0), strict=True)
    }
    half = {k: figures_of(k, level=[v], level_time=[0.0]) for k, v in zip("ab", (1.01, 1.97), strict=True)}
    found = worth(figures, half)
    assert found.storms == 2
    assert found.level == pytest.approx([0.09])
    assert worth(figures, {}) is None


@pytest.fixture(scope="module")
def boatyard(demo_document):
    plan = make_plan(parse_project(demo_document))
    with ThreadPoolExecutor(2) as executor:
        figures = {f.key: f for f in run_plan(plan, plan.inflow, submit_to(executor))}
        keys = to_check(figures, plan.verdicts(figures))
        parts = [{f.key: f for f in run_plan(plan.finer(n), keys, submit_to(executor))} for n in (CHECKED, REFINED)]
    return plan, figures, OnFiner(*parts)


def test_finer_plans_have_finer_cells_and_digests_of_their_own(boatyard):
    plan, _, _ = boatyard
    half, quarter = plan.finer(CHECKED), plan.finer(REFINED)
    count = [len(p.flat.grid.pipe_row) for p in (plan, half, quarter)]
    assert count == [count[0], 2 * count[0], 4 * count[0]]
    assert len({p.digests["2-15-winter"] for p in (plan, half, quarter)}) == 3
    assert half.nodes == plan.nodes
    assert half.digests == plan.finer(CHECKED).digests


def test_the_band_holds_what_quarter_cells_say_of_every_rule(boatyard):
    plan, figures, finer = boatyard
    checked = plan.verdicts(figures, finer=OnFiner(finer.half))
    refined = plan.verdicts(figures, finer=finer)
    assert all(v.band is not None for v in checked if v.state != "not judged")
    for v, after in zip(checked, refined, strict=True):
        if v.governing is not None and v.storm == after.storm:
            assert after.refined
            assert abs(after.governing.value - v.governing.value) <= v.band
    cells = np.isfinite(next(iter(figures.values())).level)
    off = np.max([np.abs(figures[k].level - finer.quarter[k].level)[cells] for k in finer.quarter], axis=0)
    assert np.percentile(off - worth(figures, finer.half).level[cells], 95) < 0.001  # m, of steps in time


def test_governing_storms_are_those_that_any_element_has_its_worst_in(boatyard):
    _, figures, _ = boatyard
    found = governors(figures)
    assert 4 <= len(found) < len(figures) / 2
    keys = list(figures)
    for name, worst in (("level", np.argmax), ("flow", np.argmax), ("clearance", np.argmin)):
        table = np.array([getattr(figures[key], name) for key in keys])
        table = table[:, np.isfinite(table).all(axis=0)]
        assert {keys[k] for k in worst(table, axis=0)} <= found


def test_storms_that_governed_before_run_before_all_others(boatyard):
    plan, _, _ = boatyard
    first = {"2-15-summer", "2-30-summer"}
    with ThreadPoolExecutor(1) as executor:
        order = [
            r.key
            for r in run_plan(plan, [k for k in plan.inflow if k.startswith("2-")], submit_to(executor), first=[first])
        ]
    assert set(order[:2]) == first
