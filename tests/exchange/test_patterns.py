"""Temporal patterns from CSV, and the storms that they make."""

import numpy as np
import pytest

from madidus.core.errors import ModelError
from madidus.core.rainfall.ensemble import Ensemble, TemporalPattern
from madidus.core.rainfall.methods import IntensityFormula
from madidus.core.rainfall.rain import Rain
from madidus.core.rainfall.storms import ensemble
from madidus.exchange.patterns_csv import read_patterns

TEXT = "duration,pattern,i1,i2,i3,i4\n60,1,0.1,0.4,0.3,0.2\n60,2,0.25,0.25,0.25,0.25\n120,1,0.5,0.5,,\n"


def test_rows_become_patterns_with_their_own_number_of_intervals():
    found = read_patterns(TEXT.encode())
    assert [(p.duration, p.name, len(p.increments)) for p in found] == [
        (60, "pattern 1", 4), (60, "pattern 2", 4), (120, "pattern 1", 2),
    ]  # fmt: skip


@pytest.mark.parametrize("text", ["60;a;10;40;30;20\n", "\ufeff60\ta\t0.1\t0.4\t0.3\t0.2\n", "60;a;0,1;0,4;0,3;0,2\n"])
def test_per_cent_tabs_decimal_commas_and_a_mark_at_the_beginning_are_read(text):
    (pattern,) = read_patterns(text.encode())
    assert pattern.increments == pytest.approx([0.1, 0.4, 0.3, 0.2])


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("60,1,0.5,0.4\n", "row 1, row: pattern pattern 1 of 60 min: its increments sum to 0.9"),
        ("d,p,a\n60,1,0.5,half\n", "row 2, row: column 4: “half” is no number"),
        ("60,1\n", "fewer than three"),
        ("", "holds no rows"),
        ("60,1,1.5,-0.5\n", "row 1"),
        ("0,1,1\n", "row 1"),
        ("\0", "is no text"),
    ],
)
def test_what_is_no_pattern_is_refused_by_row(text, why):
    with pytest.raises(ModelError, match=why):
        read_patterns(text.encode())


def rain(**ensemble_fields) -> Rain:
    rows = [{"return_period": t, "a": 1000 * t**0.2, "b": 10, "c": 0.8} for t in (10, 100)]
    return Rain(rainfall=IntensityFormula(rows=rows), ensemble=Ensemble(**ensemble_fields))


def test_patterns_join_the_ensemble_in_natural_order_and_keep_depth():
    patterns = [TemporalPattern(duration=60, name=f"pattern {k}", increments=[0.2, 0.5, 0.3]) for k in (10, 2, 1)]
    storms = ensemble(rain(durations=[60], probabilities=[{"return_period": 100}], patterns=patterns, labels="aep"))
    assert [s.season for s in storms] == ["pattern 1", "pattern 2", "pattern 10"]
    assert storms[0].label == "1 % AEP, 60 min, pattern 1"
    assert storms[0].key == "100-60-pattern_1"
    for storm in storms:
        assert (storm.intensity * np.diff(storm.times)).sum() / 3600 == pytest.approx(storm.depth, rel=1e-12)


def test_a_duration_without_patterns_is_named():
    patterns = [TemporalPattern(duration=60, name="a", increments=[1.0])]
    with pytest.raises(ModelError, match="has none for 30 min"):
        ensemble(rain(durations=[30, 60], probabilities=[{"return_period": 10}], patterns=patterns))
    both = rain(durations=[30, 60], probabilities=[{"return_period": 10}], patterns=patterns,
                seasons=[{"name": "all year", "shape": {"kind": "block"}}])  # fmt: skip
    assert len(ensemble(both)) == 3


def test_the_same_pattern_twice_is_refused():
    pattern = {"duration": 60, "name": "a", "increments": [1.0]}
    with pytest.raises(ValueError, match="there twice"):
        Ensemble(patterns=[pattern, pattern])
