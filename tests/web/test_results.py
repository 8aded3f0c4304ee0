"""Results by return period and over choices of storms, on the screen, in the report and in files."""

import csv
import io

import openpyxl
import pytest

from tests.web.hands import of, report_words, settled


def test_results_by_return_period_agree_with_those_of_each_and_of_all(client, project):
    answer = settled(client, project)
    ask = lambda **query: client.get(f"{of(project)}/results", params=query)  # noqa: E731
    periods = ask().json()
    assert [one["name"] for one in periods] == ["2 yr", "30 yr", "100 yr +40 %"]
    assert "Contained, 100 yr +40 %" in periods[2]["rules"]
    assert periods[1] == ask(over="row", of="30 yr").json()[0]
    (everything,) = ask(over="all").json()
    for id_, one in everything["elements"]["nodes"].items():
        assert one["level"] == max(period["elements"]["nodes"][id_]["level"] for period in periods)
        assert one["level"] == answer["nodes"][id_]["level"]
        assert one["state"] == answer["nodes"][id_]["state"]
    (short,) = ask(over="duration", of="15").json()
    assert {one["storm"].split("-")[1] for one in short["elements"]["nodes"].values()} == {"15"}
    (single,) = ask(over="storm", of="30-60-winter").json()
    assert {one["storm"] for one in single["elements"]["nodes"].values()} == {"30-60-winter"}
    assert ask(over="row", of="7 yr").status_code == 422
    assert ask(over="odd").status_code == 422


def test_the_report_and_the_workbook_have_the_same_states_side_by_side(client, project):
    settled(client, project)
    periods = client.get(f"{of(project)}/results").json()
    document = project["document"]
    nodes = document["options"][document["in_view"]]["network"]["nodes"]
    book = openpyxl.load_workbook(io.BytesIO(client.get(f"{of(project)}/files/workbook.xlsx").content))
    states = {row[0]: row[1:] for row in book["States"].values}
    assert states["Element"] == ("2 yr", "30 yr", "100 yr +40 %")
    flooded = [id_ for id_, one in periods[2]["elements"]["nodes"].items() if one["state"] == "flooded"]
    assert flooded
    for id_ in flooded:
        assert states[f"manhole {nodes[id_]['name']}"][2].startswith("floods ")
    assert states["pond P1"][0].endswith("% full")
    assert states["outfall O1"][2].startswith("at most 14.")
    backed = [cell for row in states.values() for cell in row if cell.startswith("surcharged, backed up by ")]
    assert backed
    heads, *rows = book["Storage 100 yr +40 %"].values
    storage = [dict(zip(heads, row, strict=True)) for row in rows]
    assert {row["Store"] for row in storage} == {"P1", "T1"}
    assert all(0 < row["Used %"] < 100 and row["Freeboard m"] > 0 for row in storage)
    text = report_words(client, project)
    assert "surcharged, backed up by" in text
    assert "Half-drain h" in text


def test_statistics_of_every_element_and_duration(client, project):
    answer = settled(client, project)
    rows = list(csv.reader(io.StringIO(client.get(f"{of(project)}/files/statistics.csv").text)))
    heads = rows[0]
    assert heads[:4] == ["Element", "Return period", "Duration min", "Storms"]
    storms = {(s["row"], s["duration"]) for s in answer["storms"]}
    own = [row for row in rows if row[0] == "manhole A3"]
    assert {(row[1], float(row[2])) for row in own} == storms
    for row in own:
        mean, median, least, lower, upper, most = map(float, row[4:])
        assert least <= lower <= median <= upper <= most
        assert least <= mean <= most
        assert int(row[3]) == 2
    worst = max(float(row[-1]) for row in own)
    id_ = next(k for k, n in project["document"]["options"][project["document"]["in_view"]]["network"]["nodes"].items()
               if n["name"] == "A3")  # fmt: skip
    assert worst == pytest.approx(answer["nodes"][id_]["level"])
