"""Networks as DXF drawings and KML: read by layers and blocks, written for others, checked by other readers."""

import io
import math

import ezdxf
import pyogrio.raw
import pyproj
import pytest
from ezdxf import recover

from madidus.core.errors import ModelError
from madidus.core.model.defaults import Defaults
from madidus.core.model.mappings import Mappings
from madidus.core.model.network import Network
from madidus.exchange.dxf_network import look_at_drawing, read_dxf, write_dxf
from madidus.exchange.incoming import propose
from madidus.exchange.kml import write_kml
from madidus.exchange.landxml import read_landxml
from tests.exchange import grounds
from tests.exchange.elements import everything, project
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
    assert found.nodes["M1"]["invert"] == pytest.approx(10.4)
    pipe = found.links["M1–M2"]
    assert (pipe["upstream_invert"], pipe["downstream_invert"]) == (10.4, 10.0)
    assert pipe["bends"] == [(30.0, 22.0)]
    assert pipe["length"] == pytest.approx(2 * math.hypot(20, 2), abs=1e-3)
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
    found = read_dxf(content, look.mapping, Defaults(gradient=0.01, diameter=0.3, ground_over=1.0), flat_ground)
    assert len(found.nodes) == 4
    assert len(found.links) == 3
    falling = next(link for link in found.links.values() if link["upstream_invert"] == 6.0)
    assert found.nodes[falling["upstream"]]["x"] == pytest.approx(50.0, abs=0.5)
    (area,) = found.catchments.values()
    assert area["area"] == 100.0
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
    assert any("capture limit of 20 L/s" in remark.what for remark in proposal.remarks)
    assert read_landxml(text.encode()).nodes["G1"]["kind"] == "manhole"
