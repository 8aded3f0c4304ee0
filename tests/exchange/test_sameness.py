"""What counts as changed in a file: an edit of a millimetre, and no rounding; what a file lacks is said."""

from datetime import datetime

import pytest

from madidus.exchange.imports import propose
from madidus.exchange.incoming import Incoming
from madidus.exchange.landxml import read_landxml
from madidus.exchange.landxml_writer import write_landxml
from madidus.exchange.sameness import same
from tests.exchange.elements import everything, identity, project

NODE = {"kind": "manhole", "x": 900.0, "y": 0.0, "cover": 12.0, "invert": 10.0}


@pytest.mark.parametrize(
    ("field", "here", "file", "alike"),
    [
        ("invert", 10.0, 10.0009, True), ("invert", 10.0, 10.001, False), ("x", 500_000.0, 500_000.0006, True),
        ("x", 500_000.0, 500_000.002, False), ("polygon", [[0.0, 1.0]], [[0.0004, 1.0]], True),
        ("polygon", [[0.0, 1.0]], [[0.0, 1.002]], False), ("polygon", [[0.0, 1.0]], [[0.0, 1.0], [2.0, 2.0]], False),
        ("area", 512.04, 512.0, True), ("area", 512.2, 512.0, False),
        ("section", {"shape": "circular", "diameter": 0.3}, {"shape": "circular", "diameter": 0.29997}, True),
        ("section", {"shape": "circular", "diameter": 0.3}, {"shape": "circular", "diameter": 0.305}, False),
        ("section", {"shape": "circular", "diameter": 0.3}, {"shape": "egg", "diameter": 0.3}, False),
        ("diameter", 0.071, 0.0715, False), ("crest", 10.0, 10.0005, False), ("roughness", 0.013, 0.0131, False),
        ("plan_area", 1.131, 1.2, False), ("sealed", True, False, False),
    ],
)  # fmt: skip
def test_places_and_levels_are_alike_below_a_millimetre_and_nothing_else_is(field, here, file, alike):
    assert same(field, here, file) is alike


def test_real_edits_do_not_drown_in_rounding():
    held = everything()
    incoming = Incoming()
    edited = 0
    for id_, node in held.nodes.items():
        fields = node.model_dump(mode="json")
        rounded = {f: round(fields[f] + 0.0004, 3) if f in ("x", "y") else fields[f] for f in fields}
        if node.kind == "manhole" and edited < 3:
            rounded["cover"] += 0.05
            edited += 1
        incoming.add("nodes", id_, {"id": id_, **rounded})
    changed = [entry for entry in propose(project(held), incoming).entries if entry.action == "update"]
    assert len(changed) == edited > 0
    assert {f.field for entry in changed for f in entry.fields} == {"cover"}
    assert {op["path"].rsplit("/", 1)[1] for entry in changed for op in entry.patch} == {"cover"}


def test_a_structure_below_a_limit_is_named_and_its_pipe_says_which():
    incoming = Incoming()
    incoming.add("nodes", "S1", {**NODE, "name": "S1", "diameter": 0.2})
    incoming.add("nodes", "S2", {**NODE, "name": "S2", "x": 930.0})
    incoming.add("links", "P1", {
        "kind": "pipe", "name": "P1", "upstream": "S1", "downstream": "S2", "length": 30.0, "upstream_invert": 10.0,
        "downstream_invert": 9.9, "section": {"shape": "circular", "diameter": 0.3},
    })  # fmt: skip
    incoming.leave_out("structure S9", "has no place; it is left out", "S9")
    incoming.add("links", "P2", {"kind": "pipe", "name": "P2", "upstream": "S9", "downstream": "S2"})
    incoming.add("links", "P3", {"kind": "pipe", "name": "P3", "upstream": "S10", "downstream": "S2"})
    entries = {entry.name: entry for entry in propose(project(everything()), incoming).entries}
    assert entries["S1"].why == "diameter is 200 mm, and can be 250 mm at least"
    assert entries["P1"].why == "upstream S1 is in the file and cannot be imported, as it says there; mend that one"
    assert entries["P2"].why == "upstream S9 is in the file and was left out, as is said below; mend that one"
    assert entries["P3"].why == "upstream S10 names no one node of the file or the project; mend the file"
    us = project(everything())
    us.units = "us"
    assert "diameter is 7.874 in" in propose(us, incoming).entries[0].why


def struct(body: str) -> Incoming:
    return read_landxml(
        '<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2"><Units><Metric linearUnit="meter" '
        'areaUnit="squareMeter" diameterUnit="millimeter"/></Units><PipeNetworks><PipeNetwork name="N" '
        f'pipeNetType="storm"><Structs>{body}</Structs></PipeNetwork></PipeNetworks></LandXML>'.encode(),
        {"CircStruct: Gully": "inlet", "RectStruct": "junction"},
    )


def test_what_the_file_does_not_state_is_marked_and_what_it_states_is_kept():
    incoming = struct(
        '<Struct name="G1" desc="Gully" elevRim="7" elevSump="6"><Center>300 20</Center><CircStruct diameter="600"/>'
        '</Struct><Struct name="J9" elevRim="7" elevSump="6"><Center>300 40</Center><RectStruct length="900" width="700"/>'
        '</Struct><Struct name="O1" elevRim="6.5" elevSump="4"><Center>300 60</Center><OutletStruct/></Struct>'
    )
    assert incoming.nodes["G1"]["plan_area"] == pytest.approx(0.2827, abs=1e-4)
    assert incoming.nodes["J9"]["plan_area"] == pytest.approx(0.63)
    assert incoming.nodes["O1"]["ground"] == 6.5
    incoming.open_ended.add("O1")
    incoming.links["P"] = {"kind": "pipe", "name": "P", "upstream": "J9", "downstream": "O1"}
    (outfall,) = [e for e in propose(project(everything()), incoming).entries if e.name == "O1"]
    assert outfall.instead is None  # it is one
    del incoming.links["P"]
    inlet = propose(project(everything()), incoming).entries[0]
    marks = {f.field: f.assumed for f in inlet.fields}
    assert marks["capacity"] is True
    assert marks["plan_area"] is False


def test_an_outfalls_ground_goes_out_and_comes_back_without_our_own_words():
    held = everything()
    held.nodes[identity("end")].ground = 14.25
    text = write_landxml(held, "x", datetime(2026, 11, 26))
    (rim,) = [line for line in text.decode().splitlines() if "<Struct " in line and 'elevRim="14.25"' in line]
    assert 'name="end"' in rim


def test_a_floor_below_the_lowest_pipe_is_told_with_its_depth():
    body = (
        '<Struct name="C1" elevRim="7" elevSump="4.4"><Center>300 20</Center><CircStruct diameter="1200"/>'
        '<Invert elev="5.0" flowDir="out" refPipe="P"/><Invert elev="5.2" flowDir="in" refPipe="Q"/></Struct>'
    )
    proposal = propose(project(everything()), struct(body))
    (told,) = [r.what for r in proposal.remarks if r.where == "C1"]
    assert "0.600 m below its lowest pipe" in told
    even = propose(project(everything()), struct(body.replace("4.4", "5.0")))
    assert not [r for r in even.remarks if r.where == "C1"]
