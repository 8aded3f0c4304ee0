"""Recorded rain from CSV: what is read, put right, and refused with its row."""

import numpy as np
import pytest

from madidus.core.errors import ModelError
from madidus.exchange.rain_csv import read_rain


@pytest.fixture
def read(tmp_path):
    def call(text: str, encoding: str = "utf-8"):
        path = tmp_path / "rain.csv"
        path.write_text(text, encoding=encoding)
        return read_rain(path)

    return call


def test_depths_are_read_and_dry_rows_left_out(read):
    series, remarks = read("time,depth mm\n2021-05-01T00:00,0.2\n2021-05-01T00:05,0\n2021-05-01T00:10,1.4\n")
    assert series.interval == 300.0
    assert series.at.tolist() == [0.0, 600.0]
    assert series.depth.tolist() == [0.2, 1.4]
    assert series.until == 900.0
    assert not remarks


@pytest.mark.parametrize(
    ("heading", "value", "mm"),
    [
        ("depth mm", 3.0, 3.0),
        ("depth in", 0.1, 2.54),
        ("intensity mm/h", 36.0, 3.0),
        ("intensity in/h", 1.0, 25.4 / 12),
    ],
)
def test_the_heading_says_the_unit(read, heading, value, mm):
    series, _ = read(f"Time , {heading.title()}\n2021-05-01T00:00,{value}\n2021-05-01T00:05,{value}\n")
    assert series.depth == pytest.approx([mm, mm])


def test_a_byte_order_mark_does_no_harm(read):
    series, _ = read("time,depth mm\n2021-05-01T00:00,1\n2021-05-01T00:05,2\n", "utf-8-sig")
    assert series.depth.sum() == 3.0


@pytest.mark.parametrize("mark", [";", "\t"])
def test_semicolons_and_tabs_part_columns_and_commas_are_then_decimal(read, mark):
    series, _ = read(f"time{mark}depth mm\n2021-05-01T00:00{mark}1,5\n2021-05-01T00:05{mark}0,25\n")
    assert series.depth.tolist() == [1.5, 0.25]


def test_a_spreadsheets_day_count_is_no_year(read):
    with pytest.raises(ModelError, match="“45000” is not read"):
        read("time,depth mm\n45000,1\n45001,2\n")
    with pytest.raises(ModelError, match="no time of a record"):
        read("time,depth mm\n0021-05-01,1\n0021-05-02,2\n")


def test_a_time_with_a_zone_is_refused_and_compact_times_are_read(read):
    with pytest.raises(ModelError, match="without a zone"):
        read("time,depth mm\n2021-05-01T00:00Z,1\n2021-05-01T00:05Z,2\n")
    series, _ = read("time,depth mm\n20210501T0000,1\n20210501T0005,2\n")
    assert series.interval == 300


def test_repeated_rows_are_left_out_and_told(read):
    rows = ["2021-05-01T00:00,1", "2021-05-01T00:05,2", "2021-05-01T00:05,2", "2021-05-01T00:10,0"]
    series, remarks = read("time,depth mm\n" + "\n".join(rows) + "\n")
    assert series.depth.tolist() == [1.0, 2.0]
    assert "1 rows" in remarks[0]


def test_gaps_in_a_record_that_writes_zeros_are_told(read):
    rows = ["2021-05-01T00:00,1", "2021-05-01T00:05,0", "2021-05-01T00:10,0", "2021-05-01T03:10,2"]
    _, remarks = read("time,depth mm\n" + "\n".join(rows) + "\n")
    assert "1 gaps" in remarks[0]
    assert "longest is 3 h" in remarks[0]


@pytest.mark.parametrize(
    ("rows", "place", "part"),
    [
        (["2021-05-01T00:00,1", "2021-05-01T00:05,much"], "row 3", "depth mm"),
        (["2021-05-01T00:00,1", "2021-05-01T00:05,1,5"], "", "cannot be read"),
        (["2021-05-01T00:00,1", "2021-05-01T00:05,"], "row 3", "depth mm"),
        (["2021-05-01T00:00,1", "2021-05-01T00:05,-2"], "row 3", "is no rain"),
        (["2021-05-01T00:00,1", "2021-05-01T00:05,nan"], "row 3", "nan is no rain"),
        (["2021-05-01T00:00,1", "2021-05-01T00:05,inf"], "row 3", "is no rain"),
        (["yesterday,1", "2021-05-01T00:05,2"], "row 2", "time"),
        (["2021-05-01T00:10,1", "2021-05-01T00:05,2"], "row 3", "earlier"),
        (["2021-05-01T00:00,1", "2021-05-01T00:00,2"], "row 3", "twice"),
        (["2021-05-01T00:00,1"], "", "fewer than two"),
        (
            ["2021-05-01T00:00,1", "2021-05-01T00:05,1", "2021-05-01T00:10,1", "2021-05-01T00:12,1"],
            "", "less than the usual 5 min",
        ),
    ],
)  # fmt: skip
def test_what_is_wrong_is_named_with_its_row(read, rows, place, part):
    with pytest.raises(ModelError) as caught:
        read("time,depth mm\n" + "\n".join(rows) + "\n")
    assert place in str(caught.value)
    assert part in str(caught.value)


def test_headings_are_asked_for(read):
    with pytest.raises(ModelError, match="headings"):
        read("when,rain\n2021-05-01T00:00,1\n")


def test_a_long_record_is_read_whole(read):
    count = 100_000
    times = np.datetime64("2001-01-01T00:00") + np.arange(count) * np.timedelta64(5, "m")
    series, _ = read("time,depth mm\n" + "".join(f"{t},{k % 7 == 0:d}\n" for k, t in enumerate(times)))
    assert series.depth.sum() == np.ceil(count / 7)


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "latin-1", "cp1252"])
@pytest.mark.parametrize("heading", ["time,depth mm,Mühle", "time;depth mm;Mühle"])
def test_a_record_is_read_in_whatever_encoding_it_was_written(read, encoding, heading):
    mark = ";" if ";" in heading else ","
    rows = [f"2021-05-01T00:0{k}{mark}{0.2 + k}{mark}Straße" for k in (0, 5)]
    series, remarks = read("\n".join([heading, *rows, ""]), encoding)
    assert series.depth.tolist() == [0.2, 5.2]
    assert remarks == (
        ["its text is not UTF-8 and was read as Windows-1252"] if encoding in ("latin-1", "cp1252") else []
    )


def test_a_foreign_letter_far_down_is_read_too_and_what_is_no_text_is_refused(read, tmp_path):
    rows = [f"{np.datetime64('2021-05-01T00:00') + 5 * k},1.0,dry" for k in range(60_000)]
    series, remarks = read(
        "\n".join(["time,depth mm,note", *rows, "2022-05-01T00:00,2.0,Regenmesser für Höhe", ""]), "latin-1"
    )
    assert series.depth[-1] == 2.0
    assert remarks[0] == "its text is not UTF-8 and was read as Windows-1252"
    (tmp_path / "p.bin").write_bytes(bytes(range(256)) * 40)
    with pytest.raises(ModelError, match="recorded rain"):
        read_rain(tmp_path / "p.bin")
