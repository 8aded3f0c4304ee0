"""Networks in open formats: what goes out comes back whole, and what others wrote is taken in with nothing silent."""

import copy
import io
import json
import math
import struct
from collections import Counter
from datetime import datetime
from xml.etree.ElementTree import tostring

import jsonpatch
import pyogrio.raw
import pyproj
import pytest
from defusedxml.ElementTree import fromstring
from hypothesis import given, settings
from hypothesis import strategies as st

from madidus.core.errors import ModelError
from madidus.core.model.network import Network
from madidus.core.model.project import parse_project
from madidus.exchange.geojson import read_geojson, write_geojson
from madidus.exchange.imports import Proposal, propose
from madidus.exchange.incoming import Incoming
from madidus.exchange.landxml import read_landxml
from madidus.exchange.landxml_writer import write_landxml
from madidus.exchange.sheets import look_at_tables, read_tables, write_workbook
from tests.cases.build import identity
from tests.exchange.elements import OPTION, alike, everything, project

WRITTEN = datetime(2026, 11, 20, 9, 30)


def as_landxml(held: Network, grid: str | None = None) -> bytes:
    return write_landxml(held, "Test & <more>", WRITTEN, grid)


def as_geojson(held: Network) -> bytes:
    return write_geojson(held, "Test").encode()


def read_workbook(content: bytes) -> Incoming:
    return read_tables(content, [look.mapping for look in look_at_tables(content, [])])


FORMATS = pytest.mark.parametrize(
    ("write", "read"),
    [(as_landxml, read_landxml), (as_geojson, read_geojson), (write_workbook, read_workbook)],
    ids=["LandXML", "GeoJSON", "tables"],
)


def applied(into, proposal: Proposal) -> Network:
    document = into.model_dump(mode="json")
    patch = [op for entry in proposal.entries for op in entry.patch]
    network = document["options"][OPTION]["network"]
    return Network.model_validate(jsonpatch.apply_patch(network, patch))


def actions(proposal: Proposal) -> dict[str, int]:
    return dict(Counter(entry.action for entry in proposal.entries))


def named(proposal: Proposal, name: str):
    return next(entry for entry in proposal.entries if entry.name == name)


@FORMATS
def test_every_element_comes_back_whole(write, read):
    held = everything()
    came_back = propose(project(), read(write(held)))
    assert actions(came_back) == {"create": len(held.nodes) + len(held.links) + len(held.catchments)}
    assert came_back.remarks == []
    alike(held.model_dump(mode="json"), applied(project(), came_back).model_dump(mode="json"))


@FORMATS
def test_what_is_here_already_is_the_same(write, read):
    held = everything()
    again = propose(project(held), read(write(held)))
    assert set(actions(again)) == {"same"}
    assert again.left == {"nodes": [], "links": [], "catchments": []}


@FORMATS
def test_the_demo_comes_back_whole(write, read, demo_document):
    demo = parse_project(demo_document)
    held = demo.option.network
    assert applied(project(), propose(project(), read(write(held)))) == held


def test_equal_names_are_told_apart_in_landxml():
    document = everything().model_dump(mode="json")
    for name in ("sealed", "é"):
        document["nodes"][identity(name)]["name"] = "twin"
    for name in ("round", "box"):
        document["links"][identity(name)]["name"] = "twins"
    held = Network.model_validate(document)
    assert applied(project(), propose(project(), read_landxml(as_landxml(held)))) == held


@settings(max_examples=40, deadline=None)
@given(
    x=st.floats(-1e6, 1e6), y=st.floats(-1e6, 1e6), invert=st.floats(-100, 100), deep=st.floats(0.5, 9),
    diameter=st.floats(0.1, 5), length=st.floats(1, 500),
)  # fmt: skip
def test_numbers_survive_without_our_own_features(x, y, invert, deep, diameter, length):
    document = everything().model_dump(mode="json")
    node, pipe = document["nodes"][identity("sealed")], document["links"][identity("round")]
    node.update(x=x, y=y, invert=invert, cover=invert + deep)
    pipe.update(length=length, downstream_invert=invert + 0.1, section={"shape": "circular", "diameter": diameter})
    root = fromstring(as_landxml(Network.model_validate(document)))
    for parent in list(root.iter()):
        for feature in parent.findall("{*}Feature"):
            parent.remove(feature)
    incoming = read_landxml(tostring(root))
    found, its_pipe = incoming.nodes["sealed"], incoming.links["round"]
    for field, value in (("x", x), ("y", y), ("invert", min(invert, 10.3)), ("cover", invert + deep)):
        assert math.isclose(found[field], value, rel_tol=1e-9, abs_tol=1e-9)
    assert math.isclose(its_pipe["length"], length, rel_tol=1e-9)
    assert math.isclose(its_pipe["section"]["diameter"], diameter, rel_tol=1e-9)
    assert math.isclose(its_pipe["downstream_invert"], invert + 0.1, rel_tol=1e-9, abs_tol=1e-9)


def test_plain_attributes_changed_by_others_overrule_what_we_wrote():
    held = everything()
    text = as_landxml(held).decode()
    text = text.replace('diameter="525.0"', 'diameter="600"').replace('length="40.0"', 'length="41.5"', 1)
    proposal = propose(project(held), read_landxml(text.encode()))
    entry = named(proposal, "round")
    assert entry.action == "update"
    assert entry.matched == "id"
    assert {change.field: (change.now, change.new) for change in entry.fields} == {
        "length": ("40 m", "41.5 m"), "section": ("circular, diameter 0.525 m", "circular, diameter 0.6 m"),
    }  # fmt: skip
    assert actions(proposal)["update"] == 1
    changed = applied(project(held), proposal).links[identity("round")]
    assert (changed.length, changed.section.diameter, changed.exit_loss) == (41.5, 0.6, 0.5)


IMPERIAL = """<?xml version="1.0" encoding="ISO-8859-1"?>
<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2">
 <Units><Imperial areaUnit="acre" linearUnit="foot" diameterUnit="inch"/></Units>
 <Surfaces><Surface name="ground"/></Surfaces>
 <PipeNetworks><PipeNetwork name="N"><Structs>
  <Struct name="M\u00e9" elevRim="112" elevSump="100.5"><Center>2000 1000</Center><CircStruct diameter="48"/>
   <Invert elev="100" flowDir="out" refPipe="P1"/><Feature code="other"><Property label="a" value="1"/></Feature></Struct>
  <Struct name="G1" elevRim="111"><Center>2000 1050</Center><InletStruct/></Struct>
  <Struct name="box" elevRim="111" elevSump="98"><Center>2000 1100</Center><RectStruct length="60" width="48"/></Struct>
  <Struct name="end" elevSump="97"><Center>2000 1200</Center><OutletStruct/></Struct>
  <Struct name="nowhere" elevSump="97"><OutletStruct/></Struct></Structs>
 <Pipes>
  <Pipe name="P1" refStart="M\u00e9" refEnd="box" slope="1"><CircPipe diameter="12" mannings="0.015"/></Pipe>
  <Pipe name="P2" refStart="box" refEnd="end" length="100"><EggPipe height="36" width="24"/></Pipe>
  <Pipe name="P3" refStart="box" refEnd="gone" length="100"><CircPipe diameter="12"/></Pipe>
  <Pipe name="P4" refStart="box" refEnd="end" length="x"><CircPipe diameter="12"/></Pipe>
 </Pipes></PipeNetwork></PipeNetworks>
 <Parcels><Parcel name="field" area="2"><CoordGeom><Line><Start>0 0</Start><End>0 10</End></Line>
  <Line><Start>0 10</Start><End>10 10</End></Line><Line><Start>10 10</Start><End>0 0</End></Line></CoordGeom></Parcel>
 </Parcels></LandXML>""".encode("latin-1")


def test_a_file_of_others_in_feet_and_inches():
    incoming = read_landxml(IMPERIAL)
    proposal = propose(project(), incoming)
    network = applied(project(), proposal)
    node = next(n for n in network.nodes.values() if n.name == "Mé")
    assert (node.x, node.y) == pytest.approx((304.8, 609.6))
    assert (node.cover, node.invert, node.diameter) == pytest.approx((112 * 0.3048, 30.48, 48 * 0.0254))
    box = next(n for n in network.nodes.values() if n.name == "box")
    assert box.plan_area == pytest.approx(60 * 48 * 0.0254**2)
    pipes = {link.name: link for link in network.links.values()}
    assert set(pipes) == {"P1", "P2"}
    assert pipes["P1"].length == pytest.approx(100 * 0.3048)  # by its ends
    assert pipes["P1"].section.diameter == pytest.approx(12 * 0.0254)
    assert pipes["P1"].roughness == 0.015
    assert pipes["P1"].downstream_invert == pytest.approx(98 * 0.3048)  # the sump of the structure it enters
    assert pipes["P2"].section.shape == "egg"
    field = next(iter(network.catchments.values()))
    assert field.area == pytest.approx(2 * 4046.8564224)
    assert len(field.polygon) == 3
    # nothing is left out silently
    assert named(proposal, "P3").why == "downstream gone names no one node of the file or the project; mend the file"
    assert "no invert was read from the file" in named(proposal, "G1").why
    remarks = {(remark.where, remark.what) for remark in proposal.remarks}
    assert ("structure nowhere", "has no place: Center is missing; it is left out") in remarks
    assert any(where == "pipe P4" and "left out" in what for where, what in remarks)
    assert any(where == "structure G1" and "manhole" in what for where, what in remarks)
    assert {where for where, _ in remarks} >= {"feature other", "section Surfaces"}


def test_elements_are_known_by_name_and_by_place():
    held = everything()
    incoming = Incoming()
    incoming.add(
        "nodes", "1", {"kind": "manhole", "name": "SEALED", "x": 40.3, "y": 0.0, "cover": 12.5, "invert": 10.0}
    )
    incoming.add("nodes", "2", {"kind": "junction", "name": "J", "x": 80.2, "y": 7 / 3, "cover": 12.0, "invert": 10.0})
    incoming.add("links", "new name", {"kind": "pipe", "upstream": "1", "downstream": "2", "length": 44.0})
    proposal = propose(project(held), incoming)
    assert [(e.action, e.matched) for e in proposal.entries] == [
        ("update", "name"), ("update", "place"), ("update", "place"),
    ]  # fmt: skip
    network = applied(project(held), proposal)
    assert network.nodes[identity("sealed")].cover == 12.5
    assert network.nodes[identity("sealed")].sealed  # what the file does not say stays
    assert network.nodes[identity("é")].name == "J"
    assert network.links[identity("box")].length == 44.0
    assert "end" in proposal.left["nodes"]
    assert propose(project(held), incoming, tolerance=0.1).entries[1].action == "create"


def test_conflicts_say_what_to_do():
    held = everything()
    document = held.model_dump(mode="json")
    document["nodes"][identity("sealed")]["name"] = "pond"
    held = Network.model_validate(document)
    shaft = {"kind": "manhole", "x": 900.0, "y": 0.0, "cover": 12.0, "invert": 10.0}
    incoming = Incoming()
    incoming.add("nodes", "1", {**shaft, "name": "pond"})
    incoming.add("nodes", "2", {**shaft, "name": "end"})
    incoming.add("nodes", "3", {**shaft, "name": "deep", "cover": "<script>"})
    incoming.add("nodes", "4", {**shaft, "name": "gully", "id": identity("basin"), "kind": "basin"})
    incoming.add("nodes", "5", {"kind": "basin", "name": "basin"})
    incoming.add("nodes", "6", {**shaft, "name": "far", "x": 1e300})
    incoming.add("nodes", "6", {**shaft, "name": "again"})
    why = {entry.name: entry.why for entry in propose(project(held), incoming).entries if entry.action == "conflict"}
    assert "several nodes are called pond" in why["pond"]
    assert why["end"] == "is of kind outfall here and of kind manhole in the file; remove the wrong one first"
    assert why["deep"] == "cover is “<script>”, and must be a number"
    assert "same as another element of the file" in why["basin"]
    assert why["far"].startswith("x is ")
    assert incoming.remarks[0].what == "stands in the file twice; the first counts"


def test_lines_of_others_join_the_points_at_their_ends():
    def feature(geometry, coordinates, **properties):
        shape = {"type": geometry, "coordinates": coordinates}
        return {"type": "Feature", "geometry": shape, "properties": properties}

    collection = {"type": "FeatureCollection", "features": [
        feature("Point", [0, 0], name="A", cover=12.0, invert=10.0, owner="town"),
        feature("Point", [30, 40, 7], name="B", kind="outfall", invert=9.0),
        feature("LineString", [[0.01, 0], [30, 0], [30, 40]], name="P", diameter=0.3, upstream_invert=10.0,
                downstream_invert=9.2),
        feature("LineString", [[0, 0], [500, 500]], name="loose"),
        feature("Polygon", [[[0, 0], [10, 0], [10, 10], [0, 0]]], name="C", area=50.0, node="A"),
        feature("MultiPoint", [[0, 0]]),
        {"type": "Feature", "geometry": {"type": "Point", "coordinates": ["x", 1]}, "properties": None},
        17,
    ]}  # fmt: skip
    proposal = propose(project(), read_geojson(json.dumps(collection).encode()))
    network = applied(project(), proposal)
    (pipe,) = network.links.values()
    assert network.nodes[pipe.upstream].name == "A"
    assert network.nodes[pipe.downstream].name == "B"
    assert pipe.length == pytest.approx(69.99)
    assert pipe.section.diameter == 0.3
    (catchment,) = network.catchments.values()
    assert network.nodes[catchment.node].name == "A"
    remarks = {remark.where: remark.what for remark in proposal.remarks}
    assert remarks["line loose"] == "ends where no node stands; it is left out"
    assert remarks["property owner of nodes"].endswith("is dropped")
    assert {"feature 6", "feature 7", "feature 8"} <= set(remarks)


def test_another_reader_finds_the_same_in_our_geojson():
    held = everything()
    meta, _, geometry, columns = pyogrio.raw.read(io.BytesIO(as_geojson(held)))
    values = dict(zip(meta["fields"], columns, strict=True))
    assert len(geometry) == len(held.nodes) + len(held.links) + len(held.catchments)
    at = list(values["id"]).index(identity("sealed"))
    assert values["cover"][at] == 12.0
    assert values["kind"][at] == "manhole"
    # little-endian WKB of a point: its coordinates are the last two doubles
    assert struct.unpack("<dd", geometry[at][-16:]) == (40.3, 0.0)


@pytest.mark.parametrize(
    "content",
    [
        b"", b"\xff\xfe\x00", b"<a", b"[1]", b"{}", b'{"features": 3}', b"[" * 100_000, b"<LandXML",
        b"<?xml version='1.0' encoding='no-such'?><LandXML/>",
        b"<!DOCTYPE a [<!ENTITY x 'y'>]><LandXML>&x;</LandXML>",
        b"<!DOCTYPE a SYSTEM 'file:///etc/passwd'><LandXML/>",
        b"<LandXML><Units><Metric linearUnit='cubit'/></Units></LandXML>",
    ],
)  # fmt: skip
@pytest.mark.parametrize("read", [read_landxml, read_geojson])
def test_what_is_no_network_is_refused_in_words(read, content):
    with pytest.raises(ModelError, match="file"):
        read(content)


@settings(max_examples=150, deadline=None)
@given(data=st.data())
def test_a_damaged_file_never_crashes(data):
    write, read = data.draw(st.sampled_from([(as_landxml, read_landxml), (as_geojson, read_geojson)]))
    content = bytearray(write(everything()))
    for _ in range(data.draw(st.integers(1, 4))):
        at = data.draw(st.integers(0, len(content) - 1))
        content[at : at + data.draw(st.integers(0, 12))] = data.draw(st.binary(max_size=6))
    try:
        proposal = propose(project(everything()), read(bytes(content)))
    except ModelError:
        return
    assert all(entry.why for entry in proposal.entries if entry.action == "conflict")


def test_too_many_elements_are_refused(monkeypatch):
    monkeypatch.setattr("madidus.exchange.incoming._MOST_ELEMENTS", 3)
    with pytest.raises(ModelError, match="holds more than 3"):
        read_geojson(as_geojson(copy.copy(everything())))


def test_a_network_in_degrees_is_turned_into_the_named_grid():
    degrees = pyproj.Transformer.from_crs("EPSG:32631", "EPSG:4326", always_xy=True)
    places = [degrees.transform(500_000.0 + dx, 5_500_000.0) for dx in (0.0, 60.0)]
    features = [
        {"type": "Feature", "properties": {"name": name, "cover": 12, "invert": 10},
         "geometry": {"type": "Point", "coordinates": at}}
        for name, at in zip("AB", places, strict=True)
    ]  # fmt: skip
    line = {"type": "Feature", "properties": {"name": "P", "diameter": 0.3, "upstream_invert": 10, "downstream_invert": 9.5},
            "geometry": {"type": "LineString", "coordinates": places}}  # fmt: skip
    content = json.dumps({"type": "FeatureCollection", "features": [*features, line]}).encode()
    found = read_geojson(content, "EPSG:32631")
    assert found.nodes["B"]["x"] == pytest.approx(500_060.0, abs=0.01)
    assert found.links["P"]["length"] == pytest.approx(60.0, abs=0.05)
    assert read_geojson(content).nodes["B"]["x"] == pytest.approx(places[1][0])
