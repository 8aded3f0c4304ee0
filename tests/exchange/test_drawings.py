"""Networks as DXF drawings and KML: read by layers and blocks, written for others, checked by other readers."""

import io
import math

import ezdxf
import numpy as np
import pyogrio.raw
import pyproj
import pytest
from ezdxf import recover
from ezdxf.math import Vec3

from madidus.core.elements import Hydrograph
from madidus.core.errors import ModelError
from madidus.core.ground.terrain import between_covers
from madidus.core.model.defaults import Defaults
from madidus.core.model.mappings import Mappings
from madidus.core.model.network import Network
from madidus.exchange.dxf import APPLICATION, note
from madidus.exchange.dxf_network import look_at_drawing, read_dxf, write_dxf
from madidus.exchange.imports import propose
from madidus.exchange.kml import write_kml
from madidus.exchange.landxml import read_landxml
from tests.exchange import grounds
from tests.exchange.elements import everything, project
from tests.exchange.test_demos import SCRIPTS, demo
from tests.exchange.test_networks import actions, applied, named

MAPPING = Mappings(layers={"DRAIN": "pipe"}, blocks={"COVER": "manhole"})


def flat_ground(_x: float, _y: float) -> float:
    return 20.0


def test_layers_and_blocks_are_counted_and_guessed_and_what_was_kept_wins():
    look = look_at_drawing(grounds.drawing(), Mappings())
    assert look.layers == {"DRAIN": 1, "ISLAND": 1, "KERB": 2}
    assert look.blocks == {"COVER": 2}
    assert look.mapping.layers["DRAIN"] == "pipe"
    assert look.mapping.blocks["COVER"] == "manhole"
    kept = look_at_drawing(grounds.drawing(), Mappings(layers={"DRAIN": "", "KERB": "channel"}))
    assert (kept.mapping.layers["DRAIN"], kept.mapping.layers["KERB"]) == ("", "channel")


def test_blocks_become_nodes_and_lines_become_pipes_with_their_levels():
    found = read_dxf(grounds.drawing(), MAPPING, Defaults(), flat_ground)
    assert found.nodes["M1"]["cover"] == 12.0
    assert found.assumed["nodes", "M1"]["invert"] == pytest.approx(10.4)
    pipe = found.links["M1–M2"]
    assert (pipe["upstream_invert"], pipe["downstream_invert"]) == (10.4, 10.0)
    assert pipe["bends"] == [(30.0, 22.0)]
    assumed = found.assumed["links", "M1–M2"]
    assert assumed["length"] == pytest.approx(2 * math.hypot(20, 2), abs=1e-3)
    assert "section" in assumed  # a drawing of lines does not state sizes
    assert "section" not in pipe
    proposal = propose(project(Network()), found)
    assert actions(proposal) == {"create": 3}
    assert any(r.where == "line of layer KERB" for r in proposal.remarks)
    held = applied(project(Network()), proposal)
    assert {node.name for node in held.nodes.values()} == {"M1", "M2"}


def test_lines_without_nodes_get_them_and_rise_the_right_way_round():
    document = ezdxf.new()
    space = document.modelspace()
    space.add_lwpolyline([(0, 0), (50, 0)], dxfattribs={"layer": "drain"})
    space.add_lwpolyline([(50.2, 0), (50.2, 40)], dxfattribs={"layer": "drain"})  # ends within the tolerance
    space.add_line((0, 80, 5.0), (50, 40, 6.0), dxfattribs={"layer": "drain"})  # falls against its drawing
    space.add_lwpolyline([(0, 0), (10, 0), (10, 10), (0, 10)], close=True, dxfattribs={"layer": "roof"})
    text = io.StringIO()
    document.write(text)
    content = text.getvalue().encode()
    look = look_at_drawing(content, Mappings())
    assert look.mapping.layers == {"drain": "pipe", "roof": "catchment"}
    found = read_dxf(content, look.mapping, Defaults(gradient=0.01, diameter=0.3, cover=1.0), flat_ground)
    assert len(found.nodes) == 4
    assert len(found.links) == 3
    falling = next(link for link in found.links.values() if link.get("upstream_invert") == 6.0)
    assert found.nodes[falling["upstream"]]["x"] == pytest.approx(50.0, abs=0.5)
    (area,) = found.catchments
    assert found.assumed["catchments", area]["area"] == 100.0
    assert any("the ground gave their covers" in remark.what for remark in found.remarks)


def test_a_drawing_of_ours_passes_the_auditor_and_is_read_by_others(tmp_path):
    held = everything()
    content = write_dxf(held)
    _, auditor = recover.read(io.BytesIO(content))
    assert not auditor.has_errors
    assert not auditor.has_fixes
    file = tmp_path / "net.dxf"
    file.write_bytes(content)
    _, _, shapes, fields = pyogrio.raw.read(file)
    assert len(shapes) >= len(held.nodes) + len(held.links)
    assert {"PIPES", "NODES", "CONTROLS", "CATCHMENTS"} <= set(fields[0])
    drawn = read_dxf(
        content,
        Mappings(layers={"PIPES": "pipe"}, blocks={"MANHOLE": "manhole", "JUNCTION": "junction"}),
        Defaults(),
        flat_ground,
    )
    box = next(link for link in held.links.values() if link.name == "box")
    back = next(link for link in drawn.links.values() if len(link["bends"]) == 2)
    assert back["bends"] == [pytest.approx(p, abs=1e-3) for p in box.bends]
    assert back["upstream_invert"] == pytest.approx(box.upstream_invert)


def test_kml_places_elements_on_earth_and_others_read_it(tmp_path):
    held = everything()
    for node in held.nodes.values():
        node.x, node.y = node.x + 500_000.0, node.y + 5_500_000.0
    content = write_kml(held, "Test & <more>", "EPSG:32631")
    file = tmp_path / "net.kml"
    file.write_bytes(content)
    turn = pyproj.Transformer.from_crs("EPSG:32631", "EPSG:4326", always_xy=True)
    layers = pyogrio.list_layers(file)[:, 0].tolist()
    assert layers == ["Nodes", "Links", "Catchments"]
    meta, _, shapes, fields = pyogrio.raw.read(file, layer="Nodes")
    names = list(meta["fields"])
    assert "name" in [name.lower() for name in names]
    assert len(shapes) == len(held.nodes)
    first = next(iter(held.nodes.values()))
    lon, lat = turn.transform(first.x, first.y)
    assert f"{lon:.8f},{lat:.8f}".encode() in content
    assert first.name in set(fields[[n.lower() for n in names].index("name")])


def test_kml_of_a_local_grid_is_refused_with_a_remedy():
    with pytest.raises(ModelError, match="plain local one"):
        write_kml(everything(), "x", None)


def test_a_structure_type_is_another_kind_where_the_mapping_says_so():
    text = (
        '<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2"><Units><Metric linearUnit="meter" areaUnit="squareMeter"/>'
        '</Units><PipeNetworks><PipeNetwork name="n"><Structs><Struct name="G1" elevRim="10" elevSump="9">'
        "<Center>1 2</Center><InletStruct/></Struct></Structs></PipeNetwork></PipeNetworks></LandXML>"
    )
    proposal = propose(project(Network()), read_landxml(text.encode(), {"InletStruct": "inlet"}))
    assert named(proposal, "G1").kind == "inlet"
    assert any("capacity of one that is drawn" in remark.what for remark in proposal.remarks)
    assert read_landxml(text.encode()).nodes["G1"]["kind"] == "manhole"


def taken_back(held: Network, content: bytes):
    there = project(held)
    look = look_at_drawing(content, Mappings())
    return there, propose(there, read_dxf(content, look.mapping, Defaults(), between_covers(held)))


def edited(content: bytes, change) -> bytes:
    document, _ = recover.read(io.BytesIO(content))
    for entity in list(document.modelspace()):
        change(entity)
    text = io.StringIO()
    document.write(text)
    return text.getvalue().encode()


@pytest.mark.parametrize("name", SCRIPTS)
def test_our_own_drawing_taken_back_changes_nothing(name):
    """Before: 46 pipes became 225 mm, and 35 catchments stood twice."""
    held = demo(name).option.network
    _, proposal = taken_back(held, write_dxf(held))
    assert actions(proposal) == {"same": len(held.nodes) + len(held.links) + len(held.catchments)}
    assert proposal.remarks == []


@pytest.mark.parametrize("name", SCRIPTS)
def test_a_drawing_that_lost_what_we_noted_offers_no_default_and_doubles_nothing(name):
    held = demo(name).option.network
    content = edited(write_dxf(held), lambda entity: entity.discard_xdata(APPLICATION))
    _, proposal = taken_back(held, content)
    assert not [e for e in proposal.entries if e.action in ("create", "update")]
    # a block that stands for a store is no manhole: told, and left alone
    assert {e.action for e in proposal.entries} <= {"same", "conflict"}


def test_what_was_changed_in_the_drawing_comes_back_and_nothing_else():
    held = demo("quillmere_boatyard").option.network

    def change(entity):
        if entity.dxftype() == "INSERT" and entity.get_attrib_text("NAME") == "A3":
            entity.dxf.insert += Vec3(0.0, 0.0, 0.25)
        if entity.dxftype() == "POLYLINE" and "A3\\u2013A4" in "".join(
            str(tag.value) for tag in entity.get_xdata(APPLICATION)
        ):
            entity.vertices[0].dxf.location += Vec3(0.0, 0.0, 0.05)

    there, proposal = taken_back(held, edited(write_dxf(held), change))
    changes = {
        (e.name, c.field): float(c.new.split()[0]) - float(c.now.split()[0]) for e in proposal.entries for c in e.fields
    }
    assert changes == {("A3", "cover"): pytest.approx(0.25), ("A3–A4", "upstream_invert"): pytest.approx(0.05)}
    assert applied(there, proposal).nodes.keys() == held.nodes.keys()


def test_new_ground_over_ground_that_is_there_is_a_conflict():
    held = demo("quillmere_boatyard").option.network
    x, y = np.mean(next(iter(held.catchments.values())).polygon, axis=0)
    old = np.array(next(iter(held.catchments.values())).polygon)
    grown = (old - (x, y)) * 1.25 + (x, y)  # shares 64 % with the old one
    document = ezdxf.new()
    document.modelspace().add_lwpolyline(grown.tolist(), close=True, dxfattribs={"layer": "roof"})
    text = io.StringIO()
    document.write(text)
    _, proposal = taken_back(held, text.getvalue().encode())
    (entry,) = proposal.entries
    assert entry.action == "conflict"
    assert "lies where" in entry.why


def test_extended_data_that_was_damaged_is_remarked_on():
    held = demo("ferry_flat").option.network
    content = edited(write_dxf(held), lambda e: note(e, "{broken") if e.has_xdata(APPLICATION) else None)
    _, proposal = taken_back(held, content)
    assert any("is damaged" in remark.what for remark in proposal.remarks)
    assert not [e for e in proposal.entries if e.action == "update"]


def test_an_element_of_too_many_fields_for_a_drawing_keeps_its_own():
    held = demo("quillmere_boatyard").option.network
    pond = next(node for node in held.nodes.values() if node.kind == "storage" and node.form == "pond")
    pond.inflows.append(Hydrograph(rows=[{"time": float(k), "flow": 0.001 * k} for k in range(2000)]))
    _, proposal = taken_back(held, write_dxf(held))
    assert actions(proposal) == {"same": len(proposal.entries)}
