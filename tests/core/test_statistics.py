"""Critical durations where peaks are equal, few or at the end of what was run; cases D1 and D2 have the ordinary ones."""

import numpy as np
import pytest

from madidus.core.results.patterns import Highest, representative
from madidus.core.results.statistics import critical, peaks_by_duration, spread
from madidus.core.rules.kinds import Outflow
from madidus.core.verdicts import judge

from .told import asked, outfalls, table_of


def test_a_spread_counts_its_peaks_and_knows_outliers():
    found = spread(np.array([3.0, 1.0, 2.0, 4.0, 5.0, 30.0]))
    assert (found.count, found.mean, found.median, found.quartiles) == (6, 7.5, 3.5, (2.25, 4.75))
    assert (found.lowest, found.highest, found.whiskers, found.outliers) == (1.0, 30.0, (1.0, 5.0), (30.0,))
    assert found.deviation == pytest.approx((((np.array([3, 1, 2, 4, 5, 30]) - 7.5) ** 2).sum() / 5) ** 0.5)


def test_one_peak_has_no_deviation_and_no_outlier():
    found = spread(np.array([2.0]))
    assert (found.count, found.quartiles, found.whiskers, found.outliers, found.deviation) == (1, (2, 2), (2, 2), (), 0)


def test_equal_peaks_have_no_outliers():
    assert spread(np.array([0.1 + 0.2, 0.3, 0.3, 0.3])).outliers == ()


def test_the_pattern_just_above_the_mean_stands_for_them_and_where_all_are_alike_the_first():
    assert representative([1.0, 5.0, 2.0, 4.0]) == 3  # mean 3
    assert representative([0.25, 0.5, 0.75]) == 2  # one lies on the mean, and not above it
    assert representative([1.0, 2.0, 3.0, 4.5, 10.0]) == 3  # mean 4.1, median 3
    assert representative([1.0, 2.0, 3.0, 3.5, 10.0]) == 4  # mean 3.9: 3.5 lies above the median alone
    assert representative([0.3, 0.3, 0.1 + 0.2]) == 2  # alike but for a rounding: the highest, none lies above
    assert representative([2.0, 2.0, 2.0]) == 0
    assert representative([1.0, 5.0, 2.0, 4.0], "highest") == 1
    table = np.array([[1.0, 3.0], [5.0, 1.0], [2.0, 2.5], [4.0, 2.0]])
    assert representative(table).tolist() == [3, 2]


def test_by_the_median_too_the_pattern_above_the_mean_stands_for_them():
    found = critical({15.0: {"a": 1.0, "b": 2.0, "c": 9.0, "d": 4.5}}, "median")
    assert (found.value, found.storm, found.peak) == (3.25, "d", 4.5)


def test_of_equal_durations_the_shorter_is_critical():
    peaks = {60.0: {"a": 1.0, "b": 3.0, "x": 2.0}, 30.0: {"c": 3.0, "d": 1.0, "y": 2.0}, 15.0: {"e": 1.0}}
    found = critical(peaks, "mean")
    assert (found.duration, found.value, found.storm, found.peak, found.at_end) == (30.0, 2.0, "c", 3.0, None)


def test_seasons_and_fewer_than_three_patterns_are_never_averaged():
    peaks = {60.0: {"summer": 1.0, "winter": 3.0, "all year": 2.9}, 30.0: {"p1": 1.0, "p2": 5.0}}
    found = critical(peaks, "mean", alone={"summer", "winter", "all year"})
    assert (found.duration, found.value, found.storm) == (30.0, 5.0, "p2")
    of_seasons = critical({60.0: peaks[60.0]}, "median", alone={"summer", "winter", "all year"})
    assert (of_seasons.value, of_seasons.storm) == (3.0, "winter")
    # a season beside patterns counts for itself against what is read of them
    mixed = critical({60.0: {"winter": 3.5, "p1": 1.0, "p2": 2.0, "p3": 6.0}}, "mean", alone={"winter"})
    assert (mixed.value, mixed.storm) == (3.5, "winter")


@pytest.mark.parametrize("how", ["mean", "median"])
def test_verdicts_tables_and_statistics_name_the_same_storm(how):
    """Random sets of peaks at an outfall: one rule decides which pattern stands for several."""
    random = np.random.default_rng(7)
    for _ in range(500):
        values = random.lognormal(0.0, 0.4, (int(random.integers(1, 4)), int(random.integers(1, 9))))
        storms, figures = table_of({"O": {15 * (k + 1): own.tolist() for k, own in enumerate(values)}})
        network = outfalls("O")
        (verdict,) = judge(
            [asked(Outflow, 1.0, element=next(iter(network.nodes)), patterns=how)], network, storms, figures
        )
        peaks = peaks_by_duration(storms, figures, storms[0].row, "outflow", 0)
        one = critical(peaks, how)
        assert verdict.storm == one.storm
        assert 1.0 - verdict.governing.value == pytest.approx(one.value, abs=1e-12)
        read, place = Highest(storms, how).of(np.array([figures[s.key].outflow for s in storms]))
        assert storms[place[0]].key == one.storm
        assert read[0] == pytest.approx(one.value, abs=1e-12)


@pytest.mark.parametrize(("worst", "at_end"), [(15.0, "shortest"), (30.0, None), (60.0, "longest")])
def test_a_critical_duration_at_the_end_says_that_a_further_one_may_be_worse(worst, at_end):
    peaks = {d: {"a": 2.0 if d == worst else 1.0} for d in (15.0, 30.0, 60.0)}
    assert critical(peaks, "highest").at_end == at_end


def test_a_single_duration_has_no_further_one():
    assert critical({15.0: {"a": 2.0}}, "median").at_end is None
