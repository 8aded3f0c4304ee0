"""Elements that become another kind: what both have stays, the rest starts anew, and nothing is left in the air."""

import itertools

import pytest

from madidus.core.checks import check
from madidus.core.edit import EDITS, apply
from madidus.core.edit.become import become
from madidus.core.elements import DRAWN_LINKS, DRAWN_NODES, Conduit
from madidus.core.errors import ModelError
from madidus.core.model import parse_project
from madidus.core.model.network import Network
from tests.cases.build import identity, network

NODES = {
    "A": {"kind": "manhole", "x": 1, "y": 2, "cover": 12, "invert": 10, "diameter": 1.5, "ponded_area": 77.0,
          "inflows": [{"kind": "constant", "flow": 0.01}]},
    "B": {"kind": "manhole", "x": 50, "y": 2, "cover": 11.5, "invert": 9.5},
    "O": {"kind": "outfall", "x": 90, "y": 2, "invert": 9, "ground": 10.7},
}  # fmt: skip
PIPE = {"kind": "pipe", "upstream": "A", "downstream": "B", "length": 49, "upstream_invert": 10.1,
        "downstream_invert": 9.6, "section": {"shape": "circular", "diameter": 0.3}, "roughness": 0.012,
        "bends": [(20, 5)], "entry_loss": 0.5}  # fmt: skip
WEIR = {"kind": "weir", "upstream": "B", "downstream": "O", "crest": 10.2, "length": 2.0, "flap": True}
NET = network(NODES, {"P": PIPE, "W": WEIR})


@pytest.mark.parametrize(("now", "drawn"), list(itertools.product(["A", "B"], DRAWN_NODES)))
def test_a_node_becomes_any_kind_and_keeps_what_both_have(now, drawn):
    if drawn == "outfall":
        return
    old, new = NET.nodes[identity(now)], become(NET, identity(now), drawn).nodes[identity(now)]
    assert isinstance(new, DRAWN_NODES[drawn])
    shared = set(type(old).model_fields) & set(type(new).model_fields) - {"kind"}
    assert {"name", "x", "y", "cover", "invert", "ponded_area", "inflows"} <= shared
    assert {name: getattr(new, name) for name in shared} == {name: getattr(old, name) for name in shared}
    Network.model_validate(become(NET, identity(now), drawn).model_dump())


@pytest.mark.parametrize("drawn", DRAWN_LINKS)
def test_a_link_becomes_another_of_its_family(drawn):
    for name in ("P", "W"):
        old = NET.links[identity(name)]
        if isinstance(old, Conduit) != issubclass(DRAWN_LINKS[drawn], Conduit):
            with pytest.raises(ModelError, match=f"cannot become a {drawn}"):
                become(NET, identity(name), drawn)
            continue
        new = become(NET, identity(name), drawn).links[identity(name)]
        assert isinstance(new, DRAWN_LINKS[drawn])
        assert (new.name, new.upstream, new.downstream, new.flap) == (name, old.upstream, old.downstream, old.flap)
        if name == "P":
            assert (new.length, new.upstream_invert, new.downstream_invert) == (49, 10.1, 9.6)
            assert (new.roughness, new.bends, new.entry_loss) == (0.012, [(20, 5)], 0.5)
        elif new.LEVEL:
            assert new.acts_from == 10.2


def test_a_section_that_the_new_kind_cannot_have_starts_anew_and_one_that_it_can_stays():
    channel = become(NET, identity("P"), "channel")
    assert channel.links[identity("P")].section.shape == "trapezoidal"
    back = become(channel, identity("P"), "pipe").links[identity("P")]
    assert (back.section.shape, back.roughness) == ("circular", 0.012)
    assert become(NET, identity("P"), "pipe").links[identity("P")] == NET.links[identity("P")]


def test_the_last_node_becomes_an_outfall_and_one_that_leads_on_does_not():
    bare = network(NODES, {"P": PIPE})
    outfall = become(bare, identity("B"), "outfall").nodes[identity("B")]
    assert (outfall.kind, outfall.ground, outfall.invert) == ("outfall", 11.5, 9.5)
    with pytest.raises(ModelError, match="W leaves it"):
        become(NET, identity("B"), "outfall")
    drained = bare.model_copy(
        update={"catchments": {identity("c"): {"name": "yard", "area": 9, "node": identity("B")}}}
    )
    with pytest.raises(ModelError, match="yard drains to it"):
        become(Network.model_validate(drained.model_dump()), identity("B"), "outfall")
    back = become(become(bare, identity("B"), "outfall"), identity("B"), "manhole").nodes[identity("B")]
    assert (back.cover, back.invert) == (11.5, 9.5)


def test_it_is_an_edit_like_others(demo_document):
    project = parse_project(demo_document)
    node = next(id_ for id_, n in project.option.network.nodes.items() if n.name == "A3")
    edits = EDITS.validate_python([{"edit": "change kind", "element": node, "drawn": "junction"}])
    after, made = apply(project, project.in_view, edits)
    assert made == []
    assert after.option.network.nodes[node].kind == "junction"
    assert project.option.network.nodes[node].kind == "manhole"
    with pytest.raises(ModelError, match="element"):
        become(project.option.network, identity("nobody"), "junction")


def test_a_general_vortex_curve_passes_its_design_point_and_says_what_it_is(demo_document):
    project = parse_project(demo_document)
    link = next(id_ for id_, c in project.option.network.links.items() if c.name == "P1 orifice")
    edits = EDITS.validate_python([
        {"edit": "change kind", "element": link, "drawn": "curve"},
        {"edit": "general vortex", "element": link, "head": 1.6, "flow": 0.012},
    ])  # fmt: skip
    after, _ = apply(project, project.in_view, edits)
    control = after.option.network.links[link]
    points = {row.head: row.flow for row in control.rows}
    assert points[1.6] == 0.012
    assert points[round(0.3 * 1.6, 4)] == pytest.approx(0.012)  # where the vortex begins to form
    assert points[round(0.6 * 1.6, 4)] == pytest.approx(0.012 * 0.6**0.5, rel=1e-4)
    assert points[3.2] == pytest.approx(0.012 * 2**0.5, rel=1e-4)
    assert max(flow for head, flow in points.items() if head <= 1.6) == pytest.approx(0.012)
    assert control.general
    assert "general curve" in control.schedule_entry().size
    found = [f.why for f in check(after) if f.check == "curve-general"]
    assert found == ["P1 orifice: its curve is the general one of vortex controls"]
    with pytest.raises(ModelError, match="has no curve"):
        apply(
            project,
            project.in_view,
            EDITS.validate_python([{"edit": "general vortex", "element": link, "head": 1, "flow": 1}]),
        )
