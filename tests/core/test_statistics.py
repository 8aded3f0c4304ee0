"""Critical durations where peaks are equal, few or at the end of what was run; cases D1 and D2 have the ordinary ones."""

import numpy as np
import pytest

from madidus.core.statistics import critical, representative, spread


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


def test_where_no_peak_lies_above_the_highest_stands_for_them():
    assert representative({"a": 1.0, "b": 2.0, "c": 3.0}, 1.0) == "b"
    assert representative({"a": 1.0, "b": 2.0}, 2.0) == "b"


def test_of_equal_durations_the_shorter_is_critical():
    found = critical({60.0: {"a": 1.0, "b": 3.0}, 30.0: {"c": 3.0, "d": 1.0}, 15.0: {"e": 1.0}}, "mean")
    assert (found.duration, found.value, found.storm, found.peak, found.at_end) == (30.0, 2.0, "c", 3.0, None)


@pytest.mark.parametrize(("worst", "at_end"), [(15.0, "shortest"), (30.0, None), (60.0, "longest")])
def test_a_critical_duration_at_the_end_says_that_a_further_one_may_be_worse(worst, at_end):
    peaks = {d: {"a": 2.0 if d == worst else 1.0} for d in (15.0, 30.0, 60.0)}
    assert critical(peaks, "highest").at_end == at_end


def test_a_single_duration_has_no_further_one():
    assert critical({15.0: {"a": 2.0}}, "median").at_end is None
