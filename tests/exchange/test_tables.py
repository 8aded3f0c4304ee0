"""Tables in and out: our own come back whole, foreign ones are matched, and nothing is silent."""

import io
import zipfile

import openpyxl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from madidus.core.errors import ModelError
from madidus.core.model.mappings import ColumnUse, TableMapping
from madidus.exchange import sheets
from madidus.exchange.fields import FIELDS, GROUP_OF, flat, guessed_field, guessed_unit, nested
from madidus.exchange.imports import propose
from madidus.exchange.sheets import look_at_tables, read_tables, write_workbook
from tests.exchange.elements import alike, everything, project
from tests.exchange.test_networks import actions, applied, named


def guesses(content: bytes) -> list[TableMapping]:
    return [look.mapping for look in look_at_tables(content, [])]


def test_every_element_comes_back_whole_through_a_workbook():
    held = everything()
    content = write_workbook(held)
    found = read_tables(content, guesses(content))
    assert found.remarks == []
    assert actions(propose(project(held), found)) == {"same": len(held.nodes) + len(held.links) + len(held.catchments)}
    fresh = propose(project(type(held)()), read_tables(content, guesses(content)))
    assert set(actions(fresh)) == {"create"}
    again = applied(project(type(held)()), fresh)
    alike(held.model_dump(mode="json"), again.model_dump(mode="json"))


FOREIGN = """Pipe No;From;To;Length (m);Dia [mm];US IL;DS IL;Manning's n;Owner
1.001;S1;S2;41,5;300;10,450;10,200;0,013;council
1.002;S2;S3;n/a;375;10,2;9,9;0.013;council
;S3;S4;20;375;9,9;9,8;0.013;
"""
NODES = "Manhole\tEasting\tNorthing\tCover Level\tInvert\nS1\t0\t0\t12.0\t10.4\nS2\t40\t5\t11.8\t10.2\nS3\t80\t5\t11.5\t9.9\n"


def test_a_foreign_table_is_matched_by_what_people_call_things():
    (look,) = look_at_tables(FOREIGN.encode(), [])
    assert (look.mapping.kind, look.rows) == ("pipe", 3)
    used = {heading: (use.field, use.unit) for heading, use in look.mapping.columns.items()}
    assert used == {
        "Pipe No": ("name", ""), "From": ("upstream", ""), "To": ("downstream", ""), "Length (m)": ("length", "m"),
        "Dia [mm]": ("section.diameter", "mm"), "US IL": ("upstream_invert", "m"),
        "DS IL": ("downstream_invert", "m"), "Manning's n": ("roughness", ""),
    }  # fmt: skip
    (nodes,) = look_at_tables(NODES.encode(), [])
    assert nodes.mapping.kind == "manhole"
    assert {use.field for use in nodes.mapping.columns.values()} == {"name", "x", "y", "cover", "invert"}


def test_good_rows_are_taken_and_bad_ones_named():
    into = project(type(everything())())
    nodes = read_tables(NODES.encode(), guesses(NODES.encode()))
    held = applied(into, propose(into, nodes))
    found = read_tables(FOREIGN.encode(), guesses(FOREIGN.encode()))
    remarks = [f"{r.where}: {r.what}" for r in found.remarks]
    assert "table, row 3: Length (m): “n/a” is no number; the row is left out" in remarks
    assert "table, row 4: has no name; the row is left out" in remarks
    proposal = propose(project(held), found)
    assert any("column Owner of table" in r.where for r in proposal.remarks)
    pipe = named(proposal, "1.001")
    assert pipe.action == "create"
    value = pipe.patch[0]["value"]
    assert (value["length"], value["section"]["diameter"], value["upstream_invert"]) == (41.5, 0.3, 10.45)
    assert held.nodes[value["upstream"]].name == "S1"


def test_a_kept_mapping_goes_before_any_guess():
    headings = ["a", "b", "c", "d", "e"]
    kept = TableMapping(
        headings=headings, kind="manhole",
        columns={"a": ColumnUse(field="name"), "b": ColumnUse(field="x", unit="ft"), "c": ColumnUse(field="y", unit="ft"),
                 "d": ColumnUse(field="cover", unit="ft"), "e": ColumnUse(field="invert", unit="ft")},
    )  # fmt: skip
    content = b"a,b,c,d,e\nM1,100,200,40,32.8083989501\n"
    (look,) = look_at_tables(content, [kept])
    assert look.known
    assert look.mapping == kept
    found = read_tables(content, [look.mapping])
    assert found.nodes["M1"]["x"] == pytest.approx(30.48)
    assert found.nodes["M1"]["invert"] == pytest.approx(10.0)


@pytest.mark.parametrize(
    ("heading", "kind", "field"),
    [("US_Invert", "pipe", "upstream_invert"), ("invert level ds", "pipe", "downstream_invert"), ("DN (mm)", "pipe", "section.diameter"),
     ("Rim Elevation", "manhole", "cover"), ("Impermeable", "catchment", "impervious"), ("Drains to", "catchment", "node"),
     ("colour", "pipe", ""), ("section.height (m)", "pipe", "section.height"), ("capacity (m3/s)", "inlet", "capacity")],
)  # fmt: skip
def test_headings_are_understood(heading, kind, field):
    assert guessed_field(heading, kind) == field


def test_the_units_of_every_kind_are_those_that_its_fields_say():
    """A kind that is added brings its units with it: an opening in mm is not taken for metres."""
    assert (FIELDS["sill"], FIELDS["opening"], FIELDS["coefficient"]) == ("m", "m", "m0.5/s")
    assert (FIELDS["capacity"], FIELDS["ground"], FIELDS["time_of_entry"]) == ("m3/s", "m", "s")
    assert not {"roughness", "gradient", "name", "contraction_coefficient", "section.left_slope"} & FIELDS.keys()
    assert guessed_unit("opening", "Opening (mm)", [300]) == "mm"


def test_units_are_read_from_headings_or_seen_in_figures():
    assert guessed_unit("area", "Area (ha)", [0.1]) == "ha"
    assert guessed_unit("length", "Length, ft", [10]) == "ft"
    assert guessed_unit("section.diameter", "Diameter", [225, 300]) == "mm"
    assert guessed_unit("section.diameter", "Diameter", [0.225]) == "m"
    assert guessed_unit("impervious", "Paved %", [80]) == "%"
    assert guessed_unit("name", "Name (m)", []) == ""


def bomb() -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("xl/worksheets/sheet1.xml", b"0" * (20 * 2**20))
    return buffer.getvalue()


def test_a_workbook_that_unpacks_to_too_much_is_refused(monkeypatch):
    monkeypatch.setattr(sheets, "_MOST_UNPACKED", 10 * 2**20)
    with pytest.raises(ModelError, match="unpacks to more than 10 MB"):
        look_at_tables(bomb(), [])


@pytest.mark.parametrize("content", [b"", b"PK\x03\x04rubbish", b"only,headings\n", b"a\0b\n1\n", b"\n\n\n", bomb()])
def test_what_holds_no_table_is_refused_in_words(content):
    with pytest.raises(ModelError):
        look_at_tables(content, [])


def test_formulas_and_links_are_words_when_written():
    held = everything()
    first = next(iter(held.nodes))
    held.nodes[first].name = '=HYPERLINK("x")'
    book = openpyxl.load_workbook(io.BytesIO(write_workbook(held)))
    cells = [cell for row in book["manhole"].iter_rows() for cell in row]
    assert all(cell.data_type != "f" for cell in cells)


@settings(max_examples=60, deadline=None)
@given(st.lists(st.lists(st.text(max_size=12), min_size=1, max_size=6), min_size=2, max_size=6))
def test_any_table_is_read_row_by_row_or_refused(rows):
    content = "\n".join(
        ";".join(cell.replace(";", "").replace("\n", "").replace("\r", "") for cell in row) for row in rows
    )
    try:
        looks = look_at_tables(content.encode(), [])
    except ModelError:
        return
    found = read_tables(content.encode(), [look.mapping for look in looks])
    counted = len(found.nodes) + len(found.links) + len(found.catchments) + len(found.remarks)
    assert counted >= min(1, sum(look.rows for look in looks))


def test_flat_and_nested_are_opposites():
    for kind in GROUP_OF:
        assert guessed_field("name", kind) == "name"
    fields = {"name": "P", "section": {"shape": "circular", "diameter": 0.3}, "bends": [[1.0, 2.0]]}
    assert nested(flat(fields)) == fields


def test_changes_here_and_in_the_file_since_it_was_taken_in_are_told_apart():
    into = project(type(everything())())
    held = applied(into, propose(into, read_tables(NODES.encode(), guesses(NODES.encode()))))
    by_name = {node.name: node for node in held.nodes.values()}
    by_name["S1"].cover = 12.4  # changed here
    by_name["S2"].cover = 11.9  # changed on both sides
    newer = NODES.replace("S2\t40\t5\t11.8", "S2\t40\t5\t11.6").replace("S3\t80\t5\t11.5", "S3\t80\t5\t11.1")
    before, file = (read_tables(text.encode(), guesses(text.encode())) for text in (NODES, newer))
    proposal = propose(project(held), file, before=before)
    fields = {(entry.name, f.field): f for entry in proposal.entries for f in entry.fields}
    assert {key: (f.was, f.now, f.new, f.take) for key, f in fields.items()} == {
        ("S1", "cover"): ("12 m", "12.4 m", "12 m", "here"),
        ("S2", "cover"): ("11.8 m", "11.9 m", "11.6 m", "ask"),
        ("S3", "cover"): ("11.5 m", "11.5 m", "11.1 m", "file"),
    }
    blind = propose(project(held), file)
    assert {f.take for entry in blind.entries for f in entry.fields} == {"file"}
