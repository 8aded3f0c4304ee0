"""LandXML of others: every thing it holds is read, or its loss is told, element by element."""

import math
from xml.etree import ElementTree

import numpy as np
import pyproj
import pytest
from defusedxml.ElementTree import fromstring

from madidus.core.elements.geometry import geometry
from madidus.core.elements.sections import Circular, Egg, WidthTable
from madidus.core.errors import ModelError
from madidus.core.model.mappings import Mappings
from madidus.core.model.network import Network
from madidus.exchange.formats import WRITERS, FileFormat, look
from madidus.exchange.imports import propose
from madidus.exchange.incoming import Incoming
from madidus.exchange.landxml import read_landxml
from tests.exchange.elements import everything, project
from tests.exchange.test_demos import demo
from tests.exchange.test_networks import applied, as_landxml, named


def document(networks: str, before: str = "") -> bytes:
    units = '<Units><Metric linearUnit="meter" areaUnit="squareMeter" diameterUnit="millimeter"/></Units>'
    return (
        f'<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2">{units}{before}'
        f"<PipeNetworks>{networks}</PipeNetworks></LandXML>"
    ).encode()


def network_of(*pipes: str, name="N", type_="storm", upper="", lower="", centres=("0 0", "0 100")) -> str:
    a, b = centres
    return (
        f'<PipeNetwork name="{name}" pipeNetType="{type_}"><Structs>'
        f'<Struct name="A" elevRim="12" elevSump="9.8"><Center>{a}</Center><CircStruct diameter="1200"/>{upper}</Struct>'
        f'<Struct name="B" elevRim="11" elevSump="8.7"><Center>{b}</Center><CircStruct diameter="1500"/>{lower}</Struct>'
        f"</Structs><Pipes>{''.join(pipes)}</Pipes></PipeNetwork>"
    )


def pipe(start="A", end="B", form='<CircPipe diameter="300" mannings="0.012"/>', name="P") -> str:
    return f'<Pipe name="{name}" refStart="{start}" refEnd="{end}" length="98">{form}</Pipe>'


def invert(level: float, way: str = "", name: str = "P") -> str:
    return f'<Invert elev="{level}" refPipe="{name}"' + (f' flowDir="{way}"' if way else "") + "/>"


def remarks(incoming: Incoming) -> list[tuple[str, str]]:
    return [(remark.where, remark.what) for remark in incoming.remarks]


@pytest.mark.parametrize(
    ("start", "end", "at_a", "at_b", "turned", "said"),
    [
        ("A", "B", invert(10.0, "out"), invert(9.0, "in"), False, ""),
        ("B", "A", invert(10.0, "out"), invert(9.0, "in"), True, "against its flow"),
        ("B", "A", invert(10.0), invert(9.0), True, "from its lower end"),
        ("B", "A", invert(10.0, "both"), invert(9.0, "both"), True, "from its lower end"),
        # the directions say that it runs uphill from B, and they count
        ("B", "A", invert(10.0, "in"), invert(9.0, "out"), False, "rises in the direction"),
        # both ends say the same: the levels decide
        ("B", "A", invert(10.0, "in"), invert(9.0, "in"), True, "from its lower end"),
    ],
)
def test_a_pipe_drawn_against_its_flow_keeps_its_levels_and_is_turned(start, end, at_a, at_b, turned, said):
    incoming = read_landxml(document(network_of(pipe(start, end), upper=at_a, lower=at_b)))
    found = incoming.links["P"]
    assert (found["upstream"], found["downstream"]) == ((end, start) if turned else (start, end))
    level = {"A": 10.0, "B": 9.0}
    assert (found["upstream_invert"], found["downstream_invert"]) == (
        level[found["upstream"]],
        level[found["downstream"]],
    )
    told = [what for where, what in remarks(incoming) if where == "pipe P"]
    assert (said in told[0]) if said else told == []


def test_an_invert_that_the_file_does_not_give_is_assumed_for_a_new_pipe_alone():
    content = document(network_of(pipe(), upper=invert(10.0, "out")))
    incoming = read_landxml(content)
    assert "downstream_invert" not in incoming.links["P"]
    assert any(where == "pipe P" and "no invert at B" in what for where, what in remarks(incoming))
    held = applied(project(Network()), propose(project(Network()), incoming))
    (link,) = held.links.values()
    assert link.downstream_invert == 8.7
    changed = held.model_copy(deep=True)
    next(iter(changed.links.values())).downstream_invert = 8.9
    assert named(propose(project(changed), read_landxml(content)), "P").action == "same"


TWO = document(
    network_of(pipe(), name="North", upper=invert(10, "out"), lower=invert(9, "in"))
    + network_of(pipe(), name="South", upper=invert(5, "out"), lower=invert(4, "in"), centres=("500 0", "500 100"))
    + network_of(pipe(name="W"), name="Mains", type_="water", centres=("900 0", "900 100")).replace('"A"', '"V1"')
)


def test_networks_of_one_file_keep_their_own_names_and_levels():
    incoming = read_landxml(TWO)
    assert set(incoming.nodes) == {f"{net}: {name}" for net in ("North", "South") for name in "AB"}
    held = applied(project(Network()), propose(project(Network()), incoming))
    ends = {
        link.name: (held.nodes[link.upstream].name, held.nodes[link.upstream].y, link.upstream_invert)
        for link in held.links.values()
    }
    assert ends == {"North: P": ("North: A", 0.0, 10.0), "South: P": ("South: A", 500.0, 5.0)}
    told = dict(remarks(incoming))
    assert "3 names" in told["pipe network North"]
    assert [e.action for e in propose(project(held), read_landxml(TWO)).entries] == ["same"] * 6


def test_a_name_that_one_network_alone_bears_stays_as_it_is():
    other = network_of(pipe(name="Q"), name="South").replace('"A"', '"C"').replace('"B"', '"D"')
    incoming = read_landxml(document(network_of(pipe(), name="North") + other))
    assert set(incoming.nodes) == {"A", "B", "C", "D"}
    assert set(incoming.links) == {"P", "Q"}


def test_a_water_network_is_no_storm_drainage_unless_somebody_says_so():
    incoming = read_landxml(TWO)
    assert not any("Mains" in key or key in ("V1", "W") for key in [*incoming.nodes, *incoming.links])
    told = dict(remarks(incoming))["pipe network Mains"]
    assert "of type water" in told
    assert "structures (2) and pipes (1)" in told
    taken = read_landxml(TWO, networks={"water": "storm", "storm": ""})
    assert set(taken.nodes) == {"V1", "Mains: B"}
    assert read_landxml(document(network_of(pipe(), type_="irrigation"))).nodes == {}
    assert set(read_landxml(document(network_of(pipe(), type_="other"))).nodes) == {"A", "B"}


def test_types_of_networks_are_shown_and_what_was_chosen_is_kept():
    shown = look(FileFormat.landxml, TWO, project(Network()))
    assert [(n.name, n.type, n.structures, n.pipes) for n in shown.networks] == [
        ("North", "storm", 2, 1), ("South", "storm", 2, 1), ("Mains", "water", 2, 1),
    ]  # fmt: skip
    assert (shown.network_types["storm"], shown.network_types["water"]) == ("storm", "")
    there = project(Network())
    there.mappings = Mappings(network_types={"water": "storm"})
    assert look(FileFormat.landxml, TWO, there).network_types["water"] == "storm"


def test_what_is_left_out_is_not_said_to_be_absent():
    whole = document(network_of(pipe(), upper=invert(10, "out"), lower=invert(9, "in")))
    held = applied(project(Network()), propose(project(Network()), read_landxml(whole)))
    damaged = whole.replace(b'length="98"', b'length="long"')
    proposal = propose(project(held), read_landxml(damaged))
    assert any(remark.where == "pipe P" for remark in proposal.remarks)
    assert proposal.left["links"] == []
    without = document(network_of(upper=invert(10, "out"), lower=invert(9, "in")))
    assert propose(project(held), read_landxml(without)).left["links"] == ["P"]
    unknown = whole.replace(b"CircPipe", b"OvalPipe")
    proposal = propose(project(held), read_landxml(unknown))
    assert any("form OvalPipe" in remark.what for remark in proposal.remarks)
    assert proposal.left["links"] == []


def test_places_are_those_of_survey_points():
    points = (
        '<CgPoints><CgPoint name="s1">30 40 12.5</CgPoint><CgPoint name="s2" pntRef="s1"/>'
        '<CgPoint name="twice">1 1</CgPoint><CgPoint name="twice">2 2</CgPoint>'
        '<CgPoint name="round" pntRef="round"/></CgPoints>'
    )
    structs = "".join(
        f'<Struct name="{name}" elevSump="9"><Center pntRef="{point}"/><Connection/></Struct>'
        for name, point in (("A", "s1"), ("B", "s2"), ("C", "twice"), ("D", "none"), ("E", "round"))
    )
    incoming = read_landxml(document(f'<PipeNetwork name="N"><Structs>{structs}</Structs></PipeNetwork>', points))
    assert {key: (n["x"], n["y"], n["cover"]) for key, n in incoming.nodes.items()} == {
        "A": (40.0, 30.0, 12.5), "B": (40.0, 30.0, 12.5),
    }  # fmt: skip
    told = dict(remarks(incoming))
    assert "several survey points" in told["structure C"]
    assert "no survey point" in told["structure D"]
    assert "circle" in told["structure E"]
    parcels = '<Parcels><Parcel name="f"><CoordGeom><Line><Start pntRef="s1"/></Line><Curve><Start>0 0</Start></Curve>'
    edges = "<Line><Start>30 0</Start></Line></CoordGeom></Parcel></Parcels>"
    field = read_landxml(document("", points + parcels + edges))
    assert field.catchments["f"]["polygon"] == [(40.0, 30.0), (0.0, 0.0), (0.0, 30.0)]
    assert field.catchments["f"]["area"] == pytest.approx(600.0)
    assert "1 curved edge" in dict(remarks(field))["parcel f"]


def section(form: str):
    incoming = read_landxml(document(network_of(pipe(form=form), upper=invert(10), lower=invert(9))))
    return incoming, incoming.links["P"]


def test_sizes_of_eggs_and_ellipses_are_read():
    incoming, ellipse = section('<ElliPipe span="1200" height="800" mannings="0.013"/>')
    shape = geometry(WidthTable.model_validate(ellipse["section"]))
    assert shape.area[-1] == pytest.approx(math.pi * 0.6 * 0.4, rel=1e-3)
    ramanujan = math.pi * (3 * 1.0 - math.sqrt((3 * 0.6 + 0.4) * (0.6 + 3 * 0.4)))
    assert shape.perimeter[-1] == pytest.approx(ramanujan, rel=1e-3)
    assert any("an ellipse" in what for _, what in remarks(incoming))
    assert section('<EggPipe height="900" width="600"/>')[1]["section"] == {"shape": "egg", "height": 0.9}
    incoming, wide = section('<EggPipe height="900" width="800"/>')
    drawn = geometry(WidthTable.model_validate(wide["section"]))
    old = geometry(Egg(height=0.9))
    assert np.max(drawn.width) == pytest.approx(0.8, rel=2e-3)
    assert drawn.area[-1] == pytest.approx(old.area[-1] * 0.8 / 0.6, rel=2e-3)
    assert any("two thirds" in what for _, what in remarks(incoming))
    assert section('<EggPipe height="900"/>')[1]["section"] == {"shape": "egg", "height": 0.9}


def test_a_circle_as_an_ellipse_is_the_circle():
    _, found = section('<ElliPipe span="900" height="900"/>')
    table, circle = geometry(WidthTable.model_validate(found["section"])), geometry(Circular(diameter=0.9))
    for depth in (0.1, 0.3, 0.45, 0.8):
        assert np.interp(depth, table.depth, table.area) == pytest.approx(
            np.interp(depth, circle.depth, circle.area), rel=2e-3
        )


def test_an_open_channel_is_a_channel():
    _, found = section('<Channel height="500" widthTop="2500" widthBottom="500" mannings="0.035"/>')
    assert found["kind"] == "channel"
    assert found["section"] == {
        "shape": "trapezoidal", "base_width": 0.5, "left_slope": 2.0, "right_slope": 2.0, "height": 0.5,
    }  # fmt: skip
    incoming = read_landxml(document(network_of(pipe(form='<Channel height="5" widthTop="1" widthBottom="2"/>'))))
    assert "narrower at its banks" in dict(remarks(incoming))["pipe P"]
    incoming = read_landxml(document(network_of(pipe(form='<CircPipe diameter="0"/>'))))
    assert "without a size above zero" in dict(remarks(incoming))["pipe P"]


def test_roughness_by_other_laws_is_told_pipe_by_pipe():
    incoming, found = section('<CircPipe diameter="300" hazenWilliams="130" thickness="40"/>')
    assert "roughness" not in found
    assert any(where == "pipe P" and "Hazen–Williams C 130" in what for where, what in remarks(incoming))
    assert incoming.dropped == {"attribute thickness of CircPipe": 1}
    incoming, found = section('<CircPipe diameter="300" hazenWilliams="130" mannings="0.011"/>')
    assert found["roughness"] == 0.011
    assert incoming.dropped == {"attribute hazenWilliams of CircPipe": 1}


def test_parts_and_attributes_that_are_not_read_are_counted():
    flow = pipe().replace("</Pipe>", '<PipeFlow flowIn="3"/></Pipe>').replace("<Pipe ", '<Pipe oID="7" ')
    net = network_of(flow).replace('elevRim="12"', 'elevRim="12" state="x"')
    assert read_landxml(document(net)).dropped == {
        "PipeFlow of pipes": 1, "attribute oID of pipes": 1, "attribute state of structures": 1,
    }  # fmt: skip


def test_coordinates_are_turned_into_the_grid_of_the_project():
    turn = pyproj.Transformer.from_crs("EPSG:32631", "EPSG:32632", always_xy=True)
    net = network_of(pipe(), centres=("5000000 700000", "5000000 700100"))
    other = document(net, '<CoordinateSystem epsgCode="32631"/>')
    incoming = read_landxml(other, grid="EPSG:32632")
    a = incoming.nodes["A"]
    assert (a["x"], a["y"]) == pytest.approx(turn.transform(700000, 5000000))
    assert "turned into EPSG:32632" in dict(remarks(incoming))["coordinate system"]
    same = read_landxml(other, grid="EPSG:32631")
    assert (same.nodes["A"]["x"], same.nodes["A"]["y"]) == (700000.0, 5000000.0)
    assert "coordinate system" not in dict(remarks(same))
    local = read_landxml(other)
    assert local.nodes["A"]["x"] == 700000.0
    assert "local grid" in dict(remarks(local))["coordinate system"]
    named_only = read_landxml(document(net, '<CoordinateSystem name="Site grid"/>'), grid="EPSG:32632")
    assert "Site grid has no EPSG code" in dict(remarks(named_only))["coordinate system"]
    with pytest.raises(ModelError, match="EPSG:1 is not known"):
        read_landxml(document(net, '<CoordinateSystem epsgCode="1"/>'), grid="EPSG:32632")


def test_coordinates_in_feet_are_turned_in_feet():
    feet = b'<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2"><Units><Imperial linearUnit="USSurveyFoot" '
    feet += b'areaUnit="squareFoot" diameterUnit="inch"/></Units><CoordinateSystem epsgCode="2263"/><PipeNetworks>'
    feet += network_of(pipe(), centres=("200000 1000000", "200000 1000100")).encode() + b"</PipeNetworks></LandXML>"
    a = read_landxml(feet, grid="EPSG:32618").nodes["A"]
    turn = pyproj.Transformer.from_crs("EPSG:2263", "EPSG:32618", always_xy=True)
    assert (a["x"], a["y"]) == pytest.approx(turn.transform(1000000, 200000))


def test_what_we_write_says_its_grid():
    root = fromstring(as_landxml(everything(), "EPSG:32632"))
    assert root.find("{*}CoordinateSystem").get("epsgCode") == "32632"
    assert fromstring(as_landxml(everything())).find("{*}CoordinateSystem") is None


@pytest.mark.parametrize("name", ["quillmere_boatyard", "ferry_flat", "alder_hill_library"])
def test_what_another_program_keeps_of_our_file_comes_back_unchanged(name):
    """Without our features: sizes rounded to millimetres, stores as structures, no word for controls."""
    held = demo(name)
    root = ElementTree.fromstring(WRITERS[".xml"][1](held.option.network, held))
    for parent in list(root.iter()):
        for child in [one for one in parent if one.tag.endswith("Feature")]:
            parent.remove(child)
    for shape in (one for one in root.iter() if one.tag.endswith("CircStruct")):
        shape.set("diameter", str(round(float(shape.get("diameter")))))
    proposal = propose(held, read_landxml(ElementTree.tostring(root)))
    changed = [(e.name, e.why, e.fields) for e in proposal.entries if e.action != "same"]
    assert changed == []
    assert proposal.left == {"nodes": [], "links": [], "catchments": []}
    size = next(s for s in root.iter() if s.tag.endswith("CircStruct"))
    size.set("diameter", "900")
    again = propose(held, read_landxml(ElementTree.tostring(root)))
    assert [f.field for e in again.entries if e.action == "update" for f in e.fields if e.kind != "channel"] == [
        "diameter"
    ]


def test_what_is_not_in_the_file_is_named_with_its_id_and_kinds_without_a_word_are_not():
    held = demo("quillmere_boatyard")
    root = ElementTree.fromstring(WRITERS[".xml"][1](held.option.network, held))
    for parent in list(root.iter()):
        for child in [one for one in parent if one.tag.endswith("Feature") or one.get("name") in ("A1–A2", "A1")]:
            parent.remove(child)
    proposal = propose(held, read_landxml(ElementTree.tostring(root)))
    assert (proposal.left["nodes"], proposal.left["links"]) == (["A1"], ["A1–A2"])
    network = held.option.network
    assert [network.nodes[id_].name for id_ in proposal.absent["nodes"]] == ["A1"]
    assert [network.links[id_].name for id_ in proposal.absent["links"]] == ["A1–A2"]
    # a file of ours has a word for controls: one that is gone from it is missing
    whole = ElementTree.fromstring(WRITERS[".xml"][1](held.option.network, held))
    for parent in list(whole.iter()):
        for child in [one for one in parent if one.tag.endswith("Feature")]:
            if any("P1 overflow" in str(part.attrib) for part in child.iter()):
                parent.remove(child)
    assert propose(held, read_landxml(ElementTree.tostring(whole))).left["links"] == ["P1 overflow"]


def of_parts(first: str, second: str) -> bytes:
    one = network_of(pipe(), upper=invert(10.0, "out"), lower=invert(9.0, "in"))
    one = one.replace('<Struct name="A"', f'<Struct name="A" desc="{first}"')
    return document(one.replace('<Struct name="B"', f'<Struct name="B" desc="{second}"'))


def test_structures_are_matched_by_type_and_part():
    content = of_parts("Slab base", "Grated   inlet")
    found = look(FileFormat.landxml, content, project())
    assert found.parts == {"CircStruct": 2, "CircStruct: Grated inlet": 1, "CircStruct: Slab base": 1}
    assert read_landxml(content).nodes["B"]["kind"] == "manhole"
    assert read_landxml(content, {"CircStruct: Grated inlet": "inlet"}).nodes["B"]["kind"] == "inlet"
    # a part overrules its type, and goes with it where nothing is said of it
    both = read_landxml(content, {"CircStruct": "junction", "CircStruct: Grated inlet": "inlet"}).nodes
    assert (both["A"]["kind"], both["B"]["kind"]) == ("junction", "inlet")
    assert not any("desc" in name for name in read_landxml(content).dropped)


def test_a_part_that_is_left_out_is_told_by_name():
    found = read_landxml(of_parts("Slab base", "Lamp post"), {"CircStruct: Lamp post": ""})
    assert set(found.nodes) == {"A"}
    assert ("structure B", "is of a part that the matching leaves out (Lamp post); it is left out") in remarks(found)
    assert "B" in found.unread


def test_a_structure_without_a_way_on_is_offered_as_an_outfall():
    content = document(network_of(pipe(), upper=invert(10.0, "out"), lower=invert(9.0, "in")))
    entries = {e.name: e for e in propose(project(), read_landxml(content)).entries}
    assert entries["A"].instead is None
    end = entries["B"]
    assert end.patch[0]["value"]["kind"] == "manhole"
    (op,) = end.instead.patch
    assert op["path"] == end.patch[0]["path"]
    outfall = op["value"]
    assert (outfall["kind"], outfall["x"], outfall["y"]) == (
        "outfall",
        end.patch[0]["value"]["x"],
        end.patch[0]["value"]["y"],
    )
    assert outfall["invert"] == end.patch[0]["value"]["invert"]
    assert outfall["ground"] == 11.0
    # what was matched by hand is what it is said to be
    said = {e.name: e for e in propose(project(), read_landxml(content, {"CircStruct": "junction"})).entries}
    assert said["B"].instead is None


def test_a_feature_of_ours_that_has_lost_its_group_is_told_and_left_out():
    feature = '<Feature code="madidus-element"><Property label="x" value=\'{"name": "W"}\'/></Feature>'
    content = document(network_of(pipe()).replace("</PipeNetwork>", f"{feature}</PipeNetwork>"))
    found = read_landxml(content)
    assert ("feature madidus-element", "does not tell what it is, and is left out") in remarks(found)
    assert "W" not in " ".join(found.links)
