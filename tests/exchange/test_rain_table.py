"""Rainfall tables as people paste them: understood, or refused with row and column."""

import pytest

from madidus.core.errors import ModelError
from madidus.exchange.rain_table import Choices, read_table

PLAIN = "\t15\t60\t360\n2\t13\t19.3\t26.7\n30\t24.6\t38.1\t55.2\n"


def read(text: str | bytes, assume="mm", **chosen):
    return read_table(text if isinstance(text, bytes) else text.encode(), Choices(**chosen), assume)


def test_a_bare_table_is_taken_as_depths_by_minutes_and_years_and_says_what_it_assumed():
    found = read(PLAIN)
    assert found.table.durations == [15, 60, 360]
    assert found.table.return_periods == [2, 30]
    assert found.table.depths == [[13, 19.3, 26.7], [24.6, 38.1, 55.2]]
    # 15, 60 and 360 are no return periods, 2 and 30 may be: which way durations run is not assumed
    assert set(found.assumed) == {"time", "probability", "measure", "unit"}


@pytest.mark.parametrize(
    "text",
    [
        "min\t2 yr\t30 yr\n15\t13\t24.6\n60\t19.3\t38.1\n360\t26.7\t55.2\n",
        "Depth (mm)\t1 in 2\t1 in 30\n15 min\t13\t24.6\n1 h\t19.3\t38.1\n6 hours\t26.7\t55.2\n",
        "depth mm;30 yr;2 yr\n6 h;55,2;26,7\n1 h;38,1;19,3\n15 min;24,6;13,0\n",
        "mm by duration,2-yr,30-yr\n0:15,13.0,24.6\n1:00,19.3,38.1\n6:00,26.7,55.2\n",
        "Rain at the gauge, mm\n\nyr \\ min,15,60,360\n2,13.0,19.3,26.7\n30,24.6,38.1,55.2\n",
        "mm  15 min  60 min  360 min\n2 yr  13.0  19.3  26.7\n30 yr  24.6  38.1  55.2\n",
    ],
)
def test_the_same_table_however_it_is_laid_out(text):
    found = read(text).table
    assert (found.durations, found.return_periods) == ([15, 60, 360], [2, 30])
    assert found.depths == [[13, 19.3, 26.7], [24.6, 38.1, 55.2]]


def test_intensities_become_depths():
    found = read("mm/h\t15 min\t60 min\t360 min\n2 yr\t52\t19.3\t4.45\n")
    assert found.understood.measure == "intensity"
    assert found.table.depths == [[13, 19.3, 26.7]]
    assert found.assumed == []


def test_values_that_fall_with_duration_are_intensities_and_that_is_told():
    found = read("\t15\t60\n2\t52\t19.3\n")
    assert found.understood.measure == "intensity"
    assert "measure" in found.assumed


def test_inches_hours_and_yearly_chances():
    found = read("inches\t50% AEP\t1% AEP\n0.25 hr\t0.5\t1.25\n24 hr\t2.0\t4.0\n")
    assert found.table.durations == [15, 1440]
    assert found.table.return_periods == [2, 100]
    assert found.table.depths == [[12.7, 50.8], [31.75, 101.6]]


def test_a_choice_overrules_what_was_understood():
    found = read(PLAIN, time="h", unit="in")
    assert found.table.durations == [900, 3600, 21600]
    assert found.table.depths[0][0] == pytest.approx(330.2)
    assert set(found.assumed) == {"probability", "measure"}


def test_the_project_says_which_unit_is_assumed():
    assert read(PLAIN, assume="in").table.depths[0][0] == pytest.approx(330.2)


@pytest.mark.parametrize("encoding", ["utf-8-sig", "utf-16"])
def test_marks_of_encodings_do_no_harm(encoding):
    assert read(PLAIN.encode(encoding)).table.durations == [15, 60, 360]


def test_commas_part_thousands_where_another_cell_has_a_point():
    assert read("\t60\t1,440\n2\t19.3\t31.5\n").table.durations == [60, 1440]
    assert read("\t60\t1440\n2\t19,3\t31,5\n").table.depths == [[19.3, 31.5]]


@pytest.mark.parametrize(
    ("text", "place", "problem"),
    [
        ("\t15\t60\n2\t13\t\n", "row 2, column 3", "empty"),
        ("\t15\t60\n2\t13\tn/a\n", "row 2, column 3", "“n/a” is no number"),
        ("\t15\t60\n2\t13\t-4\n", "row 2, column 3", "not above 0"),
        ("\t15\tsoon\n2\t13\t19\n", "row 1, column 3", "no duration"),
        ("\t15\t60\n?\t13\t19\n", "row 2, column 1", "no return period"),
        ("\t15\t60\n2\t13\t19\t22\n", "row 2, column 4", "right of the last heading"),
        ("depth\t15\t60\n2\t19\t13\n", "2-year row", "less than"),
        ("\t15\t60\n2\t13\t19\n30\t12\t38\n", "15 min", "less than"),
        ("\t15\t60\n2\t13\t19\n2\t14\t20\n", "return periods", "must rise"),
        ("\t15\t60\n", "rows", "no row of depths"),
        ("", "rows", "no row of depths"),
        ("\t1 min\n120% AEP\t4\n", "row 2, column 1", "no AEP"),
        (b"\x00\x01\x02", "text", "is no text"),
    ],
)
def test_what_cannot_be_read_is_named_by_row_and_column(text, place, problem):
    with pytest.raises(ModelError) as told:
        read(text)
    assert told.value.field == place
    assert problem in told.value.problem


def test_millions_of_rows_are_refused_at_once():
    with pytest.raises(ModelError, match="row 251"):
        read("\t15\t60\n" + "2\t13\t19\n" * 2_000_000)


DOWN = "{}\t2\t30\t100\n15\t13\t24.6\t30\n60\t19.3\t38.1\t47\n360\t26.7\t55.2\t68\n"


@pytest.mark.parametrize(
    "corner", ["Duration [min]", "min", "duration", "", "min \\ years", "D", "t/T (min/yr)", "depth mm"]
)
def test_durations_down_under_bare_headings_are_not_read_across(corner):
    """Before: 2, 30 and 100 were read as minutes, without a word."""
    found = read(DOWN.format(corner))
    assert (found.table.durations, found.table.return_periods) == ([15, 60, 360], [2, 30, 100])
    assert found.other is None
    assert "durations" not in found.assumed


@pytest.mark.parametrize("corner", ["years", "Return period", "T", "yr \\ min", "ARI"])
def test_a_corner_of_years_heads_the_column_of_return_periods(corner):
    found = read(f"{corner}\t5\t10\t30\n2\t8\t11\t15\n30\t14\t19\t26\n")
    assert (found.table.durations, found.table.return_periods) == ([5, 10, 30], [2, 30])


def test_where_both_readings_remain_both_are_given_and_neither_is_taken():
    text = "\t5\t10\t30\n2\t8\t11\t15\n30\t14\t19\t26\n"
    found = read(text)
    assert found.assumed[0] == "durations"
    assert found.other is not None
    assert (found.table.durations, found.other.durations) == ([5, 10, 30], [2, 30])
    chosen = read(text, durations="down")
    assert (chosen.table.durations, chosen.other) == ([2, 30], None)


def test_intensities_that_fall_one_way_alone_decide_which_way_durations_run():
    text = "mm/h\t5\t10\t30\n2\t96\t66\t30\n30\t168\t114\t52\n"
    assert read(text).table.durations == [5, 10, 30]
    assert read(text).other is None


def test_a_table_that_makes_no_rain_either_way_is_refused_by_name():
    with pytest.raises(ModelError, match="correct it"):
        read("\t5\t10\t30\n2\t8\t3\t15\n30\t14\t19\t2\n")
