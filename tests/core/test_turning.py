"""A level that turns back from step to step is seen at once, so that the next step can be shorter."""

import numpy as np
import pytest

from madidus.core.hydraulics.recorder import make_peaks, note_peaks
from madidus.core.hydraulics.work import LEVEL, RATE


def turned(levels, flows=None, step=20.0, crown=np.inf):
    """What each step end tells of one cell, one face and one outlet."""
    peaks, cell, face = make_peaks(np.array([levels[0]]), 1, 1), np.zeros((20, 2)), np.zeros((16, 1))
    outlet, found = np.zeros(1), []
    for k, level in enumerate(levels[1:], start=1):
        cell[LEVEL, 0], cell[RATE, 0] = level, (level - levels[k - 1]) / step
        face[0, 0] = flows[k] if flows else 0.0
        found.append(note_peaks(peaks, np.array([crown]), cell, face, outlet, outlet, 1, k * step, False))
    return found


@pytest.mark.parametrize("step", [0.5, 20.0])
def test_it_is_the_smaller_of_two_changes_against_each_other(step):
    assert turned([1.0, 1.05, 1.02, 1.03, 1.10], step=step) == pytest.approx([0.0, 0.03, 0.01, 0.0])
    assert turned([1.0, 0.98, 1.06, 1.01], step=step) == pytest.approx([0.0, 0.02, 0.05])


def test_in_a_conduit_it_is_the_smallest_of_three_changes_each_against_the_one_before():
    """One leap and its way back are those of a void that closes."""
    assert turned([1.0, 1.5, 1.1, 1.1], crown=0.8) == [0.0, 0.0, 0.0]
    assert turned([1.0, 1.05, 1.02, 1.04, 1.01], crown=0.8) == pytest.approx([0.0, 0.0, 0.02, 0.02])


def test_what_rises_falls_or_stands_turns_not():
    assert turned([1.0, 1.1, 1.3, 1.4]) == [0.0, 0.0, 0.0]
    assert turned([1.4, 1.3, 1.3, 1.1]) == [0.0, 0.0, 0.0]


def test_flows_that_turn_do_not_count():
    assert turned([1.0, 1.0, 1.0, 1.0], flows=[0.0, 0.5, 0.1, 0.6]) == [0.0, 0.0, 0.0]
