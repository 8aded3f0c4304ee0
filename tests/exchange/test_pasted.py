"""Rows pasted into a table: read by their headings in any order, in the units of the project, by name."""

import pytest

from madidus.core.errors import ModelError
from madidus.core.model.mappings import Mappings
from madidus.exchange.field_units import Usual
from madidus.exchange.fields import guessed_field, guessed_unit
from madidus.exchange.formats import FileFormat, look
from madidus.exchange.imports import Proposal, propose
from madidus.exchange.sheets import read_tables, write_workbook
from tests.exchange.elements import everything, identity, project

SHAFTS = ["manhole", "junction", "inlet"]


def pasted(text: str, kinds: list[str], into=None, **units) -> Proposal:
    """What a block of rows would do to everything, or to a project."""
    held = into or project(everything())
    for field, value in units.items():
        setattr(held, field, value)
    found = look(FileFormat.table, text.encode(), held, kinds)
    return propose(held, read_tables(text.encode(), [sheet.mapping for sheet in found.sheets]))


def changes(proposal: Proposal) -> dict[str, dict[str, str]]:
    return {e.name: {f.field: f.new for f in e.fields} for e in proposal.entries if e.action in ("create", "update")}


def test_a_table_without_a_kind_moves_no_value_by_a_column():
    """“Name, East, North, Cover”, where the table has Kind after Name."""
    assert changes(pasted("Name\tEast\tNorth\tCover\nsealed\t12\t34\t14.5\n", SHAFTS)) == {
        "sealed": {"x": "12 m", "y": "34 m", "cover": "14.5 m"}
    }


def test_the_order_of_the_headings_is_free():
    ordered = pasted("Name\tLength\tDiameter\nround\t41.5\t375\n", ["pipe"])
    turned = pasted("Diameter\tName\tLength\n375\tround\t41.5\n", ["pipe"])
    assert changes(ordered) == changes(turned)
    assert changes(turned)["round"]["length"] == "41.5 m"
    (entry,) = turned.entries
    by_path = {op["path"].rsplit("/", 1)[1]: op["value"] for op in entry.patch}
    assert by_path["length"] == 41.5
    assert by_path["section"]["diameter"] == pytest.approx(0.375)


@pytest.mark.parametrize(
    ("system", "flow", "field", "figures", "unit"),
    [
        ("us", None, "cover", [6.0], "ft"), ("us", None, "section.diameter", [12.0, 15.0], "in"),
        ("us", None, "section.diameter", [1.0, 1.25], "ft"), ("us", None, "area", [43_560.0], "ft2"),
        ("us", None, "capacity", [0.7], "ft3/s"), ("us", "gal/min", "capacity", [300.0], "gal/min"),
        ("metric", None, "capacity", [20.0], "L/s"), ("metric", "m3/h", "capacity", [72.0], "m3/h"),
        ("metric", None, "impervious", [60.0, 1.0], "%"), ("metric", None, "impervious", [0.6, 1.0], "share"),
        ("metric", None, "time_of_entry", [5.0], "min"), ("metric", None, "time_of_entry", [300.0], "s"),
        ("metric", None, "section.diameter", [225.0], "mm"), ("metric", None, "section.diameter", [0.225], "m"),
        ("metric", None, "roughness", [0.013], ""),
    ],
)  # fmt: skip
def test_figures_without_a_unit_are_in_those_of_the_project(system, flow, field, figures, unit):
    assert guessed_unit(field, field.rpartition(".")[2], figures, Usual(system, flow)) == unit


def test_a_project_in_feet_takes_a_pasted_diameter_in_inches():
    proposal = pasted("Name\tDiameter\tLength\nround\t15\t100\n", ["pipe"], units="us")
    by_path = {op["path"].rsplit("/", 1)[1]: op["value"] for op in proposal.entries[0].patch}
    assert by_path["section"]["diameter"] == pytest.approx(15 * 0.0254)
    assert by_path["length"] == pytest.approx(30.48)


def test_the_kind_of_a_row_is_what_it_says_and_nothing_else():
    text = "Kind\tName\tEast\tNorth\tCover\tInvert\tCapacity L/s\nInlet\tG7\t1\t900\t9\t8\t20\nmanhole\tM7\t1\t950\t9\t8\t\n"
    made = {e.name: e.kind for e in pasted(text, SHAFTS).entries}
    assert made == {"G7": "inlet", "M7": "manhole"}
    odd = pasted("Kind\tName\tCover\tInvert\nManhole\tM7\t9\t8\nOutlet\tM8\t9\t8\n", SHAFTS)
    assert {e.kind for e in odd.entries} == {"manhole"}
    assert any(
        "column Kind" in r.where for r in odd.remarks
    )  # a column of other words is no kind, and said to be unused


def test_one_of_another_kind_stays_what_it_is_and_what_does_not_fit_is_said():
    proposal = pasted("Name\tCover\tPonded area\tflap\nend\t12.5\t50\tyes\n", SHAFTS)
    (entry,) = proposal.entries
    assert entry.kind == "outfall"
    assert any(r.where == "end" and "has no cover, ponded_area" in r.what for r in proposal.remarks)


def test_what_a_row_does_not_state_is_marked_assumed():
    proposal = pasted("Name\tCover\tInvert\nM77\t9\t8\n", SHAFTS)
    marks = {f.field: f.assumed for f in proposal.entries[0].fields}
    assert marks == {"x": True, "y": True, "cover": False, "invert": False}
    inlet = pasted("Name\tKind\tEast\tNorth\tCover\tInvert\nG77\tInlet\t900\t1\t9\t8\n", SHAFTS).entries[0]
    assert {f.field for f in inlet.fields if f.assumed} == {"capacity"}


def test_rows_by_id_need_no_name():
    proposal = pasted(f"id\tLength\n{identity('round')}\t33\n", ["pipe"])
    assert changes(proposal) == {"round": {"length": "33 m"}}


def test_a_mapping_that_was_kept_for_another_table_is_not_used():
    text = "Name\tCover\tInvert\nM77\t9\t8\n"
    held = project(everything())
    as_outfalls = look(FileFormat.table, text.encode(), held, ["outfall"]).sheets[0].mapping
    held.mappings = Mappings(tables=[as_outfalls])
    assert look(FileFormat.table, text.encode(), held, ["outfall"]).sheets[0].known
    (sheet,) = look(FileFormat.table, text.encode(), held, SHAFTS).sheets
    assert (sheet.known, sheet.mapping.kind) == (False, "manhole")


def test_a_kind_that_there_is_not_is_refused():
    with pytest.raises(ModelError, match="is no kind of element"):
        look(FileFormat.table, b"Name\nA\n", project(everything()), ["gadget"])


@pytest.mark.parametrize(
    ("heading", "kind", "field"),
    [("Ground", "outfall", "ground"), ("Ponded area", "manhole", "ponded_area"), ("Bank or cover", "storage", "cover"),
     ("Permanent water", "storage", "initial_depth"), ("Time of entry", "catchment", "time_of_entry"),
     ("Invert up", "pipe", "upstream_invert"), ("Bed down", "channel", "downstream_invert"), ("Paved", "catchment", "impervious"),
     ("Kind", "manhole", "kind"), ("Invert, below ground", "manhole", ""), ("Invert depth", "manhole", ""),
     ("Depth", "manhole", ""), ("Slope", "pipe", ""), ("Full-bore", "pipe", "")],
)  # fmt: skip
def test_our_own_tables_headings_are_known(heading, kind, field):
    assert guessed_field(heading, kind) == field


def test_a_sheet_called_by_its_kind_states_it():
    """Of our own workbook a row under another kind's name is a conflict; of a pasted table it stays what it is."""
    held = project(everything())
    content = write_workbook(everything())
    incoming = read_tables(content, [sheet.mapping for sheet in look(FileFormat.table, content, held).sheets])
    assert not incoming.guessed
